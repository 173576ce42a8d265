"""The library of sizes and its wall."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.core.marks.mark import PLACES
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.edges.outline import drawn_path
from oak_ledge.core.sizes.text.print_words import SHIPPED_OUTLINES, read_outline
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS, SHARPEN_WORDS
from oak_ledge.flows.library import sizes, views
from oak_ledge.flows.marks import library
from oak_ledge.flows.receivers import receivers
from oak_ledge.web.drawings.wall import rows_by_group, wall_of
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here, Id, Now


@router.get("/sizes", response_class=HTMLResponse, name="sizes_page")
def sizes_page(request: Request, here: Here, now: Now) -> Response:
    """The page of the size library."""
    every = sizes.every(here)
    context = {
        "groups": rows_by_group(every),
        "deleted": sizes.deleted(here, now),
        "methods": METHOD_WORDS.items(),
        "sharpens": SHARPEN_WORDS.items(),
        "outlines": [
            (word, drawn_path(read_outline(word), (64, 44), None)) for word in SHIPPED_OUTLINES
        ],
        "marks": [view.mark for view in library.every(here)],
        "places": PLACES,
        "receivers": [each.name for each in receivers.every(here)],
    } | _wall(every, "print", None)
    return templates.TemplateResponse(request, "sizes/sizes.html", context)


@router.get("/sizes/list", response_class=HTMLResponse, name="sizes_list")
def sizes_list(request: Request, here: Here, now: Now) -> Response:
    """The list of sizes alone, to be put into a page that is open."""
    context = {"groups": rows_by_group(sizes.every(here)), "deleted": sizes.deleted(here, now)}
    return templates.TemplateResponse(request, "sizes/_list.html", context)


@router.get("/sizes/wall/{group}", response_class=HTMLResponse, name="sizes_wall")
def sizes_wall(group: Group, request: Request, here: Here, chosen: Id | None = None) -> Response:
    """The wall of one group of sizes alone, to be put into a page that is open."""
    context = _wall(sizes.every(here), group, chosen)
    return templates.TemplateResponse(request, "_wall.html", context)


def _wall(every: list[views.SavedSizeView], group: str, chosen: Id | None) -> dict[str, object]:
    shown = [size for size in every if size.group == group]
    return {"wall": wall_of(shown, chosen), "group": group}
