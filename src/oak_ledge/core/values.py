"""The base of the core's frozen data; the same models are the JSON of interface and store."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Value(BaseModel):
    """A frozen value. Unknown fields are refused by name, as are numbers without end."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
