"""Where a crop lay before it was tightened, loosened or turned: the way back ends just there."""

from __future__ import annotations

from typing import Literal

from oak_ledge.core.placements.placement import Former, Placement, changed


def remembering(
    placement: Placement,
    before: Placement,
    by: Literal["scale", "turn"],
    *,
    factor: float = 1.0,
    at: tuple[float, float] = (0.5, 0.5),
) -> Placement:
    """Return a placement that remembers another as where its tightenings or turns began."""
    lay = Former(
        by=by,
        cx=before.cx,
        cy=before.cy,
        width=before.width,
        free=before.free,
        stretch=before.stretch,
        turned=before.turned,
        factor=factor,
        u=at[0],
        v=at[1],
    )
    return changed(placement, former=lay)


def gone_back(placement: Placement) -> Placement:
    """Return a placement as it lay before, and without that memory."""
    former = placement.former
    if former is None:
        return placement
    return changed(
        placement,
        former=None,
        cx=former.cx,
        cy=former.cy,
        width=former.width,
        free=former.free,
        stretch=former.stretch,
        turned=former.turned,
    )
