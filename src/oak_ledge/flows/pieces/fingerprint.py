"""What a piece's file is made of, told by its content."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from typing import Any

from oak_ledge.core.errors import FillError
from oak_ledge.core.placements.placement import Placement, changed, mark_on
from oak_ledge.core.placements.scene_geometry import ground_needed, never_copied, with_ground
from oak_ledge.core.sizes.file.file_settings import LEAST_QUALITY
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.photos.photos import lies_around
from oak_ledge.store.placements import Placed

# Fields of a size that came later, and say nothing where they are None.
_LATER = ("outline", "panels", "sides")


def _added_since(size: Size) -> dict[str, Any]:
    """Leave out fields that came later and say nothing, so that what was made before stays known."""
    fields: dict[str, Any] = {}
    if size.file.floor == LEAST_QUALITY:
        fields["file"] = {"floor"}
    return fields | {name: True for name in _LATER if getattr(size, name) is None}


def made_with(placed: Placed) -> Placement:
    """Return a placement as its file is made with it: its continued ground, what a calm mark must avoid."""
    placement, zones = placed.placement, never_copied(placed.photo.keeps, placed.photo.found)
    with suppress(FillError):  # a note stops it
        placement = with_ground(placed.lying, zones)
    mark = mark_on(placed.size, placement)
    if mark is None or mark.place != "calm":
        return placement
    return changed(placement, mark=mark.model_copy(update={"avoid": lies_around(placed.photo)}))


def hash_of(placed: Placed) -> str:
    """Return the content that a file is made of: the photo, its size, and how it lies."""
    exclude: dict[str, Any] = {"before_levelling": True, "allow": True, "former": True}
    if ground_needed(placed.lying) is None:
        exclude["continued"] = True
    if placed.placement.size is not None:
        own = placed.placement.size
        exclude["size"] = {name for name in _LATER if getattr(own, name) is None}
    lying = made_with(placed).model_dump_json(exclude=exclude)
    size = placed.size.model_dump_json(exclude=_added_since(placed.size))
    of = f"{placed.photo.hash} {size} {lying}"
    shown = placed.photo.retouches.shown
    if shown:
        of += f" {[retouch.model_dump_json(exclude={'number'}) for retouch in shown]}"
    return hashlib.sha256(of.encode()).hexdigest()
