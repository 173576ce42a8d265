"""The library of sizes as a file: JSON for programs, CSV for spreadsheets (RFC 4180)."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from oak_ledge.core.errors import SizeError
from oak_ledge.core.size_text import read_size, say_size, write_size
from oak_ledge.core.sizes import PpiRange, Size

COLUMNS = (
    "name", "group", "size", "lowest ppi", "highest ppi", "greatest enlargement", "format",
    "quality", "name pattern", "says",
)  # fmt: skip
MOST_BYTES = 10_000_000
FORMULA_STARTS = "=+-@\t\r"  # a spreadsheet would run these (OWASP, "CSV Injection")


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
        cells = (
            size.name, size.group, write_size(size), low, high, str(size.greatest_enlargement),
            size.file.format, size.file.quality, size.file.pattern, say_size(size),
        )  # fmt: skip
        rows.writerow([_quiet(str(cell)) for cell in cells])
    return out.getvalue()


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
    return _read_json(text) if text.lstrip().startswith(("{", "[")) else _read_csv(text)


def _read_json(text: str) -> tuple[Size, ...]:
    try:
        return SizeFile.model_validate(json.loads(text, parse_float=str)).sizes
    except json.JSONDecodeError as exc:
        msg = f"the file is damaged at line {exc.lineno}: {exc.msg}. Export it again"
        raise SizeError(msg) from exc
    except ValidationError as exc:
        first = exc.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        msg = f"{where}: {first['msg'].removeprefix('Value error, ')}"
        raise SizeError(msg) from exc


def _read_csv(text: str) -> tuple[Size, ...]:
    rows = csv.DictReader(io.StringIO(text), restkey="more", restval="")
    missing = {"name", "size"} - set(rows.fieldnames or ())
    if missing:
        msg = (
            f"the file has no column “{min(missing)}”; its first row must be: {', '.join(COLUMNS)}"
        )
        raise SizeError(msg)
    found = []
    for number, row in enumerate(rows, 2):
        try:
            found.append(
                _row_size({key: _loud(value or "") for key, value in row.items() if key != "more"})
            )
        except (ValueError, KeyError) as exc:
            told = exc.errors()[0]["msg"] if isinstance(exc, ValidationError) else str(exc)
            msg = f"row {number}: {told.removeprefix('Value error, ')}"
            raise SizeError(msg) from exc
    return tuple(found)


def _row_size(row: dict[str, str]) -> Size:
    told = read_size(row["size"]).model_dump()
    told |= {"name": row["name"], "group": row.get("group") or "own"}
    if row.get("lowest ppi"):
        high = row.get("highest ppi") or row["lowest ppi"]
        told["receiver"] = PpiRange(low=int(row["lowest ppi"]), high=int(high))
    if row.get("greatest enlargement"):
        told["greatest_enlargement"] = row["greatest enlargement"]
    settings = {
        "format": row.get("format"), "quality": row.get("quality"), "pattern": row.get("name pattern"),
    }  # fmt: skip
    told["file"] = {key: value for key, value in settings.items() if value}
    return Size.model_validate(told)


def _quiet(cell: str) -> str:
    """Keep a spreadsheet from running a name as a formula."""
    return "'" + cell if cell[:1] and cell[0] in FORMULA_STARTS + "'" else cell


def _loud(cell: str) -> str:
    return cell[1:] if cell.startswith("'") else cell
