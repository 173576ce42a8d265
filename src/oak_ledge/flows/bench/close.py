"""Looking close: one placement's methods side by side at true pixels, and how much is enough."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from pydantic import BaseModel

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.content import choose_for
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.methods import Method, choose
from oak_ledge.core.pixels.encode.encode import encode_preview
from oak_ledge.core.pixels.look.compare_methods import differences, spot_of
from oak_ledge.core.pixels.look.detail_tiles import light_tiles
from oak_ledge.core.pixels.render import Held, held_like, render
from oak_ledge.core.placements.crop import Crop, asked_pixels, crop_of
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.reports.enough_resolution import Advice, advise
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.photos import present

METHODS: tuple[Method, ...] = ("mitchell", "bicubic", "lanczos", "nearest")


class MethodSeen(BaseModel):
    """One method on the spot looked at: its plain name, when to pick it, how it differs."""

    method: Method
    name: str
    when: str
    chosen: bool
    differs: str


class Spot(BaseModel):
    """A spot of the piece, by its top left corner and edges in output pixels."""

    left: int
    top: int
    width: int
    height: int
    methods: list[MethodSeen]


@dataclass(frozen=True)
class _Look:
    """A spot of one placement, ready to be drawn."""

    path: Path
    size: Size
    held: Held
    crop: Crop
    asked: Pixels
    spot: tuple[int, int, int, int]

    def by(self, method: Method) -> tuple[Array, bytes | None]:
        left, top, width, height = self.spot
        W, H = self.asked
        part = self.crop.part(left / W, top / H, width / W, height / H)
        fixed = self.size.shape.whole_pixels  # whose values do not change
        size = self.size if fixed else self.size.model_copy(update={"method": method})
        return _drawn(self.path, size, part, (width, height), self.held)


@lru_cache(maxsize=24)  # the words and the pictures of a spot come from the same pixels
def _drawn(
    path: Path, size: Size, part: Crop, asked: Pixels, held: Held
) -> tuple[Array, bytes | None]:
    return render(path, size, part, asked, held)


def _look(workspace: Workspace, placement_id: int, x: float, y: float, edge: int) -> _Look:
    placed = load(workspace, placement_id)
    size, upright = size_at(placed.size, placed.placement), placed.photo.facts.held
    held = held_at(placed.size, upright, placed.placement)
    asked = asked_pixels(size, held, placed.placement)
    return _Look(
        path=present(workspace.originals, placed.photo),
        size=size,
        held=held_like(placed.placement, size, upright),
        crop=crop_of(size, held, placed.placement),
        asked=asked,
        spot=spot_of(asked, x, y, edge),
    )


def spot(workspace: Workspace, placement_id: int, x: float, y: float, edge: int) -> Spot:
    """Set the methods side by side on a spot about shares x, y of the piece."""
    look = _look(workspace, placement_id, x, y, edge)
    chosen = look.size.method
    if chosen == "auto":
        step = look.crop.width / look.asked[0]
        chosen = choose_for(look.path, look.crop, look.asked) or choose(step)
    told = differences({method: look.by(method)[0] for method in METHODS}, chosen)
    left, top, width, height = look.spot
    return Spot(
        left=left,
        top=top,
        width=width,
        height=height,
        methods=[
            MethodSeen(
                method=method,
                name=METHOD_WORDS[method][0],
                when=METHOD_WORDS[method][1],
                chosen=method == chosen,
                differs=told[method],
            )
            for method in METHODS
        ],
    )


def spot_picture(
    workspace: Workspace, placement_id: int, x: float, y: float, edge: int, method: Method
) -> bytes:
    """A spot of the piece by one method, at true pixels, as a JPEG in sRGB."""
    return encode_preview(*_look(workspace, placement_id, x, y, edge).by(method))


def advice(workspace: Workspace, placement_id: int) -> Advice:
    """How much resolution is enough for a placement, from its own detail and from sight."""
    placed = load(workspace, placement_id)
    size, upright = size_at(placed.size, placed.placement), placed.photo.facts.held
    held = held_at(placed.size, upright, placed.placement)
    found = tally(size, held, placed.placement)
    crop = crop_of(size, held, placed.placement)
    tiles, noise = light_tiles(
        present(workspace.originals, placed.photo),
        crop,
        held_like(placed.placement, size, upright),
    )
    return advise(size, found, held, tiles, noise)
