"""The way of a worker to its server: HTTP with the token, tried again while the network is away."""

from __future__ import annotations

import json
import logging
import random
import time
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import urllib3
from urllib3.exceptions import HTTPError

from oak_ledge.core.files.digest import digest_header
from oak_ledge.core.pixels.prove.measure import file_hash
from oak_ledge.flows.errors import GoneError, RefusedError, ServerError
from oak_ledge.store.folders import CHUNK

# Seconds a call is tried again: by then its ticket has long been given to another.
PATIENCE = 120.0
# Answers after which a call is tried again: what came by half, a proxy without its server, a disk
# that is full.
_AGAIN = (400, 500, 502, 503, 504, 507)
_log = logging.getLogger("oak_ledge")


class Line:
    """Calls one server. Connections are kept, and made anew when they break."""

    def __init__(self, server: str, token: str, patience: float = PATIENCE) -> None:
        address = urlsplit(server)
        if address.scheme not in ("http", "https") or not address.hostname:
            msg = f"{server} is no address of a server. Write it as http://192.168.1.20:8000"
            raise RefusedError(msg)
        self.server = server.rstrip("/")
        self.patience = patience
        self._headers = {"Authorization": f"Bearer {token}"}
        self._pool = urllib3.PoolManager(
            timeout=urllib3.Timeout(connect=5, read=60), retries=False, maxsize=4
        )

    def post(
        self, path: str, fields: dict[str, Any] | None = None, patience: float | None = None
    ) -> Any:
        """Send a body to the server and return its answer."""
        body = json.dumps(fields or {}).encode()
        answer = self._ask("POST", path, patience, body, {"Content-Type": "application/json"})
        return json.loads(answer.data) if answer.data else None

    def send(self, path: str, file: Path) -> Any:
        """Send a file, with what it must hash to (RFC 9530); give what is answered."""
        digest = bytes.fromhex(file_hash(file))
        headers = {
            "Content-Type": "application/octet-stream",
            "Content-Length": str(file.stat().st_size),
            "Content-Digest": digest_header(digest),
        }
        answer = self._ask("PUT", path, None, file, headers)
        return json.loads(answer.data) if answer.data else None

    def fetch(self, path: str) -> Iterator[bytes]:
        """Return a file piece by piece.

        Raises
        ------
        ServerError
            If the server can't be asked, or the line breaks on the way.
        """
        answer = self._ask("GET", path, None, None, {}, whole=False)
        try:
            yield from answer.stream(CHUNK)
        except HTTPError as exc:
            msg = f"the line to {self.server} broke"
            raise ServerError(msg) from exc
        finally:
            answer.release_conn()

    def _ask(
        self,
        method: str,
        path: str,
        patience: float | None,
        body: bytes | Path | None,
        headers: dict[str, str],
        *,
        whole: bool = True,
    ) -> urllib3.BaseHTTPResponse:
        until = time.monotonic() + (self.patience if patience is None else patience)
        wait = 0.2
        while True:
            try:
                answer = self._once(method, path, body, headers, whole=whole)
                if answer.status not in _AGAIN:
                    return self._judged(answer)
                why = _words(answer)
            except HTTPError as exc:
                why = f"{self.server} can't be reached"
                _log.debug("%s: %s", why, exc)
            if time.monotonic() + wait > until:
                raise ServerError(why)
            time.sleep(wait * random.uniform(0.5, 1))  # many workers don't come back at one moment
            wait = min(2 * wait, 5.0)

    def _once(
        self,
        method: str,
        path: str,
        body: bytes | Path | None,
        headers: dict[str, str],
        *,
        whole: bool,
    ) -> urllib3.BaseHTTPResponse:
        def ask(content: bytes | Iterable[bytes] | None) -> urllib3.BaseHTTPResponse:
            return self._pool.request(
                method,
                self.server + path,
                body=content,
                headers=self._headers | headers,
                redirect=False,
                preload_content=whole,
            )

        if not isinstance(body, Path):
            return ask(body)
        with body.open("rb") as file:
            return ask(iter(lambda: file.read(CHUNK), b""))

    @staticmethod
    def _judged(answer: urllib3.BaseHTTPResponse) -> urllib3.BaseHTTPResponse:
        if answer.status < 300:
            return answer
        words = _words(answer)
        if answer.status in (404, 410):
            raise GoneError(words)
        if answer.status in (401, 403, 409):
            raise RefusedError(words)
        raise ServerError(words)


def _words(answer: urllib3.BaseHTTPResponse) -> str:
    try:
        return str(json.loads(answer.data)["detail"])
    except (ValueError, KeyError, TypeError):
        return f"the server answered {answer.status}"
