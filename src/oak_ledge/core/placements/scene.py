"""What ground a placement is made with, and how it lies on the scene that this makes of its photo."""

from __future__ import annotations

from collections.abc import Sequence

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.placements.continued import (
    Box,
    Continued,
    box_made,
    box_needed,
    holds,
    on_canvas,
)
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.surface import Surface
from oak_ledge.core.sizes.ground import CONTINUED
from oak_ledge.core.sizes.size import Size

BOLD = 0.25  # of a piece: from so much ground on, a try is bold


def upright_of(surface: Surface) -> Pixels:
    """Give the photo's own width and height, before a placement turns it."""
    wide, high = surface.photo
    return (wide, high) if surface.quarter % 2 == 0 else (high, wide)


def ground_needed(lying: Lying) -> Box | None:
    """Give the box a placement's crop needs more of the scene for; None where it needs none."""
    if lying.size.differ != "extend" or lying.size.ground != CONTINUED:
        return None
    return box_needed(lying.surface, lying.crop, upright_of(lying.surface))


def is_unmade(lying: Lying) -> bool:
    """Say whether a crop has left the ground that was taken for it, or none was taken yet."""
    needed, ground = ground_needed(lying), lying.placement.continued
    return needed is not None and (ground is None or not holds(ground.box, needed))


def ground_taken(lying: Lying) -> Continued | None:
    """Give the ground that was taken, where one is needed and it is enough."""
    return None if ground_needed(lying) is None or is_unmade(lying) else lying.placement.continued


def ground_for(
    lying: Lying, zones: Sequence[Zone], *, seed: int, attempt: int, take_from: Sequence[Stroke]
) -> Continued:
    """Give one of the tries for a placement as it lies, `zones` being what is never copied.

    Its box is that of the ground that was taken before, as long as that is enough.

    Raises
    ------
    FillError
        If it needs none, or one beyond the limits.
    """
    upright = upright_of(lying.surface)
    needed = box_needed(lying.surface, lying.crop, upright) or (0, 0, *upright)
    was = lying.placement.continued
    enough = was is not None and holds(was.box, needed)
    return Continued(
        box=was.box if was is not None and enough else box_made(needed, upright),
        avoid=tuple(zones),
        seed=seed,
        attempt=attempt,
        take_from=tuple(take_from),
    )


def with_ground(lying: Lying, zones: Sequence[Zone]) -> Placement:
    """Give a placement with the ground its file is made with.

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
        take_from=was.take_from if was else (),
    )
    return changed(placement, continued=ground)


def never_copied(keeps: Keeps, found: Keeps | None) -> tuple[Zone, ...]:
    """Give what a ground never copies: keep zones, and subjects found that nobody has refused."""
    zones = (*keeps.zones, *(found.zones if found else ()))
    return tuple(zone.model_copy(update={"sure": None, "eyes": None}) for zone in zones)


def on_scene(lying: Lying) -> tuple[Size, Surface, Crop, Continued | None]:
    """Give size, surface and crop as they lie on the scene, and the ground that makes it.

    Where no ground is needed, all is as it was; where the one taken is not enough, so it is too,
    and a stand-in fills.
    """
    ground = ground_taken(lying)
    if ground is None:
        return lying.size, lying.surface, lying.crop, None
    surface, crop = on_canvas(lying.surface, lying.crop, ground.box)
    # its edge is not seen, as the canvas holds all of the crop; it takes up the dust of sums
    return lying.size.model_copy(update={"ground": "edge"}), surface, crop, ground
