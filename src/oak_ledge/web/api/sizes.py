"""The library of sizes."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter
from fastapi.responses import Response
from pydantic import ValidationError

from oak_ledge.flows.library import entry, sizes, views
from oak_ledge.flows.library.entry import Entry, OutlineRead
from oak_ledge.flows.library.sizes import Choice, DeletedSize
from oak_ledge.flows.library.views import SavedSizeView, SizeBody, SizeChange, SizeRead
from oak_ledge.web.api.answer import of_kind
from oak_ledge.web.types import EntryBody, Here, Id, Now, RawBody, SizeText
from oak_ledge.web.wrong_calls import words_of

router = APIRouter()


@router.get("/sizes")
def every_size(here: Here) -> list[SavedSizeView]:
    """All saved sizes."""
    return sizes.every(here)


@router.get("/sizes/deleted")
def deleted_sizes(here: Here, now: Now) -> list[DeletedSize]:
    """Sizes deleted in the last thirty days, which can be brought back."""
    return sizes.deleted(here, now)


@router.get("/sizes/choices")
def choices(here: Here) -> list[Choice]:
    """Saved sizes to choose from, those used last first."""
    return sizes.choices(here)


@router.post("/sizes", status_code=201)
def add_size(body: SizeBody, here: Here) -> SavedSizeView:
    """Save a size."""
    return sizes.add(here, body)


@router.get(
    "/sizes/file", response_class=Response, responses=of_kind("application/json", "text/csv")
)
def export_sizes(here: Here, kind: Literal["json", "csv"] = "json") -> Response:
    """The library as a file."""
    media = {"json": "application/json", "csv": "text/csv; charset=utf-8"}[kind]
    name = {"Content-Disposition": f'attachment; filename="sizes.{kind}"'}
    return Response(sizes.export(here, kind), media_type=media, headers=name)


@router.post("/sizes/file")
def take_sizes_in(file: RawBody, here: Here, only_tell: bool = False) -> views.SizesTakenIn:
    """Take a library in, sent as the body; with `only_tell` it is only looked at."""
    return sizes.take_in(here, file.decode("utf-8", "replace"), only_tell=only_tell)


@router.post("/sizes/outline")
def read_outline(file: RawBody, size_text: SizeText = "") -> OutlineRead:
    """Read an SVG file, sent as the body, as an outline, and write it behind a size."""
    return entry.outline_of(file, size_text)


@router.get("/sizes/outline")
def put_outline(size_text: SizeText = "", outline: SizeText = "") -> OutlineRead:
    """Write a shipped outline, like heart or star 5, behind a size; without a word, take it away."""
    return entry.with_outline(size_text, outline)


@router.get("/sizes/{size_id}")
def size(size_id: Id, here: Here) -> SavedSizeView:
    """A saved size."""
    return sizes.view(here, size_id)


@router.put("/sizes/{size_id}")
def change_size(size_id: Id, body: SizeChange, here: Here) -> SavedSizeView:
    """Change a saved size; jobs keep the copy they took."""
    return sizes.change(here, size_id, body)


@router.delete("/sizes/{size_id}")
def delete_size(size_id: Id, here: Here, now: Now) -> SavedSizeView:
    """Delete a saved size; it can be restored for a while."""
    return sizes.delete(here, size_id, now)


@router.post("/sizes/{size_id}/restore")
def restore_size(size_id: Id, here: Here) -> SavedSizeView:
    """Bring a deleted size back."""
    return sizes.restore(here, size_id)


@router.post("/sizes/{size_id}/copy", status_code=201)
def copy_size(size_id: Id, here: Here, twin: bool = False) -> SavedSizeView:
    """Save a copy of a size, or its twin."""
    return sizes.copy(here, size_id, twin=twin)


@router.post("/sizes/read")
def read_size(body: SizeBody, here: Here) -> SizeRead:
    """Read a text as a size, or as a saved one's name; nothing is kept."""
    return entry.read(here, body)


@router.post("/sizes/entry")
def enter_size(body: EntryBody, here: Here) -> Entry:
    """Read what was typed so far: the sizes it says, or what is missing and what it may mean."""
    try:
        size = SizeBody.model_validate(body.more | {"text": body.text})
    except ValidationError as exc:
        return entry.unread(body.text, words_of(exc.errors()))
    return entry.enter(here, size)
