"""The turned-over sides of a stretched canvas: what they show (rules, section 6)."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator, Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.ground import CONTINUED, Fill
from oak_ledge.core.values import Value

WAYS = ("mirror", "edge", CONTINUED)


def _ground(value: str) -> str:
    if value in WAYS or re.fullmatch(r"#[0-9a-f]{6}", value):
        return value
    msg = f"the sides can't be “{value}”: choose mirror, edge, continued, or a colour like #f3efe6"
    raise SizeError(msg)


def _said(value: Any) -> Any:
    """Take a word alone for what the sides show."""
    return {"ground": value} if isinstance(value, str) else value


class Sides(Value):
    """What the sides show where the picture itself does not go round, and whether folds are marked."""

    ground: Annotated[Fill, AfterValidator(_ground)]
    marks: bool = Field(default=False, description="short lines at the outer edge, at the folds")

    @property
    def words(self) -> str:
        """What a sentence says of them."""
        shown = {
            "mirror": "mirrored",
            "edge": "its edge drawn out",
            CONTINUED: "the scene continued",
        }
        words = shown.get(self.ground, self.ground)
        return f"sides {words}" + (", folds marked" if self.marks else "")


# A `Sides`, or the one word it says.
SidesAsked = Annotated[Sides, BeforeValidator(_said)]
