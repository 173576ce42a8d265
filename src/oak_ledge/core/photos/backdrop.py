"""A photo that stands behind another: where that is clear, it is seen."""

from __future__ import annotations

from pydantic import Field

from oak_ledge.core.values import Value


class Backdrop(Value):
    """A photo of the workspace that fills the ground of pieces, told by its content; it covers the piece."""

    hash: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field(max_length=200)
    format: str = Field(pattern="^[A-Za-z0-9]{2,12}$", description="of its file")
