"""The guide, as a page of its own: what each page and figure means."""

from __future__ import annotations

import re
from functools import cache
from itertools import pairwise

from fastapi import Request
from fastapi.responses import HTMLResponse, Response
from markdown_it import MarkdownIt
from markupsafe import Markup

from oak_ledge.web.pages.site import HERE, router, templates


def anchor(heading: str) -> str:
    """Return what a heading is found by.

    >>> anchor("How sizes are written")
    'how-sizes-are-written'
    """
    return "-".join(re.findall(r"[a-z0-9]+", heading.lower()))


@cache
def guide() -> tuple[Markup, tuple[tuple[str, str], ...]]:
    """Return the guide as HTML, and its headings with their anchors."""
    reader = MarkdownIt("commonmark", {"html": False}).enable("table")
    tokens = reader.parse((HERE / "guide.md").read_text("utf-8"))
    headings = []
    for opening, inline in pairwise(tokens):
        if opening.type == "heading_open" and opening.tag == "h2":
            opening.attrSet("id", anchor(inline.content))
            headings.append((anchor(inline.content), inline.content))
    return Markup(reader.renderer.render(tokens, reader.options, {})), tuple(headings)


@router.get("/guide", response_class=HTMLResponse, name="guide_page")
def guide_page(request: Request) -> Response:
    """The guide."""
    text, headings = guide()
    return templates.TemplateResponse(request, "guide.html", {"guide": text, "headings": headings})
