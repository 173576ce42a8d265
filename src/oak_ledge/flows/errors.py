"""What can go wrong in the flows, each as a sentence a person can act on.

OakLedgeError
├── CoreError            see `core.errors`
├── StoreError           see `store.errors`
└── FlowError            what was wished for can't be done
    ├── RequestError         as it was asked for (also a ValueError)
    ├── NotFoundError        it is not here (also a LookupError)
    │   └── NotMadeError         a part of a scene that is not made yet
    ├── ChangedMeanwhileError    it is another by now; knows it as it stands (also a ValueError)
    ├── BackupError          a backup can't be made or put back
    └── RemoteError          work on other machines
        ├── TokenError           a token that can't be used (also a ValueError)
        ├── LateError            a ticket that is not out any more (also a LookupError)
        ├── ForeignError         a message that is not this server's (also a ValueError)
        ├── WrongOriginalError   a photo that is not the one that was asked for
        └── ServerError          the server can't be asked, or refuses
            ├── GoneError            what was asked about is not there, or another worker's
            └── RefusedError         it does not take this worker
"""

from __future__ import annotations

from pydantic import BaseModel

from oak_ledge.core.errors import OakLedgeError


class FlowError(OakLedgeError):
    """Base of every error of the flows; its text says what happened, why and what to do."""


class RequestError(FlowError, ValueError):
    """Something was asked for that cannot be; the text says what is missing."""


class NotFoundError(FlowError, LookupError):
    """Something was asked for that is not here; the text says what."""


class NotMadeError(NotFoundError):
    """Something of a scene is not made yet."""


class ChangedMeanwhileError(FlowError, ValueError):
    """What was to be changed is another by now; nothing was kept. `newer` is as it stands."""

    def __init__(self, text: str, newer: BaseModel) -> None:
        super().__init__(text)
        self.newer = newer


class BackupError(FlowError):
    """A backup can't be made or put back; the text says why and what to do."""


class RemoteError(FlowError):
    """Something went wrong in work on other machines."""


class TokenError(RemoteError, ValueError):
    """A token that can't be used; the text says why."""


class LateError(RemoteError, LookupError):
    """What comes back is not that worker's any more, and is thrown away."""

    def __init__(self) -> None:
        super().__init__("This ticket is not out any more: what comes under it is thrown away.")


class ForeignError(RemoteError, ValueError):
    """What came from the queue is no message of this server."""


class WrongOriginalError(RemoteError):
    """What came is not the photo that was asked for."""


class ServerError(RemoteError):
    """The server can't be asked, or refuses; the text says why."""


class GoneError(ServerError):
    """What was asked about is not this worker's any more, or not there."""


class RefusedError(ServerError):
    """The server does not take this worker: another token, or another recipe."""
