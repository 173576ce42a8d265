"""A watched folder: each photo that arrives is made once, its outcome written beside it."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from threading import Event

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.names import Sorting
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.commands.make import Failed, Outcome, make_all
from oak_ledge.flows.commands.tell import TO_TAKE, Way
from oak_ledge.flows.watch.beside import Beside, moves_of, read, settled, write
from oak_ledge.store.errors import disk_words

PICTURES = {".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".avif", ".heic", ".heif"}
RAW = {".dng", ".cr2", ".cr3", ".nef", ".arw", ".raf", ".orf", ".rw2", ".pef", ".srw"}

LOOK = 1000  # milliseconds between two looks, also where the file system tells of nothing

WHOLE = 2  # looks at which a file has to be as it was before it is taken for whole

AGAIN = 60  # looks after which a disk that refused is tried again

State = tuple[int, int]


@dataclass(frozen=True)
class Watched:
    """What a folder is watched for: sizes, how photos lie, where their files go."""

    folder: Path
    out: Path
    sizes: Sequence[Size]
    way: Way
    limits: Limits
    allowed: frozenset[str] = frozenset()
    by: Sorting = "none"
    to_take: str = TO_TAKE
    """how a stop is taken by who reads why a file was not made"""

    @property
    def making(self) -> Path:
        """Where files are made before they are put in their place: on the same disk as that."""
        return self.out / ".making"

    def asked(self, size: Size) -> str:
        """What is asked of a photo on a size, told by its content."""
        mask = self.way.paint_over
        said = (
            size.model_dump_json(),
            self.way,
            None if mask is None else file_hash(mask),
            str(self.out.resolve()),
            sorted(self.allowed),
            self.by,
        )
        return hashlib.sha256(repr(said).encode()).hexdigest()


@dataclass
class Seen:
    """How files were at the last look, and which are over with."""

    looks: dict[Path, tuple[State, int]] = field(default_factory=dict)
    over: dict[Path, State] = field(default_factory=dict)

    def is_new(self, path: Path) -> bool:
        """Say whether a file is whole (unchanged for `WHOLE` looks) and not over with; this is a look."""
        now = _state(path)
        if now is None:
            self.looks.pop(path, None)
            self.over.pop(path, None)
            return False
        before, count = self.looks.get(path, (None, 0))
        count = count + 1 if before == now else 0
        self.looks[path] = (now, count)
        return count >= WHOLE and now[0] > 0 and self.over.get(path) != now

    def done(self, path: Path, state: State | None) -> None:
        if state is not None:
            self.over[path] = state

    def later(self, path: Path) -> None:
        """Have a file looked at again as if it were new, after a while."""
        if path in self.looks:
            self.looks[path] = (self.looks[path][0], -AGAIN)


def _state(path: Path) -> State | None:
    with suppress(OSError):
        status = path.stat()
        return status.st_size, status.st_mtime_ns
    return None


def watch_folder(
    watched: Watched,
    clock: Callable[[], datetime],
    stop: Event,
    came: Callable[[Outcome], None],
) -> None:
    """Make the files of every photo that is in a folder or arrives there, until it is told to stop.

    What it is at is finished first. The file system's own word is waited for, and a look is taken every
    second all the same, as some drives tell of nothing. What the disk refuses is tried again after a
    minute; a photo that cannot be made, when it is replaced or the watch begins anew.
    """
    seen = Seen()
    for _ in _looks(watched, stop):
        for path in _photos(watched):
            if stop.is_set():
                return
            if not seen.is_new(path):
                continue
            state = _state(path)
            try:
                outcome = made_of(watched, path, clock())
                if outcome is None:  # it changed meanwhile
                    continue
                seen.done(path, state)
            except OSError as exc:
                outcome = Outcome(
                    files=[], failed=[Failed(photo=str(path), reason=disk_words(exc))]
                )
                seen.later(path)
            if outcome.files or outcome.failed:
                came(outcome)


def made_of(watched: Watched, photo: Path, now: datetime) -> Outcome | None:
    """Make what is asked of a photo and was not made of it before; None if it changed meanwhile.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    digest = file_hash(photo)
    told = read(photo)
    told = told and settled(photo, told)
    if told is None or told.photo_sha256 != digest:
        told = Beside(photo=photo.name, photo_sha256=digest, made_at="")
    wanted = {watched.asked(size): size for size in watched.sizes}
    wanted = {asked: size for asked, size in wanted.items() if asked not in told.asked}
    if not wanted:
        return Outcome(files=[], failed=[])
    shutil.rmtree(watched.making, ignore_errors=True)
    outcome = make_all(
        [photo],
        [*wanted.values()],
        watched.way,
        watched.making,
        watched.limits,
        allowed=watched.allowed,
        by=watched.by,
        to_take=watched.to_take,
    )
    if _state(photo) is None or file_hash(photo) != digest:
        return None
    wrong = {one.size_at for one in outcome.failed}
    files = [one for one in outcome.files if one.size_at not in wrong]
    moves = moves_of(files, watched.making, watched.out)
    placed = [
        one.model_copy(update={"file": move.place}) for one, move in zip(files, moves, strict=True)
    ]
    told = told.model_copy(
        update={
            "made_at": now.isoformat(timespec="seconds"),
            "asked": told.asked + [one for at, one in enumerate(wanted) if at not in wrong],
            "files": told.files + placed,
            "failed": outcome.failed,
            "moves": moves,
        }
    )
    if moves:
        told = settled(photo, told)
    else:
        write(photo, told)
    shutil.rmtree(watched.making, ignore_errors=True)
    return Outcome(files=told.files[len(told.files) - len(placed) :], failed=outcome.failed)


def _looks(watched: Watched, stop: Event) -> Iterator[None]:
    from watchfiles import watch

    yield
    changes = watch(
        watched.folder,
        stop_event=stop,
        rust_timeout=LOOK,
        yield_on_timeout=True,
        debounce=LOOK,
        recursive=False,
        raise_interrupt=False,
    )
    for _ in changes:
        yield


def _photos(watched: Watched) -> list[Path]:
    """The photos of a folder, by name; what was made there itself is none."""
    with suppress(OSError):
        found = (
            path
            for path in watched.folder.iterdir()
            if path.suffix.lower() in PICTURES | RAW
            and not path.name.startswith(".")
            and path.is_file()
        )
        return sorted(found)
    return []
