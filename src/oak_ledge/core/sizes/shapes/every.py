"""Every shape a size can have: the registry. A new one is a file of its own and a line here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from oak_ledge.core.sizes.choices import Differ, Turn
from oak_ledge.core.sizes.shapes.edge import EdgeShape
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.shapes.percent import PercentShape
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.shapes.window import WindowShape
from oak_ledge.core.sizes.shapes.within import WithinShape

Shape = Annotated[
    ExactShape | EdgeShape | RatioShape | PercentShape | WithinShape | WindowShape | OwnShape,
    Field(discriminator="kind"),
]


def natural_turn(
    shape: Shape, differ: Differ = "trim", *, panels: bool = False, head: bool = False
) -> Turn:
    """Return how a shape turns unless told otherwise: lengths and ratios suit, pixels stay.

    A ratio that a photo is extended to is a screen's or a page's, and stays too; so does one that is
    cut in panels. A size with a head stays, as heads stand upright.
    """
    page = shape.unscaled and shape.fixes_shape and (differ == "extend" or panels)
    return "fixed" if shape.measured_in == "px" or page or head else "suit"
