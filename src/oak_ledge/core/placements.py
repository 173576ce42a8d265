"""Where a photo lies on a size (rules, section 3). What moves it is in `gestures`.

Photo coordinates, as held: origin at the outer top-left corner, x right, y down, in photo
pixels; pixel i covers [i, i+1]. Every function here is pure. A crop never leaves the photo, unless
its size says `extend`: after any gesture it is slid inside, then shrunk about the held point, its
ratio untouched.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.geometry import Matrix, Point, corners_of, crop_matrix, extent_at, turned
from oak_ledge.core.planes import Plane, plane_over, roomiest, slid_inside
from oak_ledge.core.sizes import (
    EdgeShape,
    OwnShape,
    PercentShape,
    RatioShape,
    Size,
    Turned,
    WindowShape,
    open_pixels,
    ratio_around,
    turned_pixels,
    written_pixels,
)
from oak_ledge.core.squaring import Squared, plane_of, true_ratio
from oak_ledge.core.units import Pixels, halves_up
from oak_ledge.core.values import Coordinate, Extent, Value

SMALLEST_CROP = 8.0  # photo pixels on the shorter edge
HAIRLINE = 4  # output pixels; less ground than that on a side is given up
THIN = 1 / 16  # of the edge; on a tiny piece four pixels are no hairline
MOST_GROUND = 10  # a crop is at most so many times as wide as the smallest around the photo

Corner = tuple[Coordinate, Coordinate]
Corners = tuple[Corner, Corner, Corner, Corner]
Edge = Annotated[int, Field(ge=1, le=10**10)]  # how many may be made is asked before they are
Free = tuple[Edge, Edge]
Stretch = Annotated[float, Field(ge=1e-12, le=1e12)]
Proportions = tuple[float, float]
"""Across and along of a crop, in any measure."""


class Lain(Value):
    """Where a crop lay upright, before it was levelled."""

    cx: Coordinate
    cy: Coordinate
    width: Extent
    free: Free | None
    stretch: Stretch


class Placement(Value):
    """How one photo lies on one size.

    `cx`, `cy` is the crop's centre and `width` its width, in photo pixels; the height follows
    as width × H / W of the output (and its dot). `turned` is a person's own choice of wide or tall.
    `free` holds the output pixels where the size leaves the ratio open, and is None elsewhere.
    `stretch` is how much wider than tall the picture is drawn out, 1 for not at all. `angle` turns the
    crop clockwise on the photo, in degrees. `quarter` turns the photo itself clockwise, `mirror`
    then flips it left to right: all else is meant on the photo so held. `corners` are four points of
    it, clockwise from what becomes top left, that are squared up: centre, width and angle are then
    meant on the plane they define, which has its true proportions, or with `fit_corners` those of
    the size; `focal`, in photo pixels, helps to find them. `upright`
    remembers how the crop lay before it was levelled. `size` is this photo's own exception to the size it lies on.
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
    upright: Lain | None = None
    size: Size | None = None


@dataclass(frozen=True)
class Crop:
    """A crop as a rectangle in photo pixels, turned clockwise by `angle` about its centre."""

    left: float
    top: float
    width: float
    height: float
    angle: float = 0.0

    @property
    def right(self) -> float:
        """The right edge's x."""
        return self.left + self.width

    @property
    def bottom(self) -> float:
        """The bottom edge's y."""
        return self.top + self.height

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, width, height."""
        return self.left, self.top, self.width, self.height

    def matrix(self, asked: Pixels) -> Matrix:
        """Map output points [0, W] × [0, H] onto the crop."""
        return crop_matrix(*self.box, self.angle, asked)

    def part(self, u: float, v: float, wide: float, high: float) -> Crop:
        """Give the part of the crop from shares u, v on, `wide` and `high` shares large."""
        width, height = wide * self.width, high * self.height
        dx, dy = turned(
            (u + wide / 2 - 0.5) * self.width, (v + high / 2 - 0.5) * self.height, self.angle
        )
        cx, cy = self.left + self.width / 2 + dx, self.top + self.height / 2 + dy
        return Crop(cx - width / 2, cy - height / 2, width, height, self.angle)

    def corners(self) -> list[Point]:
        """Give the corners, clockwise from what is the top left of the piece."""
        return corners_of(self.matrix((1, 1)), 1, 1)


def photo_held(upright: Pixels, placement: Placement) -> Pixels:
    """Give a photo's width and height as held: its own quarter turns counted."""
    return upright if placement.quarter % 2 == 0 else (upright[1], upright[0])


def held_at(size: Size, upright: Pixels, placement: Placement) -> Pixels:
    """Give the extent a placement lies on: the photo as held, or the plane its corners define.

    The plane, a `Plane`, has its true proportions (`squaring`), or with `fit_corners` those of a size
    that fixes some. A crop turned by hand is turned on it, and may reach as far as the photo does.
    """
    held = photo_held(upright, placement)
    if placement.corners is None:
        return held
    at, written = size_at(size, placement), written_pixels(size_at(size, placement))
    flat = plane_of(placement.corners, squared_up(placement, held).ratio)
    if written is None or at.differ != "trim" or not placement.fit_corners:
        return plane_over(flat, placement.corners, held)
    across, along = face_of(at, turned_pixels(written, at.turn, flat, None))
    extent = plane_of(placement.corners, across / along)
    return plane_over(extent, placement.corners, held)


def squared_up(placement: Placement, held: Pixels) -> Squared:
    """Work out the true proportions of what a placement's four corners go round."""
    assert placement.corners is not None
    return true_ratio(placement.corners, held, placement.focal)


def size_at(size: Size, placement: Placement) -> Size:
    """Give the size a placement really makes: its own exception, else the one it lies on."""
    return placement.size or size


def own_size(size: Size, own: Size) -> Size | None:
    """Give a photo's own size, or None where it says nothing but what the size says."""
    if own.model_copy(update={"name": size.name}) == size:
        return None
    same = all(getattr(own, name) == getattr(size, name) for name in ("shape", "ppi", "bleed"))
    # a name that told of other lengths or pixels goes
    return own.model_copy(update={"name": size.name if same else ""})


def asked_pixels(size: Size, held: Pixels, placement: Placement) -> Pixels:
    """Give the exact output pixels W × H that a placement will make."""
    written = written_pixels(size)
    if written is not None:
        return turned_pixels(written, size.turn, held, placement.turned)
    if placement.free is None:
        msg = "a placement on a free size must carry its output pixels"
        raise PlacementError(msg)
    return placement.free


def crop_of(size: Size, held: Pixels, placement: Placement) -> Crop:
    """Give a placement's crop as a rectangle in photo pixels."""
    across, along = proportions(size, held, placement)
    height = placement.width * along / across
    left = placement.cx - placement.width / 2
    top = placement.cy - height / 2
    return Crop(left, top, placement.width, height, placement.angle)


def proportions(size: Size, held: Pixels, placement: Placement) -> Proportions:
    """Give a crop's proportions: those of the output on its dots, less what is stretched."""
    across, along = face_of(size, asked_pixels(size, held, placement))
    return across, along if placement.stretch == 1 else along * placement.stretch


def face_of(size: Size, asked: Pixels) -> Pixels:
    """Give the proportions of output pixels as they will be seen, on dots that may be oblong.

    >>> from oak_ledge.core.size_text import read_size
    >>> face_of(read_size("384x160px dot 1:2"), (384, 160))
    (384, 320)
    """
    return asked[0] * size.dot.numerator, asked[1] * size.dot.denominator


def largest_width(held: Pixels, ratio: Proportions, angle: float = 0.0) -> float:
    """Give the width of the largest crop of a ratio, turned by an angle, inside a photo.

    A turned rectangle lies inside an upright one where the upright box around it does.

    >>> largest_width((6000, 4000), (3000, 2400))
    5000.0
    """
    (pw, ph), (across, along) = held, ratio
    if angle:
        wide, high = extent_at(angle, across, along)
        return min(pw / wide, ph / high) * across
    return float(pw) if pw * along <= ph * across else ph * across / along


def around_width(held: Pixels, ratio: Proportions, angle: float = 0.0) -> float:
    """Give the width of the smallest crop of a ratio, turned by an angle, around a whole photo.

    >>> around_width((6000, 4000), (3000, 2400))
    6000.0
    """
    (pw, ph), (across, along) = held, ratio
    if angle:
        wide, high = extent_at(angle, pw, ph)
        return max(wide, high * across / along)
    return float(pw) if pw * along >= ph * across else ph * across / along


def fitting_width(size: Size, held: Pixels, ratio: Proportions, angle: float) -> float:
    """Give the width of a crop that suggests itself: the largest inside, or around to extend.

    Where extending would leave a hairline of ground, it is the largest inside too.
    """
    if size.differ != "extend" or leaves_hairline(size, held, ratio, angle):
        return largest_width(held, ratio, angle)
    return around_width(held, ratio, angle)


def leaves_hairline(size: Size, held: Pixels, ratio: Proportions, angle: float) -> bool:
    """Say whether the smallest crop around a photo leaves under `HAIRLINE` of ground on a side.

    That is no ground anybody asked for, but a shape that is a few pixels off.

    >>> from oak_ledge.core.size_text import read_size
    >>> size = read_size("3000x2000px extend")
    >>> leaves_hairline(size, (6000, 3990), (3, 2), 0), leaves_hairline(size, (6000, 3900), (3, 2), 0)
    (True, False)
    """
    if angle:
        return False
    around = around_width(held, ratio)
    written = written_pixels(size)
    scale = 1.0
    if written is not None and not isinstance(size.shape, WindowShape):
        scale = (max if ratio[0] >= ratio[1] else min)(written) / around
    edges = (around * scale, around * ratio[1] / ratio[0] * scale)
    more = [edge - photo * scale for edge, photo in zip(edges, held, strict=True)]
    return any(
        1e-6 < ground < 2 * HAIRLINE - 1e-6 and ground < edge * THIN
        for ground, edge in zip(more, edges, strict=True)
    )


def tightness(size: Size, held: Pixels, placement: Placement) -> float:
    """Give a crop's width as a share of the one that suggests itself at its angle."""
    ratio = proportions(size, held, placement)
    return placement.width / fitting_width(size, held, ratio, placement.angle)


def as_tight(
    size: Size,
    held: Pixels,
    placement: Placement,
    share: float,
    ratio: Proportions | None = None,
) -> Placement:
    """Give a crop its tightness anew, kept inside; a window stays as large as it is.

    `ratio` is the crop's own unless one is given, where it is open.
    """
    if isinstance(size.shape, WindowShape):
        return keep_inside(size, held, placement)
    across, along = ratio = ratio or proportions(size, held, placement)
    width = share * fitting_width(size, held, ratio, placement.angle)
    return keep_inside(size, held, adopt(size, held, placement, width, width * along / across))


def widest(size: Size, held: Pixels, ratio: Proportions, angle: float) -> float:
    """Give the width no crop of a ratio may pass."""
    if isinstance(held, Plane):
        return roomiest(_region(size, held), ratio, angle)[0]
    fitting = fitting_width(size, held, ratio, angle)
    return fitting * MOST_GROUND if size.differ == "extend" else fitting


def _region(size: Size, plane: Plane) -> tuple[Point, ...]:
    return plane.reach if size.differ == "extend" else plane.outline


def most_edges(size: Size, held: Pixels) -> tuple[float, float]:
    """Give the width and height no crop may pass, whatever its ratio."""
    wide, high = held.bounds[2:] if isinstance(held, Plane) else held
    times = MOST_GROUND if size.differ == "extend" else 1
    return float(wide * times), float(high * times)


def suggest(size: Size, held: Pixels, turned: Turned | None = None) -> Placement:
    """Give the first suggestion, in the middle of the photo: the largest crop of the shape.

    To extend, it is the smallest crop around the photo; to stretch, the whole photo.

    Raises
    ------
    PlacementError
        If a window is larger than the photo and shall not be extended.
    """
    pw, ph = held
    middle = Placement(cx=pw / 2, cy=ph / 2, width=1.0, turned=turned)
    written = written_pixels(size)
    if written is None:
        if size.differ == "extend" and isinstance(size.shape, RatioShape):
            around = ratio_around(size, held, turned, HAIRLINE)
            return keep_inside(size, held, changed(middle, free=around, width=float(around[0])))
        return keep_inside(size, held, adopt(size, held, middle, pw, ph))
    asked = turned_pixels(written, size.turn, held, turned)
    if isinstance(size.shape, WindowShape):
        if size.differ == "trim" and (asked[0] > pw or asked[1] > ph):
            msg = (
                f"a window of {asked[0]} × {asked[1]} px is larger than the photo's "
                f"{pw} × {ph} px. Ask for a smaller window, for exact pixels, or extend it"
            )
            raise PlacementError(msg)
        return keep_inside(size, held, changed(middle, width=float(asked[0])))
    if size.differ == "stretch":
        return keep_inside(size, held, adopt(size, held, middle, pw, ph))
    width = fitting_width(size, held, face_of(size, asked), 0.0)
    return keep_inside(size, held, changed(middle, width=width))


def changed(placement: Placement, **changes: object) -> Placement:
    """Give a placement with some fields otherwise."""
    return placement.model_copy(update=changes)


def adopt(size: Size, held: Pixels, placement: Placement, width: float, height: float) -> Placement:
    """Give a placement whose crop comes nearest to width × height: output first, then the crop.

    Where the crop decides the output, the output is rounded and the crop snapped to its ratio.
    Elsewhere the height follows from the width, and a window stays as large as it is; what may be
    stretched takes both as they are.
    """
    if isinstance(size.shape, WindowShape):
        return placement
    if written_pixels(size) is not None:
        stretch = placement.stretch
        if size.differ == "stretch":
            across, along = face_of(size, asked_pixels(size, held, placement))
            stretch = height * across / (width * along)
        return changed(placement, width=width, stretch=stretch)
    free = open_pixels(size, held, (width, height), placement.turned)
    if isinstance(size.shape, PercentShape) and _fits_at(size.shape, size, held, placement, free):
        width = float(free[0] * 100 / size.shape.percent)
    elif _as_it_is(size, width, height, free):
        width = float(free[0])
    elif width < height:  # the shorter edge gives way
        across, along = face_of(size, free)
        width = height * across / along
    return changed(placement, free=free, width=width)


def _fits_at(
    shape: PercentShape, size: Size, held: Pixels, placement: Placement, free: Pixels
) -> bool:
    """Say whether the crop that makes an output at exactly its percentage lies in the photo."""
    wide, high = (float(edge * 100 / shape.percent) for edge in free)
    if isinstance(held, Plane):
        return wide <= widest(size, held, free, placement.angle)
    wide, high = extent_at(placement.angle, wide, high)
    return wide <= held[0] and high <= held[1]


def _as_it_is(size: Size, width: float, height: float, free: Pixels) -> bool:
    """Say whether a crop's own pixels are the output, unscaled."""
    if isinstance(size.shape, RatioShape | OwnShape):
        return True
    if isinstance(size.shape, EdgeShape):
        return False
    return size.dot == 1 and (halves_up(width), halves_up(height)) == free


def laid(
    size: Size,
    upright: Pixels,
    turned: Turned | None = None,
    *,
    quarter: Literal[0, 1, 2, 3] = 0,
    mirror: bool = False,
    corners: Corners | None = None,
    focal: float | None = None,
    fit_corners: bool = False,
) -> Placement:
    """Give the suggestion for a photo held otherwise, or squared up by four corners."""
    how = {
        "quarter": quarter,
        "mirror": mirror,
        "corners": corners,
        "focal": focal,
        "fit_corners": fit_corners,
    }
    first = Placement(cx=0, cy=0, width=1, turned=turned).model_copy(update=how)
    held = held_at(size, upright, first)
    made = changed(suggest(size, held, turned), **how)
    return keep_inside(size, held, made) if corners else made


def at_centre(size: Size, held: Pixels, placement: Placement, x: float, y: float) -> Placement:
    """Put the crop's centre at shares x, y (0…1) of the photo, sliding it inside."""
    if not (0 <= x <= 1 and 0 <= y <= 1):
        msg = f"centre {x:g},{y:g} lies outside the photo; both must be from 0 to 1"
        raise PlacementError(msg)
    return keep_inside(size, held, changed(placement, cx=x * held[0], cy=y * held[1]))


def keep_inside(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Slide a crop into the photo; shrink it only where it is too large. Ratio unchanged.

    A crop that may be extended is only kept from losing the photo out of sight.
    """
    pw, ph = held
    placement = shrunk(size, held, placement)
    if isinstance(held, Plane):
        ratio, centre = proportions(size, held, placement), (placement.cx, placement.cy)
        width, (cx, cy) = slid_inside(
            _region(size, held), centre, placement.width, ratio, placement.angle
        )
        return changed(placement, cx=cx, cy=cy, width=width)
    W, H = asked_pixels(size, held, placement)
    across, along = ratio = proportions(size, held, placement)
    angle = placement.angle
    width = min(placement.width, widest(size, held, ratio, angle))
    height = width * along / across
    extends = size.differ == "extend"
    if not extends and not angle:
        height = min(height, float(ph))
    unscaled = width == W and abs(height - H) < 1e-6
    whole = isinstance(size.shape, WindowShape) or (
        unscaled and (extends or (ph >= H and placement.free is not None))
    )
    whole = whole and not angle
    wide, high = extent_at(angle, width, height) if angle else (width, height)
    cx = _centre(placement.cx, wide, pw, extends=extends, whole=whole)
    cy = _centre(placement.cy, high, ph, extends=extends, whole=whole)
    return changed(placement, cx=cx, cy=cy, width=width)


def _centre(centre: float, extent: float, edge: int, *, extends: bool, whole: bool) -> float:
    """Keep a crop inside on one axis; `whole` puts it on whole photo pixels, to be copied."""
    most, least = edge - extent / 2, extent / 2
    if extends:
        shown = min(SMALLEST_CROP, extent, float(edge))
        most, least = edge - shown + extent / 2, shown - extent / 2
    if whole:
        low = halves_up(centre - extent / 2)
        return min(max(low, round(least - extent / 2)), round(most - extent / 2)) + extent / 2
    return min(max(centre, least), most) if least <= most else edge / 2


def shrunk(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Shrink a crop that decides its output until both edges fit the photo."""
    free = placement.free
    if free is None or size.differ == "extend":
        return placement
    for _ in range(3):  # rounding the output may grow the crop again by a hair
        across, along = ratio = proportions(size, held, placement)
        height = placement.width * along / across
        wide, high = extent_at(placement.angle, placement.width, height)
        most = widest(size, held, ratio, placement.angle)
        inside = wide <= held[0] and high <= held[1]
        if placement.width <= most if isinstance(held, Plane) else inside:
            break
        fit, edges = most / placement.width, most_edges(size, held)
        width, height = min(placement.width * fit, edges[0]), min(height * fit, edges[1])
        if isinstance(size.shape, PercentShape) and size.shape.percent == 100:
            whole = (max(1, int(width + 1e-9)), max(1, int(height + 1e-9)))
            return changed(placement, free=whole, width=float(whole[0]))
        if not isinstance(size.shape, RatioShape | OwnShape) and (1 - fit) * max(free) <= 1:
            return changed(placement, width=most)  # rounding's dust: what comes out stays
        placement = adopt(size, held, placement, width, height)
    return placement
