"""Deliveries, the list and each."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Request
from fastapi.responses import HTMLResponse, Response

from oak_ledge.flows.delivery import deliveries, listed, pictures
from oak_ledge.flows.pieces.pieces import PieceView
from oak_ledge.flows.sheets import view as sheet_view
from oak_ledge.web.drawings.oak import ledge_of
from oak_ledge.web.pages.site import as_said, router, templates
from oak_ledge.web.types import Here, Id, Now

PAPERS = (("a4", "A4"), ("a3", "A3"), ("a5", "A5"), ("letter", "Letter"), ("tabloid", "Tabloid"))


# Pieces on a delivery's ledge; a larger one is told by its counts.
MOST_DRAWN = 150


# Deliveries listed at first, and each time more are asked for.
FIRST = MORE = 20


def headline(whole: int, going_on: int, find: str) -> str:
    """What stands beside the heading of the list."""
    parts = [f"{whole} with “{find}” in it" if find else f"{whole} so far"]
    if going_on:
        parts.insert(0, "one being made" if going_on == 1 else f"{going_on} being made")
    return ", ".join(parts)


@router.get("/deliveries", response_class=HTMLResponse, name="deliveries_page")
def deliveries_page(
    request: Request,
    here: Here,
    now: Now,
    find: Annotated[str, Query(max_length=200)] = "",
    upto: Annotated[int, Query(ge=1, le=10_000)] = FIRST,
) -> Response:
    """The page of all deliveries."""
    listing = listed.listed(here, now, find, upto)
    context = {
        "deliveries": [(delivery, as_said(delivery.added, now)) for delivery in listing.deliveries],
        "headline": headline(listing.whole, listing.going_on, find),
        "find": find,
        "upto": upto + MORE,
        "more": max(0, listing.whole - upto),
    }
    return templates.TemplateResponse(request, "deliveries/deliveries.html", context)


@router.get("/deliveries/{delivery_id}", response_class=HTMLResponse, name="delivery_page")
def delivery_page(delivery_id: Id, request: Request, here: Here, now: Now) -> Response:
    """A delivery: its pieces fill in along the ledge, its files asked against measured."""
    delivery = deliveries.view(here, delivery_id, now)
    wanted = {file.placement_id for file in delivery.files if not file.sheet}
    drawing, pieces, files = None, list[PieceView](), dict[int, int]()
    laid = [(file.sheet_id, file.page) for file in delivery.files if file.sheet_id]
    there = sheet_view.known(here, {sheet for sheet, _ in laid})
    if len(wanted) <= MOST_DRAWN:
        for file_id, piece in pictures.frozen_pieces(here, delivery_id):
            files[piece.id] = file_id
            pieces.append(piece)
        drawing = ledge_of(pieces, width=800, height=76) if pieces else None
    context = {
        "sheets": [piece for piece in laid if piece[0] in there][:12],
        "delivery": delivery,
        "drawing": drawing,
        "files": files,
        "folder": here.folder,
        "papers": PAPERS,
    }
    return templates.TemplateResponse(request, "deliveries/delivery.html", context)
