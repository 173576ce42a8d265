"""By what way files get to a receiver: a folder, SFTP, HTTP PUT, WebDAV.

A secret is named, never held: `env:NAME` is a variable of the environment, `keyring:NAME` an entry of
the machine's key store.
"""

from __future__ import annotations

import re
from pathlib import PurePosixPath, PureWindowsPath
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, Field, ValidationError, model_validator
from pydantic_core import Url

from oak_ledge.core.errors import ReceiverError
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.receivers.takes import BytesText
from oak_ledge.core.values import Value, says_nothing

# The places a secret may be kept, each with the sign before its name.
SECRET = re.compile(r"(env|keyring):([A-Za-z_][\w.@/-]{0,119})")
_LOOPBACK = re.compile(r"localhost|127(\.\d{1,3}){3}|\[?::1\]?")
_PORTS = {"sftp": 22, "http": 80, "https": 443}


def _secret(text: str) -> str:
    if not SECRET.fullmatch(text):
        msg = (
            "name the secret as env:NAME or keyring:NAME; the secret itself is never kept "
            "(what was written there is not shown again)"
        )
        raise ReceiverError(msg)
    return text


def _whole_path(text: str) -> str:
    """Refuse a path that would be another one wherever the program is started."""
    whole = PurePosixPath(text).is_absolute() or PureWindowsPath(text).is_absolute()
    if "\0" in text or not whole:
        msg = "say the whole path of the folder, such as /media/lab/in"
        raise ReceiverError(msg)
    return text


Secret = Annotated[str, AfterValidator(_secret)]
Address = Annotated[str, Field(min_length=1, max_length=2000)]


class _Way(Value):
    """What every way over a network has in common."""

    at_most_per_second: BytesText | None = Field(
        None, description="a limit on speed, such as 500kB", exclude_if=says_nothing
    )


class FolderWay(Value):
    """A folder of this machine, also of a drive that comes and goes."""

    kind: Literal["folder"] = "folder"
    path: Annotated[str, AfterValidator(_whole_path), Field(min_length=1, max_length=4000)]


class SftpWay(_Way):
    """A folder reached by SFTP (SSH File Transfer Protocol); the host is known by its key."""

    kind: Literal["sftp"] = "sftp"
    url: Address
    host_key: str | None = Field(
        None, max_length=2000, description="as the server shows it: ssh-ed25519 AAAA…"
    )
    secret: Secret

    @model_validator(mode="after")
    def _is_address(self) -> Self:
        place = place_of(self.url, ("sftp",))
        if not place.user:
            msg = "say who signs in: sftp://user@host/folder"
            raise ReceiverError(msg)
        if self.host_key is not None and len(self.host_key.split()) < 2:
            msg = "write the host's key whole, such as ssh-ed25519 AAAA…"
            raise ReceiverError(msg)
        return self


class _WebWay(_Way):
    url: Address
    user: str | None = Field(None, min_length=1, max_length=200)
    secret: Secret | None = None
    authority: str | None = Field(
        None,
        max_length=4000,
        description="a file of the authority (PEM) that vouches for its certificate",
        exclude_if=says_nothing,
    )

    @model_validator(mode="after")
    def _is_address(self) -> Self:
        place = place_of(self.url, ("http", "https"))
        if place.user:
            msg = "write the user as `user`, beside the address"
            raise ReceiverError(msg)
        if self.user is not None and self.secret is None:
            msg = f"a user needs a secret: env:NAME or keyring:NAME for {clipped(self.user)}"
            raise ReceiverError(msg)
        if self.secret is not None and place.scheme == "http" and not place.is_local:
            msg = (
                "a secret goes over plain http:// only within this machine; write https://, "
                "or leave the secret out"
            )
            raise ReceiverError(msg)
        return self


class HttpWay(_WebWay):
    """An address files are put to, each told by its digest (HTTP PUT, RFC 9110; RFC 9530)."""

    kind: Literal["http"] = "http"


class WebDavWay(_WebWay):
    """A folder reached by WebDAV (RFC 4918)."""

    kind: Literal["webdav"] = "webdav"


Way = Annotated[FolderWay | SftpWay | HttpWay | WebDavWay, Field(discriminator="kind")]

# Each way, as people call it.
WAYS: dict[str, str] = {
    "folder": "a folder", "sftp": "SFTP", "http": "HTTP", "webdav": "WebDAV",
}  # fmt: skip


class Place(Value):
    """The parts of an address; `path` begins with a stroke."""

    scheme: str
    user: str | None
    host: str
    port: int
    path: str

    @property
    def is_local(self) -> bool:
        """Whether it is this machine itself."""
        return _LOOPBACK.fullmatch(self.host) is not None


def place_of(url: str, schemes: tuple[str, ...]) -> Place:
    """Return the parts of an address.

    Raises
    ------
    ReceiverError
        If it is none, of another kind, or holds a secret.

    Examples
    --------
    >>> place_of("sftp://prints@lab.example/in", ("sftp",)).path
    '/in'
    """
    ways = " or ".join(f"{scheme}://" for scheme in schemes)
    try:
        parts = Url(url)
    except (ValueError, ValidationError) as exc:
        msg = f"“{clipped(url)}” is no address. Write it as {ways}host/folder"
        raise ReceiverError(msg) from exc
    if parts.password is not None:
        msg = "an address holds no password here: name the secret as env:NAME or keyring:NAME"
        raise ReceiverError(msg)
    if parts.scheme not in schemes or not parts.host or parts.query or parts.fragment:
        msg = f"“{clipped(url)}” is no address files can be put to. Write it as {ways}host/folder"
        raise ReceiverError(msg)
    port: Any = parts.port or _PORTS[parts.scheme]
    return Place(
        scheme=parts.scheme,
        user=parts.username,
        host=parts.host.strip("[]"),
        port=port,
        path=parts.path or "/",
    )
