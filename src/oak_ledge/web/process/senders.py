"""Files sent to receivers as long as the server runs: a thread for each receiver that has some waiting."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime
from itertools import count

from oak_ledge.core.errors import OakLedgeError
from oak_ledge.flows.sending.automatic import hand_over
from oak_ledge.flows.sending.sender import Sender
from oak_ledge.flows.sending.stand_ins import StandIns
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading
from oak_ledge.store.errors import StoreError
from oak_ledge.store.receivers import receivers, sendings

# Seconds between two looks at what waits, and to end in.
LOOK, PATIENCE = 0.3, 5.0
# Looks until standing orders and deliveries are asked whether they have something to send.
ASK = 7
_log = logging.getLogger("oak_ledge")


@dataclass
class Senders:
    """Sends what waits for all receivers."""

    workspace: Workspace
    clock: Callable[[], datetime]
    _stand_ins: StandIns = field(init=False)
    _threads: dict[int, threading.Thread] = field(default_factory=dict)
    _over: threading.Event = field(default_factory=threading.Event)

    def __post_init__(self) -> None:
        self._stand_ins = StandIns(self.workspace.data)

    def start(self) -> None:
        """Begin to send what waits, also what a restart left."""
        threading.Thread(target=self._watch, daemon=True).start()

    def stop(self) -> None:
        """End; what is under way is sent after the next start."""
        self._over.set()
        for thread in [*self._threads.values()]:
            thread.join(PATIENCE)
        self._stand_ins.end()

    def _watch(self) -> None:
        for look in count():
            if self._over.wait(LOOK):
                return
            with suppress(StoreError, OSError):  # the database may be away for a while
                if look % ASK == 0:
                    hand_over(self.workspace, self.clock())
                self._look()

    def _look(self) -> None:
        with reading(self.workspace.sessions) as session:
            waiting = sendings.waiting_for(session)
            rehearsed = {kept.id for kept in receivers.every(session) if kept.rehearsing}
        self._stand_ins.keep_only(rehearsed)
        for receiver_id in waiting:
            thread = self._threads.get(receiver_id)
            if thread is None or not thread.is_alive():
                thread = threading.Thread(target=self._send, args=(receiver_id,), daemon=True)
                self._threads[receiver_id] = thread
                thread.start()

    def _send(self, receiver_id: int) -> None:
        sender = Sender(self.workspace, receiver_id, self._stand_ins, self.clock, self._over)
        try:
            sender.send()
        except (OakLedgeError, OSError) as exc:  # it is looked at again soon
            _log.warning("Sending to receiver %s stopped for now: %s", receiver_id, exc)
