"""Stand-ins that are really reached over sockets, within this process."""

from __future__ import annotations

from contextlib import ExitStack
from threading import Thread

import pytest
from anyio.from_thread import start_blocking_portal

from oak_ledge.core.receivers.starters import STARTERS
from oak_ledge.core.receivers.way import HttpWay, SftpWay, WebDavWay
from oak_ledge.receivers.stand_ins.inbox import Inbox
from oak_ledge.receivers.stand_ins.sftp import USER, serve_sftp
from oak_ledge.receivers.stand_ins.web import USER as QUAY, serve_web

PASSWORD = "lantern"


def begin(stack, kind, folder, fault=None, takes=None):
    """Begin a stand-in; give the way that leads to it."""
    folder.mkdir(parents=True, exist_ok=True)
    inbox = Inbox(folder, takes or STARTERS[kind].takes, fault)
    if kind == "lab":
        portal = stack.enter_context(start_blocking_portal())
        served = portal.call(serve_sftp, inbox, "127.0.0.1", 0, PASSWORD)
        stack.callback(portal.call, served.end)
        url = f"sftp://{USER}@127.0.0.1:{served.port}/"
        return SftpWay(url=url, host_key=served.host_key, secret="env:QUAY_SECRET")
    server = serve_web(inbox, "127.0.0.1", 0, PASSWORD, dav=kind == "sign")
    Thread(target=server.serve, daemon=True).start()
    stack.callback(server.stop)
    url = f"http://127.0.0.1:{server.bind_addr[1]}/"
    if kind == "sign":
        return WebDavWay(url=f"{url}now/here", user=QUAY, secret="env:QUAY_SECRET")
    return HttpWay(url=url, secret="env:QUAY_SECRET")


@pytest.fixture
def stand_in(tmp_path, monkeypatch):
    """Begin stand-ins that end with the test."""
    monkeypatch.setenv("QUAY_SECRET", PASSWORD)
    with ExitStack() as stack:
        yield lambda kind, *rest, **more: begin(stack, kind, tmp_path / kind, *rest, **more)
