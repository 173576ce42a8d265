"""Where finished files go: one archive, a folder of one's own, a proof sheet, a contact sheet."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from pathlib import Path, PurePath
from typing import Literal
from zipfile import ZIP_STORED, ZipFile, ZipInfo

from pydantic import BaseModel
from typing_extensions import Buffer, override

from oak_ledge.core.errors import CoreError, FileError
from oak_ledge.core.files.names import Sorting, safe, sub_folder
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import clipped, rounded
from oak_ledge.core.notes.every import note_words
from oak_ledge.core.pixels.paper.contact_sheet import Cell, Paper, draw_sheet
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.delivery.deliveries import DeliveryView, folder_of, lost_words, view
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.export.head_lines import head_lines
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading
from oak_ledge.store.folders import CHUNK, copy_new, stays_inside
from oak_ledge.store.work import deliveries
from oak_ledge.store.work.deliveries import DeliveryFile


class PutFile(BaseModel):
    """What became of one file on its way into the folder."""

    name: str
    state: Literal["put", "there", "failed"]
    """`there`: the same bytes lay there already"""
    path: str = ""
    why: str = ""


class Put(BaseModel):
    """What of a delivery was put into the folder of one's own."""

    folder: str
    words: str
    files: list[PutFile]


def single(workspace: Workspace, delivery_id: int, name: str) -> Path:
    """Where one made file lies; only names the delivery itself has written are answered."""
    files = _made(workspace, delivery_id)[1]
    file = next((file for file in files if file.name == name), None)
    if file is None:
        msg = f"Delivery {delivery_id} has no file “{clipped(name)}”."
        raise NotFoundError(msg)
    return _sound(workspace, file)


def archive(
    workspace: Workspace, delivery_id: int, by: Sorting = "none", piece: int | None = None
) -> Iterator[bytes]:
    """All files of a delivery as one archive, written as it is read: no copy lies on disk.

    With a `piece`, those of one placement alone. One that is not as it was proven is left out; the proof
    sheet inside says why.
    """
    delivery, files = _made(workspace, delivery_id)
    if piece is not None:
        files = [file for file in files if file.placement_id == piece]
        delivery = delivery.model_copy(
            update={"files": [file for file in delivery.files if file.placement_id == piece]}
        )
    return _zipped(workspace, delivery, files, by)


def called(delivery: DeliveryView) -> str:
    """Name what a delivery is handed out as: its job, and the day it was asked for."""
    day = delivery.added.astimezone().strftime("%Y-%m-%d")
    return f"{safe(delivery.job_name) if delivery.job_name else f'delivery-{delivery.id}'}-{day}"


def put_into_folder(workspace: Workspace, delivery_id: int, by: Sorting = "none") -> Put:
    """Put all files of a delivery into the folder the settings name, beside whatever is there.

    They stand in a folder named by their job and the day, sorted into sub-folders on wish. What lies there
    already is left as it is; what cannot be put is said, and does not hold up the rest.

    Raises
    ------
    RequestError
        If no folder is set.
    """
    if workspace.folder is None:
        msg = "No folder is set. Start Oak Ledge with OAK_LEDGE_FOLDER=/where/finished/files/go."
        raise RequestError(msg)
    (delivery, made_files), root = _made(workspace, delivery_id), workspace.folder
    folder, names = root / called(delivery), _names(delivery)
    files = [_put(workspace, file, root, folder / _sub(file, names, by)) for file in made_files]
    put, there, failed = (
        sum(file.state == state for file in files) for state in ("put", "there", "failed")
    )
    words = f"{put} of {len(files)} files put into {folder}."
    if there:
        words += f" {there} lay there already."
    if failed:
        words += f" {failed} could not be put there."
    return Put(folder=str(folder), words=words, files=files)


def _put(workspace: Workspace, file: DeliveryFile, root: Path, folder: Path) -> PutFile:
    name = file.name or ""
    try:
        if not root.is_dir():  # a drive that is away must not be written where it was
            msg = f"the folder {root} is not there. Bring it back, then put them there again"
            raise FileError(msg)
        if not stays_inside(root, folder):
            msg = (
                f"{folder} leads out of {root} by a link. Take the link away, or set another folder"
            )
            raise FileError(msg)
        path, new = copy_new(_sound(workspace, file), folder)
    except OSError as exc:
        why = f"{folder} cannot be written to: {exc.strerror or exc}. Make room, or set another"
        return PutFile(name=name, state="failed", why=why)
    except CoreError as exc:
        return PutFile(name=name, state="failed", why=str(exc))
    return PutFile(name=name, state="put" if new else "there", path=str(path))


def _made(workspace: Workspace, delivery_id: int) -> tuple[DeliveryView, list[DeliveryFile]]:
    shown = view(workspace, delivery_id, with_pieces=False)
    with reading(workspace.sessions) as session:
        delivery = deliveries.find(session, delivery_id)
    files = [file for file in (delivery.files if delivery else ()) if file.state == "made"]
    if not files:
        msg = f"Delivery {shown.id} has no files yet."
        raise NotFoundError(msg)
    return shown, files


def _names(delivery: DeliveryView) -> dict[int, str]:
    """Return the photos' names by the files made of them."""
    return {file.id: file.photo_name for file in delivery.files}


def _sub(file: DeliveryFile, names: dict[int, str], by: Sorting) -> str:
    if file.sheet is not None:  # it is of several photos and sizes
        return sub_folder(by, photo="sheets", size="sheets")
    size = size_name(size_at(file.size, file.placement))
    return sub_folder(by, photo=names[file.id], size=size)


def _sound(workspace: Workspace, file: DeliveryFile) -> Path:
    """Return where a made file lies, as it was proven.

    Nothing is written down where it does not: it may come back.

    Raises
    ------
    FileError
        If it is gone, or its bytes are others.
    """
    why = lost_words(workspace, file, surely=True)
    if why is not None:
        raise FileError(why)
    return folder_of(workspace, file.delivery_id) / (file.name or "")


def contact_sheet(
    workspace: Workspace, delivery_id: int, paper: Paper, font: Path, *, heads: bool = False
) -> bytes:
    """Draw all files made of a delivery on a contact sheet; with `heads`, the lines of heads over portraits."""
    (delivery, files), cells = _made(workspace, delivery_id), []
    with reading(workspace.sessions) as session:
        lines = {file.id: head_lines(session, file) for file in files} if heads else {}
    for file in files:
        if file.asked.format == "pdf":  # which is a sheet itself
            continue
        with suppress(FileError):  # it is on no sheet
            path = _sound(workspace, file)
            figures = _figures(file.measured) if file.measured else ""
            cells.append(Cell(path, path.name, figures, lines.get(file.id, ())))
    if not cells:
        msg = f"Delivery {delivery_id} has no pictures for a contact sheet."
        raise NotFoundError(msg)
    return draw_sheet(delivery.job_name, cells, paper, font)


def _figures(measured: Measured) -> str:
    ppi = "" if measured.ppi is None else f" at {rounded(measured.ppi, 1)} ppi"
    return f"{measured.width} × {measured.height} px{ppi}\n{bytes_words(measured.bytes)}"


class _Outlet(io.RawIOBase):
    """What is written waits here until it is taken."""

    def __init__(self) -> None:
        self.parts: list[bytes] = []

    @override
    def writable(self) -> bool:
        return True

    @override
    def write(self, data: Buffer, /) -> int:
        part = bytes(data)
        self.parts.append(part)
        return len(part)

    def taken(self) -> bytes:
        """Return what was written since the last call, and forget it."""
        data, self.parts = b"".join(self.parts), []
        return data


def _zipped(
    workspace: Workspace, delivery: DeliveryView, files: Sequence[DeliveryFile], by: Sorting
) -> Iterator[bytes]:
    outlet, names, lost = _Outlet(), _names(delivery), {}
    with ZipFile(outlet, "w", ZIP_STORED) as zipped:
        for made_file in files:
            try:
                path = _sound(workspace, made_file)
            except FileError as exc:
                lost[made_file.id] = str(exc)
                continue
            name = (PurePath(_sub(made_file, names, by)) / path.name).as_posix()
            info = ZipInfo.from_file(path, name, strict_timestamps=False)  # made when it was made
            with path.open("rb") as file, zipped.open(info, "w", force_zip64=True) as entry:
                while part := file.read(CHUNK):
                    entry.write(part)
                    yield outlet.taken()
        zipped.writestr("proof.csv", proof_sheet(delivery, lost))
    yield outlet.taken()


def proof_sheet(delivery: DeliveryView, lost: Mapping[int, str] | None = None) -> str:
    """Write asked against measured of every file as CSV; `lost` says what is left out, and why."""
    lost = lost or {}
    out = io.StringIO()
    sheet = csv.writer(out)
    sheet.writerow(
        ["file", "state", "asked_width", "asked_height", "asked_ppi", "at_most_bytes",
         "measured_width", "measured_height", "measured_ppi", "bytes", "profile", "bits", "sha256",
         "reason", "allowed"]
    )  # fmt: skip
    for file in delivery.files:
        a, m = file.asked, file.measured
        measured = (
            [m.width, m.height, m.ppi, m.bytes, m.profile, m.bits, m.sha256] if m else [""] * 7
        )
        state, why = ("failed", lost[file.id]) if file.id in lost else (file.state, file.reason)
        row = [_text(file.name), state, a.width, a.height, a.ppi, a.at_most, *measured]
        sheet.writerow([*row, _text(why), ", ".join(note_words(code) for code in file.allowed)])
    return out.getvalue()


def _text(value: str | None) -> str:
    """Keep a table program from taking a text for a formula."""
    text = value or ""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text
