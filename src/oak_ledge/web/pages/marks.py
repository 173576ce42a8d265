"""The library of marks."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.core.marks.mark import PLACES
from oak_ledge.core.pixels.marks.line_of_text import LONGEST_LINE
from oak_ledge.flows.marks import library
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here


@router.get("/marks", response_class=HTMLResponse, name="marks_page")
def marks_page(request: Request, here: Here) -> Response:
    """Logos, signatures and lines of text that are laid on pieces."""
    context = {
        "marks": [view.model_dump(mode="json") for view in library.every(here)],
        "places": [(place, place.replace("-", " ")) for place in PLACES],
        "longest": LONGEST_LINE,
    }
    return templates.TemplateResponse(request, "marks.html", context)
