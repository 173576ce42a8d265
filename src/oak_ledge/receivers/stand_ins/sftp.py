"""A print lab that takes files by SFTP, and answers when a file gets its name."""

from __future__ import annotations

import asyncio
import secrets
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import asyncssh
from typing_extensions import override

from oak_ledge.receivers.stand_ins.inbox import ARRIVING, SLOW, Inbox

USER = "prints"
# The stand-in's own key, made at its first start: a host that changes it is not trusted.
_KEY = ".stand-in-key"


@dataclass(frozen=True)
class SftpStandIn:
    """A running stand-in: where it is, and by what key it is known."""

    port: int
    host_key: str
    _acceptor: asyncssh.SSHAcceptor

    async def end(self) -> None:
        """Take no further files."""
        self._acceptor.close()
        await self._acceptor.wait_closed()


async def serve_sftp(inbox: Inbox, host: str, port: int, password: str) -> SftpStandIn:
    """Take files by SFTP under one user; an OSError says why the address can't be had."""
    key = _own_key(inbox.folder)

    class Door(asyncssh.SSHServer):
        @override
        def begin_auth(self, username: str) -> bool:
            return True

        @override
        def password_auth_supported(self) -> bool:
            return True

        @override
        def validate_password(self, username: str, given: str) -> bool:
            right = secrets.compare_digest(given.encode(), password.encode())
            return right and username == USER

    acceptor = await asyncssh.listen(
        host,
        port,
        server_factory=Door,
        server_host_keys=[key],
        sftp_factory=lambda channel: _Lab(channel, inbox),
        config=None,
    )
    shown = " ".join(key.export_public_key("openssh").decode().split()[:2])
    return SftpStandIn(acceptor.get_port(), shown, acceptor)


def _own_key(folder: Path) -> asyncssh.SSHKey:
    path = folder / _KEY
    if not path.exists():
        asyncssh.generate_private_key("ssh-ed25519").write_private_key(path)
        path.chmod(0o600)
    return asyncssh.read_private_key(path)


class _Lab(asyncssh.SFTPServer):
    """The folder of a lab: a file is judged when it is renamed from what it was while it arrived."""

    def __init__(self, channel: asyncssh.SSHServerChannel[bytes], inbox: Inbox) -> None:
        super().__init__(channel, chroot=str(inbox.folder).encode())
        self.inbox = inbox
        self.drops: set[int] = set()

    @override
    def map_path(self, path: bytes) -> bytes:
        mapped = super().map_path(path)
        if Path(mapped.decode(errors="replace")).name == _KEY:
            raise _nothing_there()
        return mapped

    @override
    def open(self, path: bytes, pflags: int, attrs: asyncssh.SFTPAttrs) -> Any:
        file = super().open(path, pflags, attrs)
        if path.endswith(ARRIVING.encode()) and pflags & asyncssh.FXF_WRITE and self.inbox.begins():
            self.drops.add(id(file))
        return file

    @override
    def write(self, file_obj: Any, offset: int, data: bytes) -> Any:
        if id(file_obj) in self.drops:
            self.drops.discard(id(file_obj))
            self.channel.get_connection().abort()
        return super().write(file_obj, offset, data)

    @override
    async def rename(self, oldpath: bytes, newpath: bytes) -> None:
        await self._named(oldpath, newpath)

    @override
    async def posix_rename(self, oldpath: bytes, newpath: bytes) -> None:
        await self._named(oldpath, newpath)

    async def _named(self, oldpath: bytes, newpath: bytes) -> None:
        arrived = Path(self.map_path(oldpath).decode())
        name = Path(self.map_path(newpath).decode()).name
        if not arrived.is_file():
            raise _nothing_there()
        if self.inbox.fault == "slow":
            await asyncio.sleep(SLOW)
        reasons = await asyncio.to_thread(self.inbox.judge, arrived, name)
        if reasons:
            arrived.unlink(missing_ok=True)
            raise asyncssh.SFTPPermissionDenied("; ".join(reasons))
        if not arrived.is_file():  # another line took it meanwhile
            raise _nothing_there()
        self.inbox.take(arrived, name)


def _nothing_there() -> asyncssh.SFTPError:
    return asyncssh.SFTPNoSuchFile("there is no such file")
