"""What stands before every route: hosts, origins, the size of a body, and the headers of every address."""

from __future__ import annotations

import ctypes
import gc
import logging
import re
from collections.abc import Collection
from contextlib import suppress
from typing import cast
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.flows.remote.dispatch import Elsewhere
from oak_ledge.flows.remote.token import is_same

LOCAL = ("127.0.0.1", "localhost", "[::1]")
EVERY_ADDRESS = ("0.0.0.0", "::")
# Bytes of a call; a receiver's profile of 4 MB travels as base64.
MOST_BODY = 16_000_000
# Bytes of what a worker on another machine says, its files aside.
MOST_WORDS = 65_536
# Bytes of a body whose memory is given back at once.
LARGE = 1_000_000
_PORTS = {"http": "80", "https": "443"}
_HOST = re.compile(r"(\[[0-9a-f:.]+\]|[a-z0-9_.-]+)(?::(\d{1,5}))?", re.IGNORECASE)
_HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
        "img-src 'self' blob:; connect-src 'self'; form-action 'self'; base-uri 'none'; "
        "frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
WENT_WRONG = (
    "Something went wrong inside Oak Ledge; nothing was kept of this call. Try again. If it happens "
    "again, what the server printed says where."
)


class _TooLargeError(Exception):
    """A body is larger than is taken."""


class Guards:
    """Refuses foreign hosts (DNS rebinding), foreign origins (forged requests) and endless bodies.

    It fences every address in, also that of a refusal or of a failure of our own.
    """

    def __init__(self, app: ASGIApp, hosts: Collection[str], most_upload: int) -> None:
        self.app = app
        self.hosts = {host.lower() for host in (*LOCAL, *hosts)}
        self.most_upload = most_upload

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request, or refuse it before the application sees it."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        begun = gone = False

        async def fenced(message: Message) -> None:
            nonlocal begun, gone
            if message["type"] == "http.response.start":
                begun = True
                MutableHeaders(scope=message).update(_HEADERS)
            try:
                await send(message)
            except OSError:
                gone = True
                raise

        headers = Headers(scope=scope)
        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await refusal(scope, receive, fenced)
            return
        most = self._most_of(scope["method"], scope["path"])
        counted = _Counted(receive, headers, most)
        try:
            await self.app(scope, counted, fenced)
        except _TooLargeError:
            if not begun:
                words = (
                    f"This call is larger than {bytes_words(most)}, the most that is taken at once."
                )
                away = {"Connection": "close"}
                await JSONResponse({"detail": words}, 413, away)(scope, receive, fenced)
        except ClientDisconnect:  # nobody is there to be answered
            return
        except Exception:
            if gone:  # whoever asked: what went wrong then is only that
                return
            logging.getLogger("oak_ledge").exception("%s %s failed", scope["method"], scope["path"])
            if not begun:
                await JSONResponse({"detail": WENT_WRONG}, 500)(scope, receive, fenced)
            else:
                raise
        finally:
            if counted.arrived > LARGE and most <= MOST_BODY:
                give_back()

    def _most_of(self, method: str, path: str) -> int:
        """Return how many bytes a call may have; what brings files in may have more."""
        if path.startswith("/api/work/"):
            return self.most_upload if method == "PUT" else MOST_WORDS
        return self.most_upload if path == "/api/photos" else MOST_BODY

    def _refusal(self, scope: Scope, headers: Headers) -> JSONResponse | None:
        """Return what is answered before a byte of the body is read; None to let the call in."""
        named = headers.getlist("host")
        host = _HOST.fullmatch(named[0]) if len(named) == 1 else None
        if len(named) > 1:
            return _refused("The call names two hosts. Send one Host header.", 400)
        if host is None or host[1].lower() not in self.hosts:
            name = clipped(named[0]) if named else "no name"
            return _refused(f"Oak Ledge does not answer to that name here ({name}). Use 127.0.0.1.")
        origin = headers.get("origin")
        if scope["method"] not in ("GET", "HEAD") and origin is not None:
            here = f"{scope['scheme']}://{host[1].lower()}:{host[2] or _PORTS.get(scope['scheme'], '')}"
            if _whole(origin) != here:
                return _refused("This request comes from another site and was refused.")
        if scope["path"].startswith("/api/work/"):
            return self._worker_refusal(scope, headers)
        return None

    @staticmethod
    def _worker_refusal(scope: Scope, headers: Headers) -> JSONResponse | None:
        """Refuse who has not the token of this server's workers."""
        here = cast("Elsewhere | None", scope["app"].state.elsewhere)
        if here is None:
            words = "This server takes no workers of other machines. Start it with --queue."
            return _refused(words, 404)
        kind, _, token = headers.get("authorization", "").partition(" ")
        if kind.lower() != "bearer" or not is_same(here.key, token.strip()):
            words = "This is not the token of this server's workers."
            return _refused(words, 401, {"WWW-Authenticate": "Bearer"})
        return None


def _refused(words: str, status: int = 403, headers: dict[str, str] | None = None) -> JSONResponse:
    """Answer a call whose body is not read, and so end its connection."""
    return JSONResponse({"detail": words}, status, {"Connection": "close"} | (headers or {}))


def give_back() -> None:
    """Return to the system the memory of a large body, also where a cycle still holds what was wrong with it."""
    gc.collect()
    with suppress(OSError, AttributeError):  # glibc's; elsewhere there is none
        ctypes.CDLL(None).malloc_trim(0)


def _whole(origin: str) -> str | None:
    """Return an origin with its port (RFC 6454, 6.1); None where it is none, such as one with a user."""
    if "@" in origin:
        return None
    try:
        address = urlsplit(origin)
        port = address.port
    except ValueError:
        return None
    host = address.hostname or ""
    name = f"[{host}]" if ":" in host else host
    return f"{address.scheme}://{name}:{port or _PORTS.get(address.scheme, '')}"


class _Counted:
    """Hands a body on while it arrives, and cuts it off where it is too large."""

    def __init__(self, receive: Receive, headers: Headers, most: int) -> None:
        text = headers.get("content-length", "")
        self.receive, self.most, self.said = receive, most, text
        self.arrived = int(text) if text.isdecimal() and len(text) < 19 else 0

    async def __call__(self) -> Message:
        if self.arrived > self.most:
            raise _TooLargeError
        message = await self.receive()
        if message["type"] == "http.request" and not self.said:
            self.arrived += len(message.get("body", b""))
            if self.arrived > self.most:
                raise _TooLargeError
        return message
