"""What stands before every route: hosts, origins and the headers that fence pages in."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOCAL = ("127.0.0.1", "localhost", "[::1]")
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


class Guards:
    """Refuses foreign hosts (DNS rebinding) and foreign origins (forged requests)."""

    def __init__(self, app: ASGIApp, host: str) -> None:
        self.app = app
        self.hosts = {*LOCAL, host}
        self.any_host = host in ("0.0.0.0", "::")

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refusal = self._refusal(scope["method"], headers)
        if refusal is not None:
            await JSONResponse({"detail": refusal}, status_code=403)(scope, receive, send)
            return

        async def fenced(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(_HEADERS)
            await send(message)

        await self.app(scope, receive, fenced)

    def _refusal(self, method: str, headers: Headers) -> str | None:
        host = headers.get("host", "")
        if not self.any_host and _bare(host) not in self.hosts:
            return f"This Oak Ledge does not answer under the name “{host}”; use 127.0.0.1."
        origin = headers.get("origin")
        foreign = origin is not None and urlsplit(origin).netloc != host
        if method not in ("GET", "HEAD") and foreign:
            return "This request comes from another site and was refused."
        return None


def _bare(host: str) -> str:
    """A host without its port."""
    return host.split("]")[0] + "]" if host.startswith("[") else host.split(":")[0]
