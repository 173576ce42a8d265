"""What is wrong with a call, in plain words, without names that only its sender's program knows."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from oak_ledge.core.measures.numbers import clipped

# Where a field's name as it is written is not what people call it.
_CALLED = {
    "at_most": "the limit of bytes",
    "ppi": "the resolution",
    "icc": "the receiver's profile file",
    "receiver": "the receiver's ppi",
    "low": "the lowest ppi",
    "high": "the highest ppi",
    "pattern": "the pattern of the names",
    "greatest_enlargement": "the greatest enlargement",
    "sharpen": "the strength of sharpening",
    "sharpen_for": "what it is seen on",
    "outer": "the mat's outer size",
    "window": "the mat's window",
    "opening": "the frame's opening",
    "lip": "the frame's lip",
    "moulding": "the frame's moulding",
    "photo_ids": "the photos",
    "size_ids": "the sizes",
    "placement_ids": "the pieces",
    "size_texts": "the sizes that are written",
    "width_px": "the width",
    "height_px": "the height",
    "keep": "whether it is kept",
    "cx": "the centre across",
    "cy": "the centre down",
}


def words_of(errors: Iterable[Mapping[str, Any]]) -> str:
    """Return all that is wrong with a call in one line."""
    return " ".join(dict.fromkeys(_sentence(error) for error in errors))


def _sentence(error: Mapping[str, Any]) -> str:
    names = [part for part in error["loc"] if isinstance(part, str)]
    name = next((name for name in reversed(names) if name not in _NO_FIELDS), "")
    called = name.removesuffix("_id").replace("_", " ")
    what = _CALLED.get(name, f"the {called}" if name else "the call")
    if error["type"] == "extra_forbidden":
        what = f"“{clipped(name)}”"
    why = _why(error)
    text = why if error["type"] == "value_error" else f"{what} {why}"
    return f"{text[:1].upper()}{text[1:].rstrip('.')}."


_NO_FIELDS = ("body", "query", "path", "doing")


def _why(error: Mapping[str, Any]) -> str:
    limits = error.get("ctx", {})
    fields = {
        "missing": "must be given",
        "extra_forbidden": "is not known here",
        "int_parsing": "must be a whole number",
        "int_type": "must be a whole number",
        "int_from_float": "must be a whole number",
        "float_parsing": "must be a number",
        "float_type": "must be a number",
        "bool_parsing": "must be yes or no",
        "finite_number": "must be a number that ends",
        "json_invalid": "can't be read as JSON",
        "string_type": "must be text",
        "greater_than_equal": f"must be {limits.get('ge')} or more",
        "greater_than": f"must be more than {limits.get('gt')}",
        "less_than_equal": f"must be {limits.get('le')} at most",
        "less_than": f"must be less than {limits.get('lt')}",
        "string_too_long": f"is longer than {limits.get('max_length')} characters",
        "string_too_short": "is empty",
        "too_long": f"are more than {limits.get('max_length')}",
        "too_short": "must be at least one",
        "union_tag_invalid": "is of no kind there is",
        "union_tag_not_found": "must say its kind",
        "literal_error": f"must be one of {limits.get('expected')}",
    }
    message = str(error["msg"]).removeprefix("Value error, ")
    return fields.get(error["type"], message[:1].lower() + message[1:])
