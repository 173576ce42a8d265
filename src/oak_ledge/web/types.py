"""What routes are handed: the workspace, the time, and the bodies of calls."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, cast

from fastapi import Depends, Query, Request
from pydantic import BaseModel, ConfigDict, Field, JsonValue, model_validator

from oak_ledge.core.gestures.apply import Gesture
from oak_ledge.core.sheets.sheet import Kind, Sheet
from oak_ledge.flows.bench.face import FaceChange
from oak_ledge.flows.jobs.batches import Doing
from oak_ledge.flows.jobs.quick import FileBody
from oak_ledge.flows.sheets.changes import Change, MovePiece
from oak_ledge.flows.workspace import Workspace
from oak_ledge.receivers.stand_ins.inbox import Fault


async def workspace_of(request: Request) -> Workspace:
    """Return the workspace a request is about."""
    return cast(Workspace, request.app.state.workspace)


async def now() -> datetime:
    """Return the time, in UTC."""
    return datetime.now(UTC)  # noqa: TID251 - the one clock of the web


async def raw_body(request: Request) -> bytes:
    """Return the body of a request as it came."""
    return await request.body()


# SQLite's integers.
MOST_ID = 2**63 - 1
Id = Annotated[int, Field(ge=-MOST_ID, le=MOST_ID)]
Seen = Annotated[Id | None, Query(description="the step it is decided on; an older one is refused")]
Here = Annotated[Workspace, Depends(workspace_of)]
Now = Annotated[datetime, Depends(now)]
RawBody = Annotated[bytes, Depends(raw_body)]
SizeText = Annotated[str, Query(max_length=10_000, description="a size, as it is typed")]
Edge = Annotated[int, Query(ge=16, le=4096, description="longer edge in pixels")]


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class GestureBody(_Body):
    """A gesture; with `keep` it becomes a step of the history, without it is only answered."""

    gesture: Gesture
    keep: bool = False
    step: Id | None = Field(
        default=None, description="the step it is decided on; an older one is refused"
    )


class CutOutsBody(_Body):
    """Pieces whose photos something is cut out of."""

    placement_ids: list[Id] = Field(min_length=1, max_length=2000)


class FaceBody(_Body):
    """What is done to the points of a photo's face, and the step the placement stood at."""

    change: FaceChange
    keep: bool = Field(default=True, description="false: points under a hand are only told")
    step: Id | None = None


class FixBody(_Body):
    """The code of the note whose way out shall be taken.

    `way` names one of several; `allow` takes the piece as it is.
    """

    code: str = Field(max_length=40)
    allow: bool = Field(
        default=False, description="make it all the same, on your own responsibility"
    )
    way: str | None = Field(default=None, max_length=40)
    step: Id | None = None


class SeenBody(_Body):
    """The step a change is decided on; an older one is refused."""

    step: Id | None = None


class EntryBody(_Body):
    """What was typed so far where a size is asked for, and what a form says beside it."""

    text: str = Field(default="", max_length=10_000)
    more: dict[str, JsonValue] = Field(default={}, max_length=40)


class JobBody(_Body):
    """What a job is started with."""

    name: str = Field(default="", max_length=120)
    photo_ids: list[Id] = Field(default=[], max_length=5000)
    size_ids: list[Id] = Field(default=[], max_length=200)
    size_texts: list[str] = Field(default=[], max_length=200)
    file: FileBody = FileBody()


class MembersBody(_Body):
    """Photos and sizes to add to a job; `file` is put over those sizes."""

    photo_ids: list[Id] = Field(default=[], max_length=5000)
    size_ids: list[Id] = Field(default=[], max_length=200)
    size_texts: list[str] = Field(default=[], max_length=200)
    file: FileBody = FileBody()


class BatchBody(_Body):
    """One thing to do to many placements; with `only_tell` nothing is changed."""

    placement_ids: list[Id] = Field(min_length=1, max_length=50_000)
    doing: Doing
    only_tell: bool = False


class WebAddressBody(_Body):
    """Where a photo lies on the web."""

    url: str = Field(min_length=1, max_length=2000)


class FoundBody(_Body):
    """Photos whose found subjects shall be taken as keep zones, or refused."""

    photo_ids: list[Id] = Field(min_length=1, max_length=5000)
    take: bool


class ReceiverStands(_Body):
    """Whether a receiver is rehearsed, and the fault its stand-in has."""

    rehearsing: bool
    fault: Fault | None = None


class CheckBody(_Body):
    """The delivery a receiver is asked about, or the job whose files are not made yet."""

    delivery: Id | None = None
    job: Id | None = None
    placements: list[Id] | None = Field(default=None, max_length=50_000)

    @model_validator(mode="after")
    def _one_of_them(self) -> CheckBody:
        if (self.delivery is None) == (self.job is None):
            msg = "give either a delivery or a job"
            raise ValueError(msg)
        return self


class ReceiverFixBody(_Body):
    """A file of a delivery that shall be fixed for a receiver."""

    delivery: Id
    file_id: Id


class SendBody(_Body):
    """The receiver a delivery's files go to."""

    receiver_id: Id
    again: bool = Field(default=False, description="also what was accepted before")


class StopBody(_Body):
    """What shall not be sent any more: a delivery's files, or all."""

    delivery: Id | None = None


class HostKeyBody(_Body):
    """The key of a receiver's host, and the version of the receiver it was confirmed on."""

    host_key: str = Field(min_length=1, max_length=2000)
    version: Id


class ReceiverFileBody(_Body):
    """Receivers as they are exchanged."""

    text: str = Field(max_length=2_000_000)
    replace: bool = Field(default=False, description="in place of those of the same name")


class ReviewBody(_Body):
    """Pieces that are shown to the client; all of the job's when left out."""

    placement_ids: list[Id] | None = Field(default=None, max_length=300)


class AnswersBody(_Body):
    """A file of answers, as a review saved it."""

    text: str = Field(max_length=1_000_000)


class DeliveryBody(_Body):
    """Placements to make; all of the job's when left out."""

    placement_ids: list[Id] | None = Field(default=None, max_length=50_000)
    only_changed: bool = Field(
        default=False, description="leave out what is as it was when last made"
    )
    send_to: Id | None = Field(
        default=None, description="the receiver the files are sent to once they are made"
    )


class CopyBody(_Body):
    """Placements that shall lie like another."""

    placement_ids: list[Id] = Field(min_length=1, max_length=5000)


class StepBody(_Body):
    """A step of the history, by its number; 0 is the suggestion a placement begins with."""

    step: Id
    seen: Id | None = Field(default=None, description="the step it stood at")


class StandingOrderBody(_Body):
    """A folder on the server's machine whose photos shall become files by themselves."""

    folder: str = Field(max_length=4000, description="its whole path")
    size_texts: list[str] = Field(max_length=20, description="written, or names of saved sizes")
    out: str = Field(
        default="", max_length=4000, description="where files go; empty: made within it"
    )
    receiver_id: Id | None = Field(default=None, description="who the files are sent to then")


class StandingOrderTurned(_Body):
    """Whether a standing order is followed."""

    on: bool


class SheetBody(_Body):
    """Pieces to lay on a paper, written or from the library; with `cells`, their photos in a face's cells."""

    placement_ids: list[Id] = Field(min_length=1, max_length=1000)
    paper: str | None = Field(default=None, max_length=200, description="17x22in@300, A4@300")
    size_id: Id | None = Field(default=None, description="a size of the library, as the paper")
    cells: str | None = Field(default=None, max_length=20, description="columns × rows: 2x1")
    layout_id: Id | None = Field(default=None, description="a layout that was kept")
    copies: int = Field(default=1, ge=1, le=200, description="of each piece, on a paper")
    margin: str | None = Field(default=None, max_length=40)
    gap: str | None = Field(default=None, max_length=40)
    marks: bool | None = None
    names: bool | None = None


class SheetPut(BaseModel):
    """A whole sheet, as `GET` answers it; what only the server says is ignored."""

    model_config = ConfigDict(extra="ignore")

    sheet: Sheet
    name: str | None = Field(default=None, max_length=200)
    step: Id | None = None


class SheetMoveBody(_Body):
    """Where a piece is wanted."""

    change: MovePiece


class SheetChangeBody(_Body):
    """A change to a sheet, and the step it is decided on; an older one is refused."""

    change: Change
    step: Id | None = None


class SheetMakeBody(_Body):
    """As what a sheet is made, where not as it says itself."""

    kind: Kind | None = None


class LayoutBody(_Body):
    """The sheet whose layout shall be kept, and its name."""

    sheet_id: Id
    name: str = Field(min_length=1, max_length=120)
