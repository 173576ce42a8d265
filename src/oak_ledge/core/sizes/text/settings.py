"""What may stand behind the shape of a size, in any order: all else that one line can say of it.

A new word is a row of `SETTINGS`, and what writes it in `text/write.py`.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from difflib import get_close_matches
from fractions import Fraction
from typing import Any

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.bytes import read_bytes
from oak_ledge.core.measures.lengths import CM_PER_INCH, read_box, read_length
from oak_ledge.core.measures.numbers import NUMBER, plain
from oak_ledge.core.sizes.choices import MethodChoice, SharpenFor
from oak_ledge.core.sizes.edges.outline import OUTLINES
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.ground import GROUNDS
from oak_ledge.core.sizes.text.reader import Part, Reader

Fields = dict[str, Any]

# What a method, a surface or a choice of metadata is called in a line.
METHOD_NAMES: dict[str, MethodChoice] = {
    "gentle": "mitchell", "natural": "bicubic", "crisp": "lanczos", "blocks": "nearest",
}  # fmt: skip
SURFACES: dict[str, SharpenFor] = {"screen": "screen", "smooth": "smooth", "rough": "rough"}
METADATA = {"all": "keep", "keep": "keep", "copyright": "copyright", "none": "none"}
PROFILES = {"srgb": "srgb", "p3": "p3", "grey": "grey", "gray": "grey"}
TURNS = ("suit", "fixed", "wide", "tall")
DIFFERS = ("trim", "extend", "inside", "stretch")


@dataclass(frozen=True)
class Setting:
    """A word of the line: which `part` it says, under which `key` only once, and how it is read.

    `read` takes the reader behind the word, the word, and the fields read so far, to add to.
    """

    pattern: str
    part: Part
    key: str
    read: Callable[[Reader, str, Fields], None]

    def match(self, reader: Reader) -> re.Match[str] | None:
        """Go past the word, where it stands here."""
        return reader.take(re.compile(rf"({self.pattern})(?![\w])", re.IGNORECASE))


def read_settings(reader: Reader) -> Fields:
    """Read what may stand behind a shape, in any order, each at most once.

    Returns
    -------
    Fields of a size; `turned` where it is to lie wide or tall, and those of its file under `file`.
    """
    fields: Fields = {}
    seen: set[str] = set()
    while True:
        before = reader.at
        reader.take(_COMMA)
        start = reader.at
        ppi = _resolution_here(reader)
        if ppi is not None:
            _once(reader, "resolution", seen, start, "the resolution")
            fields["ppi"] = ppi
            reader.mark("resolution", start)
            continue
        for setting in SETTINGS:
            match = setting.match(reader)
            if match is not None:
                break
        else:
            reader.at = before
            return fields
        _once(reader, setting.key, seen, start, match[1])
        setting.read(reader, match[1].lower(), fields)
        reader.mark(setting.part, start)


def _once(reader: Reader, key: str, seen: set[str], start: int, word: str) -> None:
    if key in seen:
        reader.at = start
        reader.skip()
        msg = f"“{word}” says it a second time"
        raise reader.fail(msg)
    seen.add(key)


def unknown_words(reader: Reader) -> str:
    """Return what is said of words that nothing knows: them, and the nearest known ones."""
    rest = reader.rest().lstrip(",; ")
    word = re.match(r"[^\W\d_]+", rest)
    if word is None:
        return f"“{rest}” isn't understood here"
    near = get_close_matches(word[0].lower(), KNOWN_WORDS, n=3, cutoff=0.6)
    said = f"“{rest}” isn't understood here"
    if not near:
        return said
    words = "words are" if len(near) > 1 else "word is"
    return f"{said}; the nearest known {words} {', '.join(near)}"


_COMMA = re.compile(r",")

_AT = re.compile(r"@|at\b(?!\s*most)", re.IGNORECASE)

_PER_CM = re.compile(r"px\s*/\s*cm", re.IGNORECASE)

_PER_INCH = re.compile(r"ppi|dpi", re.IGNORECASE)

_RESOLUTION_AHEAD = re.compile(rf"(?:{NUMBER.pattern})\s*(?:ppi|dpi|px\s*/\s*cm)", re.IGNORECASE)


def _resolution_here(reader: Reader) -> Fraction | None:
    """Read `@300`, `at 300 dpi` or `300ppi`, in pixels per inch; None where there is none."""
    reader.skip()
    if not reader.take(_AT) and not _RESOLUTION_AHEAD.match(reader.text, reader.at):
        return None
    value = reader.number("the resolution")
    if reader.take(_PER_CM):
        return value * CM_PER_INCH
    reader.take(_PER_INCH)
    return value


# --- how each is read


def _turn(reader: Reader, word: str, fields: Fields) -> None:
    fields["turned" if word in ("wide", "tall") else "turn"] = word


def _differ(reader: Reader, word: str, fields: Fields) -> None:
    fields["differ"] = word


_GROUND = re.compile(rf"(#[0-9a-f]{{6}}\b|white|black|{'|'.join(GROUNDS)})(?!\w)", re.IGNORECASE)


def _on(reader: Reader, word: str, fields: Fields) -> None:
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


def _bleed(reader: Reader, word: str, fields: Fields) -> None:
    fields["bleed"] = _length(reader, word)


_SIDES = re.compile(r"sides\s+(mirrored|mirror|edge|continued|#[0-9a-f]{6})(?!\w)", re.IGNORECASE)


def _wrap(reader: Reader, word: str, fields: Fields) -> None:
    fields["wrap"] = _length(reader, word, "38mm")
    sides = reader.take(_SIDES)
    if sides is not None:
        shown = sides[1].lower()
        fields["sides"] = "mirror" if shown == "mirrored" else shown


def _frame(fields: Fields) -> Fields:
    frame: Fields = fields.setdefault("frame", {})
    return frame


def _framed(reader: Reader, word: str, fields: Fields) -> None:
    _frame(fields)[word] = _length(reader, word, "5mm")


def _opening(reader: Reader, word: str, fields: Fields) -> None:
    _frame(fields)["opening"] = _box(reader, word, "20x30cm")


_WINDOW = re.compile(r"window\b", re.IGNORECASE)


def _mat(reader: Reader, word: str, fields: Fields) -> None:
    outer = _box(reader, word, "40x50cm window 28x38cm")
    if not reader.take(_WINDOW):
        msg = "a mat has a window"
        raise reader.fail(msg, "Write it like mat 40x50cm window 28x38cm.")
    _frame(fields)["mat"] = {"outer": outer, "window": _box(reader, "window", "28x38cm")}


def _dot(reader: Reader, word: str, fields: Fields) -> None:
    across = reader.number("the dot's width")
    if not reader.take(re.compile(":")):
        msg = "a dot is written as its width to its height"
        raise reader.fail(msg, "Write it like dot 2:1.")
    fields["dot"] = across / reader.number("the dot's height")


def _file(fields: Fields) -> Fields:
    file: Fields = fields.setdefault("file", {})
    return file


def _format(reader: Reader, word: str, fields: Fields) -> None:
    _file(fields)["format"] = _FORMAT_WORDS[word]


_WHOLE = re.compile(r"\d{1,3}(?![\d.,]*\d)")


def _quality(reader: Reader, word: str, fields: Fields) -> None:
    reader.skip()
    start = reader.at
    quality = reader.take(_WHOLE)
    if quality is None or not 1 <= int(quality[0]) <= 100:
        reader.at = start
        msg = "a quality is a whole number from 1 to 100"
        raise reader.fail(msg, "Write it like quality 85.")
    _file(fields)["quality"] = int(quality[0])


_BYTES = re.compile(r"\d{1,12}(?:[.,]\d{1,9})?\s*(?:[kmg]b|bytes|[kmg])?(?!\w)", re.IGNORECASE)


def _at_most(reader: Reader, word: str, fields: Fields) -> None:
    limit = reader.take(_BYTES)
    if limit is None:
        msg = "how many bytes is missing behind “at most”"
        raise reader.fail(msg, "Write it like at most 300kB.")
    try:
        _file(fields)["at_most"] = read_bytes(limit[0])
    except SizeError as exc:
        raise reader.fail(str(exc)) from exc


def _bits(reader: Reader, word: str, fields: Fields) -> None:
    _file(fields)["bits"] = 16 if word.startswith("16") else 8


def _profile(reader: Reader, word: str, fields: Fields) -> None:
    _file(fields)["profile"] = PROFILES[word]


_METADATA = re.compile(rf"({'|'.join(METADATA)})\b", re.IGNORECASE)


def _metadata(reader: Reader, word: str, fields: Fields) -> None:
    kept = reader.take(_METADATA)
    if kept is None:
        msg = "what is kept is missing behind “metadata”"
        raise reader.fail(msg, "Write metadata all, metadata copyright or metadata none.")
    _file(fields)["metadata"] = METADATA[kept[1].lower()]


def _no_location(reader: Reader, word: str, fields: Fields) -> None:
    _file(fields)["location"] = False


def _method(reader: Reader, word: str, fields: Fields) -> None:
    fields["method"] = METHOD_NAMES[word]


_SURFACE = re.compile(rf"({'|'.join(SURFACES)})\b", re.IGNORECASE)


def _sharpen(reader: Reader, word: str, fields: Fields) -> None:
    surface = reader.take(_SURFACE)
    if surface is None:
        msg = "what it is sharpened for is missing"
        raise reader.fail(msg, "Write sharpen screen, sharpen smooth or sharpen rough.")
    fields["sharpen_for"] = SURFACES[surface[1].lower()]
    strength = reader.take(_WHOLE)
    if strength is not None:
        if int(strength[0]) > 100:
            msg = "a strength goes from 0 to 100"
            raise reader.fail(msg, "Write it like sharpen smooth 40.")
        fields["sharpen"] = int(strength[0])


_QUOTED = re.compile(r"[\"“”']([^\"“”']*)[\"“”']")


def _named(reader: Reader, word: str, fields: Fields) -> None:
    pattern = reader.take(_QUOTED)
    if pattern is None or not pattern[1].strip():
        msg = "the pattern of names is missing, in quotes"
        raise reader.fail(msg, 'Write it like named "{photo}_{size}".')
    _file(fields)["pattern"] = pattern[1].strip()


_OUTLINE_HOW = (
    "Write it like outline circle, outline ellipse, outline rounded 6mm or outline rounded 8%."
)


_OUTLINE = re.compile(rf"({'|'.join(OUTLINES)})\b", re.IGNORECASE)


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


def _outlined(reader: Reader, word: str, fields: Fields) -> None:
    fields["outline"] = _outline(reader)


def _in_panels(reader: Reader, word: str, fields: Fields) -> None:
    fields["panels"] = _panels(reader)


_FORMAT_WORDS = {key: key for key in FORMATS} | {"jpg": "jpeg", "tif": "tiff"}

SETTINGS: tuple[Setting, ...] = (
    Setting("|".join(TURNS), "turn", "turn", _turn),
    Setting("|".join(DIFFERS), "differ", "differ", _differ),
    Setting("on", "differ", "ground", _on),
    Setting("dot", "dot", "dot", _dot),
    Setting("outline", "outline", "outline", _outlined),
    Setting("panels", "panels", "panels", _in_panels),
    Setting("bleed", "edges", "bleed", _bleed),
    Setting("wrap", "edges", "wrap", _wrap),
    Setting("lip", "frame", "lip", _framed),
    Setting("moulding", "frame", "moulding", _framed),
    Setting("opening", "frame", "opening", _opening),
    Setting("mat", "frame", "mat", _mat),
    Setting("|".join(_FORMAT_WORDS), "file", "format", _format),
    Setting("quality", "file", "quality", _quality),
    Setting(r"at\s+most", "file", "at_most", _at_most),
    Setting(r"(?:8|16)[\s-]*bits?", "file", "bits", _bits),
    Setting("|".join(PROFILES), "file", "profile", _profile),
    Setting("metadata", "file", "metadata", _metadata),
    Setting(r"no\s+location", "file", "location", _no_location),
    Setting("|".join(METHOD_NAMES), "pixels", "method", _method),
    Setting("sharpen", "pixels", "sharpen", _sharpen),
    Setting("named", "file", "pattern", _named),
)

# What an unknown word is compared with.
KNOWN_WORDS = (
    *TURNS, *DIFFERS, *GROUNDS, "on", "white", "dot", "outline", *OUTLINES, "panels", "overlap", "bleed",
    "wrap", "sides", "lip", "moulding", "opening", "mat", "window", *_FORMAT_WORDS, "quality", "at most", "8 bit", "16 bit",
    *PROFILES, "metadata", "copyright", "no location", *METHOD_NAMES, "sharpen", *SURFACES, "named",
)  # fmt: skip
