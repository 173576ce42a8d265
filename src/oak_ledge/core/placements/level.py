"""Turning a crop to an angle; how it lay upright is remembered."""

from __future__ import annotations

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.fit import as_tight, tightness
from oak_ledge.core.placements.placement import Lain, Placement, changed
from oak_ledge.core.sizes.size import Size


def at_angle(size: Size, held: Pixels, placement: Placement, angle: float) -> Placement:
    """Turn a crop to an angle; as much of its largest as it had upright is kept, and it stays inside.

    How it lay upright is remembered: from there every angle begins, so that turning
    there and back gives the same crop, not a smaller one.
    """
    if not -180 < angle <= 180:
        msg = f"an angle of {angle:g}° is out of range; give one above −180° and up to 180°"
        raise PlacementError(msg)
    was = placement.upright or _lain(placement)
    if placement.upright is not None:
        placement = changed(placement, **dict(was), angle=0.0)
    if not angle and placement.angle == 0:
        return changed(placement, upright=None)
    upright = was if placement.angle == 0 else None
    over = changed(placement, angle=angle, upright=upright)
    return as_tight(size, held, over, tightness(size, held, placement))


def _lain(placement: Placement) -> Lain:
    return Lain(
        cx=placement.cx,
        cy=placement.cy,
        width=placement.width,
        free=placement.free,
        stretch=placement.stretch,
    )
