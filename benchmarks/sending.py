"""Sending, measured: 500 files over a line that breaks, its sender killed; and against a plain loop.

    python benchmarks/sending.py [files]

The first part sends through a forwarder that drops every connection each few seconds, and kills the
sender ten times. The second sends 100 files of 2 MB by SFTP and HTTP on loopback, by our sender and
by a plain loop of the same package, in turns.
"""

from __future__ import annotations

import asyncio
import hashlib
import os
import random
import resource
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path
from urllib.parse import urlsplit

import asyncssh
import numpy as np
import urllib3
from PIL import Image

from oak_ledge.core.files.digest import digest_header
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.receivers.way import HttpWay, SftpWay, Way
from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.sending.sendings import send_files
from oak_ledge.flows.workspace import open_workspace

BREAKS, KILLS = 3.0, 10
COMMAND = str(Path(sys.executable).with_name("oak-ledge"))


class StandIn:
    """A stand-in that takes anything, as its own program."""

    def __init__(self, kind: str, folder: Path) -> None:
        rules = folder.with_suffix(".json")
        rules.write_text(Receiver(name="any").model_dump_json())
        command = [COMMAND, "stand-in", kind, "--into", str(folder), "--takes", str(rules)]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        lines = [self.process.stdout.readline() for _ in range(4 if kind == "lab" else 3)]
        self.told = dict(line.strip().split(": ", 1) for line in lines)

    def way(self, port: int | None = None) -> Way:
        url = self.told["address"]
        if port is not None:
            url = url.replace(str(urlsplit(url).port), str(port))
        if "host key" in self.told:
            return SftpWay(url=url, secret="env:QUAY", host_key=self.told["host key"])
        return HttpWay(url=url, secret="env:QUAY")


def forward(to: int) -> int:
    """Forward connections to a port, and drop all of them every few seconds; give where."""
    listening = socket.create_server(("127.0.0.1", 0))
    alive: list[socket.socket] = []

    def pump(source: socket.socket, sink: socket.socket) -> None:
        try:
            while data := source.recv(65536):
                sink.sendall(data)
        except OSError:
            pass
        for each in (source, sink):
            each.close()

    def accept() -> None:
        while True:
            here, _ = listening.accept()
            try:
                there = socket.create_connection(("127.0.0.1", to))
            except OSError:
                here.close()
                continue
            alive.extend([here, there])
            for pair in ((here, there), (there, here)):
                threading.Thread(target=pump, args=pair, daemon=True).start()

    def drop() -> None:
        while True:
            time.sleep(BREAKS)
            for each in alive:
                with suppress(OSError):
                    each.shutdown(socket.SHUT_RDWR)
            alive.clear()

    for what in (accept, drop):
        threading.Thread(target=what, daemon=True).start()
    return int(listening.getsockname()[1])


def pictures(folder: Path, count: int, weight: int) -> list[Path]:
    """Pictures of about so many bytes, each another."""
    folder.mkdir()
    rng = np.random.default_rng(3)
    edge = max(8, int((weight / 3) ** 0.5))
    files = []
    for number in range(count):
        path = folder / f"p{number:03}.tif"
        Image.fromarray(rng.integers(0, 255, (edge, edge, 3), dtype=np.uint8)).save(path)
        files.append(path)
    return files


def broken(kind: str, count: int) -> None:
    """Send over a line that breaks, with a sender that is killed; tell what arrived."""
    with tempfile.TemporaryDirectory() as name:
        base = Path(name)
        files, there = pictures(base / "files", count, 400_000), base / "there"
        stand_in = StandIn(kind, there)
        os.environ["QUAY"] = stand_in.told["password"]
        way = stand_in.way(forward(urlsplit(stand_in.told["address"]).port or 0))
        rules = base / "pier.json"
        rules.write_text(Receiver(name="Pier", way=way).model_dump_json())
        subprocess.run(
            [COMMAND, "receivers", "add", rules, "--data", base / "data"],
            check=True,
            stdout=subprocess.DEVNULL,
        )
        command = [COMMAND, "send", *map(str, files), "--to", "pier", "--data", str(base / "data")]
        begun, killed = time.monotonic(), 0
        while True:
            sender = subprocess.Popen(command, stdout=subprocess.DEVNULL)
            try:
                code = sender.wait(random.uniform(4, 9) if killed < KILLS else None)
                if code == 0 or killed >= KILLS:
                    break
            except subprocess.TimeoutExpired:
                sender.send_signal(signal.SIGKILL)
                sender.wait()
                killed += 1
        took = time.monotonic() - begun
        arrived = {path.name: path.read_bytes() for path in there.glob("*.tif")}
        whole = sum(arrived.get(path.name) == path.read_bytes() for path in files)
        half = len([*there.glob("*.part")])
        print(f"{kind}: {whole} of {count} whole, {len(arrived)} names, {half} half there, "
              f"{killed} kills, exit {code}, {took:.0f} s")  # fmt: skip
        stand_in.process.terminate()
        stand_in.process.wait()


async def plain_sftp(way: SftpWay, files: list[Path]) -> None:
    place = urlsplit(way.url)
    key = asyncssh.import_public_key(way.host_key or "")
    async with (
        asyncssh.connect(place.hostname, place.port, username=place.username, config=None, client_keys=None,
                         password=os.environ["QUAY"], known_hosts=([key], [], [])) as connection,
        connection.start_sftp_client() as client,
    ):  # fmt: skip
        for file in files:
            await client.put(str(file), f"{file.name}.part")
            await client.posix_rename(f"{file.name}.part", file.name)


def plain_http(way: HttpWay, files: list[Path]) -> None:
    pool = urllib3.PoolManager(retries=False)
    for file in files:
        data = file.read_bytes()
        headers = {"Authorization": f"Bearer {os.environ['QUAY']}",
                   "Content-Digest": digest_header(hashlib.sha256(data).digest())}  # fmt: skip
        assert pool.request("PUT", way.url + file.name, body=data, headers=headers).status == 201


def now() -> datetime:
    return datetime.now(UTC)  # noqa: TID251 - as the command does


def throughput(kind: str, count: int, rounds: int = 3) -> None:
    """Send the same files by our sender and by a plain loop, in turns; tell the ratio."""
    with tempfile.TemporaryDirectory() as name:
        base = Path(name)
        files = pictures(base / "files", count, 2_000_000)
        stand_in = StandIn(kind, base / "there")
        os.environ["QUAY"] = stand_in.told["password"]
        way = stand_in.way()
        workspace = open_workspace(base / "data", Limits())
        receivers.add(workspace, Receiver(name="Pier", way=way))
        kept = receivers.called(workspace, "Pier")
        ours, plain = [], []
        for _ in range(rounds):
            begun = time.monotonic()
            if isinstance(way, SftpWay):
                asyncio.run(plain_sftp(way, files))
            else:
                assert isinstance(way, HttpWay)
                plain_http(way, files)
            plain.append(time.monotonic() - begun)
            begun = time.monotonic()
            sent = send_files(workspace, kept, files, now, again=True)
            ours.append(time.monotonic() - begun)
            assert all(sending.state == "accepted" for sending in sent)
        held = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
        print(f"{kind}: plain {min(plain):.2f} s, ours {min(ours):.2f} s with rules and records, "
              f"throughput ×{min(plain) / min(ours):.2f}; {held:.0f} MB at most")  # fmt: skip
        stand_in.process.terminate()
        stand_in.process.wait()


if __name__ == "__main__":
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    for which in ("lab", "marketplace"):
        throughput(which, min(100, many))
    for which in ("lab", "marketplace"):
        broken(which, many)
