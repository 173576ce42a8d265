"""The library of marks, and the mark of a piece."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, File, Form, Path as InPath, UploadFile
from fastapi.responses import FileResponse

from oak_ledge.flows.bench.view import load
from oak_ledge.flows.marks import library
from oak_ledge.flows.marks.library import LineBody, MarkChange, MarkView
from oak_ledge.flows.pieces.mark import PieceMarkView, mark_view
from oak_ledge.web.api.answer import LETTER_FONTS, of_kind
from oak_ledge.web.types import Edge, Here, Id, Now

router = APIRouter()

Hash = Annotated[str, InPath(pattern="^[0-9a-f]{64}$", description="SHA-256 of its file")]


@router.get("/marks")
def every_mark(here: Here) -> list[MarkView]:
    """All marks, by name."""
    return library.every(here)


@router.post("/marks", status_code=201)
def add_mark(
    here: Here,
    now: Now,
    file: Annotated[UploadFile, File(description="PNG, WebP or SVG")],
    name: Annotated[str, Form(max_length=200)] = "",
    other: Annotated[
        UploadFile | None, File(description="the same in another tone: light or dark")
    ] = None,
) -> MarkView:
    """Add a mark; of two pictures the lighter one is laid on dark ground."""
    called = name.strip() or (file.filename or "mark").rpartition(".")[0]
    twin = None if other is None else other.file.read(library.MOST_BYTES + 1)
    data = file.file.read(library.MOST_BYTES + 1)
    return library.add_picture(here, called, data, twin, now)


@router.post("/marks/line", status_code=201)
def add_line(body: LineBody, here: Here, now: Now) -> MarkView:
    """Add a line of text as a mark, in one of the two shipped fonts."""
    return library.add_line(here, body, LETTER_FONTS[body.font], now)


@router.put("/marks/{mark_id}")
def change_mark(mark_id: Id, body: MarkChange, here: Here, now: Now) -> MarkView:
    """Change a mark's name or how it is laid at first, delete it, or bring it back."""
    return library.change(here, mark_id, body, now)


@router.get("/marks/pictures/{sha256}", response_class=FileResponse, responses=of_kind("image/png"))
def mark_picture(sha256: Hash, here: Here, edge: Edge = 400) -> FileResponse:
    """A mark alone, on clear ground."""
    for_good = {"Cache-Control": "private, max-age=31536000, immutable"}
    return FileResponse(library.shown(here, sha256, edge), media_type="image/png", headers=for_good)


@router.get("/placements/{placement_id}/mark")
def piece_mark(placement_id: Id, here: Here) -> PieceMarkView:
    """The mark of a piece, where it lies, and the nine places it may be dragged to."""
    return mark_view(here, load(here, placement_id))
