"""Take photos in: many at once, each kept or refused on its own."""

from __future__ import annotations

import threading
import unicodedata
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import PurePosixPath, PureWindowsPath
from typing import BinaryIO

from pydantic import BaseModel

from oak_ledge.core.errors import PhotoError, sentence
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.heads.face_points import Faces
from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.measures.ratios import shape_words
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.placements.scene_geometry import never_copied
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.reports.sentence import measured_lengths
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.errors import NotFoundError
from oak_ledge.flows.photos.previews import PREVIEW_EDGE, keep_preview, look_of
from oak_ledge.flows.photos.subjects import found_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.errors import disk_words
from oak_ledge.store.photos import Photo


class PhotoView(BaseModel):
    """A photo's facts, with the words the pages show."""

    id: int
    name: str
    facts: PhotoFacts
    shape: str
    physical: str | None
    weight: str
    remarks: tuple[str, ...]
    keeps: Keeps
    """what must stay whole, in upright photo pixels"""
    look: str
    """tells its pictures as it is retouched now from those before"""
    retouches: int
    """how many are to be seen on it"""
    faces: Faces | None
    """its heads, found or set, in upright photo pixels; null before they were looked for"""


class Refused(BaseModel):
    """A file that was not taken in, and why."""

    name: str
    reason: str


class TakenIn(BaseModel):
    """The photos that were taken in, and the files that were refused."""

    photos: list[PhotoView]
    refused: list[Refused]


@dataclass(frozen=True)
class Incoming:
    """A file on its way in: a name, which is only a label, and its bytes."""

    name: str
    stream: BinaryIO


class _Flight:
    """The pixels of photos that are looked at at this moment, so that they are not too many."""

    def __init__(self) -> None:
        self._pixels, self._changed = 0, threading.Condition()

    @contextmanager
    def of(self, pixels: int, most: int) -> Iterator[None]:
        """Wait until these are not too many with the others; alone they never are."""
        with self._changed:
            self._changed.wait_for(lambda: not self._pixels or self._pixels + pixels <= most)
            self._pixels += pixels
        try:
            yield
        finally:
            with self._changed:
                self._pixels -= pixels
                self._changed.notify_all()


incoming = _Flight()


def take_in(workspace: Workspace, files: Iterable[Incoming], now: datetime) -> TakenIn:
    """Take in what can be read; give the reason for what can't. Originals are never altered."""
    kept: list[PhotoView] = []
    refused: list[Refused] = []
    for file in files:
        name = label(file.name)
        try:
            kept.append(photo_view(_take_one(workspace, name, file.stream, now)))
        except PhotoError as exc:
            refused.append(Refused(name=name, reason=sentence(str(exc))))
        except OSError as exc:
            refused.append(Refused(name=name, reason=disk_words(exc)))
    return TakenIn(photos=kept, refused=refused)


def _take_one(workspace: Workspace, name: str, stream: BinaryIO, now: datetime) -> Photo:
    part, digest, length = photos.receive(
        stream, workspace.originals, workspace.limits.upload_bytes
    )
    try:
        if length > workspace.limits.upload_bytes:
            msg = f"it has more than {bytes_words(workspace.limits.upload_bytes)}, the most that is taken"
            raise PhotoError(msg)
        with reading(workspace.sessions) as session:
            known = photos.find_by_hash(session, digest)
        if known is not None and photos.original(workspace.originals, known).exists():
            return known
        limits = workspace.limits
        # The first picture decodes the whole file: a damaged one is refused before anything is kept.
        facts, picture = workspace.read(
            part,
            limits,
            PREVIEW_EDGE,
            lambda facts: incoming.of(facts.width * facts.height, limits.incoming_pixels),
        )
        arriving = known or Photo(0, digest, name, facts)
        keep_preview(workspace, arriving, picture)
        faces, keeps = found_in(workspace, arriving)
        photos.keep_original(part, photos.original(workspace.originals, arriving))
        with transaction(workspace.sessions) as session:
            return photos.add(session, replace(arriving, found=keeps, faces=faces), now)
    finally:
        part.unlink(missing_ok=True)


def forget_unused(workspace: Workspace, among: Sequence[int]) -> list[str]:
    """Forget those photos that no job uses, originals and previews too; give their names."""
    with transaction(workspace.sessions) as session:
        gone = photos.unused(session, among)
        for photo in gone:
            photos.forget(session, photo.id)
    for photo in gone:  # after the database: a kill between leaves a file too many, not one too few
        photos.original(workspace.originals, photo).unlink(missing_ok=True)
        for picture in (workspace.previews / photo.hash[:2]).glob(f"{photo.hash}*"):
            picture.unlink(missing_ok=True)
        for path in (workspace.scenes / photo.hash[:2]).glob(f"{photo.hash}-*"):
            path.unlink(missing_ok=True)
    return [photo.name for photo in gone]


def find_photo(workspace: Workspace, photo_id: int) -> Photo:
    """Return a photo; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return photo_in(session, photo_id)


def some(workspace: Workspace, photo_ids: Sequence[int]) -> list[PhotoView]:
    """Those of some photos that are here, in the order they are asked for."""
    with reading(workspace.sessions) as session:
        rows = [photos.find(session, rows) for rows in dict.fromkeys(photo_ids)]
    return [photo_view(photo) for photo in rows if photo is not None]


def photo_in(session: Session, photo_id: int) -> Photo:
    """Return a photo within a session; one that is not here is refused."""
    photo = photos.find(session, photo_id)
    if photo is None:
        msg = f"There is no photo {photo_id}."
        raise NotFoundError(msg)
    return photo


def photo_view(photo: Photo) -> PhotoView:
    """Return a photo with its facts in words."""
    facts = photo.facts
    physical = None
    if facts.ppi is not None:
        lengths = measured_lengths(facts.width, facts.height, facts.ppi, "in", places=1)
        physical = f"{lengths} at {rounded(facts.ppi, 0)} ppi"
    return PhotoView(
        id=photo.id,
        name=photo.name,
        facts=facts,
        shape=shape_words(facts.width, facts.height),
        physical=physical,
        weight=bytes_words(facts.bytes),
        remarks=facts.remarks + turned_remark(facts),
        keeps=photo.keeps,
        look=look_of(photo),
        retouches=len(photo.retouches.shown),
        faces=photo.faces,
    )


def lies_around(photo: Photo) -> Keeps:
    """Return what a photo's placements first lie around: its keep zones, else the subject found in it."""
    if photo.keeps.zones or photo.found is None:
        return photo.keeps
    return photo.keeps.model_copy(update={"zones": photo.found.zones})


def first_on(size: Size, photo: Photo) -> Placement:
    """Return the first suggestion for a photo on a size: by its head where the size asks for one, else around what must stay whole."""
    return suggest_around(size, photo.facts.upright, lies_around(photo), face=photo.face)


def lay_new_ones(session: Session, photo_id: int, now: datetime) -> None:
    """Lay a photo's placements that no hand has been at yet anew, by what is known of it now."""
    for placed in placements.of_photo(session, photo_id):
        if placed.state == "new":
            laid = first_on(placed.size, placed.photo)
            if laid != placed.placement:
                placements.lay_anew(session, placed.id, laid, "suggested", now)


def context_of(photo: Photo) -> PhotoContext:
    """Return what a photo knows that a gesture on it may need."""
    return PhotoContext(
        keeps=lies_around(photo),
        ppi=photo.facts.ppi,
        focal=photo.facts.focal_pixels,
        never_copied=never_copied(photo.keeps, photo.found),
        face=photo.face,
    )


def turned_remark(facts: PhotoFacts) -> tuple[str, ...]:
    """Return what the orientation tag did; nothing where it did nothing."""
    if facts.orientation == 1:
        return ()
    how = {2: "mirrored", 3: "turned upside down", 4: "mirrored and turned upside down",
           5: "mirrored and turned a quarter", 6: "turned a quarter clockwise",
           7: "mirrored and turned a quarter", 8: "turned a quarter anticlockwise"}  # fmt: skip
    return (f"Shown {how[facts.orientation]}, as its orientation tag says.",)


def label(name: str) -> str:
    """Keep of a name given from outside what can be shown: the last part, printable, short."""
    last = PureWindowsPath(PurePosixPath(name).name).name
    shown = "".join(c for c in last if unicodedata.category(c)[0] != "C").strip()
    return shown[:120] or "photo"
