"""Every gesture, and `apply`: old placement → new.

A drag is told as a whole, from where it began: the browser sends the sum, so a lost or late
request changes nothing.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from oak_ledge.core.gestures.beyond_photo import Continue, Extend, Ground
from oak_ledge.core.gestures.gesture import NO_CONTEXT, BaseGesture, PhotoContext, Start
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.gestures.move import Move, Nudge, Slide
from oak_ledge.core.gestures.pixels import AsSeen, Finish, Relabel, Resample
from oak_ledge.core.gestures.print.backdrop import SetBackdrop
from oak_ledge.core.gestures.print.border import SetBorder
from oak_ledge.core.gestures.print.mark import LayMark
from oak_ledge.core.gestures.print.outline import SetOutline
from oak_ledge.core.gestures.pull import Draw, Pull
from oak_ledge.core.gestures.square import Square, check_plane
from oak_ledge.core.gestures.start import FillSubject, KeepWhole, OffJoint, StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle, Level, Mirror, Quarter, Turn
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.sizes.size import Size

# A new gesture is a module of its own in this room or those in it, and a word here.
Gesture = Annotated[
    Move | Slide | Pull | Draw | Scale | Nudge | Type | Angle | Level | Quarter | Mirror | Square
    | Ground | Extend | Continue | KeepWhole | OffJoint | FillSubject | LayHead | Relabel | Resample | AsSeen | Finish | Turn | SetBorder | LayMark | SetOutline | SetBackdrop | StartAgain,
    Field(discriminator="kind"),
]  # fmt: skip


def apply(
    size: Size,
    upright: Pixels,
    placement: Placement,
    gesture: BaseGesture,
    photo: PhotoContext = NO_CONTEXT,
) -> Placement:
    """Apply a gesture: old placement → new one, ratio exact, inside the photo unless it is extended.

    Parameters
    ----------
    size : the size at work
    upright : the photo's (width, height), its orientation tag applied
    placement : where it lies now; unchanged
    gesture : what the person did, as a whole since it began
    photo : what the photo knows: what must stay whole of it, its label, its lens

    Raises
    ------
    PlacementError, SizeError
        If it can't be done, with the reason.
    """
    new_placement = gesture.apply(Start(size, upright, placement, photo))
    if not gesture.remembers and new_placement.former is not None:
        as_it_was = changed(new_placement, former=placement.former) == placement
        new_placement = placement if as_it_was else changed(new_placement, former=None)
    if new_placement.corners is not None and new_placement != placement:
        check_plane(size, upright, new_placement)
    return new_placement
