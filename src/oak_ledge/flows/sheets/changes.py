"""What can be done to a sheet; each is one step of its history."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.sheets.canvas import shown
from oak_ledge.core.sheets.sheet import Kind, Layout
from oak_ledge.core.values import Value

# Which of a sheet's pieces.
Number = Annotated[int, Field(ge=0, le=10_000)]

PlacementId = Annotated[int, Field(ge=0, le=2**63 - 1)]


# A place in the paper's own unit.
Away = Annotated[float, Field(ge=-1e6, le=1e6)]


class MovePiece(Value):
    """Move a piece on its page; to `snap`, its edges are drawn to its neighbours'."""

    kind: Literal["move"]
    n: Number
    x: Away
    y: Away
    snap: bool = True


class TurnPiece(Value):
    """Turn a piece by a quarter."""

    kind: Literal["turn"]
    n: Number


class TakeOff(Value):
    """Take one off the sheet."""

    kind: Literal["take_off"]
    n: Number


class PutOn(Value):
    """Lay one on a page, the first that has room where none is named."""

    kind: Literal["put_on"]
    n: Number
    page: int | None = Field(default=None, ge=0, le=1000)


class Count(Value):
    """Return how many there are of a piece."""

    kind: Literal["count"]
    placement_id: PlacementId
    count: int = Field(ge=0, le=500)


class AddPieces(Value):
    """Add pieces of the job."""

    kind: Literal["add"]
    placement_ids: list[PlacementId] = Field(min_length=1, max_length=500)


class Pack(Value):
    """Lay all anew on as few pages as can be."""

    kind: Literal["pack"]


class Swap(Value):
    """Swap the photos of two cells."""

    kind: Literal["swap"]
    n: Number
    other: Number


class Relay(Value):
    """Change the paper and how it is laid out; what is left out stays."""

    kind: Literal["layout"]
    paper: str | None = Field(default=None, max_length=200)
    margin: str | None = Field(default=None, max_length=40)
    gap: str | None = Field(default=None, max_length=40)
    marks: bool | None = None
    names: bool | None = None
    made_as: Kind | None = None
    cells: str | None = Field(default=None, max_length=20)


Change = Annotated[
    MovePiece | TurnPiece | TakeOff | PutOn | Count | AddPieces | Pack | Swap | Relay,
    Field(discriminator="kind"),
]


def change_name(change: Change) -> str:
    """Name a change for the history of steps."""
    return {
        "move": "move", "turn": "turn", "take_off": "taking off", "put_on": "putting on",
        "count": "count", "add": "adding pieces", "pack": "placing by itself", "swap": "swap",
        "layout": "change of paper",
    }[change.kind]  # fmt: skip


def in_measure(layout: Layout, amount: float) -> Fraction:
    """Return a figure of the paper's own unit in the measure places are kept in.

    Raises
    ------
    PlacementError
        If it is no number.
    """
    if amount != amount or abs(amount) > 1e6:
        msg = f"{amount} is no place on a sheet"
        raise PlacementError(msg)
    exact = Fraction(round(amount * 10_000), 10_000)
    return exact / shown(layout.canvas, Fraction(1))
