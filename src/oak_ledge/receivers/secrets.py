"""Secrets, read when they are needed and kept nowhere: from the environment or the machine's key store."""

from __future__ import annotations

import os

from oak_ledge.core.receivers.way import SECRET
from oak_ledge.receivers.errors import NotReadyError

# What entries of the machine's key store are filed under.
SERVICE = "oak-ledge"


def read_secret(named: str | None) -> str | None:
    """Return the secret that is named so; None where none is.

    Raises
    ------
    NotReadyError
        If there is none of that name.
    """
    match = None if named is None else SECRET.fullmatch(named)
    if match is None:
        return None
    place, name = match.groups()
    if place == "env":
        secret = os.environ.get(name)
        if secret:
            return secret
        msg = f"There is no secret in the environment under {name}. Set it where Oak Ledge is started."
        raise NotReadyError(msg)
    return _from_keyring(name)


def _from_keyring(name: str) -> str:
    import keyring
    from keyring.errors import KeyringError

    try:
        secret = keyring.get_password(SERVICE, name)
    except KeyringError as exc:
        msg = f"The key store of this machine can't be read for {name}. Use env:{name} instead."
        raise NotReadyError(msg) from exc
    if not secret:
        msg = (
            f"The key store of this machine has nothing under {name}. "
            f"Put it there: keyring set {SERVICE} {name}"
        )
        raise NotReadyError(msg)
    return secret
