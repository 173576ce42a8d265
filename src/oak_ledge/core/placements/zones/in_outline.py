"""Keep zones and the outline a piece is cut along: what of one is lost, and how a crop lies around it."""

from __future__ import annotations

from itertools import product
from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

from oak_ledge.core.placements.fit import keep_inside, resized, widest
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.on_surface import Shape, in_crop
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.planes.polygons import area
from oak_ledge.core.sizes.edges.outline import Outline, outline_on
from oak_ledge.core.sizes.edges.polygon import Polygon
from oak_ledge.core.sizes.geometry import bleed_pixels
from oak_ledge.core.sizes.hidden_edges import insets

if TYPE_CHECKING:
    import numpy.typing as npt

# Of a zone: what the places below can't tell.
ROUGHLY = 0.005


# Places along each edge of a zone at which an outline is asked.
FINE = 200


# Each time a crop is loosened until what must stay whole lies in its outline.
LOOSER = 1.06


# Of the crop: where else than in its middle that may lie.
STEPS = (0.0, -0.12, 0.12, -0.24, 0.24)


Array: TypeAlias = "npt.NDArray[Any]"


def cut_line(lying: Lying) -> Polygon:
    """Return the outline a piece is cut along, bleed taken off, as shares of its picture."""
    size = lying.size
    assert size.outline is not None
    wide, high = lying.asked
    off = bleed_pixels(size)
    trimmed = (round(wide - 2 * off), round(high - 2 * off))
    line = outline_on(size.outline, trimmed, size.ppi) * ((wide - 2 * off) / trimmed[0]) + off
    return line / lying.asked


def round_window(lying: Lying) -> Polygon:
    """Return the ellipse of a mat's round window, as shares of the piece's picture."""
    _, (across, along) = insets(lying.size, lying.asked) or ((0, 0), (0.0, 0.0))
    circle = outline_on(Outline(kind="ellipse"), lying.asked, None) / lying.asked
    return (circle - 0.5) * (1 - 2 * across, 1 - 2 * along) + 0.5


def share_outside(zone: list[Point], edge: Polygon) -> float:
    """Return the share of a convex zone that lies outside a polygon, which may be none."""
    return 1 - overlap_with(zone, edge) / max(area(zone), 1e-12)


def kept_in_outline(lying: Lying, shapes: tuple[Shape, ...]) -> Lying:
    """Lay a crop so that its outline goes around what must stay whole, no looser than that needs.

    As it is where that can't be.
    """
    zones = [points for kind, points in shapes if kind == "zone"]
    if lying.size.outline is None or not zones or _whole(lying, zones):
        return lying
    middle = _middle(zones)
    most = widest(lying.size, lying.surface, lying.proportions, lying.placement.angle)
    width = lying.placement.width
    while True:
        loose = resized(lying, min(width, most))
        crop = loose.crop
        for u, v in product(STEPS, STEPS):
            step = rotated(u * crop.width, v * crop.height, crop.angle)
            there = keep_inside(loose.changed(cx=middle[0] + step[0], cy=middle[1] + step[1]))
            if _whole(there, zones):
                return there
        if width >= most:
            return lying
        width *= LOOSER


def _whole(lying: Lying, zones: list[tuple[Point, ...]]) -> bool:
    edge = cut_line(lying)
    return all(share_outside(in_crop(zone, lying.crop), edge) <= ROUGHLY for zone in zones)


def _middle(zones: list[tuple[Point, ...]]) -> Point:
    xs, ys = zip(*(point for zone in zones for point in zone), strict=True)
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


def overlap_with(zone: list[Point], edge: Polygon) -> float:
    """Return how much of a convex zone lies in a polygon, which may be none, as areas."""
    us, vs = (np.array(axis) for axis in zip(*zone, strict=True))
    across = np.linspace(us.min(), us.max(), FINE + 1)
    along = np.linspace(vs.min(), vs.max(), FINE + 1)
    u, v = ((axis[:-1] + axis[1:]) / 2 for axis in (across, along))
    inside = _inside(np.stack([us, vs], 1), u, v) & _inside(edge, u, v)
    return float(inside.sum() * (across[1] - across[0]) * (along[1] - along[0]))


def _inside(polygon: Polygon, u: Array, v: Array) -> Array:
    """Return which points of a grid, (len(v), len(u)), lie in a polygon, by the even-odd rule."""
    inside = np.zeros((len(v), len(u)), np.bool_)
    (x0, y0), (x1, y1) = polygon.T, np.roll(polygon, -1, axis=0).T
    top, bottom = np.minimum(y0, y1), np.maximum(y0, y1)
    for row, height in enumerate(v):  # an outline has more edges than a zone has rows
        met = (top <= height) & (height < bottom)
        crossed = x0[met] + (height - y0[met]) * (x1[met] - x0[met]) / (y1[met] - y0[met])
        inside[row] = np.searchsorted(np.sort(crossed), u) % 2 == 1
    return inside
