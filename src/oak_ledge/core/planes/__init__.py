"""Points, polygons, homographies, and the plane four corners define. Knows no size and no placement."""

from __future__ import annotations
