"""What every gesture is: data with a name, and what it makes of the placement it begins from.

A gesture never keeps what its photo knows. That is handed to it, with the placement, as a `Start`.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

from typing_extensions import override

from oak_ledge.core.heads.face_points import FacePoints
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps, Zone
from oak_ledge.core.placements.lying import Lying, lying_on
from oak_ledge.core.placements.placement import Placement, changed, crop_of
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value


@dataclass(frozen=True)
class PhotoContext:
    """What a photo knows that a gesture may need.

    `keeps` must stay whole; `ppi` is its resolution label; `focal` its lens in photo pixels;
    `never_copied` is what a continued ground takes nothing from; `face` the one pieces are laid by. None
    where it is not known.
    """

    keeps: Keeps = NOTHING
    ppi: float | None = None
    focal: float | None = None
    never_copied: tuple[Zone, ...] = ()
    face: FacePoints | None = None


NO_CONTEXT = PhotoContext()


@dataclass(frozen=True)
class Start:
    """Where a gesture begins: the job's size, the photo's (width, height) upright, how it lies."""

    size: Size
    upright: Pixels
    placement: Placement
    photo: PhotoContext = NO_CONTEXT

    @cached_property
    def lying(self) -> Lying:
        """The placement with the size and the surface it lies on.

        Raises
        ------
        PlacementError
            If its corners are no picture of a rectangle.
        """
        return lying_on(self.size, self.upright, self.placement)


class BaseGesture(Value):
    """A gesture as data.

    `remembers`: the way back ends just where the first of several such gestures began.
    `takes_ground`: the ground it takes is wanted at once, ahead of any file.
    """

    remembers: ClassVar[bool] = False
    takes_ground: ClassVar[bool] = False

    @property
    def name(self) -> str:
        """What it is called among the steps of the history."""
        raise NotImplementedError

    def apply(self, start: Start) -> Placement:
        """Make a new placement from the one it begins with.

        Raises
        ------
        PlacementError, SizeError
            If it can't be done, with the reason.
        """
        raise NotImplementedError


class CropGesture(BaseGesture):
    """A gesture that only moves or reshapes the crop: all else of the placement stays."""

    def reshape(self, start: Start) -> Placement:
        """Return a placement whose crop is the new one."""
        raise NotImplementedError

    @override
    def apply(self, start: Start) -> Placement:
        """Replace the crop's figures; what it goes back to once it is levelled is forgotten."""
        return changed(start.placement, **crop_of(self.reshape(start)), before_levelling=None)
