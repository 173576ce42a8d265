"""The sender of one receiver: takes what waits, sends it, writes down what came of it before and after.

Only one process sends to a receiver at a time (a lock of the operating system, which a kill lets go); what
was under way when one was killed is sent again, and looked for at the receiver first.
"""

from __future__ import annotations

import mimetypes
import threading
import time
from collections.abc import Callable, Collection
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from filelock import FileLock, Timeout

from oak_ledge.core.errors import sentence
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.flows.receivers.receivers import found
from oak_ledge.flows.sending.stand_ins import StandIns
from oak_ledge.flows.workspace import Workspace
from oak_ledge.receivers.errors import BrokenLineError, NotReadyError, NotTakenError
from oak_ledge.receivers.line import Line, Outgoing, open_line
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.errors import disk_words
from oak_ledge.store.receivers import sendings
from oak_ledge.store.receivers.receivers import KeptReceiver
from oak_ledge.store.receivers.sendings import Sending

# Files under way at once: while one waits for an answer, others go.
AT_ONCE = 3
# How often a file is tried, and the first wait in seconds; each further one is twice as long.
MOST_TRIES, FIRST_WAIT = 5, 1.0
# Seconds between two looks whether something may be sent, and two words of how far a file is.
_LOOK, _TELL = 0.1, 0.5
CHANGED = "It is not the file any more that was looked at. Send it again."


class _ChangedError(Exception):
    """The file is not the one any more that was looked at."""


class _NotWantedError(Exception):
    """The file that is under way shall not be sent any more."""


@dataclass
class Sender:
    """Sends what waits for one receiver until nothing does. `ids`: those files alone, for who waits for them."""

    workspace: Workspace
    receiver_id: int
    stand_ins: StandIns
    clock: Callable[[], datetime]
    over: threading.Event = field(default_factory=threading.Event)
    ids: Collection[int] | None = None
    came: Callable[[Sending], None] = lambda _: None
    """told each file that is over with"""
    _rehearsed: bool = False
    _as_read: tuple[int, bool, str | None] = (0, False, None)
    _hold_until: float = 0.0
    _breaks: int = 0
    """breaks since the last file that got there"""

    def send(self, patience: float = 0) -> bool:
        """Send all that waits; False where another process sends to this receiver for longer than `patience`.

        Files that can't be sent now are tried again with growing waits, within this call. It returns when
        nothing waits, the receiver is paused, or it is told to end.
        """
        lock = self.workspace.data / "stand-ins" / f"{self.receiver_id}.lock"
        lock.parent.mkdir(parents=True, exist_ok=True)
        try:
            with FileLock(lock, timeout=patience):
                while self._send_all():
                    pass
        except Timeout:
            return False
        return True

    def _send_all(self) -> bool:
        """Send by the way as it is now; True where the receiver was changed meanwhile, and more is left."""
        with transaction(self.workspace.sessions) as session:
            kept = found(session, self.receiver_id)
            self._rehearsed, self._as_read = kept.rehearsing, _way_of(kept)
            # where it matters which is the first, they go in their order
            at_once = 1 if kept.receiver.takes.first_on_plain_ground else AT_ONCE
            sendings.put_back(session, self.receiver_id, rehearsed=kept.rehearsing, ids=self.ids)
        try:
            target = self.stand_ins.target(kept)
            with (
                open_line(target.way, target.secret) as line,
                ThreadPoolExecutor(at_once, thread_name_prefix="send") as threads,
            ):
                for thread in [threads.submit(self._go_on, line) for _ in range(at_once)]:
                    thread.result()
        except NotReadyError as exc:
            self._give_up(str(exc))
        return self._is_left(changed=True)

    def _go_on(self, line: Line) -> None:
        while not self.over.is_set():
            sending = self._next()
            if sending is not None:
                self._sent(line, sending)
            elif not self._is_left(changed=False):
                return
            else:
                self.over.wait(_LOOK)

    def _next(self) -> Sending | None:
        if time.monotonic() < self._hold_until:
            return None
        with transaction(self.workspace.sessions) as session:
            if _way_of(found(session, self.receiver_id)) != self._as_read:
                return None
            return sendings.take_next(
                session,
                self.receiver_id,
                self.clock(),
                rehearsed=self._rehearsed,
                ids=self.ids,
            )

    def _is_left(self, *, changed: bool) -> bool:
        """Return whether anything may still be sent by this call: as the receiver was read, or is now."""
        with reading(self.workspace.sessions) as session:
            kept = found(session, self.receiver_id)
            if self.over.is_set() or kept.paused:
                return False
            if (_way_of(kept) != self._as_read) is not changed:
                return False
            return sendings.is_left(
                session, self.receiver_id, rehearsed=kept.rehearsing, ids=self.ids
            )

    def _sent(self, line: Line, sending: Sending) -> None:
        try:
            receipt = line.put(self._outgoing(sending), self._tells(sending))
        except _NotWantedError:
            pass
        except NotTakenError as exc:
            self._breaks = 0
            self._keep_not_sent(sending, "refused", str(exc))
        except BrokenLineError as exc:
            self._broke(sending, exc)
        except NotReadyError as exc:
            self._keep_not_sent(sending, "failed", str(exc))
            self._give_up(str(exc))
        except _ChangedError:
            self._keep_not_sent(sending, "failed", CHANGED)
        except OSError as exc:
            self._keep_not_sent(sending, "failed", f"It can't be read here. {disk_words(exc)}")
        except Exception as exc:  # noqa: BLE001 - whatever it is, it is this file's alone
            why = f"Something unforeseen went wrong ({type(exc).__name__})."
            self._keep_not_sent(sending, "failed", why)
        else:
            self._breaks = 0
            with transaction(self.workspace.sessions) as session:
                sendings.accepted(session, sending.id, receipt, self.clock())
        self._tell(sending)

    def _outgoing(self, sending: Sending) -> Outgoing:
        """Return a file as it is handed to the line; it is read once more, as it may have changed."""
        path = self.workspace.data / sending.path
        if file_hash(path) != sending.sha256:
            raise _ChangedError
        mime = mimetypes.guess_type(sending.name)[0] or "application/octet-stream"
        before = sending.tries > 1
        return Outgoing(path, sending.name, sending.bytes, sending.sha256, mime, before)

    def _tells(self, sending: Sending) -> Callable[[int], None]:
        """Return what writes down how far a file is, and ends it where it is not wanted any more."""
        told = time.monotonic()

        def tell(count: int) -> None:
            nonlocal told
            if self.over.is_set():
                raise _NotWantedError
            if time.monotonic() < told + _TELL:
                return
            told = time.monotonic()
            with transaction(self.workspace.sessions) as session:
                wanted = sendings.going(session, sending.id, count)
            if not wanted:
                raise _NotWantedError

        return tell

    def _broke(self, sending: Sending, exc: BrokenLineError) -> None:
        self._breaks += 1
        wait = exc.wait if exc.wait is not None else FIRST_WAIT * 2 ** (sending.tries - 1)
        self._hold_until = time.monotonic() + min(wait, FIRST_WAIT * 2 ** (sending.tries - 1))
        why = sentence(str(exc))
        if sending.tries >= MOST_TRIES:
            self._keep_not_sent(sending, "failed", f"{why} It was tried {sending.tries} times.")
            if self._breaks >= MOST_TRIES:
                self._give_up(f"{why} Not tried, as others were tried in vain.")
            return
        now = self.clock()
        with transaction(self.workspace.sessions) as session:
            sendings.later(session, sending.id, why, now, now + timedelta(seconds=wait))

    def _keep_not_sent(self, sending: Sending, state: sendings.SendingState, why: str) -> None:
        with transaction(self.workspace.sessions) as session:
            sendings.not_sent(session, sending.id, state, sentence(why), self.clock())

    def _give_up(self, why: str) -> None:
        """Let all that waits fail for one reason; nothing can be sent before a person did something."""
        with transaction(self.workspace.sessions) as session:
            waiting = [
                row.id
                for row in sendings.open_of(session, self.receiver_id)
                if row.state == "waiting"
                and row.rehearsed == self._rehearsed
                and (self.ids is None or row.id in self.ids)
            ]
            sendings.fail_waiting(session, waiting, why, self.clock())
            over = sendings.by_ids(session, waiting)
        for sending in over:
            self.came(sending)

    def _tell(self, sending: Sending) -> None:
        with reading(self.workspace.sessions) as session:
            now = sendings.by_ids(session, [sending.id])
        if now and now[0].state not in sendings.OPEN:
            self.came(now[0])


def _way_of(kept: KeptReceiver) -> tuple[int, bool, str | None]:
    """Return what tells whether a receiver's files still go where they went."""
    return kept.version, kept.rehearsing, kept.fault
