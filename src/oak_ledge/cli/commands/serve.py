"""`demo` and `serve`: one server of a data folder."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from functools import partial
from pathlib import Path
from socket import socket
from typing import TYPE_CHECKING

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import LOCK, alone, config_of, now, opened, queue_of
from oak_ledge.cli.options import Data, Host, Port, RedisQueue, Token, Workers
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail, or_wrong_call
from oak_ledge.config import Config
from oak_ledge.store.errors import disk_words

if TYPE_CHECKING:
    from oak_ledge.flows.delivery.queue import Queue
    from oak_ledge.flows.remote.dispatch import Elsewhere
    from oak_ledge.flows.workspace import Workspace


@app.command()
def demo(data: Data = None, host: Host = None, port: Port = None) -> None:
    """Seed a data folder with the demo when it is empty, then serve it."""
    _serve(config_of(data=data, host=host, port=port), with_demo=True)


@app.command()
def serve(
    data: Data = None,
    host: Host = None,
    port: Port = None,
    workers: Workers = None,
    queue: RedisQueue = None,
    token: Token = None,
) -> None:
    """Serve a data folder."""
    config = config_of(data=data, host=host, port=port, workers=workers, queue=queue, token=token)
    _serve(config, with_demo=False)


def _serve(config: Config, *, with_demo: bool) -> None:
    """Serve, once the address is ours. The web is imported here: making files needs none of it."""
    from oak_ledge.flows.walls.readers import usual_readers
    from oak_ledge.web.process.remote import HandingOut
    from oak_ledge.web.process.senders import Senders
    from oak_ledge.web.process.serve import serve
    from oak_ledge.web.process.standing import StandingOrders
    from oak_ledge.web.process.workers import Workers as OwnWorkers

    listening, hosts = _listening(config)
    data = config.data
    only = alone(  # two servers of a folder would take each other's work for lost
        data / LOCK,
        held=f"{data} is served already. Use that server, or choose another --data",
        unusable=f"{data} cannot be used as data folder",
        patience=2,  # one that is just being ended lets go soon
    )
    with closing(listening), only:
        workspace = opened(config)
        queue = queue_of(workspace)
        elsewhere = None if config.queue is None else _elsewhere(config, workspace)
        or_wrong_call(partial(_begin, workspace, with_demo=with_demo))
        ask: Callable[[int], None] = queue.ask
        if elsewhere is not None:
            ask = partial(_ask_all, queue, elsewhere)
        count = (os.cpu_count() or 1) if config.workers == "auto" else config.workers
        readers = usual_readers()
        workspace = replace(workspace, ask=ask, anyone=partial(_anyone, count, elsewhere))
        if readers is not None:
            workspace = replace(workspace, read=readers.read)
        workers = OwnWorkers(workspace, count, now)
        workers.start()
        standing = StandingOrders(workspace)
        standing.start()
        senders = Senders(workspace, now)
        senders.start()
        if elsewhere is not None:
            HandingOut(elsewhere, now).start()
        signal.signal(signal.SIGTERM, lambda *_: sys.exit())  # so that `finally` is done
        try:
            serve(workspace, listening, [config.host, *hosts], elsewhere)
        finally:
            senders.stop()
            standing.stop()
            workers.stop()
            if readers is not None:
                readers.close()


def _listening(config: Config) -> tuple[socket, list[str]]:
    """Take hold of the address, and say under which names it is asked; a wrong call ends here."""
    from oak_ledge.web.guards import EVERY_ADDRESS
    from oak_ledge.web.process.serve import listen

    hosts = [name.strip() for name in config.allowed_hosts.split(",") if name.strip()]
    if config.host in EVERY_ADDRESS and not hosts:
        fail(
            CALL_IS_WRONG,
            f"--host {config.host} listens on every address, so say under which names it may be "
            "asked: OAK_LEDGE_ALLOWED_HOSTS=studio.local,192.168.1.20",
        )
    try:
        listening = listen(config.host, config.port)
    except OSError as exc:
        place = f"{config.host}:{config.port}"
        why = exc.strerror or exc
        fail(CALL_IS_WRONG, f"cannot listen on {place}: {why}. Choose another with --port")
    return listening, hosts


def _begin(workspace: Workspace, *, with_demo: bool) -> None:
    """Put right what a kill left, and give a new folder its sizes, and the demo where it is wished."""
    from oak_ledge.flows.jobs import jobs
    from oak_ledge.flows.library.sizes import add_starters
    from oak_ledge.flows.workspace import recover

    recover(workspace)
    jobs.clean_up(workspace, now())
    add_starters(workspace)
    if with_demo and not jobs.every(workspace).whole:
        _lay_out_demo(workspace.data)


def _lay_out_demo(data: Path) -> None:
    """Lay out the demo in a process of its own; where it can't, that process has said why."""
    import subprocess

    done = subprocess.run([sys.executable, "-m", "oak_ledge.demo", str(data)], check=False)
    if done.returncode:
        raise SystemExit(CALL_IS_WRONG)
    print("The demo was laid out.", flush=True)


def _elsewhere(config: Config, workspace: Workspace) -> Elsewhere:
    """Open the way to workers on other machines; their token, just made, is shown this once."""
    from oak_ledge.flows.errors import TokenError
    from oak_ledge.flows.remote.dispatch import Elsewhere
    from oak_ledge.flows.remote.ticket_queue import Post
    from oak_ledge.flows.remote.token import key_for

    assert config.queue is not None
    try:
        key, token = key_for(workspace.data, config.token)
        post = Post(config.queue, key)
    except TokenError as exc:
        fail(CALL_IS_WRONG, f"--token can't be used: {exc}")
    except ValueError as exc:
        fail(CALL_IS_WRONG, f"--queue {config.queue} is no address of a Redis: {exc}")
    except OSError as exc:
        fail(CALL_IS_WRONG, disk_words(exc))
    if token is not None:
        print(f"The token of workers on other machines, shown this once: {token}", flush=True)
    return Elsewhere(workspace, key, post)


def _ask_all(queue: Queue, elsewhere: Elsewhere, times: int) -> None:
    """Ask the workers beside the server, and those elsewhere."""
    queue.ask(times)
    elsewhere.look.set()


def _anyone(count: int, elsewhere: Elsewhere | None) -> bool:
    """Return whether a worker is there, beside the server or elsewhere."""
    return count > 0 or (elsewhere is not None and bool(elsewhere.presence.machines(now())))
