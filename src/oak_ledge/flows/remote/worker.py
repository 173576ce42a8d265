"""A worker on another machine: takes a ticket, makes what it asks for, sends it back."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field, replace
from pathlib import Path
from tempfile import TemporaryDirectory

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.marks.laid import MarkFile
from oak_ledge.core.marks.mark import MarkPicture
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.pixels.cache import Arrays, IsSound, Keep
from oak_ledge.core.pixels.open.photo import Source
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sheets.print_order import OrderedPiece
from oak_ledge.flows.delivery.drawing import draw_files, or_why
from oak_ledge.flows.delivery.filling import fill, filled_or_why
from oak_ledge.flows.delivery.making import Work
from oak_ledge.flows.delivery.sheet_file import make_sheet
from oak_ledge.flows.errors import ForeignError, GoneError, ServerError, WrongOriginalError
from oak_ledge.flows.marks.laid import laid_on
from oak_ledge.flows.photos.scenes import arrays_in, as_file, named
from oak_ledge.flows.remote.originals import Originals
from oak_ledge.flows.remote.server_client import Line
from oak_ledge.flows.remote.ticket import FileSent, Message, PhotoSent, opened
from oak_ledge.store.folders import replace_file

# Characters of a reason.
MOST_WORDS = 1000
# Seconds a call is tried that others need not wait for.
SOON = 5.0

_log = logging.getLogger("oak_ledge")


@dataclass
class Worker:
    """One worker: makes one ticket at a time."""

    line: Line
    originals: Originals
    limits: Limits
    key: bytes
    machine: str
    ticket: str | None = None
    """what it is at; who says that it lives looks here"""
    filling: bool = False
    """at a ground or a retouch, which can't be stopped from within"""
    gone: threading.Event = field(default_factory=threading.Event)
    """set when nobody wants the ticket any more: what is left of it need not be made"""

    def take(self, text: str, seal: str) -> None:
        """Do what a message asks for; one that is not of this server is left alone."""
        try:
            message = opened(text, seal, self.key)
        except ForeignError as exc:
            _log.warning("A message was left alone: %s.", exc)
            return
        self.gone.clear()
        self.filling = message.fill is not None
        try:
            self.line.post(f"/api/work/{message.ticket}/begun", {"machine": self.machine})
            self.ticket = message.ticket
            self._make(message)
        except GoneError:
            _log.info("A ticket was another's by then.")
        except (OSError, WrongOriginalError, ServerError) as exc:
            _log.warning("A ticket was given back: %s.", exc)
            with suppress(ServerError):
                back = f"/api/work/{message.ticket}/given-back"
                self.line.post(back, {"reason": f"{exc}."[:MOST_WORDS]}, patience=SOON)
        finally:
            self.ticket = None

    def _make(self, message: Message) -> None:
        with self.originals.at_hand(message.photos) as paths:
            if message.fill is not None:
                self._fill(message, paths)
                return
            limits = replace(self.limits, output_pixels=message.output_pixels)
            for file, path, why in self._made(message, paths, limits):
                if self.gone.is_set():
                    return
                at = f"/api/work/{message.ticket}/files/{file.id}"
                # one was sent before where its answer was lost; the others are ours still
                with suppress(GoneError):
                    if path is None:
                        self.line.post(f"{at}/failed", {"reason": why[:MOST_WORDS]})
                    else:
                        self.line.send(at, path)

    def _made(
        self, message: Message, paths: Mapping[str, Path], limits: Limits
    ) -> Iterator[tuple[FileSent, Path | None, str]]:
        """Return each file of a ticket as it lies in a folder of its own, or why it can't be made."""

        def work(task: FileSent | OrderedPiece, source: Source | None = None) -> Work:
            photo = message.photo(task.photo_hash)
            backdrop = size_at(task.size, task.placement).backdrop
            return Work(
                source=source or paths[photo.hash],
                photo_name=photo.name,
                photo=photo.facts,
                size=task.size,
                placement=task.placement,
                retouches=task.retouches,
                keep=self._keep(message.ticket, photo),
                mark=laid_on(task.size, task.placement, self._mark),
                behind=None if backdrop is None else paths.get(backdrop.hash),
            )

        alone = [file for file in message.files if file.sheet is None]

        def maker(retouches: Retouches) -> Maker:
            photo = message.photo(alone[0].photo_hash)
            return Maker(paths[photo.hash], retouches, self._keep(message.ticket, photo))

        with _file() as path:
            for file in message.files:
                if file.sheet is not None:
                    order, title = file.sheet, file.name.rpartition(".")[0]
                    why = or_why(lambda o=order, t=title: make_sheet(o, work, limits, path, t))  # type: ignore[misc]
                    yield file, path if why is None else None, why or ""
            for file, drawn in draw_files(alone, work, maker, limits):
                if isinstance(drawn, str):
                    yield file, None, drawn
                else:
                    path.write_bytes(drawn[1])
                    yield file, path, ""

    def _fill(self, message: Message, paths: Mapping[str, Path]) -> None:
        work = message.fill
        assert work is not None
        reason: str | None = "Its photo was taken away meanwhile."
        if message.photos:
            (photo,) = message.photos
            maker = Maker(paths[photo.hash], work.retouches, self._keep(message.ticket, photo))
            reason = filled_or_why(lambda: fill(maker, work))
        self.line.post(
            f"/api/work/{message.ticket}/filled", {"reason": reason and reason[:MOST_WORDS]}
        )

    def _mark(self, picture: MarkPicture) -> MarkFile:
        """Return a mark's file, fetched once and told by its content.

        Raises
        ------
        WrongOriginalError
            If it came otherwise than its hash says.
        """
        path = self.originals.folder / "marks" / picture.hash
        if not path.exists() or file_hash(path) != picture.hash:
            data = b"".join(self.line.fetch(f"/api/work/marks/{picture.hash}"))
            replace_file(path, data)
            if file_hash(path) != picture.hash:
                path.unlink()
                msg = "A mark could not be fetched whole"
                raise WrongOriginalError(msg)
        return MarkFile(path, (picture.width, picture.height), picture.drawn)

    def _keep(self, ticket: str, photo: PhotoSent) -> Keep:
        """Keep what is made of a photo at the server, and look there first."""

        def keep(of: str, make: Callable[[], Arrays], is_sound: IsSound) -> Arrays:
            name = named(photo.hash, of)
            with _file() as path:
                with suppress(GoneError):
                    with path.open("wb") as file:
                        file.writelines(self.line.fetch(f"/api/work/kept/{name}"))
                    arrays = arrays_in(path)
                    if arrays is not None and is_sound(arrays):
                        return arrays
                arrays_made = dict(make())
                path.write_bytes(as_file(arrays_made))
                self.line.send(f"/api/work/{ticket}/kept/{name}", path)
            return arrays_made

        return keep


@contextmanager
def _file() -> Iterator[Path]:
    with TemporaryDirectory(prefix="oak-ledge-") as folder:
        yield Path(folder) / "file"
