"""Standing orders followed: a process for each beside the server, begun anew where it ends."""

from __future__ import annotations

import subprocess
import sys
import threading
import time
from contextlib import suppress
from dataclasses import dataclass, field

from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import standing_orders
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.errors import StoreError
from oak_ledge.store.standing_orders import StandingOrder
from oak_ledge.web.process.workers import end

# Seconds between two looks at which orders there are.
LOOK = 0.5
# Seconds until an order that can't be followed is tried again.
AGAIN = 10.0
# Seconds after which a process is taken for one that follows its order.
STEADY = 5.0


@dataclass
class StandingOrders:
    """Follows every order that is on, as long as it is started."""

    workspace: Workspace
    _running: dict[int, subprocess.Popen[str]] = field(default_factory=dict)
    _told_to_end: set[subprocess.Popen[str]] = field(default_factory=set)
    _begun: dict[int, float] = field(default_factory=dict)
    """when the process of each order was last begun"""
    _lived: dict[int, float] = field(default_factory=dict)
    """for how many seconds it lived, where it ended by itself"""
    _over: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        """Begin to follow standing orders, a process each."""
        threading.Thread(target=self._watch, daemon=True).start()

    def stop(self) -> None:
        """End them; what they are at is made after the next start."""
        self._over.set()
        end([*self._running.values()])

    def _watch(self) -> None:
        while not self._over.wait(LOOK):
            with suppress(StoreError, OSError):  # the database may be away for a while
                self._look()

    def _look(self) -> None:
        with reading(self.workspace.sessions) as session:
            wanted = {order.id: order for order in standing_orders.every(session) if order.on}
        for order_id in [*self._running]:
            process = self._running[order_id]
            if process.poll() is not None:
                text = self._last_words(process)
                del self._running[order_id]
                if order_id in wanted and process not in self._told_to_end:
                    self._lived[order_id] = time.monotonic() - self._begun[order_id]
                    self._say(wanted[order_id], text)
                self._told_to_end.discard(process)
            elif order_id not in wanted:
                process.terminate()
                self._told_to_end.add(process)
                self._begun.pop(order_id, None)
                self._lived.pop(order_id, None)
            elif wanted[order_id].trouble and self._is_steady(order_id):
                self._say(wanted[order_id], None)
        for order_id in wanted.keys() - self._running.keys():
            if time.monotonic() >= self._begun.get(order_id, -AGAIN) + AGAIN:
                self._begin(order_id)

    def _is_steady(self, order_id: int) -> bool:
        """Return whether a process outlived the one before it: one that ends again and again never does."""
        lived = time.monotonic() - self._begun[order_id]
        return lived > max(STEADY, 2 * self._lived.get(order_id, 0))

    def _begin(self, order_id: int) -> None:
        self._begun[order_id] = time.monotonic()
        command = [sys.executable, "-m", "oak_ledge", "stand", str(order_id)]
        command += ["--data", str(self.workspace.data), "--until-input-ends"]
        self._running[order_id] = subprocess.Popen(
            command,
            stdin=subprocess.PIPE,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE,
            text=True,
            errors="replace",
        )

    @staticmethod
    def _last_words(process: subprocess.Popen[str]) -> str:
        """Return why a process ended, in its own words."""
        lines = process.communicate()[1].strip().splitlines()
        words = lines[-1].removeprefix("oak-ledge: ") if lines else "It ended"
        return words if words.endswith(".") else f"{words}."

    def _say(self, order: StandingOrder, trouble: str | None) -> None:
        with transaction(self.workspace.sessions) as session:
            standing_orders.set_trouble(session, order.id, trouble)
