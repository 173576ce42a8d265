"""Foreign files handed over the walls: a reader beside this process, begun anew where it ended."""

from __future__ import annotations

import logging
import os
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import AbstractContextManager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import BinaryIO

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.show.preview import draw_preview
from oak_ledge.flows.walls.answer import GO, ReaderAnswer, ReadRequest, read_answer

# Seconds for one answer: more than the walls give a reader.
PATIENCE = 250.0

CRASHED = (
    "reading it ended the program that reads photos. It is damaged, or made to do that: save it again "
    "from where it comes from"
)
TOO_LONG = "reading it took too long. Save it again, simpler or smaller"

# Entered once it is known what a file is, for as long as its pixels are decoded.
Holds = Callable[[PhotoFacts], AbstractContextManager[None]]

# Gives a file's facts and its picture with an edge of so many pixels, or raises a `PhotoError`.
Read = Callable[[Path, Limits, int, Holds], tuple[PhotoFacts, bytes]]

_log = logging.getLogger("oak_ledge")


def read_here(file: Path, limits: Limits, edge: int, holds: Holds) -> tuple[PhotoFacts, bytes]:
    """Read a file within this process: where there can be no walls, and in tests."""
    facts = look_at(file, most_pixels=limits.photo_pixels, most_whole=limits.whole_pixels)
    with holds(facts):
        return facts, draw_preview(file, edge)


@dataclass
class Readers:
    """One reader process, which begins another for every file; nothing of it is kept between them."""

    patience: float = PATIENCE
    module: str = "oak_ledge.flows.walls.reader"
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _process: subprocess.Popen[bytes] | None = None
    _line: socket.socket | None = None
    _said: bool = False

    def read(self, file: Path, limits: Limits, edge: int, holds: Holds) -> tuple[PhotoFacts, bytes]:
        """Read a file within walls.

        Raises
        ------
        PhotoError
            With the reason: what it is, or that reading it ended or never ends.
        """
        wanted = ReadRequest(
            most_pixels=limits.photo_pixels, most_whole=limits.whole_pixels, edge=edge
        )
        ours, theirs = socket.socketpair()
        with ours:
            ours.settimeout(self.patience)
            with theirs, file.open("rb") as opened:
                self._send(wanted.model_dump_json().encode(), opened.fileno(), theirs.fileno())
            with ours.makefile("rb") as pipe:
                facts = self._facts_in(_answered(pipe)[0])
                with holds(facts):
                    with suppress(OSError):  # it ended meanwhile, as its silence tells
                        ours.sendall(GO)
                    answer, picture = _answered(pipe)
        return self._facts_in(answer), picture

    def _facts_in(self, answer: ReaderAnswer) -> PhotoFacts:
        if answer.unshut and not self._said:
            self._said = True
            _log.warning("Photos are read with fewer walls here: %s.", "; ".join(answer.unshut))
        if answer.facts is None:
            raise PhotoError(answer.refused or CRASHED)
        return answer.facts

    def close(self) -> None:
        """End the reader."""
        with self._lock:
            self._end()

    def _send(self, data: bytes, *handles: int) -> None:
        with self._lock:
            for last_try in (False, True):
                try:
                    socket.send_fds(self._at_hand(), [data], handles)
                except OSError:
                    self._end()
                    if last_try:
                        raise
                else:
                    return

    def _at_hand(self) -> socket.socket:
        if self._line is None or self._process is None or self._process.poll() is not None:
            self._end()
            # whole messages: what is wanted and its handles never come apart
            self._line, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
            with theirs:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", self.module, str(theirs.fileno())],
                    pass_fds=[theirs.fileno()],
                    stdin=subprocess.DEVNULL,
                    stdout=subprocess.DEVNULL,
                    stderr=subprocess.DEVNULL,
                    # nothing is put on a disk that a decoder may not write to
                    env={**os.environ, "VIPS_DISC_THRESHOLD": "100g"},
                )
        return self._line

    def _end(self) -> None:
        if self._line is not None:
            self._line.close()
            self._line = None
        if self._process is not None:
            self._process.kill()
            with suppress(subprocess.TimeoutExpired):
                self._process.wait(5)
            self._process = None


def _answered(pipe: BinaryIO) -> tuple[ReaderAnswer, bytes]:
    """Read an answer, as long as one may still come.

    Raises
    ------
    PhotoError
        If nothing comes in time, or something else than an answer.
    """
    try:
        answer = read_answer(pipe)
    except TimeoutError as exc:
        raise PhotoError(TOO_LONG) from exc
    except (OSError, ValueError) as exc:
        raise PhotoError(CRASHED) from exc
    if answer is None:
        raise PhotoError(CRASHED)
    return answer


def usual_readers() -> Readers | None:
    """Return readers where there can be some: where processes fork and hand handles over."""
    return Readers() if hasattr(os, "fork") and hasattr(socket, "send_fds") else None
