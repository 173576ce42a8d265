"""Heads as what must stay whole: each with its hair and some room; of a group the outermost."""

from __future__ import annotations

from collections.abc import Sequence

from oak_ledge.core.heads.face_points import FacePoints
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import Keeps, Zone, within

# Of the head's height: the room beside its middle, above the crown (headroom), and below the chin.
BESIDE, HEADROOM, BELOW = 0.4, 0.06, 0.06

# With more heads than this only the outermost are told: they hold the others between them.
MOST_TOLD = 6


def head_zones(faces: Sequence[FacePoints], upright: Pixels) -> tuple[Zone, ...]:
    """Return the zones around heads, cut to their photo; of a group those at its left, right, top and foot."""
    zones = [_zone(face) for face in faces]
    if len(zones) > MOST_TOLD:
        ends = (
            min(zones, key=lambda zone: zone.left),
            max(zones, key=lambda zone: zone.left + zone.width),
            min(zones, key=lambda zone: zone.top),
            max(zones, key=lambda zone: zone.top + zone.height),
        )
        zones = list(dict.fromkeys(ends))
    return within(Keeps(zones=tuple(zones)), upright).zones


def _zone(face: FacePoints) -> Zone:
    tall = face.height
    (crown_x, crown_y), (chin_x, chin_y) = face.crown, face.chin
    down = ((chin_x - crown_x) / tall, (chin_y - crown_y) / tall)
    ends = (
        (crown_x - down[0] * HEADROOM * tall, crown_y - down[1] * HEADROOM * tall),
        (chin_x + down[0] * BELOW * tall, chin_y + down[1] * BELOW * tall),
    )
    aside = (abs(down[1]) * BESIDE * tall, abs(down[0]) * BESIDE * tall)
    left, right = (edge(x for x, _ in ends) for edge in (min, max))
    top, bottom = (edge(y for _, y in ends) for edge in (min, max))
    return Zone(
        left=left - aside[0],
        top=top - aside[1],
        width=right - left + 2 * aside[0],
        height=bottom - top + 2 * aside[1],
        eyes=face.eyes,
    )
