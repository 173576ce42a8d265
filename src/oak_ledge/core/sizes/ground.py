"""What fills beyond the photo's edge: a colour, or what the photo gives."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import BeforeValidator, WithJsonSchema

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped

WHITE, BLACK = "#ffffff", "#000000"


CONTINUED = "continued"


FILLS = ("blur", "mirror", "edge", CONTINUED)


_COLOURS = {"white": WHITE, "black": BLACK}


def _fill(value: Any) -> str:
    text = value.strip().lower() if isinstance(value, str) else ""
    text = _COLOURS.get(text, text)
    if text == "transparent":
        msg = (
            "a ground can't be transparent: choose a colour, or let blur, mirror, edge or continued fill it. "
            "What a photo itself has clear stays so in PNG, TIFF, WebP and AVIF"
        )
        raise SizeError(msg)
    if text in FILLS:
        return text
    if not re.fullmatch(r"#[0-9a-f]{6}", text):
        msg = (
            f"“{clipped(value)}” is not a colour. Write white, black, one like #f3efe6, or let blur, "
            "mirror, edge or continued fill the ground"
        )
        raise SizeError(msg)
    return text


Fill = Annotated[
    str,
    BeforeValidator(_fill),
    WithJsonSchema(
        {
            "type": "string",
            "description": "sRGB: white, black, #rrggbb; or blur, mirror, edge, continued",
        }
    ),
]
