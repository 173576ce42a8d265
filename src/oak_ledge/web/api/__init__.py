"""The JSON interface under /api: each route takes parsed values, calls one flow, answers."""

from __future__ import annotations

from fastapi import FastAPI

from oak_ledge.web.api import (
    deliveries,
    jobs,
    marks,
    photos,
    placements,
    receivers,
    scenes,
    sheets,
    sizes,
    standing_orders,
    work,
)


def include(app: FastAPI) -> None:
    """Add every route. Routes are tried in turn, and gestures are asked for sixty times a second."""
    first = (placements, photos, scenes, sizes, marks, jobs, sheets)
    for part in (*first, deliveries, receivers, standing_orders, work):
        app.include_router(part.router, prefix="/api")
