"""What may stand behind the shape and the resolution of a size: dot, turn, outline, panels and so on."""

from __future__ import annotations

import re
from typing import Any, cast

from oak_ledge.core.measures.numbers import plain
from oak_ledge.core.sizes.choices import Turn
from oak_ledge.core.sizes.edges.outline import OUTLINES
from oak_ledge.core.sizes.text.reader import Part, Reader

_TURNS: tuple[Turn, ...] = ("suit", "fixed")


_SETTING = re.compile(
    r"(dot|suit|fixed|trim|extend|inside|stretch|outline|panels)\b", re.IGNORECASE
)


def read_settings(reader: Reader) -> dict[str, Any]:
    """Read what may stand behind shape and resolution, in any order, each at most once."""
    fields: dict[str, Any] = {}
    while True:
        start = reader.at
        match = reader.take(_SETTING)
        if match is None:
            return fields
        word = match[1].lower()
        part: Part = "turn" if word in _TURNS else "differ"
        if word in ("dot", "outline", "panels"):
            part = cast("Part", word)
        if part in fields:
            reader.at = start
            reader.skip()
            msg = f"“{match[1]}” says it a second time"
            raise reader.fail(msg)
        if part == "dot":
            across = reader.number("the dot's width")
            if not reader.take(re.compile(":")):
                msg = "a dot is written as its width to its height"
                raise reader.fail(msg, "Write it like dot 2:1.")
            fields["dot"] = across / reader.number("the dot's height")
        elif part == "outline":
            fields["outline"] = _outline(reader)
            fields["file"] = {"format": "png"}  # which can be clear; asked for another, it is that
        elif part == "panels":
            fields["panels"] = _panels(reader)
        else:
            fields[part] = word
        reader.mark(part, start)


_OUTLINE_HOW = (
    "Write it like outline circle, outline ellipse, outline rounded 6mm or outline rounded 8%."
)


_OUTLINE = re.compile(rf"({'|'.join(OUTLINES)})\b", re.IGNORECASE)


_QUOTED = re.compile(r"[\"“”']([^\"“”']*)[\"“”']")


def _outline(reader: Reader) -> dict[str, Any]:
    kind = reader.take(_OUTLINE)
    if kind is None:
        msg = "which outline is missing"
        raise reader.fail(msg, _OUTLINE_HOW)
    name = kind[1].lower()
    if name == "path":
        path = reader.take(_QUOTED)
        if path is None:
            msg = "the path's data is missing"
            raise reader.fail(msg, 'Write it like outline path "M0.5 0L1 1L0 1Z".')
        return {"kind": name, "path": path[1].strip()}
    if name != "rounded":
        return {"kind": name}
    radius = reader.number("the corners' radius")
    if reader.take(re.compile("%")):
        return {"kind": name, "percent": radius}
    unit = reader.unit()
    if unit is None:
        msg = "the unit of the corners' radius is missing"
        raise reader.fail(msg, _OUTLINE_HOW)
    return {"kind": name, "radius": f"{plain(radius)}{unit}"}


_PANELS_HOW = "Write it like panels 3, panels 2x2 or panels 2x2 overlap 10mm."


_OVERLAP = re.compile(r"overlap\b", re.IGNORECASE)


def _panels(reader: Reader) -> dict[str, Any]:
    fields: dict[str, Any] = {"columns": _whole(reader, "the number of panels")}
    if reader.take(re.compile("[x×]")):
        fields["rows"] = _whole(reader, "the number of rows")
    if reader.take(_OVERLAP):
        shared = reader.number("the overlap")
        unit = reader.unit()
        if unit in (None, "px"):
            msg = "the overlap is a length"
            raise reader.fail(msg, _PANELS_HOW)
        fields["overlap"] = f"{plain(shared)}{unit}"
    return fields


def _whole(reader: Reader, what: str) -> int:
    start = reader.at
    number = reader.number(what)
    if number.denominator != 1:
        reader.at = start
        msg = f"{what} must be a whole number"
        raise reader.fail(msg, _PANELS_HOW)
    return int(number)
