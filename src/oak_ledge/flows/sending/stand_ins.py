"""Stand-ins beside a sender: a process for each receiver that is rehearsed, begun when it is needed."""

from __future__ import annotations

import os
import secrets
import subprocess
import sys
import threading
from dataclasses import dataclass, field
from pathlib import Path
from typing import NamedTuple

from oak_ledge.core.receivers.receiver import Receiver, write_receivers
from oak_ledge.core.receivers.way import FolderWay, HttpWay, SftpWay, Way, WebDavWay
from oak_ledge.receivers.errors import NotReadyError
from oak_ledge.receivers.stand_ins.stand_in import SPEAKS
from oak_ledge.store.folders import replace_file
from oak_ledge.store.receivers.receivers import KeptReceiver

# Seconds that a stand-in has to end by itself.
_PATIENCE = 2.0
# What its password is handed over in, and the name under which its way asks for it.
_PASSWORD = "OAK_LEDGE_STAND_IN_SECRET"


class Target(NamedTuple):
    """Where files go: a way, and the secret that stands for the one it names."""

    way: Way
    secret: str | None


class _Running(NamedTuple):
    process: subprocess.Popen[str]
    target: Target
    receiver: Receiver
    fault: str | None


def folder_of(data: Path, receiver_id: int) -> Path:
    """Return the folder of what a receiver's stand-in received."""
    return data / "stand-ins" / str(receiver_id)


@dataclass
class StandIns:
    """The stand-ins of a data folder that this process has begun."""

    data: Path
    _running: dict[int, _Running] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def target(self, kept: KeptReceiver) -> Target:
        """Return where a receiver's files go: by its own way, or to its stand-in, which is begun if need be.

        Raises
        ------
        NotReadyError
            If a stand-in can't be begun.
        """
        if not kept.rehearsing:
            return Target(kept.receiver.way, None)
        into = folder_of(self.data, kept.id)
        into.mkdir(parents=True, exist_ok=True)
        if isinstance(kept.receiver.way, FolderWay):
            return Target(FolderWay(path=str(into)), None)
        with self._lock:
            running = self._running.get(kept.id)
            if running is not None:
                same = (running.receiver, running.fault) == (kept.receiver, kept.fault)
                if same and running.process.poll() is None:
                    return running.target
                _end(running.process)
            self._running[kept.id] = _begun(kept, into)
            return self._running[kept.id].target

    def keep_only(self, receiver_ids: set[int]) -> None:
        """End the stand-ins of all other receivers."""
        with self._lock:
            for receiver_id in self._running.keys() - receiver_ids:
                _end(self._running.pop(receiver_id).process)

    def end(self) -> None:
        """End all of them."""
        self.keep_only(set())


def _begun(kept: KeptReceiver, into: Path) -> _Running:
    way = kept.receiver.way
    rules, password = into.with_suffix(".json"), secrets.token_urlsafe(18)
    replace_file(rules, write_receivers((kept.receiver,)).encode())
    command = [sys.executable, "-m", "oak_ledge", "stand-in", SPEAKS[way.kind], "--port", "0"]
    command += ["--into", str(into), "--takes", str(rules), "--until-input-ends"]
    command += [] if kept.fault is None else ["--fault", kept.fault]
    process = subprocess.Popen(
        command,
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, _PASSWORD: password},
    )
    assert process.stdout is not None  # it is asked for above
    told: dict[str, str] = {}
    while "password" not in told or (isinstance(way, SftpWay) and "host key" not in told):
        name, _, words = process.stdout.readline().strip().partition(": ")
        if not name:
            _end(process)
            msg = f"The stand-in of “{kept.receiver.name}” can't be started here."
            raise NotReadyError(msg)
        told[name] = words
    return _Running(process, Target(_way(way, told), password), kept.receiver, kept.fault)


def _way(way: Way, told: dict[str, str]) -> Way:
    """Return the way to a stand-in, as it is for the receiver but for where it leads."""
    if isinstance(way, SftpWay):
        changes = {"url": told["address"], "host_key": told["host key"]}
        return way.model_copy(update=changes)
    if isinstance(way, WebDavWay):
        return WebDavWay(url=told["address"], user=told["user"], secret=f"env:{_PASSWORD}",
                         at_most_per_second=way.at_most_per_second)  # fmt: skip
    assert isinstance(way, HttpWay)  # a folder has no stand-in
    return HttpWay(url=told["address"], secret=f"env:{_PASSWORD}",
                   at_most_per_second=way.at_most_per_second)  # fmt: skip


def _end(process: subprocess.Popen[str]) -> None:
    process.terminate()
    try:
        process.wait(_PATIENCE)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
    for stream in (process.stdin, process.stdout):
        if stream is not None:
            stream.close()
