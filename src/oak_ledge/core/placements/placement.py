"""Where a photo lies on a size (rules, section 3)."""

from __future__ import annotations

from typing import Annotated, Literal, TypedDict, Unpack

from pydantic import Field

from oak_ledge.core.marks.mark import PieceMark
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.sizes.choices import Turned
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Coordinate, Extent, Value

Corner = tuple[Coordinate, Coordinate]


Corners = tuple[Corner, Corner, Corner, Corner]


# How many may be made is asked before they are.
Edge = Annotated[int, Field(ge=1, le=10**10)]


Free = tuple[Edge, Edge]


Stretch = Annotated[float, Field(ge=1e-12, le=1e12)]


class Lain(Value):
    """Where a crop lay at 0°, before it was levelled."""

    cx: Coordinate
    cy: Coordinate
    width: Extent
    free: Free | None
    stretch: Stretch


class Former(Value):
    """How a crop lay before it was tightened, loosened or turned, so that the way back ends just there.

    `factor` is how many times as wide a hand has made it since, about the point at shares `u`, `v`.
    """

    by: Literal["scale", "turn"]
    cx: Coordinate
    cy: Coordinate
    width: Extent
    free: Free | None
    stretch: Stretch
    turned: Turned | None
    factor: float = Field(default=1.0, gt=0)
    u: float = 0.5
    v: float = 0.5


class Placement(Value):
    """How one photo lies on one size.

    `cx`, `cy` is the crop's centre and `width` its width, in photo pixels; the height follows
    as width × H / W of the output (and its dot). `turned` is a person's own choice of wide or tall.
    `free` holds the output pixels where the size leaves the ratio open, and is None elsewhere.
    `stretch` is how much wider than tall the picture is drawn out, 1 for not at all. `angle` turns the
    crop clockwise on the photo, in degrees. `quarter` turns the photo itself clockwise, `mirror`
    then flips it left to right: all else is meant on the photo so turned. `corners` are four points of
    it, clockwise from what becomes top left, that are squared up: centre, width and angle are then
    meant on the plane they define, which has its true proportions, or with `fit_corners` those of
    the size; `focal`, in photo pixels, helps to find them. `before_levelling`
    remembers how the crop lay at 0°. `size` is this photo's own exception to the size it lies on.
    `continued` is the continued ground that was taken for it. `former` remembers where the last
    tightenings, or turns, began. `mark` is laid over this piece in place of its size's.
    `allow` are the codes of stops that a person has taken the responsibility for.
    """

    cx: Coordinate
    cy: Coordinate
    width: Extent
    turned: Turned | None = None
    free: Free | None = None
    stretch: Stretch = 1.0
    angle: float = Field(default=0.0, gt=-180, le=180)
    quarter: Literal[0, 1, 2, 3] = 0
    mirror: bool = False
    corners: Corners | None = None
    fit_corners: bool = False
    focal: Extent | None = None
    before_levelling: Lain | None = None
    size: Size | None = None
    continued: Continued | None = None
    mark: PieceMark | None = Field(default=None, exclude_if=lambda mark: mark is None)
    former: Former | None = Field(default=None, exclude_if=lambda former: former is None)
    allow: tuple[Annotated[str, Field(max_length=40)], ...] = Field(default=(), max_length=20)


def photo_quartered(upright: Pixels, placement: Placement) -> Pixels:
    """Return a photo's width and height after a placement's quarter turns."""
    return upright if placement.quarter % 2 == 0 else (upright[1], upright[0])


def size_at(size: Size, placement: Placement) -> Size:
    """Return the size a placement really makes: its own exception, else the one it lies on."""
    return placement.size or size


def mark_on(size: Size, placement: Placement) -> PieceMark | None:
    """Return the mark a piece has, its own or its size's; None where it has none or hides it."""
    own, of_size = placement.mark, size_at(size, placement).mark
    if own is None:
        return None if of_size is None else PieceMark(**dict(of_size))
    return None if own.hidden else own


def own_size(size: Size, own: Size) -> Size | None:
    """Return a photo's own size, or None where it says nothing but what the size says."""
    if own.model_copy(update={"name": size.name}) == size:
        return None
    same = all(getattr(own, name) == getattr(size, name) for name in ("shape", "ppi", "bleed"))
    # a name that told of other lengths or pixels goes
    return own.model_copy(update={"name": size.name if same else ""})


class CropFigures(TypedDict, total=False):
    """The fields that say where a crop lies and what it makes; all else a gesture leaves as it was."""

    cx: float
    cy: float
    width: float
    turned: Turned | None
    free: Free | None
    stretch: float
    angle: float
    former: Former | None


class PlacementFields(CropFigures, total=False):
    """The fields of a placement by name, for `changed`."""

    quarter: Literal[0, 1, 2, 3]
    mirror: bool
    corners: Corners | None
    fit_corners: bool
    focal: float | None
    before_levelling: Lain | None
    size: Size | None
    continued: Continued | None
    allow: tuple[str, ...]
    mark: PieceMark | None


def changed(placement: Placement, **changes: Unpack[PlacementFields]) -> Placement:
    """Return a placement with some fields otherwise.

    Raises
    ------
    TypeError
        If a placement has no field of such a name.
    """
    unknown = changes.keys() - Placement.model_fields.keys()
    if unknown:
        msg = f"a placement has no {', '.join(sorted(unknown))}"
        raise TypeError(msg)
    return placement.model_copy(update=dict(changes))


def crop_of(placement: Placement) -> CropFigures:
    """Return the figures of a placement's crop, to be taken over into another."""
    placed = placement
    return CropFigures(
        cx=placed.cx,
        cy=placed.cy,
        width=placed.width,
        turned=placed.turned,
        free=placed.free,
        stretch=placed.stretch,
        angle=placed.angle,
        former=placed.former,
    )
