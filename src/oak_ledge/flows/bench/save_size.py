"""What is on the bench, saved as a size of the library."""

from __future__ import annotations

from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sizes.size import like_photo
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.library.sizes import named_anew
from oak_ledge.flows.library.views import SavedSizeView, view_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import sizes
from oak_ledge.store.database import transaction


def keep_of(workspace: Workspace, placement_id: int) -> SavedSizeView:
    """Keep the size a placement lies on in the library; a free crop is kept as its exact pixels."""
    placed = load(workspace, placement_id)
    size = size_at(placed.size, placed.placement)
    if placed.placement.free is not None:
        width, height = placed.placement.free
        label = None if size.ppi is None else float(size.ppi)
        size = like_photo(size.name, (width, height), label).model_copy(
            update={"group": size.group, "file": size.file, "receiver": size.receiver}
        )
    with transaction(workspace.sessions) as session:
        return view_of(sizes.add(session, named_anew(session, size)), {})
