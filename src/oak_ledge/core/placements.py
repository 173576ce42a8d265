"""Where a photo lies on a size, and the gestures that move it: old → new (rules, section 3).

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
from oak_ledge.core.geometry import Point, corners_of, crop_matrix, extent_at, turn_of
from oak_ledge.core.relabelling import relabelled, resampled
from oak_ledge.core.sizes import (
    EdgeShape,
    MethodChoice,
    OwnShape,
    PercentShape,
    RatioShape,
    SharpenFor,
    Size,
    Turned,
    WindowShape,
    open_pixels,
    ratio_around,
    ratio_is_open,
    size_from,
    turned_pixels,
    written_pixels,
)
from oak_ledge.core.squaring import plane_of, true_ratio
from oak_ledge.core.units import Exact, ExactLength, Pixels, halves_up
from oak_ledge.core.values import Value

SMALLEST_CROP = 8.0  # photo pixels on the shorter edge
MOST_GROUND = 10  # a crop is at most so many times as wide as the smallest around the photo

Corners = tuple[Point, Point, Point, Point]
Proportions = tuple[float, float]
"""Across and along of a crop, in any measure."""


class Placement(Value):
    """How one photo lies on one size.

    `cx`, `cy` is the crop's centre and `width` its width, in photo pixels; the height follows
    as width × H / W of the output (and its dot). `turned` is a person's own choice of wide or tall.
    `free` holds the output pixels where the size leaves the ratio open, and is None elsewhere.
    `stretch` is how much wider than tall the picture is drawn out, 1 for not at all. `angle` turns the
    crop clockwise on the photo, in degrees. `quarter` turns the photo itself clockwise, `mirror`
    then flips it left to right: all else is meant on the photo so held. `corners` are four points of
    it, clockwise from what becomes top left, that are squared up: centre, width and angle are then
    meant on the plane they define. `size` is this photo's own exception to the size it lies on.
    """

    cx: float
    cy: float
    width: float = Field(gt=0)
    turned: Turned | None = None
    free: Pixels | None = None
    stretch: float = Field(default=1.0, gt=0)
    angle: float = Field(default=0.0, gt=-180, le=180)
    quarter: Literal[0, 1, 2, 3] = 0
    mirror: bool = False
    corners: Corners | None = None
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

    def part(self, u: float, v: float, wide: float, high: float) -> Crop:
        """Give the part of the crop from shares u, v on, `wide` and `high` shares large."""
        width, height = wide * self.width, high * self.height
        dx, dy = _turned(
            (u + wide / 2 - 0.5) * self.width, (v + high / 2 - 0.5) * self.height, self.angle
        )
        cx, cy = self.left + self.width / 2 + dx, self.top + self.height / 2 + dy
        return Crop(cx - width / 2, cy - height / 2, width, height, self.angle)

    def corners(self) -> list[Point]:
        """Give the corners, clockwise from what is the top left of the piece."""
        matrix = crop_matrix(self.left, self.top, self.width, self.height, self.angle, (1, 1))
        return corners_of(matrix, 1, 1)


def photo_held(upright: Pixels, placement: Placement) -> Pixels:
    """Give a photo's width and height as held: its own quarter turns counted."""
    return upright if placement.quarter % 2 == 0 else (upright[1], upright[0])


def held_at(size: Size, upright: Pixels, placement: Placement) -> Pixels:
    """Give the extent a placement lies on: the photo as held, or the plane its corners define.

    The plane has the size's own ratio where it fixes one, else the true one (`squaring`).
    """
    held = photo_held(upright, placement)
    if placement.corners is None:
        return held
    at, written = size_at(size, placement), written_pixels(size_at(size, placement))
    if written is None or at.differ != "trim":
        return plane_of(placement.corners, true_ratio(placement.corners, held).ratio)
    flat = plane_of(placement.corners, true_ratio(placement.corners, held).ratio)
    across, along = face_of(at, turned_pixels(written, at.turn, flat, placement.turned))
    return plane_of(placement.corners, across / along)


def size_at(size: Size, placement: Placement) -> Size:
    """Give the size a placement really makes: its own exception, else the one it lies on."""
    return placement.size or size


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


def _fitting(size: Size, held: Pixels, ratio: Proportions, angle: float) -> float:
    """Give the width of a crop that suggests itself: the largest inside, or around to extend."""
    return (around_width if size.differ == "extend" else largest_width)(held, ratio, angle)


def _widest(size: Size, held: Pixels, ratio: Proportions, angle: float) -> float:
    fitting = _fitting(size, held, ratio, angle)
    return fitting * MOST_GROUND if size.differ == "extend" else fitting


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
            around = ratio_around(size, held, turned)
            return keep_inside(size, held, _with(middle, free=around, width=float(around[0])))
        return keep_inside(size, held, adopt(size, held, middle, pw, ph))
    asked = turned_pixels(written, size.turn, held, turned)
    if isinstance(size.shape, WindowShape):
        if size.differ == "trim" and (asked[0] > pw or asked[1] > ph):
            msg = (
                f"a window of {asked[0]} × {asked[1]} px is larger than the photo's "
                f"{pw} × {ph} px. Ask for a smaller window, for exact pixels, or extend it"
            )
            raise PlacementError(msg)
        return keep_inside(size, held, _with(middle, width=float(asked[0])))
    if size.differ == "stretch":
        return keep_inside(size, held, adopt(size, held, middle, pw, ph))
    return _with(middle, width=_fitting(size, held, face_of(size, asked), 0.0))


def _with(placement: Placement, **changes: object) -> Placement:
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
        return _with(placement, width=width, stretch=stretch)
    free = open_pixels(size, held, (width, height), placement.turned)
    if isinstance(size.shape, PercentShape):
        width = float(free[0] * 100 / size.shape.percent)
    elif _as_it_is(size, width, height, free):
        width = float(free[0])
    elif width < height:  # the shorter edge gives way
        across, along = face_of(size, free)
        width = height * across / along
    return _with(placement, free=free, width=width)


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
) -> Placement:
    """Give the suggestion for a photo held otherwise, or squared up by four corners."""
    first = Placement(
        cx=0, cy=0, width=1, turned=turned, quarter=quarter, mirror=mirror, corners=corners
    )
    held = held_at(size, upright, first)
    return _with(suggest(size, held, turned), quarter=quarter, mirror=mirror, corners=corners)


def at_centre(size: Size, held: Pixels, placement: Placement, x: float, y: float) -> Placement:
    """Put the crop's centre at shares x, y (0…1) of the photo, sliding it inside."""
    if not (0 <= x <= 1 and 0 <= y <= 1):
        msg = f"centre {x:g},{y:g} lies outside the photo; both must be from 0 to 1"
        raise PlacementError(msg)
    return keep_inside(size, held, _with(placement, cx=x * held[0], cy=y * held[1]))


def at_angle(size: Size, held: Pixels, placement: Placement, angle: float) -> Placement:
    """Turn a crop to an angle; as much of its largest as before is kept, and it stays inside."""
    was = _fitting(size, held, proportions(size, held, placement), placement.angle)
    share = placement.width / was
    turned = _with(placement, angle=angle)
    if isinstance(size.shape, WindowShape):
        return keep_inside(size, held, turned)
    across, along = ratio = proportions(size, held, turned)
    width = share * _fitting(size, held, ratio, angle)
    return keep_inside(size, held, adopt(size, held, turned, width, width * along / across))


def keep_inside(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Slide a crop into the photo; shrink it only where it is too large. Ratio unchanged.

    A crop that may be extended is only kept from losing the photo out of sight.
    """
    pw, ph = held
    placement = _shrunk(size, held, placement)
    W, H = asked_pixels(size, held, placement)
    across, along = ratio = proportions(size, held, placement)
    angle = placement.angle
    width = min(placement.width, _widest(size, held, ratio, angle))
    height = width * along / across
    extends = size.differ == "extend"
    if not extends and not angle:
        height = min(height, float(ph))
    whole = isinstance(size.shape, WindowShape) or (
        width == W and (extends or ph >= H) and placement.free is not None
    )
    whole = whole and not angle
    wide, high = extent_at(angle, width, height) if angle else (width, height)
    cx = _centre(placement.cx, wide, pw, extends=extends, whole=whole)
    cy = _centre(placement.cy, high, ph, extends=extends, whole=whole)
    return _with(placement, cx=cx, cy=cy, width=width)


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


def _shrunk(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Shrink a crop that decides its output until both edges fit the photo."""
    if placement.free is None or size.differ == "extend":
        return placement
    for _ in range(3):  # rounding the output may grow the crop again by a hair
        across, along = ratio = proportions(size, held, placement)
        height = placement.width * along / across
        wide, high = extent_at(placement.angle, placement.width, height)
        if wide <= held[0] and high <= held[1]:
            break
        fit = largest_width(held, ratio, placement.angle) / placement.width
        width, height = min(placement.width * fit, held[0]), min(height * fit, held[1])
        if isinstance(size.shape, PercentShape):
            share = size.shape.percent / 100
            whole = (max(1, int(width * share + 1e-9)), max(1, int(height * share + 1e-9)))
            return _with(placement, free=whole, width=float(whole[0] / share))
        placement = adopt(size, held, placement, width, height)
    return placement


# Gestures. A drag is told as a whole, from where it began: the browser sends the sum, so a
# lost or late request changes nothing.


class Move(Value):
    """Move the crop over the photo by photo pixels."""

    kind: Literal["move"]
    dx: float
    dy: float


class Slide(Value):
    """Move the photo under the fixed crop by output pixels."""

    kind: Literal["slide"]
    dx: float
    dy: float


class Corner(Value):
    """Drag a corner to a point of the photo; the opposite corner, or the centre, is held."""

    kind: Literal["corner"]
    corner: Literal["nw", "ne", "se", "sw"]
    x: float
    y: float
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")


class Scale(Value):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(gt=0, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)


class Nudge(Value):
    """Move the crop by whole output pixels."""

    kind: Literal["nudge"]
    dx: int
    dy: int


class Type(Value):
    """Put the crop where the typed figures say, in photo pixels; what is left out stays."""

    kind: Literal["type"]
    left: float | None = None
    top: float | None = None
    width: float | None = Field(default=None, gt=0)


class Relabel(Value):
    """Keep the output's pixels and say how large they are printed; the resolution follows.

    One of the three is given: `ppi`, or the `width` or `height` of the whole output.
    """

    kind: Literal["relabel"]
    ppi: Exact | None = None
    width: ExactLength | None = None
    height: ExactLength | None = None


class Resample(Value):
    """Keep the physical size and set the resolution; the output's pixels follow."""

    kind: Literal["resample"]
    ppi: Exact


class Finish(Value):
    """Choose how pixels are resampled and sharpened; what is left out stays.

    `sharpen` −1 gives the strength back to resolution and distance.
    """

    kind: Literal["finish"]
    method: MethodChoice | None = None
    sharpen_for: SharpenFor | None = None
    sharpen: int | None = Field(default=None, ge=-1, le=100)


class TurnOver(Value):
    """Turn the shape between wide and tall; a crop that was largest stays largest."""

    kind: Literal["turn"]


class StartAgain(Value):
    """Go back to the suggestion."""

    kind: Literal["start_again"]


Gesture = Annotated[
    Move
    | Slide
    | Corner
    | Scale
    | Nudge
    | Type
    | Relabel
    | Resample
    | Finish
    | TurnOver
    | StartAgain,
    Field(discriminator="kind"),
]


def gesture_name(gesture: Gesture) -> str:
    """Name a gesture for the history of steps."""
    return {
        "move": "moved",
        "slide": "slid",
        "corner": "corner dragged",
        "scale": "loosened" if isinstance(gesture, Scale) and gesture.factor > 1 else "tightened",
        "nudge": "nudged",
        "type": "typed",
        "relabel": "relabelled",
        "resample": "resampled",
        "finish": "finish chosen",
        "turn": "turned",
        "start_again": "started again",
    }[gesture.kind]


def apply(size: Size, upright: Pixels, placement: Placement, gesture: Gesture) -> Placement:
    """Apply a gesture: old placement → new one, always inside the photo, ratio exact.

    Parameters
    ----------
    size : the size at work
    upright : the photo's (width, height), its orientation tag applied
    placement : where it lies now; unchanged
    gesture : what the person did, as a whole since it began
    """
    if isinstance(gesture, StartAgain):
        return suggest(size, upright)
    at, held = size_at(size, placement), held_at(size, upright, placement)
    if isinstance(gesture, Finish):
        return _with(placement, size=_own(size, _finished(at, gesture)))
    if isinstance(gesture, Relabel | Resample):
        return _measured_anew(size, at, held, placement, gesture)
    as_held = {name: getattr(placement, name) for name in ("quarter", "mirror", "corners", "size")}
    return _with(_moved(at, held, placement, gesture), **as_held)


def _moved(size: Size, held: Pixels, placement: Placement, gesture: Gesture) -> Placement:
    if isinstance(gesture, TurnOver):
        return _turn_over(size, held, placement)
    if isinstance(gesture, Corner):
        return _corner(size, held, placement, gesture)
    if isinstance(gesture, Scale):
        return _scale(size, held, placement, gesture)
    if isinstance(gesture, Type):
        return _type(size, held, placement, gesture)
    assert isinstance(gesture, Move | Slide | Nudge)
    dx, dy = gesture.dx, gesture.dy
    if not isinstance(gesture, Move):
        crop, (W, H) = crop_of(size, held, placement), asked_pixels(size, held, placement)
        sign = -1 if isinstance(gesture, Slide) else 1
        dx, dy = sign * dx * (crop.width / W), sign * dy * (crop.height / H)
        dx, dy = _turned(dx, dy, placement.angle)
    return keep_inside(size, held, _with(placement, cx=placement.cx + dx, cy=placement.cy + dy))


def _turned(dx: float, dy: float, angle: float) -> Point:
    """Give a step along the crop's own edges as one on the photo."""
    c, s = turn_of(angle)
    return c * dx - s * dy, s * dx + c * dy


def _measured_anew(
    size: Size, at: Size, held: Pixels, placement: Placement, gesture: Relabel | Resample
) -> Placement:
    """Lay a placement on its size at another resolution; the crop stays where it is."""
    asked = asked_pixels(at, held, placement)
    if isinstance(gesture, Relabel):
        own = relabelled(at, asked, gesture.ppi, gesture.width, gesture.height)
        return _with(placement, size=_own(size, own))
    own = resampled(at, asked, gesture.ppi)
    crop = crop_of(at, held, placement)
    turned = placement.turned if own.turn == at.turn else None
    moved = _with(placement, size=_own(size, own), turned=turned)
    if written_pixels(own) is not None:
        return keep_inside(own, held, _with(moved, free=None))
    return keep_inside(own, held, adopt(own, held, moved, crop.width, crop.height))


def _finished(size: Size, gesture: Finish) -> Size:
    said = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if said.get("sharpen") == -1:
        said["sharpen"] = None
    return size_from(dict(size) | said)


def _own(size: Size, own: Size) -> Size | None:
    """Give a photo's own size, or None where it says nothing but what the size says."""
    if own.model_copy(update={"name": size.name}) == size:
        return None
    same = all(getattr(own, name) == getattr(size, name) for name in ("shape", "ppi", "bleed"))
    # a name that told of other lengths or pixels goes
    return own.model_copy(update={"name": size.name if same else ""})


def _smallest_width(held: Pixels, ratio: Proportions, angle: float) -> float:
    across, along = ratio
    return min(SMALLEST_CROP * max(1.0, across / along), largest_width(held, ratio, angle))


def _resized(size: Size, held: Pixels, placement: Placement, width: float) -> Placement:
    """Give the same crop at another width, its centre kept, within the smallest and largest."""
    across, along = ratio = proportions(size, held, placement)
    angle = placement.angle
    width = min(max(width, _smallest_width(held, ratio, angle)), _widest(size, held, ratio, angle))
    return adopt(size, held, placement, width, width * along / across)


def _scale(size: Size, held: Pixels, placement: Placement, gesture: Scale) -> Placement:
    before = crop_of(size, held, placement)
    resized = _resized(size, held, placement, placement.width * gesture.factor)
    after = crop_of(size, held, resized)
    dx, dy = _turned(
        (gesture.u - 0.5) * (before.width - after.width),
        (gesture.v - 0.5) * (before.height - after.height),
        placement.angle,
    )
    return keep_inside(size, held, _with(resized, cx=placement.cx + dx, cy=placement.cy + dy))


def _type(size: Size, held: Pixels, placement: Placement, gesture: Type) -> Placement:
    before = crop_of(size, held, placement)
    if gesture.width is not None:
        placement = _resized(size, held, placement, gesture.width)
    after = crop_of(size, held, placement)
    left = before.left if gesture.left is None else gesture.left
    top = before.top if gesture.top is None else gesture.top
    cx, cy = left + after.width / 2, top + after.height / 2
    return keep_inside(size, held, _with(placement, cx=cx, cy=cy))


def _turn_over(size: Size, held: Pixels, placement: Placement) -> Placement:
    W, H = asked_pixels(size, held, placement)
    if W == H or isinstance(size.shape, OwnShape):
        return placement
    crop = crop_of(size, held, placement)
    if ratio_is_open(size):
        return keep_inside(size, held, adopt(size, held, placement, crop.height, crop.width))
    other: Turned = "tall" if W > H else "wide"
    natural = suggest(size, held)
    back = asked_pixels(size, held, natural)
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    turned = _with(
        suggest(size, held, turned_to), cx=placement.cx, cy=placement.cy, angle=placement.angle
    )
    if size.differ == "stretch":
        return keep_inside(size, held, adopt(size, held, turned, crop.width, crop.height))
    share = placement.width / _fitting(size, held, face_of(size, (W, H)), placement.angle)
    fitting = _fitting(size, held, proportions(size, held, turned), placement.angle)
    return keep_inside(size, held, _resized(size, held, turned, share * fitting))


def _corner(size: Size, held: Pixels, placement: Placement, gesture: Corner) -> Placement:
    """Hold the opposite corner (or the centre) and let the dragged one follow the pointer.

    The ratio is held by projecting the pointer on the crop's diagonal.
    """
    crop = crop_of(size, held, placement)
    across, along = ratio = proportions(size, held, placement)
    to_right, to_bottom = "e" in gesture.corner, "s" in gesture.corner
    if gesture.centre:
        hold_x, hold_y, reach = placement.cx, placement.cy, 2.0
        room_x = 2 * min(hold_x, held[0] - hold_x)
        room_y = 2 * min(hold_y, held[1] - hold_y)
    else:
        hold_x = crop.left if to_right else crop.right
        hold_y = crop.top if to_bottom else crop.bottom
        reach = 1.0
        room_x = held[0] - hold_x if to_right else hold_x
        room_y = held[1] - hold_y if to_bottom else hold_y
    if size.differ == "extend" or placement.angle:
        room_x = _widest(size, held, ratio, placement.angle)
        room_y = room_x * along / across
    # the pointer as the crop sees it, turned back about its centre
    px, py = _turned(gesture.x - placement.cx, gesture.y - placement.cy, -placement.angle)
    wide = reach * (placement.cx + px - hold_x) * (1 if to_right else -1)
    high = reach * (placement.cy + py - hold_y) * (1 if to_bottom else -1)
    if (ratio_is_open(size) or size.differ == "stretch") and not gesture.hold_ratio:
        smallest = min(SMALLEST_CROP, room_x, room_y)
        wide, high = min(max(wide, smallest), room_x), min(max(high, smallest), room_y)
        resized = _shrunk(size, held, adopt(size, held, placement, wide, high))
    else:
        width = (wide * across + high * along) / (across * across + along * along) * across
        width = min(
            max(width, _smallest_width(held, ratio, placement.angle)),
            room_x,
            room_y * across / along,
        )
        resized = _resized(size, held, placement, width)
    after = crop_of(size, held, resized)
    step = 0.0 if gesture.centre else 0.5
    dx, dy = _turned(
        hold_x + step * after.width * (1 if to_right else -1) - placement.cx,
        hold_y + step * after.height * (1 if to_bottom else -1) - placement.cy,
        placement.angle,
    )
    return keep_inside(size, held, _with(resized, cx=placement.cx + dx, cy=placement.cy + dy))
