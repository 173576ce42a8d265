"""Photos: their originals on disk, once each by content, and what is known of them."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path
from typing import BinaryIO

from sqlalchemy import delete, exists, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from oak_ledge.core.heads.face_points import FacePoints, Faces
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.photos.photo_formats import PHOTO_FORMATS
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.store.errors import StoreError
from oak_ledge.store.folders import sync_folder, written
from oak_ledge.store.tables import JobPhotoRow, JobRow, PhotoRow

_CHUNK = 1 << 20


@dataclass(frozen=True)
class Photo:
    """A photo's row: its hash, facts and what must stay whole of it."""

    id: int
    hash: str
    name: str
    facts: PhotoFacts
    keeps: Keeps = NOTHING
    found: Keeps | None = None
    """zones found in it that wait to be taken or refused; None before it was looked at"""
    retouches: Retouches = NO_RETOUCHES
    faces: Faces | None = None
    """its heads, found or set; None before they were looked for"""

    @property
    def face(self) -> FacePoints | None:
        """The face its pieces are laid by; None where none is known, or one is still to be chosen."""
        return None if self.faces is None else self.faces.meant


def receive(source: BinaryIO, folder: Path, most_bytes: int) -> tuple[Path, str, int]:
    """Copy a stream to a temporary file of `folder`; give its path, SHA-256 and length.

    Stops one byte above `most_bytes`; the caller decides what that means.
    """
    folder.mkdir(parents=True, exist_ok=True)
    digest, length = hashlib.sha256(), 0
    path = folder / f"{os.getpid()}-{os.urandom(8).hex()}.part"
    try:
        with path.open("xb") as file:
            while (chunk := source.read(_CHUNK)) and length <= most_bytes:
                digest.update(chunk)
                file.write(chunk)
                length += len(chunk)
            file.flush()
            os.fsync(file.fileno())
    except OSError:
        path.unlink(missing_ok=True)
        raise
    return path, digest.hexdigest(), length


def original(folder: Path, photo: Photo) -> Path:
    """Where a photo's original lies."""
    return folder / photo.hash[:2] / f"{photo.hash}{PHOTO_FORMATS[photo.facts.format].ending}"


def present(folder: Path, photo: Photo) -> Path:
    """Where a photo's original lies, if it does.

    Raises
    ------
    StoreError
        If it is missing.
    """
    path = original(folder, photo)
    if not path.is_file():
        msg = (
            f"The original of {photo.name} is missing: {path} is not there. Bring the photo in once "
            "more, or put the data folder back; what was done with it is kept."
        )
        raise StoreError(msg)
    return path


def keep_original(part: Path, target: Path) -> None:
    """Move a received file to its place, read-only, whole or not at all."""
    target.parent.mkdir(parents=True, exist_ok=True)
    part.chmod(0o444)
    part.replace(target)
    sync_folder(target.parent)


def put_back(target: Path, data: bytes) -> None:
    """Put an original in its place again, over one that is damaged."""
    with written(target.parent, target.stem, [data]) as part:
        keep_original(part, target)


def names(session: Session, photo_ids: Collection[int]) -> dict[int, str]:
    """Return the names of photos, those that are there."""
    rows = session.execute(select(PhotoRow.id, PhotoRow.name).where(PhotoRow.id.in_(photo_ids)))
    return {row.id: row.name for row in rows}


def find_by_hash(session: Session, digest: str) -> Photo | None:
    """Return the photo of a content, or None."""
    row = session.scalar(select(PhotoRow).where(PhotoRow.hash == digest))
    return None if row is None else photo_of(row)


def find(session: Session, photo_id: int) -> Photo | None:
    """Return a photo, or None."""
    row = session.get(PhotoRow, photo_id)
    return None if row is None else photo_of(row)


def add(session: Session, arriving: Photo, now: datetime) -> Photo:
    """Add a photo with what was found in it; one that came in at the same moment by another door is found instead."""
    digest = arriving.hash
    row = {
        "hash": digest,
        "name": arriving.name,
        "facts": arriving.facts,
        "found": arriving.found,
        "faces": arriving.faces,
        "added": now,
    }
    session.execute(insert(PhotoRow).values(row).on_conflict_do_nothing())
    return photo_of(session.scalars(select(PhotoRow).where(PhotoRow.hash == digest)).one())


def set_keeps(session: Session, photo_id: int, keeps: Keeps) -> None:
    """Keep what of a photo must stay whole."""
    session.get_one(PhotoRow, photo_id).keeps = keeps
    session.flush()


def set_found(session: Session, photo_id: int, keeps: Keeps) -> None:
    """Keep what was found in a photo, or that it was taken or refused."""
    session.get_one(PhotoRow, photo_id).found = keeps
    session.flush()


def set_faces(session: Session, photo_id: int, faces: Faces) -> None:
    """Keep the heads of a photo: what was found, or what a person set."""
    session.get_one(PhotoRow, photo_id).faces = faces
    session.flush()


@dataclass(frozen=True)
class InJob:
    """A photo in a job: its place there, and its retouches, which are that job's alone."""

    place: int
    job_id: int
    photo: Photo


def jobs_with(session: Session, photo_id: int) -> list[InJob]:
    """Return a photo in each of the jobs that hold it, the oldest first; deleted jobs hold nothing."""
    rows = (
        select(JobPhotoRow)
        .join(JobRow, JobRow.id == JobPhotoRow.job_id)
        .where(
            JobPhotoRow.photo_id == photo_id, JobPhotoRow.out.is_(None), JobRow.deleted.is_(None)
        )
        .order_by(JobPhotoRow.id)
    )
    return [InJob(row.id, row.job_id, photo_in(row)) for row in session.scalars(rows)]


def set_retouches(
    session: Session, photo_id: int, retouches: Retouches, place: int | None = None
) -> None:
    """Keep what is painted over and copied on a photo, in its job or where it is in none."""
    if place is None:
        session.get_one(PhotoRow, photo_id).retouches = retouches
    else:
        session.get_one(JobPhotoRow, place).retouches = retouches
    session.flush()


def unused(session: Session, among: Sequence[int]) -> list[Photo]:
    """Photos among some that belong to no job, not even to one deleted of late."""
    used = exists().where(JobPhotoRow.photo_id == PhotoRow.id)
    rows = select(PhotoRow).where(PhotoRow.id.in_(among), ~used)
    return [photo_of(row) for row in session.scalars(rows)]


def unused_since(session: Session, moment: datetime) -> list[Photo]:
    """Photos that belong to no job and came in before a moment, the oldest first."""
    used = exists().where(JobPhotoRow.photo_id == PhotoRow.id)
    rows = select(PhotoRow).where(PhotoRow.added < moment, ~used)
    return [photo_of(row) for row in session.scalars(rows.order_by(PhotoRow.added, PhotoRow.id))]


def every(session: Session) -> list[Photo]:
    """All photos, the oldest first."""
    return [photo_of(row) for row in session.scalars(select(PhotoRow).order_by(PhotoRow.id))]


def forget(session: Session, photo_id: int) -> None:
    """Delete a photo's row."""
    session.execute(delete(PhotoRow).where(PhotoRow.id == photo_id))


def photo_of(row: PhotoRow) -> Photo:
    """Return the photo a row holds."""
    return Photo(
        row.id, row.hash, row.name, row.facts, row.keeps, row.found, row.retouches, row.faces
    )


def photo_in(row: JobPhotoRow) -> Photo:
    """Return a photo as it is in a job."""
    return replace(photo_of(row.photo), retouches=row.retouches)
