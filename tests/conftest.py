"""Fixtures: a fresh workspace, and the application and browser over one."""

from __future__ import annotations

from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

import pytest
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

settings.register_profile("ours", deadline=None)  # clocks here are noisy; no test is timed
settings.load_profile("ours")

NOW = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)


def open_at(folder: Path) -> Workspace:
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


@pytest.fixture
def client(workspace):
    sizes.add_starters(workspace)
    with TestClient(make_app(workspace), base_url="http://127.0.0.1:8000") as found:
        yield found
