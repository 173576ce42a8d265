"""The stand-in receivers."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.delivery import listed
from oak_ledge.flows.receivers import receivers
from oak_ledge.store.desks import Fault
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here, Now

FAULTS: tuple[tuple[Fault, str], ...] = (
    ("none", "answer"),
    ("slow", "be slow"),
    ("refuses", "refuse"),
    ("breaks off", "drop the connection"),
)


TOLD: dict[Fault, str] = {
    "slow": "each file takes it a while.",
    "refuses": "it refuses every file.",
    "breaks off": "the line breaks off in the middle; what came before stays received.",
}


@router.get("/desks", response_class=HTMLResponse, name="desks_page")
def desks_page(request: Request, here: Here, now: Now) -> Response:
    """What each stand-in received and answered."""
    newest = listed.listed(here, now, count=1).deliveries
    context = {
        "desks": receivers.every(here),
        "received": receivers.received(here),
        "faults": FAULTS,
        "told": TOLD,
        "newest": newest[0].id if newest else None,
    }
    return templates.TemplateResponse(request, "desks.html", context)
