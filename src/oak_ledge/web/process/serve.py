"""Listen and answer: the application under a server that says when it is ready."""

from __future__ import annotations

import gc
import socket
from collections.abc import Sequence

import uvicorn
from typing_extensions import override

from oak_ledge.core.pixels.process_setup import load_drawing
from oak_ledge.flows.recipe import judgement
from oak_ledge.flows.remote.dispatch import Elsewhere
from oak_ledge.flows.workspace import Workspace
from oak_ledge.web.app import make_app
from oak_ledge.web.pages.site import templates


def listen(host: str, port: int) -> socket.socket:
    """Take hold of an address; an OSError says why it can't be had."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # The protocol must be named, or asyncio does not send small answers at once (TCP_NODELAY).
    listening = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind((host, port))
    except OSError:
        listening.close()
        raise
    return listening


def serve(
    workspace: Workspace,
    listening: socket.socket,
    hosts: Sequence[str],
    elsewhere: Elsewhere | None = None,
) -> None:
    """Serve a workspace until it is told to stop, under local names and those of `hosts`."""
    host, port = listening.getsockname()[:2]
    for name in templates.env.list_templates():  # compiled now, the first page is not the slow one
        templates.env.get_template(name)
    judgement()  # worked out now, for the same reason
    load_drawing()
    settle_collector()
    config = uvicorn.Config(
        make_app(workspace, hosts, elsewhere), log_level="warning", server_header=False
    )
    server = _Server(config)
    server.place = f"http://[{host}]:{port}" if ":" in host else f"http://{host}:{port}"
    server.run(sockets=[listening])


def settle_collector() -> None:
    """Look for garbage in cycles less often, and never among what was loaded at the start.

    A job of 5,000 pieces makes a million small values that live for a second; looking through all of
    them again and again took a fifth of its time, and now and then a gesture's.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 100)


class _Server(uvicorn.Server):
    """Says where it can be found once it answers."""

    place = ""

    @override
    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        print(f"Oak Ledge is ready at {self.place}", flush=True)  # noqa: T201 - for people
