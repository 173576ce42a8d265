"""The twin of a size: width and height traded."""

from __future__ import annotations

from oak_ledge.core.sizes.edges.frame import turned_frame
from oak_ledge.core.sizes.size import Size, changed_size


def twin_of(size: Size) -> Size:
    """Trade width and height of a size.

    Raises
    ------
    SizeError
        If the size has no other way round.
    """
    changes: dict[str, object] = {"shape": size.shape.twin()}
    if size.frame is not None:
        changes["frame"] = turned_frame(size.frame)
    if size.panels is not None:
        changes["panels"] = size.panels.turned
    return changed_size(size, **changes)
