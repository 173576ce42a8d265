"""The receivers: who files go to, by what rules, by what way."""

from __future__ import annotations

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.core.receivers.way import WAYS
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.flows.delivery import listed
from oak_ledge.flows.receivers import receivers
from oak_ledge.receivers.stand_ins.inbox import Fault
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here, Now

# What a stand-in may be made to do, in words; the first is as it should be.
FAULTS: tuple[tuple[Fault | None, str], ...] = (
    (None, "answers"),
    ("slow", "is slow"),
    ("refuse", "refuses"),
    ("break-off", "drops the connection"),
)
# Profiles that are often asked for, as they are chosen.
PROFILES = (("srgb", "sRGB"), ("p3", "Display P3"), ("grey", "grey"))
# Deliveries to try a receiver with.
LATEST = 8


@router.get("/receivers", response_class=HTMLResponse, name="receivers_page")
def receivers_page(request: Request, here: Here, now: Now) -> Response:
    """Each receiver on a card: its rules, its way, what it got last."""
    context = {
        "receivers": [each.model_dump(mode="json") for each in receivers.every(here)],
        "faults": FAULTS,
        "ways": WAYS,
        "formats": FORMATS,
        "profiles": PROFILES,
        "deliveries": listed.listed(here, now, count=LATEST).deliveries,
    }
    return templates.TemplateResponse(request, "receivers.html", context)
