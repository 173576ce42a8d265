"""Starting again, and going around what must stay whole."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.values import Value


class KeepWhole(Value):
    """Move the crop around what must stay whole, loosening it where that is needed."""

    kind: Literal["keep_whole"]


class OffJoint(Value):
    """Slide the crop so that no joint between panels cuts what must stay whole."""

    kind: Literal["off_joint"]


class StartAgain(Value):
    """Go back to the suggestion."""

    kind: Literal["start_again"]
