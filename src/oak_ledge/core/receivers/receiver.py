"""A receiver: who files go to, by what rules and by what way. It is data, exchanged as JSON."""

from __future__ import annotations

import json
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, ValidationError

from oak_ledge.core.errors import ReceiverError
from oak_ledge.core.receivers.takes import Takes
from oak_ledge.core.receivers.way import FolderWay, Way
from oak_ledge.core.sizes.size import first_error
from oak_ledge.core.values import Value

LONGEST_NAME = 80
# Receivers in one file, and its bytes.
MOST, MOST_BYTES = 500, 2_000_000

Name = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=LONGEST_NAME)
]


class Receiver(Value):
    """Who files go to: a name, what is taken, by what way."""

    receiver_version: Literal[1] = 1
    name: Name
    takes: Takes = Takes()
    way: Way = Field(default_factory=lambda: FolderWay(path="/"))


def read_receivers(text: str) -> tuple[Receiver, ...]:
    """Read one receiver or a list of them from JSON.

    Raises
    ------
    ReceiverError
        With what is wrong, and in which of them.
    """
    if len(text) > MOST_BYTES:
        msg = f"a file of receivers has no more than {MOST_BYTES // 1_000_000} MB"
        raise ReceiverError(msg)
    try:
        content = json.loads(text)
    except (ValueError, RecursionError) as exc:
        msg = "this is no JSON, as receivers are written in"
        raise ReceiverError(msg) from exc
    every = content if isinstance(content, list) else [content]
    if not every or len(every) > MOST:
        msg = f"a file holds one receiver, or a list of at most {MOST}"
        raise ReceiverError(msg)
    return tuple(_read(part, number) for number, part in enumerate(every, 1))


def _read(content: object, number: int) -> Receiver:
    try:
        return Receiver.model_validate_json(json.dumps(content))
    except ValidationError as exc:
        name = content.get("name") if isinstance(content, dict) else None
        which = f"“{name[:LONGEST_NAME]}”" if isinstance(name, str) and name else f"number {number}"
        msg = f"receiver {which}: {first_error(exc)}"
        raise ReceiverError(msg) from exc


def write_receivers(receivers: tuple[Receiver, ...]) -> str:
    """Write receivers as JSON, a list of them; no secret is in it, only their names."""
    return json.dumps(
        [receiver.model_dump(mode="json") for receiver in receivers], indent=2, ensure_ascii=False
    )
