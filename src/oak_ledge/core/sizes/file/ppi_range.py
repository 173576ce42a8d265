"""The resolutions a receiver takes."""

from __future__ import annotations

from typing import Self

from pydantic import Field, model_validator

from oak_ledge.core.errors import SizeError
from oak_ledge.core.values import Value

MOST_PPI = 100_000


class PpiRange(Value):
    """The resolutions a receiver takes: under `low` a person should look, `high` is plenty."""

    low: int = Field(ge=1, le=MOST_PPI)
    high: int = Field(ge=1, le=MOST_PPI)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.low > self.high:
            msg = f"the receiver's lowest ppi ({self.low}) is above its highest ({self.high})"
            raise SizeError(msg)
        return self
