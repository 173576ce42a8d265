"""What a person does to a placement, as values, and `apply`: old placement → new.

A drag is told as a whole, from where it began: the browser sends the sum, so a lost or late
request changes nothing.
"""

from __future__ import annotations

from typing import Annotated, Literal, TypeVar

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.extending import SideName, beyond_side, grounded, to_ratio
from oak_ledge.core.geometry import mapped_share
from oak_ledge.core.keeping import kept_whole, suggest_around
from oak_ledge.core.levelling import at_angle, level_angle, mirrored, quartered, squared
from oak_ledge.core.placements import (
    Corners,
    Placement,
    adopt,
    asked_pixels,
    changed,
    crop_of,
    held_at,
    keep_inside,
    own_size,
    size_at,
)
from oak_ledge.core.planes import Plane
from oak_ledge.core.relabelling import as_seen, relabelled, resampled
from oak_ledge.core.reshaping import drawn, moved, pulled, scaled, stepped, turned_over, typed
from oak_ledge.core.sizes import (
    Fill,
    MethodChoice,
    SharpenFor,
    Size,
    size_from,
    written_pixels,
)
from oak_ledge.core.units import CM_PER_INCH, Exact, ExactLength, Pixels
from oak_ledge.core.values import FAR, Coordinate, Extent, Value
from oak_ledge.core.zones import NOTHING, Keeps, as_lain

Steps = Annotated[int, Field(ge=-1_000_000, le=1_000_000)]
"""Whole output pixels."""
Share = Annotated[float, Field(ge=-100, le=100)]


class Move(Value):
    """Move the crop over the photo by photo pixels."""

    kind: Literal["move"]
    dx: Coordinate
    dy: Coordinate


class Slide(Value):
    """Move the photo under the fixed crop by output pixels."""

    kind: Literal["slide"]
    dx: Coordinate
    dy: Coordinate


class Pull(Value):
    """Drag a corner or an edge to a point of the photo; what is opposite, or the centre, is held."""

    kind: Literal["pull"]
    at: Literal["nw", "n", "ne", "e", "se", "s", "sw", "w"]
    x: Coordinate
    y: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")


class Draw(Value):
    """Draw the crop afresh from one point of the photo to another, or about the first."""

    kind: Literal["draw"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")


class Scale(Value):
    """Loosen (factor above 1) or tighten the crop about the point at shares u, v of it."""

    kind: Literal["scale"]
    factor: float = Field(ge=1e-9, le=1000)
    u: float = Field(default=0.5, ge=0, le=1)
    v: float = Field(default=0.5, ge=0, le=1)


class Nudge(Value):
    """Move the crop by whole output pixels."""

    kind: Literal["nudge"]
    dx: Steps
    dy: Steps


TypedUnit = Literal["px", "%", "in", "cm"]


class Type(Value):
    """Put the crop where the typed figures say; what is left out stays.

    They are in photo pixels, in per cent of the photo's edge, or in the lengths that the photo's own
    resolution label gives it.
    """

    kind: Literal["type"]
    unit: TypedUnit = "px"
    left: Coordinate | None = None
    top: Coordinate | None = None
    width: Extent | None = None
    height: Extent | None = None


class Turn(Value):
    """Turn the crop to an angle, in degrees clockwise on the photo."""

    kind: Literal["turn_to"]
    angle: float = Field(gt=-180, le=180)


class Level(Value):
    """Draw a line of the photo that shall be level or plumb, whichever is nearer."""

    kind: Literal["level"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate


class Quarter(Value):
    """Turn the photo by a quarter, clockwise or back."""

    kind: Literal["quarter"]
    by: Literal[-1, 1]


class Mirror(Value):
    """Flip the photo left to right."""

    kind: Literal["mirror"]


class Square(Value):
    """Square up what four corners go round, clockwise from its top left; None leaves that."""

    kind: Literal["square"]
    corners: Corners | None
    fit: bool = Field(default=False, description="take the size's own ratio, whatever it truly is")
    focal: Extent | None = Field(default=None, description="photo pixels, where it is known")


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


class AsSeen(Value):
    """Make as many output pixels as are seen now: `scale` of them to one of the output."""

    kind: Literal["as_seen"]
    scale: float = Field(ge=1e-6, le=100)


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


class Ground(Value):
    """Let the crop reach beyond the photo or not, and say what fills there and where it sits.

    What is left out stays. `ratio`, such as 16:9, gives a photo that is cut unscaled a shape of
    its own. `sit` are shares: (0, 0) puts the photo into the top left of its piece,
    (0.5, 1) to the middle of its foot.
    """

    kind: Literal["ground"]
    beyond: bool | None = None
    fill: Fill | None = None
    ratio: str | None = Field(default=None, max_length=40)
    sit: tuple[Share, Share] | None = None


class Extend(Value):
    """Put one side of the crop so far beyond the photo."""

    kind: Literal["extend"]
    side: SideName
    by: float = Field(ge=0, le=FAR)
    unit: TypedUnit = "px"


class KeepWhole(Value):
    """Move the crop around what must stay whole, loosening it where that is needed."""

    kind: Literal["keep_whole"]


class StartAgain(Value):
    """Go back to the suggestion."""

    kind: Literal["start_again"]


Gesture = Annotated[
    Move | Slide | Pull | Draw | Scale | Nudge | Type | Turn | Level | Quarter | Mirror | Square
    | Ground | Extend | KeepWhole | Relabel | Resample | AsSeen | Finish | TurnOver | StartAgain,
    Field(discriminator="kind"),
]  # fmt: skip
MOST_MAPPED = 24  # mapped pixels to one of the photo, at the density of the most slanted part
_SIGNS = {"n": (0.0, -1.0), "s": (0.0, 1.0), "w": (-1.0, 0.0), "e": (1.0, 0.0)}


def gesture_name(gesture: Gesture) -> str:
    """Name a gesture for the history of steps."""
    if isinstance(gesture, Pull):
        return "corner dragged" if len(gesture.at) == 2 else "edge dragged"
    if isinstance(gesture, Scale):
        return "loosened" if gesture.factor > 1 else "tightened"
    if isinstance(gesture, Square):
        return "squared up" if gesture.corners else "no longer squared up"
    return {
        "move": "moved",
        "slide": "slid",
        "draw": "drawn afresh",
        "nudge": "nudged",
        "type": "typed",
        "turn_to": "levelled",
        "level": "levelled",
        "quarter": "photo turned",
        "mirror": "mirrored",
        "ground": "ground chosen",
        "extend": "extended",
        "as_seen": "made as large as seen",
        "keep_whole": "moved around keep zones",
        "relabel": "relabelled",
        "resample": "resampled",
        "finish": "finish chosen",
        "turn": "turned",
        "start_again": "started again",
    }[gesture.kind]


def typed_units(held: Pixels, ppi: float | None) -> dict[TypedUnit, tuple[float, float]]:
    """Give the photo pixels, across and along, of every unit figures can be typed in."""
    units: dict[TypedUnit, tuple[float, float]] = {
        "px": (1.0, 1.0),
        "%": (held[0] / 100, held[1] / 100),
    }
    if ppi is not None:
        units |= {"in": (ppi, ppi), "cm": (ppi / float(CM_PER_INCH),) * 2}
    return units


Typed = TypeVar("Typed", Type, Extend)


def in_pixels(gesture: Typed, held: Pixels, ppi: float | None) -> Typed:
    """Give typed figures in photo pixels; `ppi` is the photo's own label.

    Raises
    ------
    PlacementError
        If lengths are typed for a photo that has no label.
    """
    units = typed_units(held, ppi)
    if gesture.unit not in units:
        msg = f"this photo has no resolution label, so it has no {gesture.unit}. Type px or %"
        raise PlacementError(msg)
    across, along = units[gesture.unit]
    if isinstance(gesture, Extend):
        step = across if gesture.side in ("left", "right") else along
        return Extend(kind="extend", side=gesture.side, by=min(gesture.by * step, FAR))
    steps = {"left": across, "top": along, "width": across, "height": along}
    figures = {name: getattr(gesture, name) for name in steps}
    told = {
        name: max(-FAR, min(value * steps[name], FAR))
        for name, value in figures.items()
        if value is not None
    }
    return Type(kind="type", **told)


def apply(
    size: Size, upright: Pixels, placement: Placement, gesture: Gesture, keeps: Keeps = NOTHING
) -> Placement:
    """Apply a gesture: old placement → new one, ratio exact, inside the photo unless it is extended.

    Parameters
    ----------
    size : the size at work
    upright : the photo's (width, height), its orientation tag applied
    placement : where it lies now; unchanged
    gesture : what the person did, as a whole since it began
    keeps : what of the photo must stay whole

    Raises
    ------
    PlacementError, SizeError
        If it can't be done, with the reason.
    """
    made = _applied(size, upright, placement, gesture, keeps)
    if made.corners is not None and made != placement:
        check_plane(size, upright, made)
    return made


def check_plane(size: Size, upright: Pixels, placement: Placement) -> None:
    """Refuse a crop that comes so near to where its plane vanishes that it can't be drawn.

    Raises
    ------
    PlacementError
        If it does.
    """
    at, held = size_at(size, placement), held_at(size, upright, placement)
    if not isinstance(held, Plane):
        return
    asked = asked_pixels(at, held, placement)
    matrix = held.onto @ crop_of(at, held, placement).matrix(asked)
    if mapped_share(matrix, asked, held.photo) > MOST_MAPPED:
        msg = (
            "there the crop comes too near to where the plane vanishes, far behind what the "
            "corners go round. Keep it tighter, or set the corners anew"
        )
        raise PlacementError(msg)


def _applied(
    size: Size, upright: Pixels, placement: Placement, gesture: Gesture, keeps: Keeps
) -> Placement:
    if isinstance(gesture, StartAgain):
        return suggest_around(size, upright, keeps)
    if isinstance(gesture, Quarter):
        return quartered(size, upright, placement, gesture.by)
    if isinstance(gesture, Mirror):
        return mirrored(size, upright, placement)
    if isinstance(gesture, Square):
        return squared(size, upright, placement, gesture.corners, gesture.focal, fit=gesture.fit)
    at, held = size_at(size, placement), held_at(size, upright, placement)
    if isinstance(gesture, KeepWhole):
        shapes = as_lain(keeps, upright, placement, held)
        return kept_whole(at, held, placement, shapes) if keeps.zones else placement
    if isinstance(gesture, Finish):
        return changed(placement, size=own_size(size, _finished(at, gesture)))
    if isinstance(gesture, Ground):
        if gesture.ratio is not None:
            placement = to_ratio(size, at, held, placement, gesture.ratio)
            at = size_at(size, placement)
        told = gesture.model_dump(include={"beyond", "fill", "sit"})
        return grounded(size, at, held, placement, **told)
    if isinstance(gesture, Extend):
        return beyond_side(size, at, held, placement, gesture.side, gesture.by)
    if isinstance(gesture, Relabel | Resample | AsSeen):
        return _measured_anew(size, at, held, placement, gesture)
    if isinstance(gesture, Turn):
        return at_angle(at, held, placement, gesture.angle)
    if isinstance(gesture, Level):
        angle = level_angle((gesture.x0, gesture.y0), (gesture.x1, gesture.y1))
        return at_angle(at, held, placement, angle)
    kept = ("quarter", "mirror", "corners", "fit_corners", "focal", "size")
    as_held = {name: getattr(placement, name) for name in kept}
    # the crop is where the hand has put it now: nothing to go back to when it is levelled
    return changed(_reshaped(at, held, placement, gesture), **as_held, upright=None)


def _reshaped(size: Size, held: Pixels, placement: Placement, gesture: Gesture) -> Placement:
    here = (size, held, placement)
    if isinstance(gesture, TurnOver):
        return turned_over(*here)
    if isinstance(gesture, Pull):
        across = sum(_SIGNS[part][0] for part in gesture.at)
        along = sum(_SIGNS[part][1] for part in gesture.at)
        to = (gesture.x, gesture.y)
        return pulled(
            *here, (across, along), to, centre=gesture.centre, hold_ratio=gesture.hold_ratio
        )
    if isinstance(gesture, Draw):
        start, end = (gesture.x0, gesture.y0), (gesture.x1, gesture.y1)
        return drawn(*here, start, end, centre=gesture.centre, hold_ratio=gesture.hold_ratio)
    if isinstance(gesture, Scale):
        return scaled(*here, gesture.factor, gesture.u, gesture.v)
    if isinstance(gesture, Type):
        return typed(*here, gesture.left, gesture.top, gesture.width, gesture.height)
    assert isinstance(gesture, Move | Slide | Nudge)
    if isinstance(gesture, Move):
        return moved(*here, gesture.dx, gesture.dy)
    sign = -1 if isinstance(gesture, Slide) else 1
    return stepped(*here, sign * gesture.dx, sign * gesture.dy)


def _measured_anew(
    size: Size, at: Size, held: Pixels, placement: Placement, gesture: Relabel | Resample | AsSeen
) -> Placement:
    """Lay a placement on its size at another resolution; the crop stays where it is."""
    asked = asked_pixels(at, held, placement)
    if isinstance(gesture, Relabel):
        own = relabelled(at, asked, gesture.ppi, gesture.width, gesture.height)
        return changed(placement, size=own_size(size, own))
    own = (
        resampled(at, asked, gesture.ppi)
        if isinstance(gesture, Resample)
        else as_seen(at, asked, gesture.scale)
    )
    crop = crop_of(at, held, placement)
    turned = placement.turned if own.turn == at.turn else None
    made = changed(placement, size=own_size(size, own), turned=turned)
    if written_pixels(own) is not None:
        return keep_inside(own, held, changed(made, free=None))
    return keep_inside(own, held, adopt(own, held, made, crop.width, crop.height))


def _finished(size: Size, gesture: Finish) -> Size:
    said = gesture.model_dump(exclude={"kind"}, exclude_none=True)
    if said.get("sharpen") == -1:
        said["sharpen"] = None
    return size_from(dict(size) | said)
