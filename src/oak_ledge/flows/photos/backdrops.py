"""The photo behind a piece: where its file lies, and which can be chosen."""

from __future__ import annotations

from pathlib import Path

from oak_ledge.core.photos.backdrop import Backdrop
from oak_ledge.core.photos.photo_formats import PHOTO_FORMATS
from oak_ledge.core.placements.placement import Placement, size_at
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import reading
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed


def behind(workspace: Workspace, size: Size, placement: Placement) -> Path | None:
    """Return the file of the photo behind a piece; None where there is none, or it is gone."""
    backdrop = size_at(size, placement).backdrop
    if backdrop is None or backdrop.format not in PHOTO_FORMATS:
        return None
    ending = PHOTO_FORMATS[backdrop.format].ending
    path = workspace.originals / backdrop.hash[:2] / f"{backdrop.hash}{ending}"
    return path if path.is_file() else None


def of_photo(photo: Photo) -> Backdrop:
    """Return a photo as it stands behind others."""
    return Backdrop(hash=photo.hash, name=photo.name, format=photo.facts.format)


def choices(workspace: Workspace, placed: Placed) -> list[Backdrop]:
    """Return the other photos of a piece's job, each of which can stand behind it."""
    with reading(workspace.sessions) as session:
        there = {each.photo.id: each.photo for each in jobs.placements(session, placed.job_id)}
    return [of_photo(photo) for photo in there.values() if photo.id != placed.photo.id]
