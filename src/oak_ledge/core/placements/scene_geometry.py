"""What ground a placement is made with, and how it lies on the scene that this makes of its photo."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil, floor

import numpy as np

from oak_ledge.core.errors import FillError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.continued import Box, BrushedOver, Continued
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.strokes import Stroke, box_of
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.matrices import at, inverse
from oak_ledge.core.planes.surface import PlainSurface, Squared, Surface, turns_of
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import Size

# Of the canvas: so much more is made where it reaches beyond, so that a crop can be nudged.
GROUND_ROOM = 0.01

# The photo's own pixels: a larger canvas would be nearly all made up.
MOST_TIMES = 6

# Of a canvas.
MOST_PIXELS = 400_000_000

# Of a piece: from so much ground on, a try is bold.
BOLD = 0.25


def box_needed(surface: Surface, crop: Crop, upright: Pixels) -> Box | None:
    """Return the box around a photo and a crop, in whole upright pixels; None where it stays inside."""
    needed = _around(surface, crop, upright)
    return None if needed == (0, 0, *upright) else needed


def box_made(needed: Box, upright: Pixels) -> Box:
    """Return the box that is made for one that is needed: a little more where it reaches beyond.

    Raises
    ------
    FillError
        If it is so large that nearly all of it would be made up.
    """
    left, top, right, bottom = needed
    room = ceil(max(right - left, bottom - top) * GROUND_ROOM)
    box = (
        left - room if left < 0 else 0,
        top - room if top < 0 else 0,
        right + room if right > upright[0] else upright[0],
        bottom + room if bottom > upright[1] else upright[1],
    )
    wide, high = box[2] - box[0], box[3] - box[1]
    if wide * high > MOST_TIMES * upright[0] * upright[1]:
        msg = (
            f"a ground of {wide} × {high} px is more than {MOST_TIMES} times the photo. Take the crop "
            "nearer to the photo, or choose another ground"
        )
        raise FillError(msg)
    if wide * high > MOST_PIXELS:
        msg = (
            f"a ground of {wide} × {high} px is {wide * high / 1e6:.0f} megapixels; at most "
            f"{MOST_PIXELS / 1e6:.0f} are made. Choose another ground"
        )
        raise FillError(msg)
    return box


def holds(box: Box, needed: Box | None) -> bool:
    """Return whether a box that was made is enough."""
    return needed is None or (
        box[0] <= needed[0] and box[1] <= needed[1] and box[2] >= needed[2] and box[3] >= needed[3]
    )


def _around(surface: Surface, crop: Crop, upright: Pixels) -> Box:
    corners = surface.to_photo(crop.corners())
    points = at(inverse(turns_of(surface)), np.array(corners, np.float64))
    left, top = points.min(axis=0)
    right, bottom = points.max(axis=0)
    dust = 1e-6
    return (
        min(0, floor(left + dust)),
        min(0, floor(top + dust)),
        max(upright[0], ceil(right - dust)),
        max(upright[1], ceil(bottom - dust)),
    )


def on_canvas(surface: Surface, crop: Crop, box: Box) -> tuple[Surface, Crop]:
    """Return surface and crop as they lie on the canvas of a box, turned as the photo is."""
    wide, high = box[2] - box[0], box[3] - box[1]
    canvas = (wide, high) if surface.quarter % 2 == 0 else (high, wide)
    bare = PlainSurface(surface.photo, surface.quarter, surface.mirror)
    (x, y), (x1, y1) = at(
        turns_of(bare), np.array([(box[0], box[1]), (box[2], box[3])], np.float64)
    )
    left, top = min(x, x1), min(y, y1)
    if isinstance(surface, Squared):
        corners = tuple((x - left, y - top) for x, y in surface.corners)
        return Squared(surface.extent, corners, canvas, surface.quarter, surface.mirror), crop
    moved = Crop(crop.left - left, crop.top - top, crop.width, crop.height, crop.angle)
    return PlainSurface(canvas, surface.quarter, surface.mirror), moved


def upright_of(surface: Surface) -> Pixels:
    """Return the photo's own width and height, before a placement turns it."""
    wide, high = surface.photo
    return (wide, high) if surface.quarter % 2 == 0 else (high, wide)


def ground_needed(lying: Lying) -> Box | None:
    """Return the box a placement's crop needs more of the scene for; None where it needs none."""
    if lying.size.differ != "extend" or lying.size.ground != CONTINUED:
        return None
    return box_needed(lying.surface, lying.crop, upright_of(lying.surface))


def is_unmade(lying: Lying) -> bool:
    """Return whether a crop has left the ground that was taken for it, or none was taken yet."""
    needed, ground = ground_needed(lying), lying.placement.continued
    return needed is not None and (ground is None or not holds(ground.box, needed))


def ground_taken(lying: Lying) -> Continued | None:
    """Return the ground that was taken, where one is needed and it is enough."""
    return None if ground_needed(lying) is None or is_unmade(lying) else lying.placement.continued


def ground_for(
    lying: Lying,
    zones: Sequence[Zone],
    *,
    seed: int,
    attempt: int,
    take_from: Sequence[Stroke] | None = None,
) -> Continued:
    """Return one of the tries for a placement as it lies, `zones` being what is never copied.

    Its box is that of the ground that was taken before, as long as that is enough, and so is what
    alone is copied, unless `take_from` says that anew for all sides.

    Raises
    ------
    FillError
        If it needs none, or one beyond the limits.
    """
    upright = upright_of(lying.surface)
    needed = box_needed(lying.surface, lying.crop, upright) or (0, 0, *upright)
    was = lying.placement.continued
    enough = was is not None and holds(was.box, needed)
    sources = was if was is not None else Continued(box=needed)
    return Continued(
        box=was.box if was is not None and enough else box_made(needed, upright),
        avoid=tuple(zones),
        seed=seed,
        attempt=attempt,
        take_from=sources.take_from if take_from is None else tuple(take_from),
        side_sources=sources.side_sources if take_from is None else (),
    )


def is_beyond(over: BrushedOver, box: Box, upright: Pixels) -> bool:
    """Return whether some of what is brushed lies in a ground within `box`, beyond its photo."""
    left, top, right, bottom = box_of(over.strokes, over.polygons)
    on_canvas = left < box[2] and right > box[0] and top < box[3] and bottom > box[1]
    within = left >= 0 and right <= upright[0] and top >= 0 and bottom <= upright[1]
    return on_canvas and not within


def is_on_photo(over: BrushedOver, upright: Pixels) -> bool:
    """Return whether some of what is brushed lies on the photo itself."""
    left, top, right, bottom = box_of(over.strokes, over.polygons)
    return left < upright[0] and right > 0 and top < upright[1] and bottom > 0


def with_ground(lying: Lying, zones: Sequence[Zone]) -> Placement:
    """Return a placement with the ground its file is made with.

    The one that was taken, where it is still enough; else a new one by the same try.
    """
    placement = lying.placement
    if not is_unmade(lying):
        return placement
    was = placement.continued
    ground = ground_for(
        lying,
        zones,
        seed=was.seed if was else 1,
        attempt=was.attempt if was else 1,
    )
    return changed(placement, continued=ground)


def never_copied(keeps: Keeps, subject: Keeps | None) -> tuple[Zone, ...]:
    """Return what a ground never copies: keep zones, and subjects found that nobody has refused."""
    zones = (*keeps.zones, *(subject.zones if subject else ()))
    return tuple(zone.model_copy(update={"sure": None, "eyes": None}) for zone in zones)


def on_scene(lying: Lying) -> tuple[Size, Surface, Crop, Continued | None]:
    """Return size, surface and crop as they lie on the scene, and the ground that makes it.

    Where no ground is needed, all is as it was; where the one taken is not enough, so it is too,
    and a stand-in fills.
    """
    ground = ground_taken(lying)
    if ground is None:
        return lying.size, lying.surface, lying.crop, None
    surface, crop = on_canvas(lying.surface, lying.crop, ground.box)
    # its edge is not seen, as the canvas holds all of the crop; it takes up the dust of sums
    return lying.size.model_copy(update={"ground": "edge"}), surface, crop, ground
