"""Originals fetched by a worker: each checked against its hash, the least lately used dropped."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from shutil import rmtree
from tempfile import TemporaryDirectory

from oak_ledge.core.photos.photo_formats import PHOTO_FORMATS
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.flows.errors import WrongOriginalError
from oak_ledge.flows.remote.ticket import PhotoSent
from oak_ledge.store.folders import is_fresh, prune, sweep_parts, written

# A fetch that broke on the way is tried once more.
TRIES = 2


@dataclass(frozen=True)
class Originals:
    """A folder of originals, shared by the workers of a machine, of at most `most_bytes`."""

    folder: Path
    most_bytes: int
    fetch: Callable[[str], Iterable[bytes]]
    """gives the bytes of an original by its hash"""

    @contextmanager
    def at_hand(self, photos: Iterable[PhotoSent]) -> Iterator[dict[str, Path]]:
        """Return where the originals lie, by hash, for as long as they are worked on.

        They bear a second name meanwhile, so that none goes when another worker needs the room.

        Raises
        ------
        WrongOriginalError
            If one came otherwise than its hash says.
        OSError
            If it can't be kept.
        """
        self._cache.mkdir(parents=True, exist_ok=True)
        self._at_work.mkdir(exist_ok=True)
        with TemporaryDirectory(prefix=f"{os.getpid()}-", dir=self._at_work) as beside:
            paths = {}
            for photo in photos:
                path = Path(beside) / f"{photo.hash}{PHOTO_FORMATS[photo.facts.format].ending}"
                self._linked(photo, path)
                paths[photo.hash] = path
            yield paths

    @property
    def _cache(self) -> Path:
        return self.folder / "cache"

    @property
    def _at_work(self) -> Path:
        return self.folder / "at-work"

    def tidy(self) -> None:
        """Remove what workers that are no more had at hand, or had fetched by half."""
        sweep_parts(self.folder)
        for left in self._at_work.glob("*-*"):
            if not Path(f"/proc/{left.name.partition('-')[0]}").exists():
                rmtree(left, ignore_errors=True)

    def _linked(self, photo: PhotoSent, path: Path) -> None:
        cached = self._cache / f"{photo.hash}{PHOTO_FORMATS[photo.facts.format].ending}"
        for _ in range(TRIES):
            if not is_fresh(cached):
                self._fetched(photo, cached)
                prune(self._cache, self.most_bytes, but=cached)
            try:
                path.hardlink_to(cached)
            except FileNotFoundError:  # another worker needed the room just now
                continue
            if file_hash(path) == photo.hash:
                return
            path.unlink()
            cached.unlink(missing_ok=True)
        msg = f"The original of {photo.name} could not be fetched whole"
        raise WrongOriginalError(msg)

    def _fetched(self, photo: PhotoSent, cached: Path) -> None:
        with written(self._cache, photo.hash, self.fetch(photo.hash)) as part:
            if file_hash(part) != photo.hash:
                msg = f"The original of {photo.name} did not come as it is"
                raise WrongOriginalError(msg)
            part.replace(cached)
