"""What fills beyond the photo's edge: a colour, or what the photo gives.

A new one is a row of `GROUNDS`, and what draws it in `core/pixels/ground/fills.py`.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BeforeValidator, WithJsonSchema

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped

WHITE, BLACK = "#ffffff", "#000000"


CONTINUED = "continued"


# Nothing: see-through, in formats that can be.
CLEAR = "clear"


@dataclass(frozen=True)
class GroundKind:
    """What of a photo can fill beyond it: its words to choose by, in a sentence, and as sides."""

    words: str
    in_sentence: str = ""
    as_sides: str = ""


GROUNDS: dict[str, GroundKind] = {
    "blur": GroundKind("the photo, blurred"),
    "mirror": GroundKind("the photo, mirrored", as_sides="mirrored"),
    "edge": GroundKind("its edge, drawn out", "its edge", "its edge drawn out"),
    CONTINUED: GroundKind("more of the scene", as_sides="the scene continued"),
    CLEAR: GroundKind("nothing: clear", "nothing, clear"),
}


def fill_words() -> dict[str, str]:
    """Return what can fill beyond a photo, by name, as it is chosen: a colour first."""
    return {"colour": "a colour"} | {name: kind.words for name, kind in GROUNDS.items()}


def _or(names: Iterable[str]) -> str:
    *most, last = names
    return f"{', '.join(most)} or {last}"


_COLOURS = {"white": WHITE, "black": BLACK}


def _fill(value: Any) -> str:
    text = value.strip().lower() if isinstance(value, str) else ""
    text = _COLOURS.get(text, text)
    if text == "transparent":
        msg = "a ground that is see-through is written clear; it goes into PNG, TIFF, WebP and AVIF"
        raise SizeError(msg)
    if text in GROUNDS:
        return text
    if not re.fullmatch(r"#[0-9a-f]{6}", text):
        msg = (
            f"“{clipped(value)}” is not a colour. Write white, black, one like #f3efe6, or let "
            f"{_or(GROUNDS)} fill the ground"
        )
        raise SizeError(msg)
    return text


Fill = Annotated[
    str,
    BeforeValidator(_fill),
    WithJsonSchema(
        {
            "type": "string",
            "description": f"sRGB: white, black, #rrggbb; or {', '.join(GROUNDS)}",
        }
    ),
]
