"""The token of workers on other machines: made here, shown once, kept as its hash."""

from __future__ import annotations

import hashlib
import hmac
import os
import secrets
from pathlib import Path

from oak_ledge.flows.errors import TokenError

NAME = "worker-token"
# Characters: a token of one's own must not be guessed.
SHORTEST = 24


def key_of(token: str) -> bytes:
    """Return what a token is known by: 32 bytes from which it can't be had again."""
    return hashlib.sha256(b"oak ledge worker " + token.encode()).digest()


def is_same(key: bytes, token: str) -> bool:
    """Return whether a token is the one of a key, in a time that doesn't tell how much of it is right."""
    return hmac.compare_digest(key, key_of(token))


def key_for(data: Path, token: str | None) -> tuple[bytes, str | None]:
    """Return the key of a data folder's token; and a token that was just made, to be shown once.

    A token that is given takes the place of the one before.

    Raises
    ------
    TokenError
        If the one that is given is short enough to be guessed.
    OSError
        If it can't be kept.
    """
    path = data / NAME
    if token is None:
        kept = _kept(path)
        if kept is not None:
            return kept, None
        new_token = secrets.token_urlsafe(24)
        _keep(path, key_of(new_token))
        return key_of(new_token), new_token
    if len(token) < SHORTEST:
        msg = f"a token has {SHORTEST} characters or more; leave it out, and one is made"
        raise TokenError(msg)
    if _kept(path) != key_of(token):
        _keep(path, key_of(token))
    return key_of(token), None


def _kept(path: Path) -> bytes | None:
    try:
        kept = bytes.fromhex(path.read_text())
    except (FileNotFoundError, ValueError):
        return None
    return kept if len(kept) == 32 else None


def _keep(path: Path, key: bytes) -> None:
    part = path.with_name(f"{path.name}.part")
    part.unlink(missing_ok=True)
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "w") as file:
        file.write(key.hex())
        file.flush()
        os.fsync(file.fileno())  # a power cut would else leave none, and every worker be refused
    part.replace(path)
