"""How the pages grow: jobs of up to 5,000 placements, 20,000 photos in the data folder, 2,000 sizes.

Each is asked of the application in this process, as a browser would; `docs/growth.svg` is drawn of it.
Times are against the first page of an empty folder in the same run, as clocks differ.
"""

from __future__ import annotations

import hashlib
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

import numpy as np
from fastapi.testclient import TestClient
from PIL import Image

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.photos.keep_zones import NOTHING
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.flows.workspace import Workspace, open_workspace
from oak_ledge.store import photos as kept_photos
from oak_ledge.store.database import transaction
from oak_ledge.web.app import make_app
from oak_ledge.web.process.serve import settle_collector

NOW = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)
SIZES = [f"{4 + n}x{5 + n}in@300" for n in range(20)]
JOBS = ((40, 20), (100, 20), (250, 20))  # photos × sizes; the one of 800 placements comes first
PHOTOS = (1_000, 5_000, 20_000)
SAVED = (100, 500, 2_000)
Series = list[tuple[int, float]]
WIDE, TALL, GAP = 240, 160, 70
INKS = ("#7A4B1E", "#2F6B3A", "#1F3A5F")
DRAWN = Path(__file__).parents[1] / "docs" / "growth.svg"


def timed(do: Callable[[], object], times: int = 5) -> float:
    """Give milliseconds, the median of some."""
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        do()
        took.append(1000 * (time.perf_counter() - begun))
    return statistics.median(took)


def brought(workspace: Workspace, count: int, first: int = 0) -> list[int]:
    """Bring photos in that differ by a pixel; none is looked at for subjects."""
    chance = np.random.default_rng(first)
    files = []
    for n in range(first, first + count):
        out = BytesIO()
        Image.fromarray(chance.integers(0, 255, (40, 60, 3), dtype=np.uint8)).resize(
            (6000, 4000), Image.Resampling.NEAREST
        ).save(out, "JPEG", quality=30)
        files.append(Incoming(f"photo-{n:05}.jpg", BytesIO(out.getvalue())))
    return [one.id for one in photos.take_in(workspace, files, NOW).photos]


def known(workspace: Workspace, count: int, first: int) -> list[int]:
    """Write photos into the database as if they had come in; their originals are not looked at."""
    with transaction(workspace.sessions) as session:
        some = kept_photos.find(session, 1)
        assert some is not None
        return [
            kept_photos.add(
                session,
                hashlib.sha256(str(n).encode()).hexdigest(),
                f"shoot-{n // 100:03}-{n:05}.jpg",
                some.facts,
                NOTHING,
                NOW,
            ).id
            for n in range(first, first + count)
        ]


def main() -> None:
    drawn: dict[str, tuple[str, Series]] = {}
    with tempfile.TemporaryDirectory() as name:
        workspace = open_workspace(Path(name), Limits(), finds=False)
        client = TestClient(make_app(workspace), base_url="http://127.0.0.1:8000")

        def page(path: str) -> bytes:
            answer = client.get(path)
            assert answer.status_code == 200, answer.text
            return answer.content

        def post(path: str, body: object, status: int) -> None:
            answer = client.post(path, json=body)
            assert answer.status_code == status, answer.text

        def note(what: str, unit: str, at: int, figure: float) -> None:
            drawn.setdefault(what, (unit, []))[1].append((at, figure))
            print(f"{what}, {at} {unit}: {figure:.0f} ms", flush=True)

        page("/")
        settle_collector()
        empty = timed(lambda: page("/"))
        print(f"the first page of an empty folder: {empty:.0f} ms")
        ids = brought(workspace, 250)
        for count, width in JOBS:
            asked = {
                "name": f"Job of {count}",
                "photo_ids": ids[:count],
                "size_texts": SIZES[:width],
            }
            begun = time.perf_counter()
            answer = client.post("/api/jobs", json=asked)
            took = 1000 * (time.perf_counter() - begun)
            assert answer.status_code == 201, answer.text
            job, whole = answer.json()["id"], count * width
            note("a job started", "placements", whole, took)
            note("its ledge", "placements", whole, timed(lambda job=job: page(f"/jobs/{job}")))  # type: ignore[misc]
            note("the jobs page beside it", "placements", whole, timed(lambda: page("/")))
            print(f"the jobs page beside {whole} placements: {len(page('/')) / 1000:.0f} kB")
            jobs.delete(workspace, job, NOW)
        at = 0
        for count in PHOTOS:
            fresh = known(workspace, count - at, 250 + at)
            for k in range(0, len(fresh), 500):
                asked = {
                    "name": f"Shoot {at + k}",
                    "photo_ids": fresh[k : k + 500],
                    "size_texts": SIZES[:1],
                }
                post("/api/jobs", asked, 201)
            at = count
            note("the first page", "photos", count, timed(lambda: page("/")))
            note("a photo found", "photos", count, timed(lambda: page("/?find=shoot-004-00417")))
        saved = len(sizes.every(workspace))
        for count in SAVED:
            for n in range(saved, count):
                sizes.add(
                    workspace, SizeBody(text=f"{3 + n % 40}x{4 + n // 40}in@300", name=f"Size {n}")
                )
            saved = count
            note("the sizes page", "sizes", count, timed(lambda: page("/sizes")))
            note(
                "a size found",
                "sizes",
                count,
                timed(lambda: post("/api/sizes/read", {"text": "Size 77"}, 200)),
            )
    plot(drawn, DRAWN)


def plot(drawn: dict[str, tuple[str, Series]], path: Path) -> None:
    """Draw how each grows: a panel for each unit, milliseconds upwards, both from nought."""
    units = list(dict.fromkeys(unit for unit, _ in drawn.values()))
    parts = []
    for panel, unit in enumerate(units):
        lines = {what: points for what, (of, points) in drawn.items() if of == unit}
        most = max(at for points in lines.values() for at, _ in points)
        tall = max(figure for points in lines.values() for _, figure in points)
        left = panel * (WIDE + GAP) + 60
        place = lambda at, figure, left=left, most=most, tall=tall: (  # noqa: E731
            round(left + WIDE * at / most, 1),
            round(40 + TALL * (1 - figure / tall), 1),
        )
        parts.append(f'<path class="axis" d="M{left} 40V{40 + TALL}H{left + WIDE}"/>')
        parts.append(f'<text x="{left}" y="30">{tall:.0f} ms</text>')
        parts.append(
            f'<text x="{left + WIDE}" y="{58 + TALL}" text-anchor="end">{most:,} {unit}</text>'
        )
        for n, (what, points) in enumerate(lines.items()):
            spots = [place(*point) for point in points]
            parts.append(
                f'<polyline class="line-{n}" points="{" ".join(f"{x},{y}" for x, y in spots)}"/>'
            )
            parts += [f'<circle class="dot-{n}" cx="{x}" cy="{y}" r="3.5"/>' for x, y in spots]
            last = f"{points[-1][1]:.0f} ms"
            parts.append(
                f'<text class="word-{n}" x="{left}" y="{82 + TALL + 20 * n}">{what}: {last}</text>'
            )
    width, height = len(units) * (WIDE + GAP) + 60, TALL + 150
    style = "text{font:14px sans-serif;fill:#26322E}.axis{fill:none;stroke:#8E958E}polyline{fill:none;stroke-width:2}"
    for n, ink in enumerate(INKS):
        style += f".line-{n}{{stroke:{ink}}}.dot-{n}{{fill:{ink}}}.word-{n}{{fill:{ink};font-weight:600}}"
    body = "\n".join(parts)
    path.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" role="img">\n'
        f"<title>How the pages grow</title><style>{style}</style>\n"
        f'<rect width="{width}" height="{height}" fill="#F3EEE6"/>\n{body}\n</svg>\n'
    )


if __name__ == "__main__":
    sys.exit(main())
