"""The base of the core's frozen data; the same models are the JSON of interface and store."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

# Pixels: further than any photo reaches, near enough to be reckoned with.
FAR = 1e9
# A place or a step in pixels.
Coordinate = Annotated[float, Field(ge=-FAR, le=FAR)]
# A width or a height in pixels.
Extent = Annotated[float, Field(ge=1e-6, le=FAR)]


def says_nothing(value: object) -> bool:
    """Return whether a field that came later says nothing: it is left out, so that content told by its JSON stays known."""
    return not value


class Value(BaseModel):
    """A frozen value. Unknown fields are refused by name, as are numbers without end."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
