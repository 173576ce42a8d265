"""What of every photo of a job survives all its sizes, and a framing card of them."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.measures.numbers import clipped, read_number
from oak_ledge.core.notes.room import Room, room_for
from oak_ledge.core.photos.keep_zones import NOTHING
from oak_ledge.core.pixels.paper.framing_card import draw_card
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.planes.points import Point
from oak_ledge.core.planes.polygons import area
from oak_ledge.core.reports.survivors import Framed, framed, surviving
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs.jobs import brief
from oak_ledge.flows.photos.photos import lies_around
from oak_ledge.flows.pieces.pieces import piece_of
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import reading
from oak_ledge.store.placements import Placed


class SizeRoom(Room):
    """How much of a photo one size shows of what lies in every crop."""

    size_id: int
    size_name: str


class Survival(BaseModel):
    """What of a photo lies inside every one of its pieces, and what each size can keep of it."""

    photo_id: int
    photo_name: str
    area: tuple[Point, ...]
    """convex, in pixels of the photo as held; empty where nothing survives"""
    share: float
    """of the photo, 0 to 1"""
    sizes: list[SizeRoom]


def survivals(workspace: Workspace, job_id: int) -> list[Survival]:
    """Return the survivors of each photo of a job, in its order."""
    job = brief(workspace, job_id)
    with reading(workspace.sessions) as session:
        placed = jobs.placements(session, job_id)
    by_photo: dict[int, list[Placed]] = {photo.photo_id: [] for photo in job.photos}
    for piece in placed:
        by_photo[piece.photo.id].append(piece)
    return [survival(group) for group in by_photo.values() if group]


def survival(placed: list[Placed]) -> Survival:
    """Return the survivors of one photo; only placements that hold it alike are compared."""
    photo, how = placed[0].photo, placed[0].placement
    alike = [
        piece_of(piece) for piece in placed
        if (piece.placement.quarter, piece.placement.mirror) == (how.quarter, how.mirror)
    ]  # fmt: skip
    extent = alike[0].extent
    region = surviving([piece.outline for piece in alike], extent)
    keeps = lies_around(photo)
    return Survival(
        photo_id=photo.id,
        photo_name=photo.name,
        area=tuple(region),
        share=area(region) / (extent[0] * extent[1]),
        sizes=[
            SizeRoom(
                **dict(
                    room_for(piece.size, photo.facts.upright, keeps if keeps.zones else NOTHING)
                ),
                size_id=piece.job_size_id,
                size_name=size_name(piece.size),
            )
            for piece in placed
        ],
    )


def framing_card(
    workspace: Workspace, job_id: int, camera: str, kind: Literal["png", "pdf"], font: Path
) -> bytes:
    """Draw a card with the outlines of a job's sizes inside a camera's picture."""
    try:
        across, along = (read_number(part) for part in camera.split(":"))
        shape = across / along
    except (ValueError, ZeroDivisionError) as exc:
        msg = f"“{clipped(camera)}” is no shape of a camera's picture. Write it like 3:2 or 4:3."
        raise RequestError(msg) from exc
    if not Fraction(1, 4) <= shape <= 4:
        msg = f"A camera's picture of {camera} can't be; it must lie between 1:4 and 4:1."
        raise RequestError(msg)
    job = brief(workspace, job_id)
    with reading(workspace.sessions) as session:
        placed = jobs.placements(session, job_id)
    return draw_card(job.name, _outlines(placed, shape), shape, kind, font)


def _outlines(placed: list[Placed], camera: Fraction) -> list[Framed]:
    """Return every size's outline once, the widest first."""
    outlines: dict[int, Framed] = {}
    for piece in placed:
        if piece.job_size_id in outlines:
            continue
        face = face_of(piece.lying.size, piece.lying.asked)
        outlines[piece.job_size_id] = framed(size_name(piece.size), face, camera)
    return sorted(outlines.values(), key=lambda framed: -framed.width * framed.height)
