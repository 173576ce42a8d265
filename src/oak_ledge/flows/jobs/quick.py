"""A handful of photos on one size, told before anything is made: pixels, bytes, what is in the way."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import CoreError
from oak_ledge.core.measures.bytes import ByteLimit, bytes_words
from oak_ledge.core.measures.numbers import scale_words
from oak_ledge.core.notes.note import in_order
from oak_ledge.core.pixels.weight.byte_limit import Fit
from oak_ledge.core.pixels.weight.estimate import estimate, part_in
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.sizes.file.formats import FileFormat
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.library.entry import chosen, meant_in
from oak_ledge.flows.photos.photos import find_photo, first_on
from oak_ledge.flows.photos.previews import weights_of
from oak_ledge.flows.photos.subjects import looked_at
from oak_ledge.flows.pieces.figures import Around, compute
from oak_ledge.flows.pieces.weight_notes import limit_told
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading


class FileBody(BaseModel):
    """What files shall be, where it isn't what the size says."""

    model_config = ConfigDict(extra="forbid")

    format: FileFormat | None = None
    floor: int | None = Field(default=None, ge=1, le=100)
    at_most: ByteLimit | None = Field(default=None, ge=1)


class QuickBody(BaseModel):
    """Photos, sizes of the library or written, and what files shall be."""

    model_config = ConfigDict(extra="forbid")

    photo_ids: list[int] = Field(min_length=1, max_length=500)
    size_ids: list[int] = Field(default=[], max_length=20)
    size_texts: list[str] = Field(default=[], max_length=20)
    file: FileBody = FileBody()


class Quick(BaseModel):
    """What one photo would become on one size; `stopped` says why it would not be made.

    `looks` are what a person should decide on, and would be made all the same.
    """

    photo_id: int
    size_name: str
    pixels: str
    scale: str = ""
    weight: str
    about_bytes: int | None
    text: str
    stopped: str | None
    looks: tuple[str, ...] = ()
    ways: tuple[Fit, ...] = ()
    """what would keep it within the greatest bytes, where it is likely to be too heavy"""


def with_file(size: Size, file: FileBody) -> Size:
    """Put over a size what its files shall be.

    Raises
    ------
    SizeError
        If the two can't go together.
    """
    fields = file.model_dump(exclude_none=True)
    return size_from(dict(size) | {"file": size.file.model_copy(update=fields)}) if fields else size


def tell(workspace: Workspace, body: QuickBody) -> list[Quick]:
    """Return what each photo would become on each size; weighing a photo the first time takes a moment."""
    with reading(workspace.sessions) as session:
        wanted = [chosen(session, None, id_) for id_ in body.size_ids]
        wanted += [size for size, _ in meant_in(session, body.size_texts)]
    sizes = [with_file(size, body.file) for size in wanted]
    return [_tell_one(workspace, id_, size) for id_ in body.photo_ids for size in sizes]


def _tell_one(workspace: Workspace, photo_id: int, size: Size) -> Quick:
    photo = looked_at(workspace, find_photo(workspace, photo_id))
    try:
        upright = photo.facts.upright
        lying = lying_on(size, upright, first_on(size, photo))
        tally, noted = compute(
            lying,
            photo.facts,
            size,
            Around(keeps=photo.keeps, waiting=photo.found, faces=photo.faces),
        )
    except CoreError as exc:
        why = str(exc)
        return Quick(
            photo_id=photo_id,
            size_name=size_name(size),
            pixels="",
            weight="",
            about_bytes=None,
            text=why,
            stopped=why,
        )
    weights = weights_of(workspace, photo, measure=True)
    about: int | None = None
    ways: tuple[Fit, ...] = ()
    if weights is not None:
        output = (tally.width, tally.height)
        part = part_in(lying.crop, lying.surface, photo.facts.orientation)
        about = estimate(weights, output, tally.scale, size.file, part)
        limit, ways = limit_told(lying, photo.facts, weights, tally.scale)
        noted = in_order(noted, limit)
    first = next((note for note in noted if note.level != "fine"), None)
    return Quick(
        photo_id=photo_id,
        size_name=size_name(size),
        pixels=f"{tally.width} × {tally.height} px",
        scale=scale_words(tally.scale),
        weight="" if about is None else f"about {bytes_words(about)}",
        about_bytes=about,
        text=tally.sentence if first is None else first.text,
        stopped=first.text if first is not None and (ways or first.level == "stop") else None,
        looks=tuple(
            note.text for note in noted if note.level == "look" and not (ways and note is first)
        ),
        ways=ways,
    )


def sized(
    sequence: Sequence[tuple[Size, int | None]], file: FileBody
) -> list[tuple[Size, int | None]]:
    """Put over a job's sizes what its files shall be; one that is changed is the job's own."""
    pairs = [(with_file(size, file), saved) for size, saved in sequence]
    return [
        (new, saved if new == old else None)
        for (new, saved), (old, _) in zip(pairs, sequence, strict=True)
    ]
