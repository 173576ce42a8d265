"""Lay out the demo in an empty workspace: photos, sizes, and jobs half done."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from math import cos, pi, sin
from pathlib import Path

from oak_ledge.core.gestures.apply import Gesture
from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.print.mark import LayMark
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.core.marks.mark import PieceMark
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.flows.bench import history
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeChange
from oak_ledge.flows.marks import library
from oak_ledge.flows.marks.library import LineBody
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.flows.scene import retouches
from oak_ledge.flows.scene.retouches import RetouchesBody
from oak_ledge.flows.sheets import sheets
from oak_ledge.flows.sheets.changes import Count
from oak_ledge.flows.workspace import Workspace
from oak_ledge.web.api.answer import LETTER_FONTS

PHOTOS = Path(__file__).parent / "photos"
NAMES = (
    "quay-lanterns",
    "lighthouse",
    "harbour-wall",
    "market-stall",
    "framed-chart",
    "glass-float",
    "lantern-pole",
    "paper-boat",
    "carrier-1",
    "carrier-2",
    "carrier-3",
    "carrier-4",
)


@dataclass(frozen=True)
class _Job:
    """A job of the demo: begun `ago`."""

    name: str
    photos: tuple[str, ...]
    sizes: tuple[str, ...]
    ago: timedelta


_JOBS = (
    _Job(
        "Pictures for the stall",
        ("glass-float", "paper-boat"),
        ("Square picture", "Square on white"),
        timedelta(days=1),
    ),
    _Job(
        "Ferry waiting room",
        ("harbour-wall", "lighthouse"),
        ("16 × 20 in print", "A3 print"),
        timedelta(days=6),
    ),
    _Job(
        "Evening of paper lanterns",
        NAMES[:7],
        ("8 × 10 in print", "5 × 7 in print", "Quay sign", "8 × 10 in stair frame"),
        timedelta(hours=2),
    ),
    _Job(
        "Strips and rounds",
        ("harbour-wall", "glass-float"),
        ("Strip in 3", "Round picture", "40 × 60 cm canvas with mirrored sides"),
        timedelta(days=4),
    ),
    _Job("Lantern carriers", NAMES[8:], ("Identity picture",), timedelta(days=2)),
)


def fill(workspace: Workspace, now: datetime) -> bool:
    """Fill an empty workspace; False where there already is something, which stays as it is."""
    sizes.add_starters(workspace)
    if jobs.every(workspace).whole:
        return False
    taken = {}
    for name in NAMES:
        with (PHOTOS / f"{name}.jpg").open("rb") as file:
            taken_in = photos.take_in(workspace, [Incoming(f"{name}.jpg", file)], now)
        taken[name] = taken_in.photos[0].id
    by_name = {saved.name: saved.id for saved in sizes.every(workspace)}

    def start(job: _Job) -> int:
        ids = [taken[photo] for photo in job.photos]
        chosen = [by_name[size] for size in job.sizes]
        return jobs.start(workspace, job.name, ids, chosen, [], now - job.ago)

    _name_receiver(workspace, by_name["Quay sign"], "Sign on the quay")
    stall, ferry, evening, strips, _ = (start(job) for job in _JOBS)
    _work(workspace, strips, now - timedelta(days=4))
    _continue(workspace, taken["lighthouse"], taken["quay-lanterns"], now - timedelta(days=2))
    _work(workspace, ferry, now - timedelta(days=5))
    _mark(workspace, ferry, now - timedelta(days=5))
    _make(workspace, stall, now - timedelta(hours=20))
    _work(workspace, evening, now - timedelta(hours=1))
    _lay(workspace, evening, now - timedelta(hours=1))
    return True


def _name_receiver(workspace: Workspace, size_id: int, receiver: str) -> None:
    """Let a size say whose rules its pieces are held to."""
    version = sizes.view(workspace, size_id).version
    sizes.change(workspace, size_id, SizeChange(goes_to=receiver, version=version))


# Which pieces of the evening lie on one paper, and how many of each.
_ON_PAPER = {
    ("lighthouse.jpg", "8 × 10 in print"): 1,
    ("quay-lanterns.jpg", "5 × 7 in print"): 1,
    ("market-stall.jpg", "5 × 7 in print"): 1,
    ("lantern-pole.jpg", "5 × 7 in print"): 1,
    ("harbour-wall.jpg", "5 × 7 in print"): 2,
}


def _lay(workspace: Workspace, job_id: int, now: datetime) -> None:
    """Lay prints on a paper, and two tall photos side by side on the quay sign."""
    pieces = {
        (placement.photo_name, placement.size_name): placement.id
        for placement in jobs.view(workspace, job_id).placements
    }
    wanted = [pieces[pair] for pair in _ON_PAPER]
    sheet = sheets.start(workspace, job_id, wanted, now, paper="17x22in@300")
    for photo_and_size, count in _ON_PAPER.items():
        if count > 1:
            more = Count(kind="count", placement_id=pieces[photo_and_size], count=count)
            sheets.keep(workspace, sheet.id, more, now)
    sign = next(saved.id for saved in sizes.every(workspace) if saved.name == "Quay sign")
    pair = [pieces[name, "8 × 10 in print"] for name in ("lantern-pole.jpg", "market-stall.jpg")]
    sheets.start(workspace, job_id, pair, now, size_id=sign, cells="2x1")


def _mark(workspace: Workspace, job_id: int, now: datetime) -> None:
    """Write a line as a mark, and lay it on a job's first piece."""
    line = LineBody(text="Quay studio")
    mark = library.add_line(workspace, line, LETTER_FONTS[line.font], now).mark
    laid = PieceMark(**(dict(mark) | {"place": "calm"}))
    first = jobs.view(workspace, job_id).placements[0].id
    history.keep(workspace, first, LayMark(kind="mark", mark=laid), now)


def _around(x: float, y: float, wide: float, high: float) -> tuple[tuple[float, float], ...]:
    """Set an outline around a thing, as a hand would."""
    turns = (2 * pi * n / 24 for n in range(24))
    return tuple((round(x + wide * cos(t)), round(y + high * sin(t))) for t in turns)


# The boat beside the quay, painted over by what surrounds it.
_BOAT = Retouch(kind="paint_over", attempt=2, polygons=(_around(2610, 1956, 576, 300),))


def _continue(workspace: Workspace, lighthouse: int, quay: int, now: datetime) -> None:
    """Start a job whose photos are shown otherwise than they came: continued, and painted over."""
    sizes_said = ["1920x1080px extend"]
    job_id = jobs.start(workspace, "Welcome screens", [lighthouse, quay], [], sizes_said, now)
    at = {placement.photo_id: placement.id for placement in jobs.view(workspace, job_id).placements}
    history.keep(workspace, at[lighthouse], Continue(kind="continue"), now)
    body = RetouchesBody(retouches=[_BOAT], placement_id=at[quay])
    retouches.put(workspace, quay, body, now, job_id)


# What was done to which photo on which size before the demo begins.
_GESTURES: dict[tuple[str, str], Gesture] = {
    ("quay-lanterns.jpg", "8 × 10 in print"): Move(kind="move", dx=300, dy=0),
    ("lighthouse.jpg", "8 × 10 in print"): Scale(kind="scale", factor=0.9, u=0.75, v=0.4),
    ("market-stall.jpg", "8 × 10 in print"): Scale(kind="scale", factor=0.94, u=0.5, v=0.3),
    ("harbour-wall.jpg", "Quay sign"): Move(kind="move", dx=0, dy=120),
    ("quay-lanterns.jpg", "Quay sign"): Move(kind="move", dx=0, dy=-350),
    ("glass-float.jpg", "Square picture"): Move(kind="move", dx=220, dy=0),
    ("paper-boat.jpg", "Square picture"): Scale(kind="scale", factor=0.92, u=0.5, v=0.55),
    ("lighthouse.jpg", "16 × 20 in print"): Turn(kind="turn"),
}
_SETTLED = {
    ("quay-lanterns.jpg", "8 × 10 in print"),
    ("lighthouse.jpg", "8 × 10 in print"),
    ("harbour-wall.jpg", "8 × 10 in print"),
    ("quay-lanterns.jpg", "5 × 7 in print"),
    ("harbour-wall.jpg", "Quay sign"),
    ("harbour-wall.jpg", "A3 print"),
    ("glass-float.jpg", "Square picture"),
    ("paper-boat.jpg", "Square picture"),
}


def _work(workspace: Workspace, job_id: int, now: datetime) -> None:
    for piece in jobs.view(workspace, job_id).placements:
        done = (piece.photo_name, piece.size_name)
        if done in _GESTURES:
            history.keep(workspace, piece.id, _GESTURES[done], now)
        if done in _SETTLED:
            history.settle(workspace, piece.id, now)


def _make(workspace: Workspace, job_id: int, now: datetime) -> None:
    _work(workspace, job_id, now)
    orders.deliver(workspace, job_id, None, now)
