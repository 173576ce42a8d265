"""What a data folder may hold: pictures for screens, grounds, and originals that nobody uses."""

from __future__ import annotations

from datetime import datetime, timedelta

from oak_ledge.flows.photos.photos import forget_unused
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import reading
from oak_ledge.store.folders import bytes_in, prune

# Of a budget is left after pruning, so that it is not at once due again.
STRAIGHT_ON = 0.9
# So long a photo may wait for its first job.
IN_HAND = timedelta(days=7)


def keep_within(workspace: Workspace, now: datetime) -> None:
    """Keep drawn pictures, scenes and unused originals within their budgets.

    What was drawn is drawn again when it is asked for; an original goes only if no job has used it,
    also of those deleted of late.
    """
    limits = workspace.limits
    for folder, most in (
        (workspace.previews, limits.preview_bytes),
        (workspace.scenes, limits.ground_bytes),
    ):
        if bytes_in(folder) > most:
            prune(folder, int(most * STRAIGHT_ON))
    if limits.original_bytes is not None:
        over = bytes_in(workspace.originals) - limits.original_bytes
        if over > 0:
            _drop_unused(workspace, over, now)


def _drop_unused(workspace: Workspace, over: int, now: datetime) -> None:
    with reading(workspace.sessions) as session:
        unused = photos.unused_since(session, now - IN_HAND)
    for photo in unused:
        if over <= 0:
            return
        if forget_unused(workspace, [photo.id]):  # a job may have taken it meanwhile
            over -= photo.facts.bytes
