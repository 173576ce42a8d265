"""What a piece's file is made of, told by its content."""

from __future__ import annotations

import hashlib

from oak_ledge.core.sizes.file_settings import LEAST_QUALITY
from oak_ledge.core.sizes.size import Size
from oak_ledge.store.placements import Placed


def _added_since(size: Size) -> dict[str, set[str]]:
    """Leave out fields that came later and say nothing, so that what was made before stays known."""
    return {"file": {"floor"}} if size.file.floor == LEAST_QUALITY else {}


def hash_of(placed: Placed) -> str:
    """Tell by content what a file is made of: the photo, its size, and how it lies."""
    lying = placed.placement.model_dump_json(exclude={"upright", "allow"})
    size = placed.size.model_dump_json(exclude=_added_since(placed.size))
    of = f"{placed.photo.hash} {size} {lying}"
    return hashlib.sha256(of.encode()).hexdigest()
