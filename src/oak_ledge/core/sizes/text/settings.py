"""What may stand behind the shape of a size, in any order: all else that one line can say of it.

A new word is a row of `SETTINGS`, and what writes it in `text/write.py`.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from difflib import get_close_matches
from fractions import Fraction

from oak_ledge.core.measures.lengths import CM_PER_INCH
from oak_ledge.core.measures.numbers import NUMBER
from oak_ledge.core.sizes.edges.outline import OUTLINES
from oak_ledge.core.sizes.ground import GROUNDS
from oak_ledge.core.sizes.text import file_words, print_words
from oak_ledge.core.sizes.text.file_words import FORMAT_WORDS, METHOD_NAMES, PROFILES, SURFACES
from oak_ledge.core.sizes.text.reader import Fields, Part, Reader

# Words for how a size lies, and for photos of another shape.
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
    said = f"“{rest}” isn't understood here"
    if word[0].lower() in ("gap", "overlap"):
        return f"{said}; it stands right behind “panels 3”"
    near = get_close_matches(word[0].lower(), KNOWN_WORDS, n=3, cutoff=0.7)
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


def _turn(reader: Reader, word: str, fields: Fields) -> None:
    fields["turned" if word in ("wide", "tall") else "turn"] = word


def _differ(reader: Reader, word: str, fields: Fields) -> None:
    fields["differ"] = word


SETTINGS: tuple[Setting, ...] = (
    Setting("|".join(TURNS), "turn", "turn", _turn),
    Setting("|".join(DIFFERS), "differ", "differ", _differ),
    Setting("on", "differ", "ground", print_words.read_on),
    Setting("dot", "dot", "dot", print_words.read_dot),
    Setting("fills", "differ", "fills", print_words.read_fills),
    Setting("head", "differ", "head", print_words.read_head),
    Setting("eyes", "differ", "eyes", print_words.read_eyes),
    Setting("outline", "outline", "outline", print_words.read_outlined),
    Setting("panels", "panels", "panels", print_words.read_in_panels),
    Setting("bleed", "edges", "bleed", print_words.read_bleed),
    Setting("border", "edges", "border", print_words.read_border),
    Setting("wrap", "edges", "wrap", print_words.read_wrap),
    Setting("lip", "frame", "lip", print_words.read_framed),
    Setting("moulding", "frame", "moulding", print_words.read_framed),
    Setting("opening", "frame", "opening", print_words.read_opening),
    Setting("mat", "frame", "mat", print_words.read_mat),
    Setting("|".join(FORMAT_WORDS), "file", "format", file_words.read_format),
    Setting("quality", "file", "quality", file_words.read_quality),
    Setting(r"at\s+most", "file", "at_most", file_words.read_at_most),
    Setting(r"(?:8|16)[\s-]*bits?", "file", "bits", file_words.read_bits),
    Setting("|".join(PROFILES), "file", "profile", file_words.read_profile),
    Setting("metadata", "file", "metadata", file_words.read_metadata),
    Setting(r"no\s+location", "file", "location", file_words.read_no_location),
    Setting("|".join(METHOD_NAMES), "pixels", "method", file_words.read_method),
    Setting("sharpen", "pixels", "sharpen", file_words.read_sharpen),
    Setting("named", "file", "pattern", file_words.read_named),
)

# What an unknown word is compared with.
KNOWN_WORDS = (
    *TURNS, *DIFFERS, *GROUNDS, "on", "white", "dot", "fills", "head", "eyes", "outline", *OUTLINES, "panels", "overlap", "gap", "bleed", "border",
    "wrap", "sides", "lip", "moulding", "opening", "mat", "window", "round", *FORMAT_WORDS, "quality", "at most", "8 bit", "16 bit",
    *PROFILES, "metadata", "copyright", "no location", *METHOD_NAMES, "sharpen", *SURFACES, "named",
)  # fmt: skip
