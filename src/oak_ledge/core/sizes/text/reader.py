"""Walking through the text of a size, and knowing where one stands."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.errors import SizeTextError
from oak_ledge.core.measures.lengths import UNIT_WORDS, Unit
from oak_ledge.core.measures.numbers import NUMBER, exact_number

# What a reader of settings adds to.
Fields = dict[str, Any]


# What stands in quotes.
QUOTED = re.compile(r"[\"“”']([^\"“”']*)[\"“”']")


HOW = "Write it like 8x10in@300, 1200x1600px, long 2000px, 3:2 or 100%."


# A part of a size's text, and of the sentence that says it.
Part = Literal[
    "shape", "resolution", "dot", "turn", "differ", "outline", "panels", "edges", "frame", "file", "pixels"
]  # fmt: skip


UNIT = re.compile(
    rf"({'|'.join(sorted((word for word in UNIT_WORDS if word.isalpha()), key=len, reverse=True))})"
    r"(?![a-wyz])|[\"″”]",
    re.IGNORECASE,
)


_LATER = r"suit|fixed|enlarge|dot|trim|extend|inside|stretch|outline|panels|overlap|gap|at|by"


_OTHER_WORD = re.compile(rf"(?!x\b|x[\d\s.,]|(?:{_LATER})\b)[^\W\d_]+", re.IGNORECASE)


class Span(BaseModel):
    """Which characters of a text say a part of a size: from `start` up to `end`."""

    model_config = ConfigDict(frozen=True)

    part: Part
    start: int
    end: int


class Reader:
    """Walks a text from the left and knows where it stands."""

    def __init__(self, text: str) -> None:
        self.text, self.at = text, 0
        self.spans: list[Span] = []

    def mark(self, part: Part, start: int) -> None:
        """Remember that the text from `start` to here, blanks not counted, is a part."""
        words = self.text[start : self.at]
        begin = start + len(words) - len(words.lstrip())
        self.spans.append(Span(part=part, start=begin, end=start + len(words.rstrip())))

    def fail(self, why: str, how: str = HOW) -> SizeTextError:
        """Return the error that reading stopped here, why, and how to write it."""
        return SizeTextError(self.text, self.at, why, how)

    def skip(self) -> None:
        """Go past blanks."""
        while self.at < len(self.text) and self.text[self.at].isspace():
            self.at += 1

    def take(self, pattern: re.Pattern[str]) -> re.Match[str] | None:
        """Go past what a pattern finds here, blanks before it left out; None where it finds nothing."""
        self.skip()
        match = pattern.match(self.text, self.at)
        if match:
            self.at = match.end()
        return match

    def rest(self) -> str:
        """Return what has not been read yet."""
        return self.text[self.at :].strip()

    def number(self, what: str) -> Fraction:
        """Read a number above 0; `what` it is of stands in the error."""
        start = self.at
        match = self.take(NUMBER)
        if match is None:
            rest = self.rest()
            raise self.fail(f"{what} is missing" + (f" before “{rest}”" if rest else " at the end"))
        if self.text[self.at : self.at + 1].isdigit():
            self.at = start
            msg = f"{what} has too many digits"
            raise self.fail(msg)
        try:
            value = exact_number(match.groups())
        except ZeroDivisionError as exc:
            self.at = start
            msg = f"{what} divides by zero"
            raise self.fail(msg) from exc
        if value == 0:
            self.at = start
            msg = f"{what} must be greater than 0"
            raise self.fail(msg)
        return value

    def unit(self) -> Unit | None:
        """Read a unit; None where there is no word at all."""
        match = self.take(UNIT)
        if match is not None:
            return UNIT_WORDS[match[0].lower()]
        if _OTHER_WORD.match(self.text, self.at):
            msg = f"“{self.rest()}” is not understood; units are in, cm, mm and px"
            raise self.fail(msg)
        return None
