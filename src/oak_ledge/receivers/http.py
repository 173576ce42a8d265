"""The way by HTTP: each file put under its name, told by its digest (RFC 9110, RFC 9530)."""

from __future__ import annotations

import base64
import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import quote

import urllib3
from urllib3.exceptions import HTTPError, SSLError

from oak_ledge.core.files.digest import digest_header
from oak_ledge.core.receivers.way import HttpWay, WebDavWay, place_of
from oak_ledge.receivers.errors import BrokenLineError, NotReadyError, NotTakenError, SendError
from oak_ledge.receivers.line import CONNECT, SILENCE, Outgoing, Sent, Throttle, chunks

# Answers after which a file is tried again; those from 500 up are too.
_AGAIN = (408, 425, 429)
# Bytes of an answer that are read, and letters of a reason that are shown.
_MOST_ANSWER, _MOST_REASON = 65_536, 400
# Seconds that are waited at most, whatever a receiver says.
_LONGEST_WAIT = 3600.0
# Connections at once.
_MOST = 4


@dataclass(frozen=True)
class Reply:
    """What a receiver answered."""

    status: int
    reason: str
    headers: Mapping[str, str]
    content: Mapping[str, object]
    """of JSON; empty where it is none"""


@dataclass
class HttpLine:
    """Puts files to an address. Connections are kept; redirects are not followed, as secrets go along."""

    way: HttpWay | WebDavWay
    secret: str | None
    throttle: Throttle
    _pool: urllib3.PoolManager = field(init=False)

    def __post_init__(self) -> None:
        self.place = place_of(self.way.url, ("http", "https"))
        authority = self.way.authority
        if authority is not None and not Path(authority).is_file():
            msg = f"The file of the authority {authority} can't be read."
            raise NotReadyError(msg)
        self._pool = urllib3.PoolManager(
            timeout=urllib3.Timeout(connect=CONNECT, read=SILENCE),
            retries=False,
            maxsize=_MOST,
            ca_certs=authority,
        )

    def put(self, file: Outgoing, sent: Sent) -> str:
        """Put a file; the receiver compares its digest."""
        return _receipt(self.send(file, sent))

    def close(self) -> None:
        """Let the connections go."""
        self._pool.clear()

    def send(self, file: Outgoing, sent: Sent) -> Reply:
        """Send a file with its digest; what refuses it is raised."""
        headers = {
            "Content-Type": file.mime,
            "Content-Length": str(file.bytes),
            "Content-Digest": digest_header(bytes.fromhex(file.sha256)),
        }
        return self.judged(
            self.ask("PUT", self.address(file.name), headers, chunks(file, self.throttle, sent))
        )

    def address(self, name: str) -> str:
        """Return where a name lies below the receiver's address."""
        return f"{self.way.url.rstrip('/')}/{quote(name, safe='')}"

    def ask(
        self,
        method: str,
        url: str,
        headers: Mapping[str, str] | None = None,
        body: Iterator[bytes] | None = None,
    ) -> Reply:
        """Call the receiver, with who asks.

        Raises
        ------
        BrokenLineError, NotReadyError
            If it can't be asked.
        """
        with self.called(method, url, headers, body) as answer:
            data = answer.read(_MOST_ANSWER)
            return Reply(answer.status, answer.reason or "", answer.headers, _content(data))

    @contextmanager
    def called(
        self,
        method: str,
        url: str,
        headers: Mapping[str, str] | None = None,
        body: Iterator[bytes] | None = None,
    ) -> Iterator[urllib3.BaseHTTPResponse]:
        """Call the receiver for an answer that is read piece by piece; raises as `ask` does."""
        try:
            answer = self._pool.request(
                method,
                url,
                body=body,
                headers=self._who() | dict(headers or {}),
                redirect=False,
                preload_content=False,
            )
            try:
                yield answer
            finally:
                answer.drain_conn() if method != "GET" else answer.close()
                answer.release_conn()
        except SSLError as exc:
            msg = f"The certificate of {self.place.host} can't be trusted: {_distrust(exc)}."
            raise NotReadyError(msg) from exc
        except (HTTPError, ConnectionError) as exc:
            msg = f"the line to {self.place.host} broke, or it can't be reached"
            raise BrokenLineError(msg) from exc

    def _who(self) -> dict[str, str]:
        if self.secret is None:
            return {}
        if self.way.user is None:
            return {"Authorization": f"Bearer {quote(self.secret, safe=_PRINTABLE)}"}
        pair = base64.b64encode(f"{self.way.user}:{self.secret}".encode()).decode()
        return {"Authorization": f"Basic {pair}"}

    def judged(self, reply: Reply) -> Reply:
        """Return an answer that accepts; raise what any other means."""
        if reply.status in (200, 201, 204):
            return reply
        raise self._refusal(reply)

    def _refusal(self, reply: Reply) -> SendError:
        host, status = self.place.host, reply.status
        if status in _AGAIN or status >= 500:
            return BrokenLineError(f"{host} answered {_told(reply)}", _wait(reply))
        if status in (401, 407):
            secret = self.way.secret or "no secret"
            return NotReadyError(f"{host} does not let you in with {secret}.")
        if 300 <= status < 400:
            where = reply.headers.get("Location", "elsewhere")[:200]
            return NotReadyError(
                f"{host} leads on to {where}. Files and secrets are not sent on; "
                "write that address, if it is right."
            )
        return NotTakenError(_told(reply))


_PRINTABLE = "".join(chr(code) for code in range(0x21, 0x7F) if chr(code) != "%")


def _content(data: bytes) -> Mapping[str, object]:
    try:
        content = json.loads(data)
    except (ValueError, RecursionError):
        return {}
    return content if isinstance(content, dict) else {}


def _told(reply: Reply) -> str:
    """Return the reason in the receiver's own words (RFC 9457), else its number."""
    for name in ("detail", "title"):
        words = reply.content.get(name)
        if isinstance(words, str) and words.strip():
            return " ".join(words.split())[:_MOST_REASON]
    return f"{reply.status} {reply.reason}".strip()


def _receipt(reply: Reply) -> str:
    for name in ("ticket", "receipt", "id"):
        if isinstance(reply.content.get(name), str | int):
            return f"accepted, {name} {str(reply.content[name])[:100]}, digest compared"
    return f"accepted ({reply.status}), digest sent along"


def _wait(reply: Reply) -> float | None:
    header = reply.headers.get("Retry-After")
    if header is None:
        return None
    try:
        wait = urllib3.Retry().parse_retry_after(header)
    except (HTTPError, ValueError, OverflowError):
        return None
    return min(max(0.0, float(wait)), _LONGEST_WAIT)


def _distrust(exc: SSLError) -> str:
    words = str(exc)
    if "verify failed" in words:
        return "no authority that is known vouches for it"
    return words[:200]
