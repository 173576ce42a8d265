"""Worker processes beside the server: they make files, and one that is lost is replaced."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import time
from dataclasses import dataclass, field
from itertools import count

from oak_ledge.flows.deliveries import ask_again, ask_for_all, lost_worker
from oak_ledge.flows.workspace import Workspace

LOOK = 0.5  # seconds between two looks at whether all workers live
PATIENCE = 2.0  # seconds a worker has to end by itself
ASK = 6  # looks until what waits while nobody works is asked for again


@dataclass
class Workers:
    """So many processes that work for one data folder, as long as this one lives."""

    workspace: Workspace
    count: int
    processes: list[subprocess.Popen[bytes]] = field(default_factory=list)
    _over: threading.Event = field(default_factory=threading.Event)

    def start(self) -> None:
        """Start the workers, and ask for all that a restart left waiting."""
        self.processes = [self._begun() for _ in range(self.count)]
        ask_for_all(self.workspace)
        threading.Thread(target=self._watch, daemon=True).start()

    def stop(self) -> None:
        """End the workers; what they are at is made again after the next start."""
        self._over.set()
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            try:
                process.wait(PATIENCE)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()

    def _begun(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "oak_ledge", "work", "--data", str(self.workspace.data)]
        command.append("--until-input-ends")
        return subprocess.Popen(command, stdin=subprocess.PIPE)

    def _watch(self) -> None:
        for look in count(1):
            if self._over.wait(LOOK):
                return
            if look % ASK == 0:
                ask_again(self.workspace)
            for n, process in enumerate(self.processes):
                if process.poll() is None or self._over.is_set():
                    continue
                self.processes[n] = self._begun()
                lost_worker(self.workspace, str(process.pid))


def end_with_parent() -> None:
    """End this process when the one that started it does: its end closes our standard input."""

    def wait() -> None:
        while os.read(sys.stdin.fileno(), 1):
            time.sleep(0)
        os._exit(0)

    threading.Thread(target=wait, daemon=True).start()
