"""How the file of a piece is written, settled on the bench: for this piece, or for all on its size."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.files.names import stem_on
from oak_ledge.core.files.proof import asked_of
from oak_ledge.core.measures.bytes import ByteLimit
from oak_ledge.core.placements.placement import changed, own_size, size_at
from oak_ledge.core.sizes.choices import MetadataChoice
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FileFormat
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.flows.bench.history import done_if_newest
from oak_ledge.flows.bench.view_models import PlacementView
from oak_ledge.flows.jobs.size_changes import take_size
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import placements
from oak_ledge.store.database import Session, reading
from oak_ledge.store.placements import Placed
from oak_ledge.store.work import deliveries


class PieceFileBody(BaseModel):
    """What a file shall be; what is left out stays. `no_limit` takes a limit of bytes away."""

    model_config = ConfigDict(extra="forbid")

    format: FileFormat | None = None
    quality: int | None = Field(default=None, ge=1, le=100)
    floor: int | None = Field(default=None, ge=1, le=100)
    at_most: ByteLimit | None = Field(default=None, ge=1)
    no_limit: bool = False
    profile: str | None = Field(default=None, pattern="^(keep|srgb|p3|grey)$")
    metadata: MetadataChoice | None = None
    location: bool | None = None
    pattern: str | None = Field(default=None, min_length=1, max_length=200)
    for_all: bool = False
    step: int | None = None


class EarlierFile(BaseModel):
    """A file that was made of a piece before: its delivery, its name, and when."""

    delivery_id: int
    name: str
    made: datetime | None


def settle_file(
    workspace: Workspace, placement_id: int, body: PieceFileBody, now: datetime
) -> PlacementView:
    """Settle how a piece's file is written, or with `for_all` those of every piece on its size.

    No crop moves.

    Raises
    ------
    FileError, SizeError
        If a name can't be made of the pattern; nothing is changed.
    """
    fields = body.model_dump(exclude={"for_all", "step", "no_limit"}, exclude_none=True)
    if body.no_limit:
        fields["at_most"] = None
    if body.profile is not None:
        fields["icc"] = None

    def do(session: Session, placed: Placed) -> None:
        if body.for_all:
            size = _written_as(placed, placed.size, fields)
            here = (placed.job_id, placed.job_size_id)
            take_size(session, *here, size, "file changed", now, saved_id=None)
            placed = placements.as_it_is_now(session, placed.id)
        own = _written_as(placed, size_at(placed.size, placed.placement), fields)
        placement = changed(placed.placement, size=own_size(placed.size, own))
        if placement != placed.placement:
            placements.keep(session, placed.id, placement, "file changed", now)

    return done_if_newest(workspace, placement_id, body.step, do)


def _written_as(placed: Placed, size: Size, fields: dict[str, object]) -> Size:
    new_size = size_from(
        dict(size) | {"file": FileSettings.model_validate(dict(size.file) | fields)}
    )
    body = asked_of(new_size, placed.lying.asked, placed.photo.facts.ppi)
    stem_on(new_size, body, placed.photo.name, placed.job, 1)  # a name it can have
    return new_size


def earlier(workspace: Workspace, placement_id: int) -> list[EarlierFile]:
    """Return the files made of a piece, the newest first."""
    with reading(workspace.sessions) as session:
        files = deliveries.files_of(session, placement_id)
    return [
        EarlierFile(delivery_id=file.delivery_id, name=file.name or "", made=file.finished)
        for file in files
    ]
