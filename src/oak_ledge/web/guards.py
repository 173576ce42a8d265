"""What stands before every route: hosts, origins, the size of a body, and the headers of every address."""

from __future__ import annotations

import logging
import re
from collections.abc import Collection
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOCAL = ("127.0.0.1", "localhost", "[::1]")
EVERY_ADDRESS = ("0.0.0.0", "::")
MOST_BODY = 16_000_000  # bytes of a call; a receiver's profile of 4 MB travels as base64
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
    """Refuses foreign hosts (DNS rebinding), foreign origins (forged requests) and endless bodies;
    fences every address in, also a refusal, and one to a failure of our own.
    """

    def __init__(self, app: ASGIApp, hosts: Collection[str], most_upload: int) -> None:
        self.app = app
        self.hosts = {host.lower() for host in (*LOCAL, *hosts)}
        self.most_upload = most_upload

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        begun = False

        async def fenced(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                MutableHeaders(scope=message).update(_HEADERS)
            await send(message)

        headers = Headers(scope=scope)
        refusal = self._refusal(scope["method"], scope["scheme"], headers)
        if refusal is not None:
            await JSONResponse({"detail": refusal}, 403)(scope, receive, fenced)
            return
        large = scope["path"] == "/api/photos" or scope["path"].startswith("/api/work/")
        most = self.most_upload if large else MOST_BODY
        try:
            await self.app(scope, _counted(receive, headers, most), fenced)
        except _TooLargeError:
            if not begun:
                words = f"This call is larger than {most // 1_000_000} MB, the most that is taken at once."
                away = {"Connection": "close"}
                await JSONResponse({"detail": words}, 413, away)(scope, receive, fenced)
        except Exception:
            logging.getLogger("oak_ledge").exception("%s %s failed", scope["method"], scope["path"])
            if not begun:
                await JSONResponse({"detail": WENT_WRONG}, 500)(scope, receive, fenced)
            else:
                raise

    def _refusal(self, method: str, scheme: str, headers: Headers) -> str | None:
        host = _HOST.fullmatch(headers.get("host", ""))
        if host is None or host[1].lower() not in self.hosts:
            return "This Oak Ledge does not address under that name; use 127.0.0.1."
        origin = headers.get("origin")
        if method not in ("GET", "HEAD") and origin is not None:
            here = f"{scheme}://{host[1].lower()}:{host[2] or _PORTS.get(scheme, '')}"
            if _whole(origin) != here:
                return "This request comes from another site and was refused."
        return None


def _whole(origin: str) -> str | None:
    """Give an origin with its port (RFC 6454, 6.1); None where it is none."""
    try:
        address = urlsplit(origin)
        port = address.port
    except ValueError:
        return None
    host = address.hostname or ""
    name = f"[{host}]" if ":" in host else host
    return f"{address.scheme}://{name}:{port or _PORTS.get(address.scheme, '')}"


def _counted(receive: Receive, headers: Headers, most: int) -> Receive:
    """Hand a body on while it arrives, and cut it off where it is too large."""
    said = headers.get("content-length", "")
    arrived = int(said) if said.isdecimal() and len(said) < 19 else 0

    async def counted() -> Message:
        nonlocal arrived
        if arrived > most:
            raise _TooLargeError
        message = await receive()
        if message["type"] == "http.request" and not said:
            arrived += len(message.get("body", b""))
            if arrived > most:
                raise _TooLargeError
        return message

    return counted
