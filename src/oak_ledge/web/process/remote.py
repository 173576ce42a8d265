"""The server's thread that hands work to other machines, as it comes and as workers come."""

from __future__ import annotations

import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime

from oak_ledge.flows.remote.dispatch import Elsewhere, hand_out
from oak_ledge.store.errors import StoreError

# Seconds between two looks, where nothing was heard of.
LOOK = 0.5
# Seconds until a Redis that is away is tried again.
AWAY = 3.0


@dataclass
class HandingOut:
    """Looks for work to hand out, as long as it is started."""

    here: Elsewhere
    clock: Callable[[], datetime]
    _over: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        """Begin to hand work out, in a thread of its own."""
        threading.Thread(target=self._watch, daemon=True).start()

    def stop(self) -> None:
        """End it; what is out stays with its workers."""
        self._over.set()
        self.here.look.set()

    def _watch(self) -> None:
        while not self._over.is_set():
            self.here.look.wait(LOOK)
            self.here.look.clear()
            with suppress(StoreError, OSError):  # the database may be away for a while
                if not hand_out(self.here, self.clock()):
                    self._over.wait(AWAY)
