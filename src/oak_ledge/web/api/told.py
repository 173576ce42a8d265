"""How routes tell what they found."""

from __future__ import annotations

from pathlib import Path

from fastapi.responses import Response
from pydantic import BaseModel

LETTERS = Path(__file__).parents[1] / "static" / "fonts" / "zilla-slab-latin-600-normal.woff2"
"""what is lettered into pictures and sheets"""


def written(told: BaseModel, status: int = 200) -> Response:
    """Write an answer out: the framework's second look at it would cost a third of a frame, and
    seconds for a large job.
    """
    return Response(told.model_dump_json(), status, media_type="application/json")


def attached(name: str) -> dict[str, str]:
    """Headers of a file to be kept under a name."""
    return {"Content-Disposition": f'attachment; filename="{name}"'}
