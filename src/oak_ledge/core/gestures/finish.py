"""How one piece is resampled and sharpened."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.values import Value


class Finish(Value):
    """Choose how pixels are resampled and sharpened; what is left out stays.

    `sharpen` −1 gives the strength back to resolution and distance.
    """

    kind: Literal["finish"]
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=-1, le=100)


def finished(size: Size, gesture: Finish) -> Size:
    """Give the size at work with what was chosen put over it."""
    said = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if said.get("sharpen") == -1:
        said["sharpen"] = None
    return size_from(dict(size) | said)
