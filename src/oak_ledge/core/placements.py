"""Where a photo lies on a size, and the gestures that move it: old → new (rules, section 3).

Photo coordinates, as held: origin at the outer top-left corner, x right, y down, in photo
pixels; pixel i covers [i, i+1]. Every function here is pure. A crop never leaves the photo:
after any gesture it is slid inside, then shrunk about the held point, its ratio untouched.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.sizes import (
    FREE_RATIO,
    EdgeShape,
    OwnShape,
    PercentShape,
    Size,
    Turned,
    WindowShape,
    WithinShape,
    open_pixels,
    turned_pixels,
    written_pixels,
)
from oak_ledge.core.units import Pixels, halves_up

SMALLEST_CROP = 8.0  # photo pixels on the shorter edge


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Placement(_Value):
    """How one photo lies on one size.

    `cx`, `cy` is the crop's centre and `width` its width, in photo pixels; the height follows
    as width × H / W of the output. `turned` is a person's own choice of wide or tall. `free`
    holds the output pixels where the size leaves the ratio open, and is None elsewhere.
    """

    cx: float
    cy: float
    width: float = Field(gt=0)
    turned: Turned | None = None
    free: Pixels | None = None


@dataclass(frozen=True)
class Crop:
    """A crop as a rectangle in photo pixels."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """The right edge's x."""
        return self.left + self.width

    @property
    def bottom(self) -> float:
        """The bottom edge's y."""
        return self.top + self.height


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
    W, H = asked_pixels(size, held, placement)
    height = placement.width * H / W
    left = placement.cx - placement.width / 2
    top = placement.cy - height / 2
    return Crop(left, top, placement.width, height)


def largest_width(held: Pixels, asked: Pixels) -> float:
    """Give the width of the largest crop with the ratio of `asked` inside a photo.

    >>> largest_width((6000, 4000), (3000, 2400))
    5000.0
    """
    (pw, ph), (W, H) = held, asked
    return float(pw) if pw * H <= ph * W else float(Fraction(ph * W, H))


def suggest(size: Size, held: Pixels, turned: Turned | None = None) -> Placement:
    """Give the first suggestion: the largest crop of the shape, in the middle of the photo.

    Raises
    ------
    PlacementError
        If a window is larger than the photo.
    """
    pw, ph = held
    middle = Placement(cx=pw / 2, cy=ph / 2, width=1.0, turned=turned)
    written = written_pixels(size)
    if written is None:
        return keep_inside(size, held, adopt(size, held, middle, pw, ph))
    asked = turned_pixels(written, size.turn, held, turned)
    if isinstance(size.shape, WindowShape):
        if asked[0] > pw or asked[1] > ph:
            msg = (
                f"a window of {asked[0]} × {asked[1]} px is larger than the photo's "
                f"{pw} × {ph} px. Ask for a smaller window, or for exact pixels"
            )
            raise PlacementError(msg)
        return keep_inside(size, held, middle.model_copy(update={"width": float(asked[0])}))
    return middle.model_copy(update={"width": largest_width(held, asked)})


def adopt(size: Size, held: Pixels, placement: Placement, width: float, height: float) -> Placement:
    """Give a placement whose crop comes nearest to width × height: output first, then the crop.

    Where the crop decides the output, the output is rounded and the crop snapped to its ratio.
    Elsewhere the height follows from the width, and a window stays as large as it is.
    """
    if isinstance(size.shape, WindowShape):
        return placement
    if written_pixels(size) is not None:
        return placement.model_copy(update={"width": width})
    free = open_pixels(size, held, (width, height), placement.turned)
    W, H = free
    if isinstance(size.shape, PercentShape):
        width = float(W * 100 / size.shape.percent)
    elif not isinstance(size.shape, EdgeShape) and (
        not isinstance(size.shape, WithinShape) or (halves_up(width), halves_up(height)) == (W, H)
    ):
        width = float(W)  # unscaled
    elif width < height:  # the shorter edge gives way
        width = height * W / H
    return placement.model_copy(update={"free": free, "width": width})


def at_centre(size: Size, held: Pixels, placement: Placement, x: float, y: float) -> Placement:
    """Put the crop's centre at shares x, y (0…1) of the photo, sliding it inside."""
    if not (0 <= x <= 1 and 0 <= y <= 1):
        msg = f"centre {x:g},{y:g} lies outside the photo; both must be from 0 to 1"
        raise PlacementError(msg)
    moved = placement.model_copy(update={"cx": x * held[0], "cy": y * held[1]})
    return keep_inside(size, held, moved)


def keep_inside(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Slide a crop into the photo; shrink it only where it is too large. Ratio unchanged."""
    pw, ph = held
    placement = _shrunk(size, held, placement)
    W, H = asked_pixels(size, held, placement)
    width = min(placement.width, largest_width(held, (W, H)))
    height = min(width * H / W, float(ph))
    cx = min(max(placement.cx, width / 2), pw - width / 2)
    cy = min(max(placement.cy, height / 2), ph - height / 2)
    if (width == W and ph >= H and placement.free is not None) or isinstance(
        size.shape, WindowShape
    ):
        # whole photo pixels, so that they are copied and not resampled
        left = min(max(halves_up(cx - width / 2), 0), pw - W)
        top = min(max(halves_up(cy - height / 2), 0), ph - H)
        cx, cy = left + W / 2, top + H / 2
    return placement.model_copy(update={"cx": cx, "cy": cy, "width": width})


def _shrunk(size: Size, held: Pixels, placement: Placement) -> Placement:
    """Shrink a crop that decides its output until both edges fit the photo."""
    if placement.free is None:
        return placement
    for _ in range(3):  # rounding the output may grow the crop again by a hair
        W, H = placement.free or (1, 1)
        height = placement.width * H / W
        if placement.width <= held[0] and height <= held[1]:
            break
        fit = min(held[0] / placement.width, held[1] / height)
        width, height = min(placement.width * fit, held[0]), min(height * fit, held[1])
        if isinstance(size.shape, PercentShape):
            share = size.shape.percent / 100
            whole = (max(1, int(width * share + 1e-9)), max(1, int(height * share + 1e-9)))
            return placement.model_copy(update={"free": whole, "width": float(whole[0] / share)})
        placement = adopt(size, held, placement, width, height)
    return placement


# Gestures. A drag is told as a whole, from where it began: the browser sends the sum, so a
# lost or late request changes nothing.


class Move(_Value):
    """Move the crop over the photo by photo pixels."""

    kind: Literal["move"]
    dx: float
    dy: float


class Slide(_Value):
    """Move the photo under the fixed crop by output pixels."""

    kind: Literal["slide"]
    dx: float
    dy: float


class Corner(_Value):
    """Drag a corner to a point of the photo; the opposite corner, or the centre, is held."""

    kind: Literal["corner"]
    corner: Literal["nw", "ne", "se", "sw"]
    x: float
    y: float
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")


class Scale(_Value):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(gt=0, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)


class Nudge(_Value):
    """Move the crop by whole output pixels."""

    kind: Literal["nudge"]
    dx: int
    dy: int


class Type(_Value):
    """Put the crop where the typed figures say, in photo pixels; what is left out stays."""

    kind: Literal["type"]
    left: float | None = None
    top: float | None = None
    width: float | None = Field(default=None, gt=0)


class TurnOver(_Value):
    """Turn the shape between wide and tall; a crop that was largest stays largest."""

    kind: Literal["turn"]


class StartAgain(_Value):
    """Go back to the suggestion."""

    kind: Literal["start_again"]


Gesture = Annotated[
    Move | Slide | Corner | Scale | Nudge | Type | TurnOver | StartAgain,
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
        "turn": "turned",
        "start_again": "started again",
    }[gesture.kind]


def apply(size: Size, held: Pixels, placement: Placement, gesture: Gesture) -> Placement:
    """Apply a gesture: old placement → new one, always inside the photo, ratio exact.

    Parameters
    ----------
    size : the size at work
    held : (width, height) of the photo as held
    placement : where it lies now; unchanged
    gesture : what the person did, as a whole since it began
    """
    if isinstance(gesture, StartAgain):
        return suggest(size, held)
    if isinstance(gesture, TurnOver):
        return _turn_over(size, held, placement)
    if isinstance(gesture, Corner):
        return _corner(size, held, placement, gesture)
    if isinstance(gesture, Scale):
        return _scale(size, held, placement, gesture)
    if isinstance(gesture, Type):
        return _type(size, held, placement, gesture)
    dx, dy = gesture.dx, gesture.dy
    if not isinstance(gesture, Move):
        per_output = placement.width / asked_pixels(size, held, placement)[0]
        sign = -1 if isinstance(gesture, Slide) else 1
        dx, dy = sign * dx * per_output, sign * dy * per_output
    moved = placement.model_copy(update={"cx": placement.cx + dx, "cy": placement.cy + dy})
    return keep_inside(size, held, moved)


def _smallest_width(held: Pixels, asked: Pixels) -> float:
    W, H = asked
    return min(SMALLEST_CROP * max(1.0, W / H), largest_width(held, asked))


def _resized(size: Size, held: Pixels, placement: Placement, width: float) -> Placement:
    """Give the same crop at another width, its centre kept, within the smallest and largest."""
    asked = asked_pixels(size, held, placement)
    width = min(max(width, _smallest_width(held, asked)), largest_width(held, asked))
    return adopt(size, held, placement, width, width * asked[1] / asked[0])


def _scale(size: Size, held: Pixels, placement: Placement, gesture: Scale) -> Placement:
    before = crop_of(size, held, placement)
    resized = _resized(size, held, placement, placement.width * gesture.factor)
    after = crop_of(size, held, resized)
    hold_x = before.left + gesture.u * before.width
    hold_y = before.top + gesture.v * before.height
    moved = {
        "cx": hold_x + (0.5 - gesture.u) * after.width,
        "cy": hold_y + (0.5 - gesture.v) * after.height,
    }
    return keep_inside(size, held, resized.model_copy(update=moved))


def _type(size: Size, held: Pixels, placement: Placement, gesture: Type) -> Placement:
    before = crop_of(size, held, placement)
    if gesture.width is not None:
        placement = _resized(size, held, placement, gesture.width)
    after = crop_of(size, held, placement)
    left = before.left if gesture.left is None else gesture.left
    top = before.top if gesture.top is None else gesture.top
    centre = {"cx": left + after.width / 2, "cy": top + after.height / 2}
    return keep_inside(size, held, placement.model_copy(update=centre))


def _turn_over(size: Size, held: Pixels, placement: Placement) -> Placement:
    W, H = asked_pixels(size, held, placement)
    if W == H or isinstance(size.shape, OwnShape):
        return placement
    if isinstance(size.shape, FREE_RATIO):
        crop = crop_of(size, held, placement)
        return keep_inside(size, held, adopt(size, held, placement, crop.height, crop.width))
    other: Turned = "tall" if W > H else "wide"
    natural = suggest(size, held)
    back = asked_pixels(size, held, natural)
    turned_to = None if (back[0] > back[1]) == (other == "wide") else other
    turned = suggest(size, held, turned_to)
    share = placement.width / largest_width(held, (W, H))
    where = {"cx": placement.cx, "cy": placement.cy}
    largest = largest_width(held, asked_pixels(size, held, turned))
    return keep_inside(
        size, held, _resized(size, held, turned.model_copy(update=where), share * largest)
    )


def _corner(size: Size, held: Pixels, placement: Placement, gesture: Corner) -> Placement:
    """Hold the opposite corner (or the centre) and let the dragged one follow the pointer.

    The ratio is held by projecting the pointer on the crop's diagonal.
    """
    crop = crop_of(size, held, placement)
    W, H = asked_pixels(size, held, placement)
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
    wide = reach * (gesture.x - hold_x) * (1 if to_right else -1)
    high = reach * (gesture.y - hold_y) * (1 if to_bottom else -1)
    if isinstance(size.shape, FREE_RATIO) and not gesture.hold_ratio:
        smallest = min(SMALLEST_CROP, room_x, room_y)
        wide, high = min(max(wide, smallest), room_x), min(max(high, smallest), room_y)
        resized = _shrunk(size, held, adopt(size, held, placement, wide, high))
    else:
        along = (wide * W + high * H) / (W * W + H * H) * W
        along = min(max(along, _smallest_width(held, (W, H))), room_x, room_y * W / H)
        resized = _resized(size, held, placement, along)
    after = crop_of(size, held, resized)
    step = 0.0 if gesture.centre else 0.5
    moved = {
        "cx": hold_x + step * after.width * (1 if to_right else -1),
        "cy": hold_y + step * after.height * (1 if to_bottom else -1),
    }
    return keep_inside(size, held, resized.model_copy(update=moved))
