"""What else could be made of a photo: the job's other sizes and common shapes, laid over it."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.placements.crop import Crop, crop_of
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.other_shapes import COMMON, around
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.reports.tally import trimmed_share
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import reading


class OtherShape(BaseModel):
    """An outline on the photo as held, and the share of the photo it would trim, 0 to 1."""

    of: Literal["size", "ratio"]
    name: str
    crop: tuple[float, float, float, float]
    angle: float
    trims: float


def shapes(workspace: Workspace, placement_id: int) -> list[OtherShape]:
    """The job's other sizes as they lie on this photo, and common ratios about this crop."""
    placed = load(workspace, placement_id)
    lying, facts = placed.placement, placed.photo.facts
    held = held_at(placed.size, facts.held, lying)
    size = size_at(placed.size, lying)
    found = []
    with reading(workspace.sessions) as session:
        others = jobs.placements(session, placed.job_id)
    for other in others:
        same = other.photo.id == placed.photo.id and other.id != placed.id
        how = other.placement
        if not same or (how.quarter, how.mirror, how.corners) != (
            lying.quarter, lying.mirror, lying.corners,
        ):  # fmt: skip
            continue
        at_work = size_at(other.size, how)
        if how.corners is not None and held_at(other.size, facts.held, how) != held:
            continue
        found.append(_shape("size", size_name(at_work), crop_of(at_work, held, how), held))
    here = crop_of(size, held, lying)
    for name, ratio in COMMON:
        found.append(_shape("ratio", name, around(here, ratio, held), held))
    return found


def _shape(
    of: Literal["size", "ratio"], name: str, crop: Crop, held: tuple[int, int]
) -> OtherShape:
    return OtherShape(
        of=of,
        name=name,
        crop=crop.box,
        angle=crop.angle,
        trims=trimmed_share(crop, held),
    )
