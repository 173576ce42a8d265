"""Worker processes beside the server: they make files, and one that is lost is replaced."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime
from itertools import count
from typing import Any
from uuid import uuid4

from oak_ledge.flows.delivery.filling import AtWork, is_wanted_no_more
from oak_ledge.flows.delivery.workshop import ask_again, ask_for_all, lost_worker, still_at_work
from oak_ledge.flows.upkeep.budgets import keep_within
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.errors import StoreError

# Seconds between two looks at whether all workers live.
LOOK = 0.5


# Seconds between two words of a worker that it lives.
ALIVE = 15.0


# Seconds a process has to end by itself.
PATIENCE = 2.0


# Looks until the budgets are looked at again.
TIDY = 240


# Looks until what waits while nobody works is asked for again.
ASK = 6


@dataclass(frozen=True)
class _Worker:
    """A process and the name it claims files under."""

    name: str
    process: subprocess.Popen[bytes]


@dataclass
class Workers:
    """So many processes that work for one data folder, as long as this one lives."""

    workspace: Workspace
    count: int
    clock: Callable[[], datetime]
    processes: list[_Worker] = field(default_factory=list)
    _over: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        """Start the workers, and ask for all that a restart left waiting."""
        self.processes = [self._begun() for _ in range(self.count)]
        ask_for_all(self.workspace)
        threading.Thread(target=self._watch, daemon=True).start()

    def stop(self) -> None:
        """End the workers; what they are at is made again after the next start."""
        self._over.set()
        end([worker.process for worker in self.processes])

    def _begun(self) -> _Worker:
        name = uuid4().hex  # a number of a process may come again
        command = [sys.executable, "-m", "oak_ledge", "work", "--data", str(self.workspace.data)]
        command += ["--called", name, "--until-input-ends"]
        return _Worker(name, subprocess.Popen(command, stdin=subprocess.PIPE))

    def _watch(self) -> None:
        for look in count(1):
            if self._over.wait(LOOK):
                return
            # the database may be away for a while; the watch goes on
            with suppress(StoreError, OSError):
                self._look(look)

    def _look(self, look: int) -> None:
        if look % ASK == 0:
            ask_again(self.workspace, self.clock())
        if look % TIDY == 1:
            keep_within(self.workspace, self.clock())
        for n, worker in enumerate(self.processes):
            if worker.process.poll() is None or self._over.is_set():
                continue
            self.processes[n] = self._begun()
            lost_worker(self.workspace, worker.name, worker.process.pid, self.clock())


def end(processes: Sequence[subprocess.Popen[Any]]) -> None:
    """End processes; one that does not by itself is killed."""
    for process in processes:
        process.terminate()
    for process in processes:
        try:
            process.wait(PATIENCE)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


def end_with_parent() -> None:
    """End this process when the one that started it does: its end closes our standard input."""

    def wait() -> None:
        while os.read(sys.stdin.fileno(), 1):
            time.sleep(0)
        os._exit(0)

    threading.Thread(target=wait, daemon=True).start()


def begin_anew_if_cancelled(workspace: Workspace, name: str, at_work: AtWork) -> None:
    """Look from a thread of its own whether what is being filled is still wanted.

    What fills can't be stopped from within: this process begins anew in its own place, under the same
    name, and all it was at is gone.
    """

    def look() -> None:
        while True:
            time.sleep(LOOK)
            with suppress(StoreError, OSError):
                if is_wanted_no_more(workspace, name, at_work):
                    os.execv(sys.executable, [sys.executable, *sys.orig_argv[1:]])

    threading.Thread(target=look, daemon=True).start()


def say_alive(workspace: Workspace, name: str, clock: Callable[[], datetime]) -> None:
    """Report from time to time, from a thread of its own, that this worker is alive."""

    def say() -> None:
        while True:
            time.sleep(ALIVE)
            with suppress(StoreError, OSError):  # told again soon, before the lease has ended
                still_at_work(workspace, name, clock())

    threading.Thread(target=say, daemon=True).start()
