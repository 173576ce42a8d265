"""What a piece's file is made of, told by its content."""

from __future__ import annotations

import hashlib

from oak_ledge.store.placements import Placed


def hash_of(placed: Placed) -> str:
    """Tell by content what a file is made of: the photo, its size, and how it lies."""
    lying = placed.placement.model_dump_json(exclude={"upright", "allow"})
    of = f"{placed.photo.hash} {placed.size.model_dump_json()} {lying}"
    return hashlib.sha256(of.encode()).hexdigest()
