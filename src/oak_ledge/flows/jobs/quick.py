"""A handful of photos on one size, told before anything is made: pixels, bytes, what is in the way."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import CoreError
from oak_ledge.core.measures.bytes import ByteLimit, bytes_words
from oak_ledge.core.notes.file import over_limit
from oak_ledge.core.notes.note import in_order
from oak_ledge.core.pixels.look.estimate import estimate, fitting_quality, part_in
from oak_ledge.core.placements.around_zones import suggest_around
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.sizes.choices import FileFormat
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.flows.library.entry import chosen
from oak_ledge.flows.photos.photos import find_photo, lies_around
from oak_ledge.flows.photos.previews import weights_of
from oak_ledge.flows.photos.subjects import looked_at
from oak_ledge.flows.pieces.figures import compute
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading


class FileAsked(BaseModel):
    """What files shall be, where it isn't what the size says."""

    model_config = ConfigDict(extra="forbid")

    format: FileFormat | None = None
    at_most: ByteLimit | None = Field(default=None, ge=1)


class QuickAsked(BaseModel):
    """Photos, one size of the library or written, and what files shall be."""

    model_config = ConfigDict(extra="forbid")

    photo_ids: list[int] = Field(min_length=1, max_length=500)
    size_id: int | None = None
    text: str | None = Field(default=None, max_length=200)
    file: FileAsked = FileAsked()


class Quick(BaseModel):
    """What one photo would become; `stopped` says why it would not be made."""

    photo_id: int
    pixels: str
    weight: str
    about_bytes: int | None
    text: str
    stopped: str | None


def with_file(size: Size, file: FileAsked) -> Size:
    """Put over a size what its files shall be.

    Raises
    ------
    SizeError
        If the two can't go together.
    """
    said = file.model_dump(exclude_none=True)
    return size_from(dict(size) | {"file": size.file.model_copy(update=said)}) if said else size


def tell(workspace: Workspace, asked: QuickAsked) -> list[Quick]:
    """Tell for each photo; the first time a photo's bytes are weighed it takes a moment."""
    with reading(workspace.sessions) as session:
        size = with_file(chosen(session, asked.text, asked.size_id), asked.file)
    return [_tell_one(workspace, photo_id, size) for photo_id in asked.photo_ids]


def _tell_one(workspace: Workspace, photo_id: int, size: Size) -> Quick:
    photo = looked_at(workspace, find_photo(workspace, photo_id))
    try:
        upright = photo.facts.upright
        lying = lying_on(size, upright, suggest_around(size, upright, lies_around(photo)))
        tally, noted = compute(lying, photo.facts, size, keeps=photo.keeps)
    except CoreError as exc:
        why = str(exc)
        return Quick(
            photo_id=photo_id, pixels="", weight="", about_bytes=None, text=why, stopped=why
        )
    weights = weights_of(workspace, photo, measure=True)
    about = None
    if weights is not None:
        asked = (tally.width, tally.height)
        part = part_in(lying.crop, lying.surface, photo.facts.orientation)
        about = estimate(weights, asked, tally.scale, size.file, part)
        quality = fitting_quality(weights, asked, tally.scale, size.file, part)
        noted = in_order(noted, over_limit(size, quality))
    first = next((note for note in noted if note.level != "fine"), None)
    return Quick(
        photo_id=photo_id,
        pixels=f"{tally.width} × {tally.height} px",
        weight="" if about is None else f"about {bytes_words(about)}",
        about_bytes=about,
        text=tally.sentence if first is None else first.text,
        stopped=first.text if first is not None and first.level == "stop" else None,
    )


def sized(
    asked: Sequence[tuple[Size, int | None]], file: FileAsked
) -> list[tuple[Size, int | None]]:
    """Put over a job's sizes what its files shall be; one that is changed is the job's own."""
    made = [(with_file(size, file), saved) for size, saved in asked]
    return [
        (new, saved if new == old else None)
        for (new, saved), (old, _) in zip(made, asked, strict=True)
    ]
