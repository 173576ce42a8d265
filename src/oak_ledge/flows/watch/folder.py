"""A watched folder: each photo that arrives is made once, its outcome written beside it."""

from __future__ import annotations

import hashlib
import os
import platform
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import nullcontext, suppress
from dataclasses import dataclass, field, fields
from datetime import datetime
from pathlib import Path
from threading import Event

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.names import Sorting
from oak_ledge.core.photos.photo_formats import photo_endings
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.commands.make import Failed, MakeOptions, Outcome, make_all
from oak_ledge.flows.commands.tell import FOUND, TO_TAKE, LyingOptions, shown
from oak_ledge.flows.walls.readers import Read
from oak_ledge.flows.watch.beside import Beside, adopt, read, write
from oak_ledge.flows.watch.journal import FileMove, Places, begin, finish
from oak_ledge.flows.watch.seal import Seal, new_seal, read_seal, seal_path
from oak_ledge.store.errors import disk_words

# Milliseconds between two looks, also where the file system tells of nothing.
LOOK = 1000

# Seconds for which a file has to stay as it is before it is taken for whole.
UNCHANGED_FOR = 2.0

# Seconds after which a disk that refused is tried again.
AGAIN = 60.0

# Pixels of the picture that is drawn to see whether a photo can be read.
FIRST_LOOK = 256

State = tuple[int, int]


@dataclass(frozen=True)
class Watched:
    """What a folder is watched for: sizes, how photos lie, where their files go."""

    folder: Path
    out: Path
    sizes: Sequence[Size]
    way: LyingOptions
    limits: Limits
    allowed: frozenset[str] = frozenset()
    by: Sorting = "none"
    to_take: str = TO_TAKE
    """how a stop is taken by who reads why a file was not made"""
    read: Read | None = None
    """reads a photo within walls first, where there are some: whoever may put files here may be anyone"""

    @property
    def places(self) -> Places:
        """Its folders; files are made in one that no other watch has."""
        return Places(self.folder, self.out, self.out / ".making" / own_name(self.folder))

    def asked(self, size: Size) -> str:
        """Return what is asked of a photo on a size, told by its content."""
        mask, mark, cuts = self.way.paint_over, self.way.mark, self.way.cut_out
        parts = (
            repr(size.model_dump_json()),
            _told(self.way),
            repr(None if mask is None else file_hash(mask)),
            repr(str(self.out.resolve())),
            repr(sorted(self.allowed)),
            repr(self.by),
            *([] if mark is None else [file_hash(mark.file.path)]),
            *([] if self.way.behind is None else [file_hash(self.way.behind)]),
            *([] if cuts is None else [cuts if cuts == FOUND else file_hash(Path(cuts))]),
        )
        return hashlib.sha256(f"({', '.join(parts)})".encode()).hexdigest()


# What came later: it is left out where it says nothing, so that what was made before stays known.
_LATER = ("behind", "cut_out", "face", "finds", "mark", "zones")


def _told(way: LyingOptions) -> str:
    """Return in words how photos shall lie, by what is said; what came later and says nothing is left out."""
    said = (
        f"{each.name}={getattr(way, each.name)!r}"
        for each in fields(way)
        if each.name not in _LATER or getattr(way, each.name) != each.default
    )
    return f"LyingOptions({', '.join(said)})"


def prepare_out(out: Path) -> None:
    """Make the folder for files, and see that files can be written there.

    Raises
    ------
    OSError
        If not, with why.
    """
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryFile(dir=out):
        pass


def own_name(folder: Path) -> str:
    """Return the name of the folder that belongs to the one watch of a folder on this machine."""
    data = platform.node().encode() + b"\0" + os.fsencode(folder.resolve())
    return hashlib.sha256(data).hexdigest()[:16]


def seal_of(watched: Watched) -> Seal:
    """Return the seal of a watch. Its first start makes one, and puts it on the notes that are there.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    path = seal_path(watched.folder)
    seal = read_seal(path)
    if seal is None:
        seal = new_seal(path)
        for photo in _photos(watched):
            adopt(photo, seal)
    return seal


@dataclass
class Seen:
    """How files were at the last look, since when, and which are over with. Times are seconds."""

    since: dict[Path, tuple[State, float]] = field(default_factory=dict)
    over: dict[Path, State] = field(default_factory=dict)

    def is_new(self, path: Path, now: float) -> bool:
        """Return whether a file is whole (unchanged for `UNCHANGED_FOR` seconds) and not over with; this is a look."""
        state = _state(path)
        if state is None:
            self.since.pop(path, None)
            self.over.pop(path, None)
            return False
        before, since = self.since.get(path, (None, now))
        if before != state:
            since = now
        self.since[path] = (state, since)
        return now - since >= UNCHANGED_FOR and state[0] > 0 and self.over.get(path) != state

    def done(self, path: Path, state: State | None) -> None:
        """Note that a file, as it was seen, is done with."""
        if state is not None:
            self.over[path] = state

    def later(self, path: Path, now: float) -> None:
        """Look at a file again after a while, as if it were new."""
        if path in self.since:
            self.since[path] = (self.since[path][0], now + AGAIN - UNCHANGED_FOR)


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

    Raises
    ------
    OSError
        If its files can't be put where they shall go.
    """
    prepare_out(watched.out)
    seen, seal = Seen(), seal_of(watched)
    with suppress(OSError):  # it is tried again with the next photo
        finished = finish(watched.places, seal)
        if finished is not None:
            came(Outcome(files=finished.files, failed=finished.note.failed))
    for _ in _looks(watched, stop):
        for path in _photos(watched):
            if stop.is_set():
                return
            if not seen.is_new(path, time.monotonic()):
                continue
            state = _state(path)
            try:
                outcome = made_of(watched, path, clock(), seal)
                if outcome is None:  # it changed meanwhile
                    continue
                seen.done(path, state)
            except OSError as exc:
                outcome = _failed(path, disk_words(exc))
                seen.later(path, time.monotonic())
            except Exception as exc:  # noqa: BLE001 - whatever it is, it is this photo's alone
                outcome = _failed(path, f"something unforeseen went wrong ({type(exc).__name__})")
                seen.later(path, time.monotonic())
            if outcome.files or outcome.failed:
                came(outcome)


def _failed(photo: Path, reason: str) -> Outcome:
    return Outcome(files=[], failed=[Failed(photo=shown(photo), reason=reason)])


def made_of(watched: Watched, photo: Path, now: datetime, seal: Seal) -> Outcome | None:
    """Make what is asked of a photo and was not made of it before; None if it changed meanwhile.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    places = watched.places
    before = finish(places, seal)  # what was under way when a disk refused
    digest = file_hash(photo)
    note = read(photo, seal)
    if note is None or note.photo_sha256 != digest:
        note = Beside(photo=shown(Path(photo.name)), photo_sha256=digest, made_at="")
    wanted = {watched.asked(size): size for size in watched.sizes}
    wanted = {wish: size for wish, size in wanted.items() if wish not in note.asked}
    if not wanted:
        late = before.files if before is not None and before.note.photo_sha256 == digest else []
        return Outcome(files=late, failed=[])
    places.empty()
    places.prepare()
    outcome = _made(watched, photo, [*wanted.values()])
    if _state(photo) is None or file_hash(photo) != digest:
        return None
    wrong = {failed.size_at for failed in outcome.failed}
    files = [file for file in outcome.files if file.size_at not in wrong]
    names = [Path(file.file).relative_to(shown(places.made)).as_posix() for file in files]
    placed = [
        file.model_copy(update={"file": shown(watched.out / name)})
        for file, name in zip(files, names, strict=True)
    ]
    note = note.model_copy(
        update={
            "made_at": now.isoformat(timespec="seconds"),
            "asked": note.asked + [wish for at, wish in enumerate(wanted) if at not in wrong],
            "files": note.files + placed,
            "failed": outcome.failed,
        }
    )
    if names:
        begin(places, photo, note, [FileMove(made=name, place=name) for name in names])
        finished = finish(places, seal)
        if finished is None:  # somebody emptied the folder they are made in: it is made again
            return None
        return Outcome(files=finished.files, failed=outcome.failed)
    write(photo, note, seal)
    places.empty()
    return Outcome(files=[], failed=outcome.failed)


def _made(watched: Watched, photo: Path, sizes: Sequence[Size]) -> Outcome:
    """Make a photo's files, once it was read whole within walls."""
    if watched.read is not None:
        try:
            watched.read(photo, watched.limits, FIRST_LOOK, lambda facts: nullcontext())
        except PhotoError as exc:
            why = str(exc)
            failed = [Failed(photo=shown(photo), reason=why, size_at=n) for n in range(len(sizes))]
            return Outcome(files=[], failed=failed)
    options = MakeOptions(
        folder=watched.places.made,
        limits=watched.limits,
        way=watched.way,
        allowed=watched.allowed,
        by=watched.by,
        to_take=watched.to_take,
    )
    return make_all([photo], sizes, options)


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
    """Return the photos of a folder, by name; what was made there itself is none."""
    with suppress(OSError):
        paths = (
            path
            for path in watched.folder.iterdir()
            if path.suffix.lower() in photo_endings()
            and not path.name.startswith(".")
            and path.is_file()
        )
        return sorted(paths)
    return []
