"""How the words for what is printed are read: ground, bleed, wrap, frame, dot, outline, panels."""

from __future__ import annotations

import re
from typing import Any

from oak_ledge.core.errors import SizeError
from oak_ledge.core.heads.head_asked import range_here
from oak_ledge.core.measures.lengths import MEASURE, read_box, read_length, read_measure
from oak_ledge.core.measures.numbers import NUMBER, plain
from oak_ledge.core.sizes.edges.outline import OUTLINES, Outline
from oak_ledge.core.sizes.ground import GROUNDS
from oak_ledge.core.sizes.text.reader import QUOTED, Fields, Reader

_GROUND = re.compile(rf"(#[0-9a-f]{{6}}\b|white|black|{'|'.join(GROUNDS)})(?!\w)", re.IGNORECASE)


def read_on(reader: Reader, word: str, fields: Fields) -> None:
    """Read what the ground is: `on blur`."""
    ground = reader.take(_GROUND)
    if ground is None:
        msg = "what the ground is stands behind “on”"
        raise reader.fail(msg, f"Write it like on white, on #f3efe6, {_or_on()}.")
    fields["ground"] = ground[1].lower()


def _or_on() -> str:
    *most, last = (f"on {name}" for name in GROUNDS)
    return f"{', '.join(most)} or {last}"


_LENGTH = re.compile(
    rf"(?:{NUMBER.pattern})\s*(?:inches|inch|in|cm|mm|[\"″”])(?![a-z])", re.IGNORECASE
)

_BOX = re.compile(
    rf"(?:{NUMBER.pattern})\s*(?:inches|inch|in|cm|mm|[\"″”])?\s*[x×*]\s*"
    rf"(?:{NUMBER.pattern})\s*(?:inches|inch|in|cm|mm|[\"″”])(?![a-z])",
    re.IGNORECASE,
)


_MEASURE = re.compile(MEASURE)


def _measure(reader: Reader, word: str, example: str) -> str:
    measure = reader.take(_MEASURE)
    if measure is None:
        msg = f"the length of “{word}” is missing, with its unit"
        raise reader.fail(msg, f"Write it like {word} {example}.")
    try:
        return str(read_measure(measure[0]))
    except SizeError as exc:
        raise reader.fail(str(exc)) from exc


def read_border(reader: Reader, word: str, fields: Fields) -> None:
    """Read `border 10mm`, or its four sides: top, right, bottom, left."""
    sides = [_measure(reader, word, "10mm")]
    while len(sides) < 4 and _MEASURE.match(reader.text, _past_blanks(reader)):
        sides.append(_measure(reader, word, "10mm"))
    if len(sides) not in (1, 4):
        msg = f"a border has one length, or four; here are {len(sides)}"
        raise reader.fail(msg, "Write it like border 10mm, or border 10mm 10mm 30mm 10mm.")
    fields["border"] = " ".join(sides)


def _past_blanks(reader: Reader) -> int:
    reader.skip()
    return reader.at


def _length(reader: Reader, word: str, example: str = "3mm") -> str:
    length = reader.take(_LENGTH)
    if length is None:
        msg = f"the length of “{word}” is missing, with its unit"
        raise reader.fail(msg, f"Write it like {word} {example}.")
    return str(read_length(length[0]))


def _box(reader: Reader, word: str, example: str) -> str:
    box = reader.take(_BOX)
    if box is None:
        msg = f"the width and height of “{word}” are missing, with their unit"
        raise reader.fail(msg, f"Write them like {word} {example}.")
    return str(read_box(box[0]))


def read_bleed(reader: Reader, word: str, fields: Fields) -> None:
    """Read `bleed 3mm`."""
    fields["bleed"] = _length(reader, word)


_SIDES = re.compile(r"sides\s+(mirrored|mirror|edge|continued|#[0-9a-f]{6})(?!\w)", re.IGNORECASE)


def read_wrap(reader: Reader, word: str, fields: Fields) -> None:
    """Read `wrap 38mm`, and what its sides show."""
    fields["wrap"] = _length(reader, word, "38mm")
    sides = reader.take(_SIDES)
    if sides is not None:
        shown = sides[1].lower()
        fields["sides"] = "mirror" if shown == "mirrored" else shown


def _frame(fields: Fields) -> Fields:
    frame: Fields = fields.setdefault("frame", {})
    return frame


def read_framed(reader: Reader, word: str, fields: Fields) -> None:
    """Read the lip or the moulding of a frame."""
    _frame(fields)[word] = _length(reader, word, "5mm")


def read_opening(reader: Reader, word: str, fields: Fields) -> None:
    """Read `opening 20x30cm`."""
    _frame(fields)["opening"] = _box(reader, word, "20x30cm")


_ROUND = re.compile(r"round\b", re.IGNORECASE)


_WINDOW = re.compile(r"window\b", re.IGNORECASE)


def read_mat(reader: Reader, word: str, fields: Fields) -> None:
    """Read `mat 40x50cm window 28x38cm`, and whether the window is round."""
    outer = _box(reader, word, "40x50cm window 28x38cm")
    if not reader.take(_WINDOW):
        msg = "a mat has a window"
        raise reader.fail(msg, "Write it like mat 40x50cm window 28x38cm.")
    window = _box(reader, "window", "28x38cm")
    is_round = reader.take(_ROUND) is not None
    _frame(fields)["mat"] = {"outer": outer, "window": window, "round": is_round}


def read_fills(reader: Reader, word: str, fields: Fields) -> None:
    """Read `fills 85%`."""
    share = reader.number("how much the subject fills")
    if not reader.take(re.compile("%")):
        msg = "how much the subject fills is per cent of an edge"
        raise reader.fail(msg, "Write it like fills 85%.")
    fields["fills"] = share


def read_head(reader: Reader, word: str, fields: Fields) -> None:
    """Read `head 34mm` or `head 32-36mm`."""
    fields["head"] = _range(reader, "how tall the head shall be", "head 34mm or head 32-36mm")


def read_eyes(reader: Reader, word: str, fields: Fields) -> None:
    """Read `eyes 55%` or `eyes 50-60%`."""
    fields["eyes"] = _range(
        reader, "how high the eyes shall lie above the foot", "eyes 55% or eyes 50-60%"
    )


def _range(reader: Reader, what: str, example: str) -> str:
    match = range_here(reader.text, reader.at)
    if match is None or not (match["unit"] or match["unit2"]):
        msg = f"{what} is missing, with its unit"
        raise reader.fail(msg, f"Write it like {example}.")
    reader.at = match.end()
    return match[0].strip()


def read_dot(reader: Reader, word: str, fields: Fields) -> None:
    """Read `dot 2:1`."""
    across = reader.number("the dot's width")
    if not reader.take(re.compile(":")):
        msg = "a dot is written as its width to its height"
        raise reader.fail(msg, "Write it like dot 2:1.")
    fields["dot"] = across / reader.number("the dot's height")


_OUTLINE_HOW = "Write it like outline circle, outline rounded 6mm, outline heart or outline star 5."


# Of a star; no resolution, as 5ppi, and no other word's number.
_POINTS = re.compile(r"\d{1,3}(?![\d.,]*\d)(?!\s*(?:ppi|dpi|px|bit|[-]))", re.IGNORECASE)


_OUTLINE = re.compile(rf"({'|'.join(OUTLINES)})\b", re.IGNORECASE)


def _outline(reader: Reader) -> dict[str, Any]:
    kind = reader.take(_OUTLINE)
    if kind is None:
        msg = "which outline is missing"
        raise reader.fail(msg, _OUTLINE_HOW)
    name = kind[1].lower()
    if name == "path":
        path = reader.take(QUOTED)
        if path is None:
            msg = "the path's data is missing"
            raise reader.fail(msg, 'Write it like outline path "M0.5 0L1 1L0 1Z".')
        return {"kind": name, "path": path[1].strip()}
    if name == "star":
        points = reader.take(_POINTS)
        return {"kind": name} | ({} if points is None else {"points": int(points[0])})
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


_PANELS_HOW = "Write it like panels 3, panels 2x2 overlap 10mm or panels 3 gap 5cm."


_BETWEEN = re.compile(r"(overlap|gap)\b", re.IGNORECASE)


# Those that are chosen by their drawing.
SHIPPED_OUTLINES = (
    "circle", "ellipse", "rounded 8%", "heart", "star 5", "cloud", "arch", "hexagon",
)  # fmt: skip


def read_outline(text: str) -> Outline:
    """Read an outline alone: `heart`, `star 5`, `rounded 8%`.

    Raises
    ------
    SizeError
        If it is none.
    """
    reader = Reader(text)
    outline = Outline.model_validate(_outline(reader))
    if reader.rest():
        msg = f"“{reader.rest()}” isn't understood here"
        raise reader.fail(msg, _OUTLINE_HOW)
    return outline


def _panels(reader: Reader) -> dict[str, Any]:
    fields: dict[str, Any] = {"columns": _whole(reader, "the number of panels")}
    if reader.take(re.compile("[x×]")):
        fields["rows"] = _whole(reader, "the number of rows")
    while between := reader.take(_BETWEEN):
        word = between[1].lower()
        fields[word] = _measure(reader, word, "10mm" if word == "overlap" else "5cm")
    return fields


def _whole(reader: Reader, what: str) -> int:
    start = reader.at
    number = reader.number(what)
    if number.denominator != 1:
        reader.at = start
        msg = f"{what} must be a whole number"
        raise reader.fail(msg, _PANELS_HOW)
    return int(number)


def read_outlined(reader: Reader, word: str, fields: Fields) -> None:
    """Read the outline a piece is cut along."""
    fields["outline"] = _outline(reader)


def read_in_panels(reader: Reader, word: str, fields: Fields) -> None:
    """Read in how many panels a picture is cut."""
    fields["panels"] = _panels(reader)
