"""What else could be made of a photo: the job's other sizes and common shapes, laid over it."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.other_shapes import COMMON, within
from oak_ledge.core.planes.surface import Surface
from oak_ledge.core.reports.tally import trimmed_share
from oak_ledge.core.sizes.text.write import size_name
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs
from oak_ledge.store.database import reading


class OtherShape(BaseModel):
    """An outline on what the crop lies on, and the share it would trim, 0 to 1.

    Of the photo where it is another size of the job, of the crop where it is a common ratio.
    """

    of: Literal["size", "ratio"]
    name: str
    crop: tuple[float, float, float, float]
    angle: float
    trims: float
    frames: str = ""
    """the frames and papers of a common ratio"""


def shapes(workspace: Workspace, placement_id: int) -> list[OtherShape]:
    """Return the job's other sizes as they lie on this photo, and common ratios within this crop."""
    placed = load(workspace, placement_id)
    surface = placed.lying.surface
    other_shapes = []
    with reading(workspace.sessions) as session:
        others = jobs.placements(session, placed.job_id)
    for other in others:
        same = other.photo.id == placed.photo.id and other.id != placed.id
        if same and other.lying.surface == surface:
            other_shapes.append(
                _shape("size", size_name(other.lying.size), other.lying.crop, surface)
            )
    here = placed.lying.crop
    for common in COMMON:
        part = within(here, common.ratio)
        trims = 1 - part.width * part.height / (here.width * here.height)
        shape = _shape("ratio", common.name, part, surface)
        other_shapes.append(shape.model_copy(update={"frames": common.frames, "trims": trims}))
    return other_shapes


def _shape(of: Literal["size", "ratio"], name: str, crop: Crop, surface: Surface) -> OtherShape:
    return OtherShape(
        of=of,
        name=name,
        crop=crop.box,
        angle=crop.angle,
        trims=trimmed_share(crop, surface),
    )
