"""Stand-ins that take files by HTTP: a marketplace by PUT alone, a sign by WebDAV."""

from __future__ import annotations

import base64
import errno
import hashlib
import json
import secrets
import socket
import tempfile
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any, cast
from urllib.parse import unquote

from cheroot.wsgi import Gateway_10, Server
from typing_extensions import override
from wsgidav.fs_dav_provider import FilesystemProvider
from wsgidav.wsgidav_app import WsgiDAVApp

from oak_ledge.core.files.digest import digest_header
from oak_ledge.receivers.stand_ins.inbox import SLOW, Inbox, is_shown

# Who signs in at the sign.
USER = "quay"
Environ = dict[str, Any]
Start = Callable[[str, list[tuple[str, str]]], object]
App = Callable[[Environ, Start], Iterable[bytes]]
_SOCKET = "stand_in.socket"
_CHUNK = 1 << 16
# The number of the first ticket.
_FIRST_TICKET = 1021


def serve_web(inbox: Inbox, host: str, port: int, password: str, *, dav: bool) -> Server:
    """Return a server that is bound; `start` serves until `stop`. OSError: the address can't be had."""
    app = Gate(inbox, password, _dav(inbox.folder) if dav else _Stall(inbox), dav=dav)
    server = Server((host, port), app, numthreads=8, server_name="stand-in", timeout=60)
    server.gateway = _Gateway
    server.prepare()
    return server


class _Gateway(Gateway_10):
    """Hands the socket along, so that a line can be dropped in the middle of a file."""

    @override
    def get_environ(self) -> Any:
        environ: Environ = super().get_environ()  # type: ignore[no-untyped-call]
        return {**environ, _SOCKET: self.req.conn.socket}


@dataclass
class Gate:
    """What stands before a stand-in's files: who may come in, its faults, its rules."""

    inbox: Inbox
    password: str
    beyond: App
    dav: bool

    def __call__(self, environ: Environ, start: Start) -> Iterable[bytes]:
        """Answer one call."""
        if not self._may_come_in(environ.get("HTTP_AUTHORIZATION", "")):
            who = [("WWW-Authenticate", 'Basic realm="stand-in"')]
            return _problem(start, "401 Unauthorized", "sign in first", who)
        if environ["REQUEST_METHOD"] != "PUT":
            return self.beyond(environ, start)
        return self._taken(environ, start)

    def _may_come_in(self, header: str) -> bool:
        kind, _, given = header.partition(" ")
        if kind.lower() == "bearer":
            return secrets.compare_digest(unquote(given).encode(), self.password.encode())
        try:
            user, _, secret = base64.b64decode(given).decode().partition(":")
        except ValueError:
            return False
        right = secrets.compare_digest(secret.encode(), self.password.encode())
        return right and (not self.dav or user == USER)

    def _taken(self, environ: Environ, start: Start) -> Iterable[bytes]:
        name = unquote(environ["PATH_INFO"].rsplit("/", 1)[-1])
        drops = self.inbox.begins()
        with tempfile.NamedTemporaryFile(dir=self.inbox.folder, prefix=".", suffix=".part") as part:
            digest = _read(environ, cast(IO[bytes], part), drops=drops)
            if digest is None:
                return ()
            if self.inbox.fault == "slow":
                time.sleep(SLOW)
            told = environ.get("HTTP_CONTENT_DIGEST")
            if told is not None and told != digest_header(digest):
                return _problem(start, "400 Bad Request", "its digest is another: it came damaged")
            if not name or not is_shown(name):
                return _problem(start, "400 Bad Request", "a file needs a name")
            reasons = self.inbox.judge(Path(part.name), name)
            if reasons:
                return _problem(start, "422 Unprocessable Content", "; ".join(reasons))
            part.seek(0)
            return list(self.beyond({**environ, "wsgi.input": part}, start))


def _read(environ: Environ, part: IO[bytes], *, drops: bool) -> bytes | None:
    """Write what arrives into a file; return its SHA-256, None where the sender went away."""
    left, digest = int(environ.get("CONTENT_LENGTH") or 0), hashlib.sha256()
    half = left // 2
    step = min(_CHUNK, max(1, half)) if drops else _CHUNK
    while left:
        if drops and left <= half:
            line: socket.socket = environ[_SOCKET]
            line.shutdown(socket.SHUT_RDWR)
            raise ConnectionResetError(errno.ECONNRESET, "the line is dropped")
        piece = environ["wsgi.input"].read(min(left, step))
        if not piece:
            return None
        digest.update(piece)
        part.write(piece)
        left -= len(piece)
    part.flush()
    return digest.digest()


@dataclass
class _Stall:
    """A marketplace's listing: each picture gets a ticket."""

    inbox: Inbox

    def __call__(self, environ: Environ, start: Start) -> Iterable[bytes]:
        if environ["REQUEST_METHOD"] != "PUT":
            return _problem(start, "405 Method Not Allowed", "pictures are put here (PUT)")
        name = unquote(environ["PATH_INFO"].rsplit("/", 1)[-1])
        kept = self.inbox.folder / f".{secrets.token_hex(8)}.part"
        with kept.open("xb") as file:
            while piece := environ["wsgi.input"].read(_CHUNK):
                file.write(piece)
        ticket = _FIRST_TICKET - 1 + self.inbox.take(kept, name)
        body = json.dumps({"ticket": ticket}).encode()
        start(
            "201 Created",
            [("Content-Type", "application/json"), ("Content-Length", str(len(body)))],
        )
        return [body]


def _dav(folder: Path) -> App:
    """Return a folder reached by WebDAV; who comes in has been asked before."""
    return cast(App, WsgiDAVApp(
        {
            "provider_mapping": {"/": FilesystemProvider(str(folder))},
            "simple_dc": {"user_mapping": {"*": True}},
            "dir_browser": {"enable": False},
            "verbose": 0,
            "logging": {"enable": False},
        }
    ))  # fmt: skip


def _problem(
    start: Start, status: str, detail: str, headers: Iterable[tuple[str, str]] = ()
) -> Iterable[bytes]:
    """Answer what is wrong (RFC 9457)."""
    content = {"title": status.partition(" ")[2], "status": int(status[:3]), "detail": detail}
    body = json.dumps(content).encode()
    kind = ("Content-Type", "application/problem+json")
    start(status, [kind, ("Content-Length", str(len(body))), *headers])
    return [body]
