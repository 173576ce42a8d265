"""Where on a piece it is quiet: for words or a mark, shown as one of the lines."""

from __future__ import annotations

from oak_ledge.core.pixels.marks.quiet import Place, quiet_places
from oak_ledge.core.pixels.subject.dropper import pixels_of
from oak_ledge.core.placements.zones.on_surface import in_crop, zones_on
from oak_ledge.flows.photos.photos import lies_around
from oak_ledge.flows.pieces.pictures import piece_preview
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.placements import Placed

# Pixels of the longer edge: enough to tell detail.
_EDGE = 512


def quiet_on(workspace: Workspace, placed: Placed) -> tuple[Place, ...]:
    """Return the quietest places of a piece, as shares of it, off keep zones and found subjects."""
    lying = placed.lying
    barred = []
    for kind, points in zones_on(lying.surface, lies_around(placed.photo)):
        if kind == "zone":
            us, vs = zip(*in_crop(points, lying.crop), strict=True)
            barred.append((min(us), min(vs), max(us) - min(us), max(vs) - min(vs)))
    return quiet_places(pixels_of(piece_preview(workspace, placed, _EDGE, with_mark=False)), barred)
