"""`work`: a worker, beside the server or on another machine."""

from __future__ import annotations

import logging
import os
import sys
import threading
import time
from contextlib import suppress
from typing import TYPE_CHECKING, Annotated
from uuid import uuid4

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of, let_others_first, now, opened, queue_of
from oak_ledge.cli.lazy_import import never_load
from oak_ledge.cli.options import Data, RedisQueue, Token, UntilInputEnds
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail
from oak_ledge.store.errors import StoreError

if TYPE_CHECKING:
    from oak_ledge.config import Config
    from oak_ledge.flows.remote.worker import Worker

# Seconds between two words of a worker elsewhere that it is there.
ALIVE = 4.0


@app.command()
def work(
    data: Data = None,
    server: Annotated[
        str | None,
        typer.Option(metavar="http://HOST:PORT", help="the server, from another machine"),
    ] = None,
    queue: RedisQueue = None,
    token: Token = None,
    called: Annotated[
        str | None, typer.Option(hidden=True, help="the name it claims files under")
    ] = None,
    until_input_ends: UntilInputEnds = False,
) -> None:
    """Make files for a server: beside it, from its data folder, or on another machine."""
    let_others_first(until_input_ends=until_input_ends)
    if server is not None:
        if data is not None:
            fail(CALL_IS_WRONG, "give either --data, beside the server, or --server, elsewhere")
        _work_elsewhere(config_of(queue=queue, token=token), server)
    else:
        _work_beside(config_of(data=data), called or uuid4().hex)


def _work_beside(config: Config, name: str) -> None:
    never_load("redis")  # the queue's package would; only work on other machines needs it
    from oak_ledge.flows.delivery.filling import AtWork
    from oak_ledge.flows.delivery.workshop import make_what_waits
    from oak_ledge.web.process.workers import begin_anew_if_cancelled, say_alive

    workspace, at_work = opened(config), AtWork()

    def make() -> None:
        try:
            make_what_waits(workspace, name, now, at_work)
        except StoreError as exc:  # what it was at goes back once its lease ends
            print(f"oak-ledge: {exc}", file=sys.stderr)

    queue = queue_of(workspace, make)
    say_alive(workspace, name, now)
    begin_anew_if_cancelled(workspace, name, at_work)
    queue.ask(1)  # what waited while this one was not there
    queue.work()


def _work_elsewhere(config: Config, server: str) -> None:
    """Work for a server on another machine until told to end; its network may go and come."""
    import socket

    from oak_ledge.flows.errors import RefusedError, ServerError
    from oak_ledge.flows.remote.originals import Originals
    from oak_ledge.flows.remote.server_client import Line
    from oak_ledge.flows.remote.ticket_queue import Post
    from oak_ledge.flows.remote.token import key_of
    from oak_ledge.flows.remote.worker import Worker

    if config.queue is None or config.token is None:
        missing = "--queue redis://…" if config.queue is None else "--token …"
        fail(CALL_IS_WRONG, f"--server needs {missing} too, as the server was started with")
    logging.basicConfig(format="oak-ledge: %(message)s", level=logging.WARNING)
    logging.getLogger("huey").setLevel(logging.CRITICAL)  # it tells each try as a fault
    try:
        line = Line(server, config.token)
    except RefusedError as exc:
        fail(CALL_IS_WRONG, str(exc))
    originals = Originals(
        config.cache,
        config.most_cache_mb * 1_000_000,
        lambda digest: line.fetch(f"/api/work/originals/{digest}"),
    )
    machine = f"{socket.gethostname()[:60] or 'another machine'} ({os.getpid()})"
    worker = Worker(line, originals, config.limits, key_of(config.token), machine)
    try:
        originals.tidy()
        post = Post(config.queue, worker.key, worker.take)
    except ValueError as exc:
        fail(CALL_IS_WRONG, f"--queue {config.queue} is no address of a Redis: {exc}")
    except OSError as exc:
        fail(CALL_IS_WRONG, f"{config.cache} cannot be used: {exc.strerror or exc}")
    name = uuid4().hex
    try:
        _say_here(worker, name, patience=ALIVE)
        print(f"Making files for {server}.", flush=True)
    except RefusedError as exc:
        fail(CALL_IS_WRONG, str(exc))
    except ServerError as exc:
        print(f"{exc}. It is asked again until it answers.", file=sys.stderr, flush=True)
    threading.Thread(target=_stay_in_touch, args=(worker, name), daemon=True).start()
    post.work()
    with suppress(ServerError):
        line.post(f"/api/work/gone/{name}", patience=0)


def _say_here(worker: Worker, name: str, patience: float) -> None:
    """Report that this worker is there, and what it works on; hear whether that is still wanted."""
    from oak_ledge.flows.recipe import recipe

    ticket = worker.ticket
    fields = {"worker": name, "machine": worker.machine, "recipe": recipe(), "ticket": ticket}
    answer = worker.line.post("/api/work/here", fields, patience)
    if answer["wanted"] or worker.ticket != ticket:
        return
    worker.gone.set()
    if worker.filling:  # it can't be stopped from within: the process begins anew in its own place
        os.execv(sys.executable, [sys.executable, *sys.orig_argv[1:]])


def _stay_in_touch(worker: Worker, name: str) -> None:
    from oak_ledge.flows.errors import RefusedError, ServerError

    while True:
        time.sleep(ALIVE)
        try:
            _say_here(worker, name, patience=0)
        except RefusedError as exc:
            print(f"oak-ledge: {exc}", file=sys.stderr, flush=True)
            os._exit(CALL_IS_WRONG)
        except ServerError:
            continue  # said again soon, before the lease has ended
