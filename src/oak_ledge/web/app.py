"""The web application: guards, routes, pages, files."""

from __future__ import annotations

from fastapi import FastAPI
from fastapi.staticfiles import StaticFiles

from oak_ledge.flows.workspace import Workspace
from oak_ledge.web import api, pages
from oak_ledge.web.answers import answer_errors
from oak_ledge.web.guards import Guards


def make_app(workspace: Workspace, host: str = "127.0.0.1") -> FastAPI:
    """Make the application for one workspace, answering under `host` and local names."""
    app = FastAPI(title="Oak Ledge", openapi_url="/api/openapi.json", docs_url=None, redoc_url=None)
    app.state.workspace = workspace
    app.add_middleware(Guards, host=host)
    # The address changes with the content, so browsers may keep these files for good.
    app.mount(
        f"/static/{pages.static_version()}", StaticFiles(directory=pages.STATIC), name="static"
    )
    api.include(app)
    app.include_router(pages.router)
    answer_errors(app)
    return app
