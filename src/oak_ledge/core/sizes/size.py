"""A size: what must come out, and what it asks of a photo (rules, section 2).

A `Size` is a frozen value; the same model is the JSON of the interface and of the stored
column. Lengths are exact text, never floats.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Any, Self

from pydantic import ValidationError, model_validator
from typing_extensions import override

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import (
    Pixels,
)
from oak_ledge.core.sizes.checks import check
from oak_ledge.core.sizes.fields import SizeFields
from oak_ledge.core.sizes.geometry import worked_out_edges
from oak_ledge.core.sizes.shapes.every import natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape


class Size(SizeFields):
    """A reusable target that can be made: its fields, checked as a whole."""

    @model_validator(mode="after")
    def _can_be_made(self) -> Self:
        self._edges = worked_out_edges(self)
        check(self)
        return self

    @override
    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """Return a copy with some fields otherwise, unchecked; its edges are its own."""
        copy = super().model_copy(update=update, deep=deep)
        copy._edges = worked_out_edges(copy)
        return copy


def size_from(fields: Mapping[str, object]) -> Size:
    """Put a size together from its fields, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    try:
        return Size.model_validate(fields)
    except ValidationError as exc:
        raise SizeError(first_error(exc)) from exc


def changed_size(size: Size, **changes: object) -> Size:
    """Return a size with some fields otherwise, checked as a whole.

    Raises
    ------
    SizeError
        With the field that is wrong, and why.
    """
    return size_from(dict(size) | changes)


def first_error(exc: ValidationError) -> str:
    """Return the first thing a model finds wrong: where it stands, and why."""
    first = exc.errors()[0]
    where = ".".join(str(part) for part in first["loc"])
    why = first["msg"].removeprefix("Value error, ")
    return f"{where}: {why}" if where else why


def like_photo(name: str, pixels: Pixels, ppi: float | None) -> Size:
    """Return the size of another photo: its pixels, its resolution label where it has one."""
    shape = ExactShape(width=Fraction(pixels[0]), height=Fraction(pixels[1]), unit="px")
    exact = None if ppi is None else Fraction(ppi).limit_denominator(10_000)
    return Size(name=name[:80], shape=shape, ppi=exact, turn=natural_turn(shape))
