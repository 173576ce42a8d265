"""How routes tell what they found."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from urllib.parse import quote

from fastapi.responses import FileResponse, Response
from pydantic import BaseModel

# What is lettered into pictures and sheets.
_FONTS = Path(__file__).parents[1] / "static" / "fonts"
LETTERS = _FONTS / "zilla-slab-latin-600-normal.woff2"

# The fonts a line of text can be written in, by their names in the library of marks.
LETTER_FONTS = {"slab": LETTERS, "sans": _FONTS / "source-sans-3-latin-wght-normal.woff2"}


def written(answer: BaseModel, status: int = 200) -> Response:
    """Write an answer out.

    The framework's second look at it would cost a third of a frame, and seconds for a large job.
    """
    return Response(answer.model_dump_json(), status, media_type="application/json")


def of_kind(*kinds: str) -> dict[int | str, dict[str, Any]]:
    """Describe an answer that is a file of one of some media types."""
    binary = {"schema": {"type": "string", "format": "binary"}}
    plain = ("application/json", "text/event-stream")
    content = {kind: {} if kind in plain else binary for kind in kinds}
    return {200: {"description": "the file", "content": content}}


def shown(path: Path, headers: dict[str, str]) -> FileResponse:
    """Answer with a picture for the screen: a JPEG, or a PNG where parts of it are clear."""
    media = "image/png" if path.suffix == ".png" else "image/jpeg"
    return FileResponse(path, media_type=media, headers=headers)


def attached(name: str) -> dict[str, str]:
    """Headers of a file to be kept under a name (RFC 6266: one beyond ASCII is told in UTF-8)."""
    plain = name.encode("ascii", "replace").decode().replace("?", "-").replace('"', "-")
    return {
        "Content-Disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    }
