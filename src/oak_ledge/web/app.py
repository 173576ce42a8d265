"""The web application: guards, routes, pages, files."""

from __future__ import annotations

from collections.abc import Collection

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles

from oak_ledge import VERSION
from oak_ledge.flows.remote.dispatch import Elsewhere
from oak_ledge.flows.workspace import Workspace
from oak_ledge.web import api
from oak_ledge.web.answers import WRONG_CALLS, answer_errors
from oak_ledge.web.guards import Guards
from oak_ledge.web.pages import (  # noqa: F401 - routes
    bench,
    deliveries,
    guide,
    jobs,
    ledge,
    marks,
    receivers,
    sheets,
    site,
    sizes,
    standing_orders,
)


def make_app(
    workspace: Workspace, hosts: Collection[str] = (), elsewhere: Elsewhere | None = None
) -> FastAPI:
    """Make the application for one workspace, answering under local names and those of `hosts`.

    It answers workers of other machines too where it has a way to them.
    """
    app = FastAPI(
        title="Oak Ledge",
        version=VERSION,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        responses=WRONG_CALLS,
    )
    app.state.workspace, app.state.elsewhere = workspace, elsewhere
    app.state.paths = {}  # of routes, as pages ask for them
    # one call may bring several photos
    app.add_middleware(Guards, hosts=hosts, most_upload=2 * workspace.limits.upload_bytes)
    # The address changes with the content, so browsers may keep these files for good.
    app.mount(f"/static/{site.static_version()}", StaticFiles(directory=site.STATIC), name="static")
    api.include(app)
    app.include_router(site.router)
    answer_errors(app)
    return app
