"""What every page shares: templates, the address of scripts and styles, the routes."""

from __future__ import annotations

import hashlib
from datetime import datetime
from pathlib import Path
from urllib.parse import urlencode

from fastapi import APIRouter
from fastapi.templating import Jinja2Templates
from jinja2 import pass_context
from jinja2.runtime import Context

from oak_ledge.core.photos.photo_formats import accepted
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.flows.pieces.pieces import standing

HERE = Path(__file__).parents[1]


STATIC = HERE / "static"


router = APIRouter(include_in_schema=False)


def as_said(moment: datetime, now: datetime) -> str:
    """Format a moment as people say it: today, 09:41."""
    then, today = moment.astimezone(), now.astimezone()
    days = (today.date() - then.date()).days
    if days <= 1:
        return f"{'yesterday' if days else 'today'}, {then:%H:%M}"
    return f"{then.day} {then:%B}" + ("" if then.year == today.year else f" {then.year}")


def bench_scripts() -> list[str]:
    """The modules the bench is put together from, for its page to fetch at once."""
    rooms = ("net", "hand", "bench")
    paths = [path for room in rooms for path in sorted((STATIC / "js" / room).glob("**/*.js"))]
    return [path.relative_to(STATIC / "js").with_suffix("").as_posix() for path in paths]


@pass_context
def url_for(context: Context, name: str, /, **given: object) -> str:
    """Return the path of a route: that of the framework asks each route in turn, hundreds of times a page."""
    app, names = context["request"].app, tuple(given)
    known: dict[tuple[str, ...], str] = app.state.paths
    path = known.get((name, *names))
    if path is None:
        path = str(app.url_path_for(name, **{name: f"~{name}~" for name in names}))
        known[name, *names] = path
    for parameter, value in given.items():
        path = path.replace(f"~{parameter}~", str(value))
    return path


def with_query(path: str, **changes: object) -> str:
    """Put a query behind a path."""
    return f"{path}?{urlencode(changes)}" if changes else path


def _templates() -> Jinja2Templates:
    jinja2_templates = Jinja2Templates(HERE / "templates")
    jinja2_templates.env.trim_blocks = jinja2_templates.env.lstrip_blocks = True
    jinja2_templates.env.globals |= {
        "formats": list(FORMATS.values()),
        "accepted": accepted(),
        "bench_scripts": bench_scripts,
        "standing": standing,
        "url_for": url_for,
    }
    jinja2_templates.env.filters["with_query"] = with_query
    return jinja2_templates


templates = _templates()


def static_version() -> str:
    """A name for the present content of our own scripts and styles, for their addresses."""
    digest = hashlib.sha256()
    for path in sorted([*STATIC.glob("js/**/*.js"), *STATIC.glob("css/*.css")]):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:10]
