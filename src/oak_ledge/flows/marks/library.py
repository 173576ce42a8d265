"""The library of marks: pictures and lines of text, added, changed, deleted and brought back."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.errors import PhotoError, SizeError
from oak_ledge.core.marks.laid import MarkFile
from oak_ledge.core.marks.mark import ExactExtent, MarkPicture, NamedMark, Place
from oak_ledge.core.pixels.marks.alone import lightness_of, mark_alone
from oak_ledge.core.pixels.marks.line_of_text import line_of_text
from oak_ledge.core.pixels.marks.open_mark import open_mark
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.library import marks
from oak_ledge.store.library.marks import SavedMark

T = TypeVar("T")

# Bytes of a mark's file.
MOST_BYTES = 10_000_000

# By how much the two pictures of a mark may differ in their ratio.
_ALIKE = 0.01

Font = Literal["slab", "sans"]

# `#rrggbb`, as a page's colour field gives it.
HEX = "^#[0-9a-fA-F]{6}$"


class LineBody(BaseModel):
    """A line of text as a mark: its words, font and colour, and the colour it has on dark ground."""

    model_config = ConfigDict(extra="forbid")

    text: str = Field(max_length=500)
    name: str = Field(default="", max_length=200)
    font: Font = "slab"
    colour: str = Field(default="#10201c", pattern=HEX)
    on_dark: str | None = Field(default="#f3efe6", pattern=HEX)


class MarkChange(BaseModel):
    """What of a mark shall be otherwise: its name, or how it is laid at first."""

    model_config = ConfigDict(extra="forbid")

    name: str | None = Field(default=None, max_length=200)
    place: Place | None = None
    width: ExactExtent | None = None
    margin: ExactExtent | None = None
    opacity: int | None = Field(default=None, ge=1, le=100)
    deleted: bool | None = None


class MarkView(BaseModel):
    """A mark of the library, as it is laid at first."""

    id: int
    name: str
    mark: NamedMark
    text: str | None
    """what it says, where it is a line of text"""
    words: str
    """what it is, in words"""


def every(workspace: Workspace) -> list[MarkView]:
    """Return all marks, by name."""
    with reading(workspace.sessions) as session:
        return [_view(saved) for saved in marks.every(session)]


def add_picture(
    workspace: Workspace, name: str, data: bytes, other: bytes | None, now: datetime
) -> MarkView:
    """Add a mark from its file; of two pictures the lighter one is laid on dark ground.

    Raises
    ------
    PhotoError
        If a file is no mark, or could do harm.
    SizeError
        If the two differ in shape, or the name is empty.
    """
    picture, dark = _opened(data, "The mark"), None
    if other:
        dark = _opened(other, "The picture for dark ground")
        of_each = [each.width / each.height for each in (picture, dark)]
        if abs(of_each[0] / of_each[1] - 1) > _ALIKE:
            msg = (
                f"the two pictures differ in shape: {picture.width} × {picture.height} and "
                f"{dark.width} × {dark.height}; save both with the same edges"
            )
            raise SizeError(msg)
        if _in_file(other, lightness_of) < _in_file(data, lightness_of):
            picture, dark, data, other = dark, picture, other, data
    return _added(workspace, name, (picture, data), (dark, other or b""), None, now)


def add_line(workspace: Workspace, body: LineBody, font: Path, now: datetime) -> MarkView:
    """Add a line of text as a mark, called what it says where it has no name.

    Raises
    ------
    SizeError
        If the font lacks a letter of it, or nothing is written.
    """
    line = " ".join(body.text.split())
    data = line_of_text(line, font, body.colour.lower())
    dark, other = None, b""
    if body.on_dark is not None:
        other = line_of_text(line, font, body.on_dark.lower())
        dark = _opened(other, "The line")
    own = (_opened(data, "The line"), data)
    return _added(workspace, body.name.strip() or line[:60], own, (dark, other), line, now)


def change(workspace: Workspace, mark_id: int, body: MarkChange, now: datetime) -> MarkView:
    """Change a mark, delete it or bring it back; pieces that have it keep it as it was.

    Raises
    ------
    NotFoundError
        If there never was one.
    RequestError
        If another has the name.
    """
    with transaction(workspace.sessions) as session:
        saved = _find(session, mark_id)
        fields = body.model_dump(exclude_none=True, exclude={"deleted", "name"})
        if body.name is not None or body.deleted is False:
            named = saved.mark.name if body.name is None else body.name
            fields["name"] = _free_name(session, named, but=mark_id)
        if fields:
            mark = NamedMark.model_validate(dict(saved.mark) | fields)
            saved = marks.change(session, mark_id, mark)
        if body.deleted is not None:
            saved = marks.set_deleted(session, mark_id, now if body.deleted else None)
        return _view(saved)


def picture_file(workspace: Workspace, picture: MarkPicture) -> MarkFile:
    """Return a mark's file on disk, put there from the database where it is not.

    Raises
    ------
    PhotoError
        If it is not here.
    """
    path = workspace.previews / "marks" / picture.hash
    if not is_fresh(path):
        replace_file(path, file_bytes(workspace, picture.hash))
    return MarkFile(path, (picture.width, picture.height), picture.drawn)


def file_bytes(workspace: Workspace, sha256: str) -> bytes:
    """Return a mark's file by its content's hash.

    Raises
    ------
    PhotoError
        If it is not here.
    """
    with reading(workspace.sessions) as session:
        data = marks.file_of(session, sha256)
    if data is None:
        msg = "its mark is not here: lay another, or add its file to the marks again"
        raise PhotoError(msg)
    return data


def shown(workspace: Workspace, sha256: str, edge: int) -> Path:
    """Draw a mark alone as a PNG, its longer edge `edge` pixels.

    Raises
    ------
    NotFoundError
        If it is not here.
    """
    path = workspace.previews / "marks" / f"{sha256}-{edge}.png"
    if not is_fresh(path):
        try:
            drawn = _in_file(file_bytes(workspace, sha256), lambda file: mark_alone(file, edge))
        except PhotoError as exc:
            msg = "There is no such mark."
            raise NotFoundError(msg) from exc
        replace_file(path, drawn)
    return path


def _added(
    workspace: Workspace,
    name: str,
    own: tuple[MarkPicture, bytes],
    other: tuple[MarkPicture | None, bytes],
    text: str | None,
    now: datetime,
) -> MarkView:
    with transaction(workspace.sessions) as session:
        free = _free_name(session, name)
        mark = NamedMark(name=free, picture=own[0], on_dark=other[0])
        for picture, data in (own, other):
            if picture is not None:
                marks.keep_file(session, picture.hash, data)
        return _view(marks.add(session, mark, text, now))


def _free_name(session: Session, name: str, but: int | None = None) -> str:
    name = " ".join(name.split())
    if not name or len(name) > 60:
        msg = "a mark's name has 1 to 60 letters; give it one"
        raise SizeError(msg)
    there = marks.called(session, name)
    if there is not None and there.id != but:
        msg = (
            f"There is a mark “{there.mark.name}” already. Choose another name, or delete that one."
        )
        raise RequestError(msg)
    return name


def _opened(data: bytes, what: str) -> MarkPicture:
    """Look through a mark's file, and tell it by its content."""
    if len(data) > MOST_BYTES:
        msg = f"{what} is larger than {MOST_BYTES // 1_000_000} MB; save it smaller"
        raise PhotoError(msg)
    try:
        file = _in_file(data, lambda file: file)
    except PhotoError as exc:
        msg = f"{what} was not taken in: {exc}"
        raise PhotoError(msg) from exc
    wide, high = file.shape
    sha256 = hashlib.sha256(data).hexdigest()
    return MarkPicture(hash=sha256, width=wide, height=high, drawn=file.drawn)


def _in_file(data: bytes, do: Callable[[MarkFile], T]) -> T:
    """Do something with a mark's bytes as a file that is gone afterwards."""
    with TemporaryDirectory(prefix="oak-ledge-") as folder:
        path = Path(folder) / "mark"
        path.write_bytes(data)
        return do(open_mark(path))


def _find(session: Session, mark_id: int) -> SavedMark:
    saved = marks.find(session, mark_id)
    if saved is None:
        msg = f"There is no mark {mark_id}."
        raise NotFoundError(msg)
    return saved


def _view(saved: SavedMark) -> MarkView:
    picture = saved.mark.picture
    if saved.text is not None:
        what = "a line of text"
    else:
        kind = "SVG" if picture.drawn else "picture"
        what = f"{kind}, {picture.width} × {picture.height} px"
    both = ", light and dark" if saved.mark.on_dark is not None else ""
    return MarkView(
        id=saved.id,
        name=saved.mark.name,
        mark=saved.mark,
        text=saved.text,
        words=what + both,
    )
