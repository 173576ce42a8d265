"""Every gesture, its name, and `apply`: old placement → new.

A drag is told as a whole, from where it began: the browser sends the sum, so a lost or late
request changes nothing.
"""

from __future__ import annotations

from typing import Annotated, TypeVar

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.beyond_photo import (
    Continue,
    Extend,
    Ground,
    beyond_side,
    continued,
    grounded,
    to_ratio,
)
from oak_ledge.core.gestures.move import Move, Nudge, Slide, moved, stepped
from oak_ledge.core.gestures.pixels import (
    AsSeen,
    Finish,
    Relabel,
    Resample,
    finished,
    measured_anew,
)
from oak_ledge.core.gestures.pull import SIGNS, Draw, Pull, drawn, pulled
from oak_ledge.core.gestures.quarter import Mirror, Quarter, mirrored, quartered
from oak_ledge.core.gestures.square import Square, check_plane, squared
from oak_ledge.core.gestures.start import KeepWhole, OffJoint, StartAgain
from oak_ledge.core.gestures.straighten import Angle, Level, level_angle
from oak_ledge.core.gestures.tighten import Scale, scaled
from oak_ledge.core.gestures.turn import Turn, turned
from oak_ledge.core.gestures.typed import Type, typed, typed_units
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed, crop_of, own_size
from oak_ledge.core.placements.zones.around import kept_whole, suggest_around
from oak_ledge.core.placements.zones.off_joints import off_joints
from oak_ledge.core.placements.zones.on_surface import zones_on
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import FAR

Gesture = Annotated[
    Move | Slide | Pull | Draw | Scale | Nudge | Type | Angle | Level | Quarter | Mirror | Square
    | Ground | Extend | Continue | KeepWhole | OffJoint | Relabel | Resample | AsSeen | Finish | Turn | StartAgain,
    Field(discriminator="kind"),
]  # fmt: skip


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
        "angle": "levelled",
        "turn_to": "levelled",
        "level": "levelled",
        "quarter": "photo turned",
        "mirror": "mirrored",
        "ground": "ground chosen",
        "extend": "extended",
        "continue": "ground continued",
        "as_seen": "made as large as seen",
        "keep_whole": "moved around keep zones",
        "off_joint": "slid off the joint",
        "relabel": "relabelled",
        "resample": "resampled",
        "finish": "finish chosen",
        "turn": "turned",
        "start_again": "started again",
    }[gesture.kind]


Typed = TypeVar("Typed", Type, Extend)


def in_pixels(gesture: Typed, extent: Pixels, ppi: float | None) -> Typed:
    """Return typed figures in photo pixels; `ppi` is the photo's own label.

    Raises
    ------
    PlacementError
        If lengths are typed for a photo that has no label.
    """
    units = typed_units(extent, ppi)
    if gesture.unit not in units:
        msg = f"this photo has no resolution label, so it has no {gesture.unit}. Type px or %"
        raise PlacementError(msg)
    across, along = units[gesture.unit]
    if isinstance(gesture, Extend):
        step = across if gesture.side in ("left", "right") else along
        return Extend(kind="extend", side=gesture.side, by=min(gesture.by * step, FAR))
    steps = {"left": across, "top": along, "width": across, "height": along}
    figures = {name: getattr(gesture, name) for name in steps}
    in_px = {
        name: max(-FAR, min(value * steps[name], FAR))
        for name, value in figures.items()
        if value is not None
    }
    return Type(kind="type", **in_px)


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
    new_placement = _applied(size, upright, placement, gesture, keeps)
    if not isinstance(gesture, Scale | Turn) and new_placement.former is not None:
        as_it_was = changed(new_placement, former=placement.former) == placement
        new_placement = placement if as_it_was else changed(new_placement, former=None)
    if new_placement.corners is not None and new_placement != placement:
        check_plane(size, upright, new_placement)
    return new_placement


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
    lying = lying_on(size, upright, placement)
    if isinstance(gesture, KeepWhole):
        shapes = zones_on(lying.surface, keeps)
        return kept_whole(lying, shapes) if keeps.zones else placement
    if isinstance(gesture, OffJoint):
        return (off_joints(lying, keeps) or lying).placement
    if isinstance(gesture, Finish):
        return changed(placement, size=own_size(size, finished(lying.size, gesture)))
    if isinstance(gesture, Ground):
        if gesture.ratio is not None:
            lying = to_ratio(size, lying, gesture.ratio)
        return grounded(size, lying, **gesture.model_dump(include={"beyond", "fill", "sit"}))
    if isinstance(gesture, Continue):
        return continued(size, lying, gesture)
    if isinstance(gesture, Extend):
        return beyond_side(size, lying, gesture.side, gesture.by)
    if isinstance(gesture, Relabel | Resample | AsSeen):
        return measured_anew(size, lying, gesture)
    if isinstance(gesture, Angle):
        return at_angle(lying, gesture.angle)
    if isinstance(gesture, Level):
        angle = level_angle((gesture.x0, gesture.y0), (gesture.x1, gesture.y1))
        return at_angle(lying, angle)
    # the crop is where the hand has put it now: nothing to go back to when it is levelled
    return changed(placement, **crop_of(_reshaped(lying, gesture)), upright=None)


def _reshaped(lying: Lying, gesture: Gesture) -> Placement:
    if isinstance(gesture, Turn):
        return turned(lying)
    if isinstance(gesture, Pull):
        across = sum(SIGNS[part][0] for part in gesture.at)
        along = sum(SIGNS[part][1] for part in gesture.at)
        to = (gesture.x, gesture.y)
        how = {"centre": gesture.centre, "hold_ratio": gesture.hold_ratio}
        return pulled(lying, (across, along), to, **how)
    if isinstance(gesture, Draw):
        start, end = (gesture.x0, gesture.y0), (gesture.x1, gesture.y1)
        how = {"centre": gesture.centre, "hold_ratio": gesture.hold_ratio}
        return drawn(lying, start, end, **how)
    if isinstance(gesture, Scale):
        return scaled(lying, gesture.factor, gesture.u, gesture.v)
    if isinstance(gesture, Type):
        return typed(lying, gesture.left, gesture.top, gesture.width, gesture.height)
    assert isinstance(gesture, Move | Slide | Nudge)
    if isinstance(gesture, Move):
        return moved(lying, gesture.dx, gesture.dy)
    sign = -1 if isinstance(gesture, Slide) else 1
    return stepped(lying, sign * gesture.dx, sign * gesture.dy)
