"""The ways to fill: for a ground beyond the photo's edges, and for a hole within the photo."""

from __future__ import annotations

from oak_ledge.core.pixels.fill.solve import Variant

GROUNDS = (
    Variant("rows", 3, "rows", mirror=True, megapixels=0.28, seed=0),
    Variant("rays", 3, "rays", mirror=False, megapixels=0.25, seed=1),
    Variant("large", 5, "none", mirror=True, megapixels=0.12, seed=3),
    Variant("plain", 3, "rows", mirror=False, megapixels=0.22, seed=2),
)

HOLES = (
    Variant("near", 3, "none", mirror=True, megapixels=0.35, seed=0, around=1.2),
    Variant("rows", 3, "rows", mirror=True, megapixels=0.3, seed=2, around=1.2),
    Variant("rays", 3, "rays", mirror=False, megapixels=0.3, seed=4, around=1.2),
    Variant("wide", 3, "none", mirror=True, megapixels=0.35, seed=1),
)
