"""The library of sizes as a file: JSON for programs, CSV for spreadsheets (RFC 4180)."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator, Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.checks import refuse_open_extend
from oak_ledge.core.sizes.edges.frame import Frame
from oak_ledge.core.sizes.file.ppi_range import PpiRange
from oak_ledge.core.sizes.size import Size, first_error
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import write_shape

COLUMNS = (
    "name", "group", "size", "ground", "border", "mark", "backdrop", "bleed", "wrap", "sides", "fold marks", "frame opening", "lip", "moulding",
    "mat outer", "mat window", "method", "sharpen for", "sharpen", "lowest ppi", "highest ppi", "receiver", "greatest enlargement", "format",
    "quality", "at most bytes", "profile", "profile name", "profile file", "metadata", "location", "fine colour", "progressive",
    "compression", "name pattern", "says",
)  # fmt: skip


MOST_BYTES = 10_000_000


# A spreadsheet would run these (OWASP, "CSV Injection").
FORMULA_STARTS = "=+-@\t\r"


class SizeFile(BaseModel):
    """A whole library."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    kind: Literal["oak-ledge sizes"] = "oak-ledge sizes"
    sizes: tuple[Size, ...]


def write_json(sizes: Sequence[Size]) -> str:
    """Write sizes as JSON; reading gives them back, equal in every field."""
    return SizeFile(sizes=tuple(sizes)).model_dump_json(indent=2) + "\n"


def write_csv(sizes: Sequence[Size]) -> str:
    """Write sizes as CSV, a row each; the last column is for people and not read."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    for size in sizes:
        low, high = (size.receiver.low, size.receiver.high) if size.receiver else ("", "")
        file = size.file
        cells = (
            size.name, size.group, write_shape(size), size.ground, size.border and size.border.text.removeprefix("border "), size.mark and size.mark.model_dump_json(), size.backdrop and size.backdrop.model_dump_json(), size.bleed, size.wrap, size.sides and size.sides.ground, size.sides and size.sides.marks,
            *_frame_cells(size.frame), size.method, size.sharpen_for, size.sharpen, low, high, size.goes_to, size.greatest_enlargement, file.format,
            file.quality, file.at_most, file.profile, file.icc and file.icc.name,
            file.icc and file.icc.data, file.metadata, file.location,
            file.fine_colour, file.progressive, file.compression, file.pattern, say_size(size),
        )  # fmt: skip
        rows.writerow(["" if cell is None else _quiet(str(cell)) for cell in cells])
    return out.getvalue()


def _frame_cells(frame: Frame | None) -> tuple[object, ...]:
    if frame is None:
        return (None,) * 5
    mat = (None, None) if frame.mat is None else (frame.mat.outer, frame.mat.window_text)
    return (frame.opening, frame.lip, frame.moulding, *mat)


def read_file(text: str) -> tuple[Size, ...]:
    """Read a library from JSON or CSV, all of it or nothing.

    Raises
    ------
    SizeError
        Naming the size or row that is wrong, and why.
    """
    if len(text) > MOST_BYTES:
        msg = f"the file is larger than {MOST_BYTES // 1_000_000} MB; a library is far smaller"
        raise SizeError(msg)
    text = text.removeprefix("\ufeff")
    sizes = _read_json(text) if text.lstrip().startswith(("{", "[")) else _read_csv(text)
    for size in sizes:
        refuse_open_extend(size)
    return sizes


def _read_json(text: str) -> tuple[Size, ...]:
    try:
        return SizeFile.model_validate(json.loads(text, parse_float=str)).sizes
    except json.JSONDecodeError as exc:
        msg = f"the file is damaged at line {exc.lineno}: {exc.msg}. Export it again"
        raise SizeError(msg) from exc
    except RecursionError as exc:
        msg = "the file is nested too deeply to be a library of sizes"
        raise SizeError(msg) from exc
    except ValidationError as exc:
        msg = first_error(exc)
        raise SizeError(msg if exc.errors()[0]["loc"] else f"the file: {msg}") from exc
    except ValueError as exc:  # such as a number of more digits than are read
        msg = f"the file holds something that can't be read: {exc}"
        raise SizeError(msg) from exc


def _read_csv(text: str) -> tuple[Size, ...]:
    rows = csv.DictReader(io.StringIO(text), restkey="more", restval="")
    try:
        missing = {"name", "size"} - set(rows.fieldnames or ())
    except csv.Error as exc:
        msg = f"the table can't be read: {exc}. Export it again"
        raise SizeError(msg) from exc
    if missing:
        msg = (
            f"the file has no column “{min(missing)}”; its first row must be: {', '.join(COLUMNS)}"
        )
        raise SizeError(msg)
    sizes = []
    for number, row in enumerate(_each(rows), 2):
        try:
            sizes.append(
                _row_size({key: _loud(value or "") for key, value in row.items() if key != "more"})
            )
        except (ValueError, KeyError) as exc:
            words = first_error(exc) if isinstance(exc, ValidationError) else str(exc)
            msg = f"row {number}: {words}"
            raise SizeError(msg) from exc
    return tuple(sizes)


def _each(rows: csv.DictReader[str]) -> Iterator[dict[str, str]]:
    """Go through the rows of a table that may be damaged."""
    try:
        yield from rows
    except csv.Error as exc:
        msg = f"the table can't be read: {exc}. Export it again"
        raise SizeError(msg) from exc


def _row_size(row: dict[str, str]) -> Size:
    fields = read_size(row["size"]).model_dump()
    fields |= {"name": row["name"], "group": row.get("group") or "own"}
    if row.get("lowest ppi"):
        high = row.get("highest ppi") or row["lowest ppi"]
        fields["receiver"] = PpiRange(low=int(row["lowest ppi"]), high=int(high))
    fields |= _filled(
        row, {"ground": "ground", "border": "border", "bleed": "bleed", "wrap": "wrap"}
    )
    for name in ("mark", "backdrop"):
        if row.get(name):
            fields[name] = json.loads(row[name])
    if row.get("sides"):
        fields["sides"] = _filled(row, {"ground": "sides", "marks": "fold marks"})
    fields |= _filled(row, {"method": "method", "sharpen_for": "sharpen for"})
    fields |= _filled(row, {"goes_to": "receiver"})
    fields |= _filled(row, {"sharpen": "sharpen", "greatest_enlargement": "greatest enlargement"})
    fields["file"] = _filled(
        row,
        {
            "format": "format", "quality": "quality", "at_most": "at most bytes",
            "profile": "profile", "metadata": "metadata", "location": "location",
            "fine_colour": "fine colour", "progressive": "progressive",
            "compression": "compression", "pattern": "name pattern",
        },
    )  # fmt: skip
    if row.get("profile file"):
        fields["file"]["icc"] = _filled(row, {"name": "profile name", "data": "profile file"})
    frame: dict[str, object] = _filled(
        row, {"opening": "frame opening", "lip": "lip", "moulding": "moulding"}
    )
    mat = _filled(row, {"outer": "mat outer", "window": "mat window"})
    if frame or mat:
        fields["frame"] = frame | ({"mat": mat} if mat else {})
    return Size.model_validate(fields)


def _filled(row: dict[str, str], columns: dict[str, str]) -> dict[str, object]:
    """Return the fields whose cells hold something."""
    return {field: row[column] for field, column in columns.items() if row.get(column)}


def _quiet(cell: str) -> str:
    """Keep a spreadsheet from running a name as a formula."""
    return "'" + cell if cell[:1] and cell[0] in FORMULA_STARTS + "'" else cell


def _loud(cell: str) -> str:
    return cell[1:] if cell.startswith("'") else cell
