"""A photo lying on a size: what it lies on, the output it makes, and its crop, worked out once."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Unpack

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.crop import Crop, Proportions, face_of
from oak_ledge.core.placements.placement import (
    Placement,
    PlacementFields,
    changed,
    own_size,
    photo_quartered,
    size_at,
)
from oak_ledge.core.planes.four_corners import TrueRatio, plane_of, true_ratio
from oak_ledge.core.planes.surface import PlainSurface, Surface, squared_over
from oak_ledge.core.sizes.pixels_from_crop import picture_pixels
from oak_ledge.core.sizes.size import Size


@dataclass(frozen=True)
class Lying:
    """One placement, the size that is really made of it, and the surface its crop is meant on."""

    size: Size
    surface: Surface
    placement: Placement

    @property
    def extent(self) -> Pixels:
        """Width and height of the surface."""
        return self.surface.extent

    @cached_property
    def asked(self) -> Pixels:
        """The exact output pixels W × H that will be made.

        Raises
        ------
        PlacementError
            If the size leaves the ratio open and the placement doesn't say what it is.
        """
        picture = picture_pixels(self.size, self.extent, self.placement.turned)
        if picture is not None:
            return picture
        if self.placement.free is None:
            msg = "a placement on a free size must carry its output pixels"
            raise PlacementError(msg)
        return self.placement.free

    @cached_property
    def proportions(self) -> Proportions:
        """The crop's proportions: those of the output on its dots, less what is stretched."""
        across, along = face_of(self.size, self.asked)
        stretch = self.placement.stretch
        return across, along if stretch == 1 else along * stretch

    @cached_property
    def crop(self) -> Crop:
        """The crop, in pixels of the surface."""
        across, along = self.proportions
        placement = self.placement
        height = placement.width * along / across
        return Crop(
            placement.cx - placement.width / 2,
            placement.cy - height / 2,
            placement.width,
            height,
            placement.angle,
        )

    @property
    def outline(self) -> list[tuple[float, float]]:
        """The crop's corners in pixels of the photo as the placement turns it, clockwise."""
        return self.surface.to_photo(self.crop.corners())

    def changed(self, **changes: Unpack[PlacementFields]) -> Lying:
        """Return it with some fields of the placement otherwise, on the same surface.

        Not for fields that the surface follows from: quarter, mirror, corners and what squares them.
        """
        return replace(self, placement=changed(self.placement, **changes))


def on_own_size(lying: Lying, size: Size, own: Size) -> Lying:
    """Lay a placement on `own`, its exception to the `size` of its job; none where both say the same."""
    placement = changed(lying.placement, size=own_size(size, own), before_levelling=None)
    return Lying(own, lying.surface, placement)


def lying_on(size: Size, upright: Pixels, placement: Placement) -> Lying:
    """Return a placement on the size of its job and its photo's (width, height), orientation applied."""
    return Lying(size_at(size, placement), surface_of(size, upright, placement), placement)


def surface_of(size: Size, upright: Pixels, placement: Placement) -> Surface:
    """Return what a placement lies on: the photo, or the plane its corners define.

    The plane has its true proportions, or with `fit_corners` those of a size that fixes some. A crop
    turned by hand is turned on it, and may reach as far as the photo does.

    Raises
    ------
    PlacementError
        If the corners are no picture of a rectangle.
    """
    photo, turns = photo_quartered(upright, placement), (placement.quarter, placement.mirror)
    if placement.corners is None:
        return PlainSurface(photo, *turns)
    at = size_at(size, placement)
    extent = plane_of(placement.corners, squared_up(placement, photo).ratio)
    picture = picture_pixels(at, extent, None)
    if picture is not None and placement.fit_corners:  # whatever it does beyond the photo
        across, along = face_of(at, picture)
        extent = plane_of(placement.corners, across / along)
    return squared_over(extent, placement.corners, photo, *turns)


def squared_up(placement: Placement, photo: Pixels) -> TrueRatio:
    """Work out the true proportions of what a placement's four corners go round."""
    assert placement.corners is not None
    return true_ratio(placement.corners, photo, placement.focal)
