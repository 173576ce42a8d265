"""The shapes a size can have (rules, section 2)."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from oak_ledge.core.measures.lengths import Unit
from oak_ledge.core.measures.numbers import Exact
from oak_ledge.core.sizes.choices import Differ, Edge, Turn
from oak_ledge.core.values import Value


class ExactShape(Value):
    """Width and height, both fixed, in one unit."""

    kind: Literal["exact"] = "exact"
    width: Exact
    height: Exact
    unit: Unit


class EdgeShape(Value):
    """One edge fixed; the other follows the crop, whose ratio is free."""

    kind: Literal["edge"] = "edge"
    edge: Edge
    length: Exact
    unit: Unit


class RatioShape(Value):
    """A ratio, width to height; the crop's own pixels, unscaled."""

    kind: Literal["ratio"] = "ratio"
    across: Exact
    along: Exact


class PercentShape(Value):
    """A share of the crop's own pixels; the ratio is free."""

    kind: Literal["percent"] = "percent"
    percent: Exact


class WithinShape(Value):
    """Fit within a box; the ratio is free. Smaller crops stay as they are, unless `enlarge`."""

    kind: Literal["within"] = "within"
    width: Exact
    height: Exact
    unit: Unit
    enlarge: bool = False


class WindowShape(Value):
    """Exactly that many photo pixels, whole and unscaled: not one value changes."""

    kind: Literal["window"] = "window"
    width: int = Field(ge=1)
    height: int = Field(ge=1)


class OwnShape(Value):
    """The photo's own ratio, unscaled."""

    kind: Literal["photo"] = "photo"


Shape = Annotated[
    ExactShape | EdgeShape | RatioShape | PercentShape | WithinShape | WindowShape | OwnShape,
    Field(discriminator="kind"),
]


FREE_RATIO = (EdgeShape, PercentShape, WithinShape)


def unit_of(shape: Shape) -> Unit | None:
    """Give the unit a shape is written in, or None for one without."""
    if isinstance(shape, WindowShape):
        return "px"
    return shape.unit if isinstance(shape, ExactShape | EdgeShape | WithinShape) else None


def natural_turn(shape: Shape, differ: Differ = "trim") -> Turn:
    """Say how a shape turns unless told otherwise: lengths and ratios suit, pixels stay.

    A ratio that a photo is extended to is a screen's or a page's, and stays too.
    """
    page = isinstance(shape, RatioShape) and differ == "extend"
    return "fixed" if unit_of(shape) == "px" or page else "suit"
