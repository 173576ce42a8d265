"""A reader whose decoder does what a file tells it to: what a flaw in a real one could be made to do."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
from pathlib import Path

from oak_ledge.core.errors import PhotoError
from oak_ledge.flows.walls import reader


def misled(file: Path, **limits: object) -> None:
    word, _, rest = file.read_text().partition(" ")
    doing = {
        "crash": os.abort,
        "hang": lambda: time.sleep(1e6),
        "work": lambda: [None for _ in iter(int, 1)],
        "remember": lambda: bytearray(20_000_000_000),
        "look": lambda: Path(rest).read_bytes(),
        "list": lambda: [*Path(rest).iterdir()],
        "write": lambda: Path(rest).write_bytes(b"mine"),
        "remove": lambda: Path(rest).unlink(),
        "rename": lambda: Path(rest).rename(f"{rest}.taken"),
        "connect": lambda: socket.create_connection(("127.0.0.1", int(rest)), 2),
        "run": lambda: subprocess.run(["/bin/true"], check=True),
        "fork": os.fork,
        "kill": lambda: os.kill(int(rest), 9),
        "lie": lambda: os.write(
            max(int(one.name) for one in Path("/proc/self/fd").iterdir()), b"\xff" * 9
        ),
    }
    try:
        doing[word]()
    except OSError as exc:
        sys.exit(f"{exc.errno}")  # as a crash: it did not come to what it was to do
    msg = "it did what it was told"
    raise PhotoError(msg)


reader.look_at = misled  # type: ignore[assignment, attr-defined]

if __name__ == "__main__":
    reader.main(int(sys.argv[1]))
