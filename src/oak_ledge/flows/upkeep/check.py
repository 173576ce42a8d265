"""A data folder looked through: database, originals, finished files, caches; and what can be is mended."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.photos.photo_formats import PHOTO_FORMATS
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.flows.delivery.deliveries import folder_of, lost_words
from oak_ledge.flows.photos.scenes import arrays_in
from oak_ledge.flows.upkeep.backup import originals_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import faults_of, reading, transaction
from oak_ledge.store.errors import disk_words
from oak_ledge.store.kinds import unreadable
from oak_ledge.store.photos import Photo
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import DeliveryFile

# Seconds after which what was written by half is nobody's any more.
LEFT = 24 * 3600
_JPEG_ENDS = b"\xff\xd9"


class Finding(BaseModel):
    """Something that is not as it should be."""

    what: str
    done: str | None
    """what was done about it; None: it is left to you"""


class Checked(BaseModel):
    """What was looked at, and found."""

    photos: int
    files: int
    findings: list[Finding]

    @property
    def well(self) -> bool:
        """Whether nothing is left to be done."""
        return all(finding.done is not None for finding in self.findings)


def check(workspace: Workspace, now: float, *, mend: bool, backup: Path | None = None) -> Checked:
    """Look through a data folder, and mend what can be.

    Without `mend` nothing is changed. Originals that are gone or damaged are taken from a `backup`;
    files that are gone are queued again as they were asked for; caches that are broken go.

    Raises
    ------
    BackupError
        If the backup can't be read.
    StoreError
        If the database can't be.
    """
    findings = list(_database(workspace, mend=mend))
    with reading(workspace.sessions) as session:
        rows = unreadable(session)
        findings += [Finding(what=f"The database can't read {row}", done=None) for row in rows]
        known = [] if rows else photos.every(session)
        files = [] if rows else deliveries.every_made(session)
    findings += _queue(workspace, mend=mend)
    lost = {photo.hash: why for photo in known if (why := _wrong(workspace, photo)) is not None}
    findings += _originals(workspace, known, lost, mend=mend, backup=backup)
    findings += _files(workspace, files, set(lost), mend=mend)
    findings += _caches(workspace, mend=mend)
    findings += _left_over(workspace, known, now, mend=mend)
    return Checked(photos=len(known), files=len(files), findings=findings)


def _database(workspace: Workspace, *, mend: bool) -> Iterator[Finding]:
    path = workspace.sessions.path
    before = faults_of(path, mend=False)
    after = faults_of(path, mend=True) if mend and before else before
    for fault in before:
        mended = "Its index was built anew." if fault not in after else None
        yield Finding(what=f"{path.name}: {fault}", done=mended)


def _queue(workspace: Workspace, *, mend: bool) -> Iterator[Finding]:
    queue = workspace.data / "queue.db"
    if queue.exists() and faults_of(queue, mend=False):
        if mend:
            for path in workspace.data.glob("queue.db*"):
                path.unlink()
        done = "It was removed; what waits is asked for again." if mend else None
        yield Finding(what="queue.db is damaged", done=done)


def _wrong(workspace: Workspace, photo: Photo) -> str | None:
    path = photos.original(workspace.originals, photo)
    try:
        if file_hash(path) == photo.hash:
            return None
    except FileNotFoundError:
        return "is missing"
    except OSError as exc:
        return f"can't be read: {disk_words(exc)}"
    return "is damaged: its bytes are not those that came in"


def _originals(
    workspace: Workspace,
    known: list[Photo],
    lost: dict[str, str],
    *,
    mend: bool,
    backup: Path | None,
) -> Iterator[Finding]:
    """Find originals that are not as they came, and put back those that a backup has."""
    paths = {entry.hash: photos.original(workspace.originals, entry) for entry in known}
    if mend and backup is not None and lost:
        wanted = {paths[entry].relative_to(workspace.data).as_posix(): entry for entry in lost}
        for name, data in originals_in(backup, wanted):
            photos.put_back(paths[wanted[name]], data)
    for photo in known:
        if photo.hash in lost:
            there = _wrong(workspace, photo) is None
            if there:
                words = f"It was put back from {backup}."
                del lost[photo.hash]
                yield Finding(
                    what=f"The original of {photo.name} was not there as it came", done=words
                )
            else:
                yield Finding(what=f"The original of {photo.name} {lost[photo.hash]}", done=None)


def _files(
    workspace: Workspace, files: list[DeliveryFile], lost: set[str], *, mend: bool
) -> Iterator[Finding]:
    """Find finished files that are not as they were measured; they are made once more."""
    for file in files:
        if lost_words(workspace, file, surely=True) is None:
            continue
        place = folder_of(workspace, file.delivery_id).relative_to(workspace.data)
        can = mend and file.photo_hash not in lost
        if can:
            with transaction(workspace.sessions) as session:
                deliveries.once_more(session, file.id)
        done = "It is made again, as it was asked for, when the server runs." if can else None
        yield Finding(
            what=f"{place / (file.name or '')} is gone, or not as it was measured", done=done
        )


def _caches(workspace: Workspace, *, mend: bool) -> Iterator[Finding]:
    """Find pictures and grounds that can't be read; they are drawn again when they are needed."""
    broken = [path for path in workspace.previews.rglob("*.jpg") if not _ends_well(path)]
    broken += [path for path in workspace.scenes.rglob("*.npz") if arrays_in(path) is None]
    if broken:
        for path in broken if mend else ():
            path.unlink(missing_ok=True)
        done = "Removed; drawn again when asked for." if mend else None
        count = "1 is" if len(broken) == 1 else f"{len(broken)} are"
        yield Finding(
            what=f"Of the pictures kept for screens and grounds {count} broken", done=done
        )


def _ends_well(path: Path) -> bool:
    """Return whether a picture was written to its end: a power cut may leave one without."""
    try:
        with path.open("rb") as file:
            file.seek(-2, 2)
            return file.read() == _JPEG_ENDS
    except OSError:
        return False


def _left_over(
    workspace: Workspace, known: list[Photo], now: float, *, mend: bool
) -> Iterator[Finding]:
    """Return what a kill left half written, and originals that no photo knows."""
    halves = [
        path for path in workspace.data.rglob("*.part") if path.is_file() and _is_old(path, now)
    ]
    if halves:
        for path in halves if mend else ():
            path.unlink(missing_ok=True)
        count = "1 file is" if len(halves) == 1 else f"{len(halves)} files are"
        yield Finding(what=f"{count} left half written", done="Removed." if mend else None)
    names = {f"{photo.hash}{PHOTO_FORMATS[photo.facts.format].ending}" for photo in known}
    strange = [
        path
        for path in workspace.originals.rglob("*")
        if path.is_file() and path.suffix != ".part" and path.name not in names
    ]
    if strange and known:
        count = "1 original is" if len(strange) == 1 else f"{len(strange)} originals are"
        yield Finding(
            what=f"{count} there that no photo in the database knows",
            done="They were left: bring them in as photos, or delete them.",
        )


def _is_old(path: Path, now: float) -> bool:
    try:
        return path.stat().st_mtime < now - LEFT
    except OSError:
        return False
