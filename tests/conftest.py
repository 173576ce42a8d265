"""Fixtures: a fresh workspace, and the application and browser over one."""

from __future__ import annotations

import os
from datetime import UTC, datetime
from functools import cache
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import settings

from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.bench import keep_zones as zones
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.flows.workspace import Workspace, open_workspace
from oak_ledge.web.app import make_app
from tests import samples

# Clocks are noisy; no test is timed. The same examples are drawn everywhere, so that what is green
# once is green; `make explore` draws others, and many more of them.
settings.register_profile("same", deadline=None, max_examples=40, derandomize=True)
settings.register_profile("others", deadline=None, max_examples=400)
settings.load_profile("others" if os.environ.get("EXPLORE") else "same")

NOW = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)


@cache
def migrated() -> bytes:
    """A database brought up to date once; to copy it takes a hundredth of the time."""
    with TemporaryDirectory() as folder:
        opened = open_workspace(Path(folder), Limits())
        opened.sessions.close()  # the last to close leaves all of it in one file
        return (Path(folder) / "oak-ledge.db").read_bytes()


def open_at(folder: Path) -> Workspace:
    folder.mkdir(parents=True, exist_ok=True)
    file = folder / "oak-ledge.db"
    if not file.exists():
        file.write_bytes(migrated())
    return open_workspace(folder, Limits(upload_bytes=50_000_000))


@pytest.fixture
def workspace(tmp_path):
    opened = open_at(tmp_path / "data")
    yield opened
    opened.sessions.close()


@pytest.fixture
def bring(workspace):
    """Bring photos in by name and bytes (or path); give the ids."""

    def take(*names_and_data, find=False):
        files = []
        for name, data in names_and_data:
            content = data.read_bytes() if isinstance(data, Path) else data
            files.append(Incoming(name, BytesIO(content)))
        taken = photos.take_in(workspace, files, NOW)
        # first laid in the middle, unless a test asks for subjects found
        if taken.photos and not find:
            for photo in taken.photos:
                zones.decide_found(workspace, photo.id, NOW, take=False)
        return taken

    return take


@pytest.fixture
def placed(workspace, bring, tmp_path):
    """Start a job with one 1200 × 800 photo on a size; give (job id, placement id)."""

    def lay(text="4x5in@100", width=1200, height=800, **options):
        path = samples.photo(tmp_path / "quay.jpg", width, height, **options)
        photo = bring(("quay.jpg", path)).photos[0]
        job_id = jobs.start(workspace, "Evening", [photo.id], [], [text], NOW)
        return job_id, jobs.view(workspace, job_id).placements[0].id

    return lay


_apps: list[FastAPI] = []  # its routes take a sixth of a second to put together


def app_over(workspace):
    """The one application, over another workspace: it serves test after test."""
    if not _apps:
        _apps.append(make_app(workspace))
    _apps[0].state.workspace = workspace
    return _apps[0]


@pytest.fixture
def client(workspace):
    """The application over a fresh workspace."""
    sizes.add_starters(workspace)
    with TestClient(app_over(workspace), base_url="http://127.0.0.1:8000") as found:
        yield found
