"""The stand-in receivers."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.handing import desks
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here


@router.get("/desks", response_class=HTMLResponse, name="desks_page")
def desks_page(request: Request, here: Here) -> Response:
    """What each stand-in received and answered."""
    context = {"desks": desks.every(here), "received": desks.received(here)}
    return templates.TemplateResponse(request, "desks.html", context)
