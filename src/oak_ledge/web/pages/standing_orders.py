"""Standing orders."""

from __future__ import annotations

from pathlib import Path

from fastapi import Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.library import sizes
from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.watch import standing_orders
from oak_ledge.web.pages.site import router, templates
from oak_ledge.web.types import Here


@router.get("/standing-orders", response_class=HTMLResponse, name="standing_orders_page")
def standing_orders_page(request: Request, here: Here) -> Response:
    """Folders whose photos become files by themselves, and what came of them."""
    context = {
        "orders": [order.model_dump(mode="json") for order in standing_orders.every(here)],
        "example": str(Path.home() / "quay"),
        "receivers": [(each.id, each.name) for each in receivers.every(here)],
        "names": [saved.name for saved in sizes.every(here) if saved.name],
    }
    return templates.TemplateResponse(request, "standing_orders.html", context)
