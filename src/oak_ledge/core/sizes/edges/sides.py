"""The turned-over sides of a stretched canvas: what they show (rules, section 6)."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator, Field

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.ground import GROUNDS, Fill
from oak_ledge.core.values import Value


def _ground(value: str) -> str:
    if (value in GROUNDS and GROUNDS[value].as_sides) or re.fullmatch(r"#[0-9a-f]{6}", value):
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
        words = GROUNDS[self.ground].as_sides if self.ground in GROUNDS else self.ground
        return f"sides {words}" + (", folds marked" if self.marks else "")


# A `Sides`, or the one word it says.
SidesAsked = Annotated[Sides, BeforeValidator(_said)]
