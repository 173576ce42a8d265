"""Turning a crop to an angle; how it lay before it was levelled is remembered."""

from __future__ import annotations

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.placements.fit import as_tight, keep_inside, tightness
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Lain, Placement


def at_angle(lying: Lying, angle: float, *, hold_size: bool = False) -> Placement:
    """Turn a crop to an angle; as much of its largest as it had at 0° is kept, and it stays inside.

    How it lay before is remembered: from there every angle begins, so that turning
    there and back gives the same crop, not a smaller one. With `hold_size` it stays as large as it
    is wherever it fits.
    """
    if not -180 < angle <= 180:
        msg = f"an angle of {angle:g}° is out of range; give one above −180° and up to 180°"
        raise PlacementError(msg)
    placement = lying.placement
    was = placement.before_levelling or _lain(placement)
    if placement.before_levelling is not None:
        lying = lying.changed(**dict(was), angle=0.0)
    if not angle and lying.placement.angle == 0:
        return lying.changed(before_levelling=None).placement
    before_levelling = was if lying.placement.angle == 0 else None
    over = lying.changed(angle=angle, before_levelling=before_levelling)
    return (keep_inside(over) if hold_size else as_tight(over, tightness(lying))).placement


def _lain(placement: Placement) -> Lain:
    return Lain(
        cx=placement.cx,
        cy=placement.cy,
        width=placement.width,
        free=placement.free,
        stretch=placement.stretch,
    )
