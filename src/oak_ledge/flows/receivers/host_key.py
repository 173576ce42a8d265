"""The key a receiver's host shows, for a person to confirm once."""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.receivers.way import SftpWay
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.receivers.receivers import found
from oak_ledge.flows.workspace import Workspace
from oak_ledge.receivers.errors import SendError
from oak_ledge.store.database import reading


class ShownKey(BaseModel):
    """The key of a host as it shows it now; `fingerprint` is what people compare."""

    host_key: str
    fingerprint: str
    known: bool
    """it is the one that is kept"""


def shown_key(workspace: Workspace, receiver_id: int) -> ShownKey:
    """Return the key a receiver's host shows now; nobody signs in for it.

    Raises
    ------
    RequestError
        If it is not reached by SFTP, or not at all.
    """
    from oak_ledge.receivers.sftp import fingerprint, shown_key as ask

    with reading(workspace.sessions) as session:
        receiver = found(session, receiver_id).receiver
    if not isinstance(receiver.way, SftpWay):
        msg = f"“{receiver.name}” is not reached by SFTP; it has no host key."
        raise RequestError(msg)
    try:
        key = ask(receiver.way)
    except SendError as exc:
        raise RequestError(str(exc)) from exc
    known = receiver.way.host_key
    return ShownKey(
        host_key=key,
        fingerprint=fingerprint(key),
        known=known is not None and known.split()[:2] == key.split()[:2],
    )
