"""A photo fetched from a web address: who is asked is judged first, and no one else is connected to.

Addresses inside one's own network or machine are refused, as a page somewhere could otherwise have this
program look around there; settings can name exceptions. Judged is the address that a name stands for, at
each redirect anew, and the judged address is the one connected to, so that a name can't change between.
"""

from __future__ import annotations

import hashlib
import http.client
import ipaddress
import socket
import ssl
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, TimeoutError as TooLong
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import PurePath
from tempfile import SpooledTemporaryFile
from threading import Timer
from typing import BinaryIO, cast
from urllib.parse import unquote, urljoin, urlsplit

from typing_extensions import override

from oak_ledge import VERSION
from oak_ledge.core.errors import PhotoError
from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.flows.photos.photos import Incoming, PhotoView, take_in
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import photos
from oak_ledge.store.database import reading

PORTS = (80, 443, 8080, 8443)
MOST_REDIRECTS = 5

# Seconds in all: names, redirects and the picture itself.
LONGEST = 30.0

# Bytes that are held in memory before they go to disk.
_IN_MEMORY = 8_000_000
_CHUNK = 1 << 16

# An address of the other kind may stand inside these (RFC 6052, section 2.1).
_TRANSLATED = ipaddress.ip_network("64:ff9b::/96")


@dataclass(frozen=True)
class _Target:
    """Who is asked for what: the name, the judged address, and the way to the picture."""

    scheme: str
    host: str
    port: int
    path: str
    address: str


def take_from(workspace: Workspace, url: str, now: datetime) -> tuple[PhotoView, bool]:
    """Take in a photo from a web address; True where it was not here before.

    Raises
    ------
    PhotoError
        If it may not be asked, does not answer, is too large, too slow, or no photo.
    """
    with fetched(url, workspace.fetch_from, workspace.limits.upload_bytes) as (name, stream):
        digest = _hash_of(stream)
        with reading(workspace.sessions) as session:
            known = photos.find_by_hash(session, digest)
        stream.seek(0)
        taken = take_in(workspace, [Incoming(name, stream)], now)
    if taken.refused:
        raise PhotoError(taken.refused[0].reason)
    return taken.photos[0], known is None


def _hash_of(stream: BinaryIO) -> str:
    digest = hashlib.sha256()
    while chunk := stream.read(_CHUNK):
        digest.update(chunk)
    return digest.hexdigest()


@contextmanager
def fetched(url: str, allowed: str, most_bytes: int) -> Iterator[tuple[str, BinaryIO]]:
    """Fetch what an address holds; give its name, and a file that is open at its beginning.

    Raises
    ------
    PhotoError
        With what is wrong.
    """
    end = time.monotonic() + LONGEST
    for _ in range(MOST_REDIRECTS + 1):
        target = _judged(url, allowed, end)
        with _asked(target, end) as answer:
            if answer.status in (301, 302, 303, 307, 308):
                url = urljoin(url, answer.headers.get("Location", ""))
                continue
            if answer.status != 200:
                msg = f"{target.host} answered {answer.status} {answer.reason}"
                raise PhotoError(msg)
            if "html" in answer.headers.get("Content-Type", ""):
                msg = "this is the address of a page; take that of the picture itself"
                raise PhotoError(msg)
            with SpooledTemporaryFile(_IN_MEMORY) as spooled:
                file = cast("BinaryIO", spooled)
                _read(answer, file, most_bytes, end)
                file.seek(0)
                yield unquote(PurePath(urlsplit(url).path).name) or "photo", file
                return
    msg = f"it sends on to other addresses more than {MOST_REDIRECTS} times"
    raise PhotoError(msg)


def _judged(url: str, allowed: str, end: float) -> _Target:
    """Take an address apart and judge whom it names."""
    try:
        parts = urlsplit(url.strip())
        host, port = parts.hostname, parts.port
    except ValueError as exc:
        msg = f"“{url}” is no web address"
        raise PhotoError(msg) from exc
    if parts.scheme not in ("http", "https") or not host:
        msg = f"“{url}” is no web address: it begins with http:// or https://"
        raise PhotoError(msg)
    if parts.username is not None:
        msg = "a name and a pass phrase are not sent along; take an address without them"
        raise PhotoError(msg)
    port = port or (443 if parts.scheme == "https" else 80)
    named, usual = _is_named(host, port, allowed), port in PORTS
    if not named and not usual:
        msg = f"port {port} is not asked: photos come from 80, 443, 8080 and 8443"
        raise PhotoError(msg)
    addresses = _resolved(host, port, end)
    if not named and not all(map(_is_public, addresses)):
        msg = (
            f"{host} lies inside this network or this machine, where no photo is fetched from. "
            f"OAK_LEDGE_FETCH_FROM={host} allows it"
        )
        raise PhotoError(msg)
    path = (parts.path or "/") + (f"?{parts.query}" if parts.query else "")
    return _Target(parts.scheme, host, port, path, addresses[0])


def _is_named(host: str, port: int, allowed: str) -> bool:
    """Return whether settings allow a host: by name alone on the usual ports, or with its port."""
    names = {name.strip().lower() for name in allowed.split(",") if name.strip()}
    bare = f"[{host}]" if ":" in host else host
    return f"{bare}:{port}" in names or (port in PORTS and bool({bare, host} & names))


def _resolved(host: str, port: int, end: float) -> list[str]:
    """Return the addresses of a name, within the time that is left."""
    pool = ThreadPoolExecutor(1)
    try:
        asked = pool.submit(socket.getaddrinfo, host, port, type=socket.SOCK_STREAM)
        found = asked.result(timeout=_left(end))
    except (OSError, UnicodeError) as exc:
        msg = f"there is no {host}, or no way to it"
        raise PhotoError(msg) from exc
    except TooLong as exc:
        raise _too_slow() from exc
    finally:
        pool.shutdown(wait=False)
    return [str(address[0]) for *_, address in found]


def _is_public(address: str) -> bool:
    """Return whether an address is one of the open network, also what may stand inside it."""
    parsed = ipaddress.ip_address(address.partition("%")[0])
    inner = [parsed]
    if isinstance(parsed, ipaddress.IPv6Address):
        inner += [known for known in (parsed.ipv4_mapped, parsed.sixtofour) if known is not None]
        inner += list(parsed.teredo or ())
        if parsed in _TRANSLATED:
            inner.append(ipaddress.IPv4Address(int(parsed) & 0xFFFFFFFF))
            inner.remove(parsed)
        if parsed.ipv4_mapped is not None:
            inner.remove(parsed)
    return all(known.is_global and not known.is_multicast for known in inner)


class _Plain(http.client.HTTPConnection):
    """A connection to a judged address, under the name that was asked for."""

    def __init__(self, target: _Target, timeout: float) -> None:
        super().__init__(target.host, target.port, timeout=timeout)
        self.target = target
        # kept apart: a connection lets go of it where an answer ends with the line
        self.line: socket.socket | None = None

    @override
    def connect(self) -> None:
        """Connect to the judged address and to no other."""
        address = (self.target.address, self.target.port)
        self.sock = self.line = socket.create_connection(address, self.timeout)


class _Secure(_Plain):
    """The same with a certificate, which must be of the name that was asked for."""

    default_port = 443

    @override
    def connect(self) -> None:
        """Connect, and check the certificate against the name."""
        super().connect()
        context = ssl.create_default_context()
        self.sock = self.line = context.wrap_socket(self.sock, server_hostname=self.target.host)


@contextmanager
def _asked(target: _Target, end: float) -> Iterator[http.client.HTTPResponse]:
    """Ask for what a target names; a slow answer is cut off when the time is over."""
    kind = _Secure if target.scheme == "https" else _Plain
    connection = kind(target, _left(end))
    watch = Timer(_left(end), lambda: _cut_off(connection))
    watch.daemon = True
    watch.start()
    headers = {
        "User-Agent": f"oak-ledge/{VERSION}",
        "Accept": "image/*",
        "Accept-Encoding": "identity",
    }
    try:
        connection.request("GET", target.path, headers=headers)
        yield connection.getresponse()
    except PhotoError:
        raise
    except ssl.SSLCertVerificationError as exc:
        msg = f"the certificate of {target.host} is not to be trusted: {exc.verify_message}"
        raise PhotoError(msg) from exc
    except (OSError, http.client.HTTPException, ValueError) as exc:
        if time.monotonic() >= end or isinstance(exc, TimeoutError):
            raise _too_slow() from exc
        msg = f"{target.host} does not answer, or the line broke"
        raise PhotoError(msg) from exc
    finally:
        watch.cancel()
        connection.close()


def _cut_off(connection: _Plain) -> None:
    with suppress(OSError):
        if connection.line is not None:
            connection.line.shutdown(socket.SHUT_RDWR)


def _read(answer: http.client.HTTPResponse, file: BinaryIO, most: int, end: float) -> None:
    length = 0
    promised = answer.length
    while chunk := answer.read(_CHUNK):
        length += len(chunk)
        if length > most:
            msg = f"it has more than {bytes_words(most)}, the most that is taken"
            raise PhotoError(msg)
        if time.monotonic() >= end:
            raise _too_slow()
        file.write(chunk)
    if promised is not None and length < promised:
        msg = "the line broke before all of it had come"
        raise PhotoError(msg)


def _left(end: float) -> float:
    left = end - time.monotonic()
    if left <= 0:
        raise _too_slow()
    return left


def _too_slow() -> PhotoError:
    return PhotoError(f"it took more than {LONGEST:g} seconds to answer")
