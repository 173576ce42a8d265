"""A stand-in as a program: begun, said where it is, served until it is told to end."""

from __future__ import annotations

import asyncio
import logging
import signal
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Literal

from oak_ledge.receivers.stand_ins.inbox import Inbox

Kind = Literal["lab", "marketplace", "sign"]
# Which stand-in speaks a receiver's way.
SPEAKS: dict[str, Kind] = {"sftp": "lab", "http": "marketplace", "webdav": "sign"}


@dataclass(frozen=True)
class Told:
    """How a stand-in is reached."""

    address: str
    user: str
    password: str
    host_key: str | None = None

    @property
    def lines(self) -> tuple[str, ...]:
        """What it prints when it is ready."""
        key = () if self.host_key is None else (f"host key: {self.host_key}",)
        return (
            f"address: {self.address}",
            f"user: {self.user}",
            f"password: {self.password}",
            *key,
        )


def run(
    kind: Kind, inbox: Inbox, host: str, port: int, password: str, ready: Callable[[Told], None]
) -> None:
    """Serve a stand-in until this process is told to end.

    Raises
    ------
    OSError
        If its address can't be had.
    """
    if kind == "lab":
        asyncio.run(_lab(inbox, host, port, password, ready))
        return
    from oak_ledge.receivers.stand_ins.web import USER, serve_web

    server = serve_web(inbox, host, port, password, dav=kind == "sign")
    over = threading.Event()
    for each in (signal.SIGTERM, signal.SIGINT):
        signal.signal(each, lambda *_: over.set())
    threading.Thread(target=server.serve, daemon=True).start()
    user = USER if kind == "sign" else "stall"
    ready(Told(f"http://{_host(host)}:{server.bind_addr[1]}/", user, password))
    over.wait()
    with suppress(Exception):  # it ends all the same
        server.stop()


async def _lab(
    inbox: Inbox, host: str, port: int, password: str, ready: Callable[[Told], None]
) -> None:
    from oak_ledge.receivers.stand_ins.sftp import USER, serve_sftp

    logging.getLogger("asyncio").setLevel(logging.ERROR)  # lines are dropped on purpose
    over = asyncio.Event()
    for each in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(each, over.set)
    served = await serve_sftp(inbox, host, port, password)
    ready(Told(f"sftp://{USER}@{_host(host)}:{served.port}/", USER, password, served.host_key))
    await over.wait()
    await served.end()


def _host(host: str) -> str:
    return f"[{host}]" if ":" in host else host
