"""The way by SFTP: written as `NAME.part`, its size compared, renamed over what bears its name."""

from __future__ import annotations

import asyncio
import hashlib
import logging
import time
from collections.abc import Awaitable, Callable
from contextlib import suppress
from dataclasses import dataclass, field
from importlib.util import find_spec
from typing import TypeVar, cast

import asyncssh
from anyio.from_thread import BlockingPortal, start_blocking_portal

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.receivers.way import Place, SftpWay, place_of
from oak_ledge.receivers.errors import BrokenLineError, NotReadyError, NotTakenError
from oak_ledge.receivers.line import CHUNK, CONNECT, SILENCE, Outgoing, Sent, Throttle, silent

# It moves half as many bytes again in the same time.
_HAS_UVLOOP = find_spec("uvloop") is not None
# Bytes written at once where a speed is kept.
_HELD_BLOCK = 1 << 15
# Seconds between two looks whether bytes still flow.
_LOOK = 1.0
T = TypeVar("T")


@dataclass
class SftpLine:
    """One connection for all files, opened anew when it breaks. Its loop runs in a thread of its own."""

    way: SftpWay
    secret: str
    throttle: Throttle
    _portal: BlockingPortal = field(init=False)
    _connection: asyncssh.SSHClientConnection | None = None
    _client: asyncssh.SFTPClient | None = None
    _opening: asyncio.Lock | None = None

    def __post_init__(self) -> None:
        self._place = place_of(self.way.url, ("sftp",))
        self._folder = self._place.path.rstrip("/") or "."
        self._running = start_blocking_portal(backend_options={"use_uvloop": _HAS_UVLOOP})
        self._portal = self._running.__enter__()
        self._portal.call(_be_quiet)

    def put(self, file: Outgoing, sent: Sent) -> str:
        """Put a file there; what bears its name is replaced."""
        return self._portal.call(self._put, file, sent)

    def close(self) -> None:
        """Let the connection and its thread go."""
        with suppress(Exception):
            self._portal.call(self._drop)
        self._running.__exit__(None, None, None)

    async def _put(self, file: Outgoing, sent: Sent) -> str:
        client = await self._ready()
        part, target = f"{self._folder}/{file.name}.part", f"{self._folder}/{file.name}"
        try:
            if file.before and await self._heard(_holds(client, target, file)):
                return f"had arrived, {bytes_words(file.bytes)}, every byte compared"
            await self._write(client, file, part, sent)
            await self._named(client, part, target, file)
        except asyncssh.SFTPError as exc:
            raise await self._judged(exc) from exc
        except (asyncssh.Error, ConnectionError, EOFError) as exc:
            await self._drop()
            msg = f"the line to {self._place.host} broke"
            raise BrokenLineError(msg) from exc
        return f"arrived, {bytes_words(file.bytes)}, size compared"

    async def _named(
        self, client: asyncssh.SFTPClient, part: str, target: str, file: Outgoing
    ) -> None:
        """Compare what arrived, and give it its name.

        The line of a sender that was killed may still be at work there, and take it away: it is tried
        again then, and looked for first.
        """
        try:
            there = await self._heard(client.stat(part))
            if there.size != file.bytes:
                msg = f"only {bytes_words(there.size or 0)} of {bytes_words(file.bytes)} arrived"
                raise BrokenLineError(msg)
            await self._heard(_renamed(client, part, target))
        except (asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath) as exc:
            msg = f"what was sent to {self._place.host} is gone there"
            raise BrokenLineError(msg) from exc

    async def _write(
        self, client: asyncssh.SFTPClient, file: Outgoing, part: str, sent: Sent
    ) -> None:
        before = 0

        def going(_from: bytes, _to: bytes, count: int, _whole: int) -> None:
            nonlocal before
            heard[0] = time.monotonic()
            self.throttle.wait(count - before)  # this loop has nothing else to do meanwhile
            before = count
            sent(count)

        heard = [time.monotonic()]
        # as large as the server takes at once, but where they are held back
        block = -1 if self.throttle.per_second is None else _HELD_BLOCK
        writing = client.put(str(file.path), part, block_size=block, progress_handler=going)
        await self._heard(writing, heard)

    async def _heard(self, doing: Awaitable[T], heard: list[float] | None = None) -> T:
        """Wait for an answer as long as anything is heard."""
        heard = heard or [time.monotonic()]
        task = asyncio.ensure_future(doing)
        try:
            while not (await asyncio.wait({task}, timeout=_LOOK))[0]:
                if time.monotonic() - heard[0] > SILENCE:
                    await self._drop()
                    raise silent(self._place.host)
            return task.result()
        finally:
            if not task.done():
                task.cancel()
                with suppress(asyncio.CancelledError, asyncssh.Error, OSError):
                    await task

    async def _ready(self) -> asyncssh.SFTPClient:
        if self._opening is None:
            self._opening = asyncio.Lock()
        async with self._opening:
            if self._client is None or self._connection is None or self._connection.is_closed():
                await self._drop()
                self._connection = await self._connected()
                self._client = await self._connection.start_sftp_client()
            return self._client

    async def _connected(self) -> asyncssh.SSHClientConnection:
        """Sign in; no password is offered before the host has shown the key that is known."""
        place = self._place
        if self.way.host_key is None:
            raise unknown_key(place, await _shown(place))
        own = self.secret.startswith("-----BEGIN")
        try:
            known = asyncssh.import_public_key(self.way.host_key)
            keys = [asyncssh.import_private_key(self.secret)] if own else None
        except asyncssh.KeyImportError as exc:
            msg = f"The key of {place.host}, or your own, can't be read. Write it whole."
            raise NotReadyError(msg) from exc
        try:
            return await asyncssh.connect(
                place.host,
                place.port,
                username=place.user,
                password=None if own else self.secret,
                client_keys=keys,
                agent_path=None,
                config=None,
                known_hosts=([known], [], []),
                connect_timeout=CONNECT,
                login_timeout=SILENCE,
                keepalive_interval=SILENCE / 3,
                keepalive_count_max=3,
            )
        except asyncssh.HostKeyNotVerifiable as exc:
            raise changed_key(place, await _shown(place)) from exc
        except asyncssh.PermissionDenied as exc:
            msg = f"{place.host} does not let {place.user} in with the secret {self.way.secret}."
            raise NotReadyError(msg) from exc
        except (asyncssh.Error, OSError) as exc:
            msg = f"{place.host} can't be reached"
            raise BrokenLineError(msg) from exc

    async def _judged(self, exc: asyncssh.SFTPError) -> Exception:
        """Return what an answer of the server means: refused for good, or to be tried again."""
        if isinstance(exc, asyncssh.SFTPPermissionDenied):
            return NotTakenError(exc.reason or "permission denied")
        if isinstance(exc, asyncssh.SFTPNoSuchFile | asyncssh.SFTPNoSuchPath):
            return NotTakenError(f"there is no folder {self._folder} at {self._place.host}")
        if isinstance(exc, asyncssh.SFTPConnectionLost | asyncssh.SFTPNoConnection):
            await self._drop()
            return BrokenLineError(f"the line to {self._place.host} broke")
        return BrokenLineError(f"{self._place.host} answered: {exc.reason or 'failure'}")

    async def _drop(self) -> None:
        connection, self._connection, self._client = self._connection, None, None
        if connection is not None:
            connection.abort()


async def _be_quiet() -> None:
    """Keep quiet about what a broken line leaves behind: it is told as this file's own error."""
    asyncio.get_running_loop().set_exception_handler(lambda loop, context: None)
    logging.getLogger("asyncio").setLevel(logging.ERROR)


async def _holds(client: asyncssh.SFTPClient, target: str, file: Outgoing) -> bool:
    """Return whether the very bytes of a file lie there already."""
    with suppress(asyncssh.SFTPNoSuchFile, asyncssh.SFTPNoSuchPath):
        if (await client.stat(target)).size != file.bytes:
            return False
        digest = hashlib.sha256()
        async with client.open(target, "rb") as there:
            while piece := await there.read(CHUNK):
                digest.update(cast(bytes, piece))
        return digest.hexdigest() == file.sha256
    return False


async def _renamed(client: asyncssh.SFTPClient, part: str, target: str) -> None:
    """Rename a file over another, also where the server knows no such thing in one step."""
    try:
        await client.posix_rename(part, target)
    except asyncssh.SFTPOpUnsupported:
        with suppress(asyncssh.SFTPNoSuchFile):
            await client.remove(target)
        await client.rename(part, target)


async def _shown(place: Place) -> str:
    """Return the key a host shows, in the form it is written in."""
    try:
        key = await asyncio.wait_for(
            asyncssh.get_server_host_key(place.host, place.port, config=None), CONNECT
        )
    except (asyncssh.Error, OSError, TimeoutError) as exc:
        msg = f"{place.host} can't be reached"
        raise BrokenLineError(msg) from exc
    if key is None:
        msg = f"{place.host} shows no key"
        raise BrokenLineError(msg)
    return " ".join(key.export_public_key("openssh").decode().split()[:2])


def shown_key(way: SftpWay) -> str:
    """Return the key that a server shows just now; nobody signs in for it.

    Raises
    ------
    BrokenLineError
        If it can't be reached.
    """
    place = place_of(way.url, ("sftp",))
    shown: Callable[[Place], Awaitable[str]] = _shown
    with start_blocking_portal() as portal:
        return portal.call(shown, place)


def refuse_unknown(way: SftpWay) -> None:
    """Refuse a way whose host's key nobody has confirmed, and tell the key it shows.

    Raises
    ------
    NotReadyError
        If its key is not known.
    BrokenLineError
        If it can't be reached.
    """
    if way.host_key is None:
        raise unknown_key(place_of(way.url, ("sftp",)), shown_key(way))


def fingerprint(key: str) -> str:
    """Return a key's fingerprint, as people compare it (SHA-256, RFC 4648 base64).

    >>> fingerprint("ssh-ed25519 bad")
    ''
    """
    try:
        return asyncssh.import_public_key(key).get_fingerprint()
    except (asyncssh.KeyImportError, ValueError):
        return ""


def unknown_key(place: Place, key: str) -> NotReadyError:
    """Return the refusal of a host whose key nobody has confirmed yet."""
    text = (
        f"The key of {place.host} is not known yet. It shows {key} ({fingerprint(key)}). "
        "If its owner tells you the same, write it as the receiver's host_key."
    )
    return NotReadyError(text, key)


def changed_key(place: Place, key: str) -> NotReadyError:
    """Return the refusal of a host that shows another key than the one that is known."""
    text = (
        f"{place.host} shows another key than the one that is known: {key} ({fingerprint(key)}). "
        "Nothing was sent. Ask its owner before you take the new one."
    )
    return NotReadyError(text, key)
