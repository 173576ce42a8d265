"""What every page shares: templates, the address of scripts and styles, the routes."""

from __future__ import annotations

import hashlib
from pathlib import Path

from fastapi import APIRouter
from fastapi.templating import Jinja2Templates

HERE = Path(__file__).parents[1]


STATIC = HERE / "static"


router = APIRouter(include_in_schema=False)


def _templates() -> Jinja2Templates:
    found = Jinja2Templates(HERE / "templates")
    found.env.trim_blocks = found.env.lstrip_blocks = True
    return found


templates = _templates()


def static_version() -> str:
    """A name for the present content of our own scripts and styles, for their addresses."""
    digest = hashlib.sha256()
    for path in sorted(STATIC.glob("[cj]s*/*")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:10]
