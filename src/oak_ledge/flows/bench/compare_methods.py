"""Looking close: one placement's methods side by side at true pixels, and how much is enough."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from pydantic import BaseModel

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.content import choose_for
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.methods import Method, choose
from oak_ledge.core.pixels.encode.encode import encode_preview
from oak_ledge.core.pixels.open.photo import Source
from oak_ledge.core.pixels.render import render
from oak_ledge.core.pixels.show.compare_methods import busiest, differences, spot_of
from oak_ledge.core.pixels.show.detail_tiles import light_tiles
from oak_ledge.core.pixels.subject.dropper import pixels_of
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import Surface
from oak_ledge.core.reports.enough_resolution import Advice, advise
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import METHOD_WORDS
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.pieces.pictures import at_full_size, piece_preview
from oak_ledge.flows.workspace import Workspace

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

    source: Source
    size: Size
    surface: Surface
    crop: Crop
    asked: Pixels
    spot: tuple[int, int, int, int]

    def by(self, method: Method) -> tuple[Array, bytes | None]:
        """Return the spot's pixels drawn by one method, and their profile."""
        left, top, width, height = self.spot
        W, H = self.asked
        part = self.crop.part(left / W, top / H, width / W, height / H)
        size = self.size.model_copy(update={"outline": None})  # a spot has no edge of its own
        if not size.shape.whole_pixels:  # whose values do not change
            size = size.model_copy(update={"method": method})
        return _drawn(self.source, size, part, (width, height), self.surface)


@lru_cache(maxsize=24)  # the words and the pictures of a spot come from the same pixels
def _drawn(
    source: Source, size: Size, part: Crop, output: Pixels, surface: Surface
) -> tuple[Array, bytes | None]:
    return render(source, size, part, output, surface)


def _look(workspace: Workspace, placement_id: int, x: float, y: float, edge: int) -> _Look:
    lying, cut = at_full_size(workspace, load(workspace, placement_id))
    return _Look(*cut, lying.asked, spot_of(lying.asked, x, y, edge))


def spot(workspace: Workspace, placement_id: int, x: float, y: float, edge: int) -> Spot:
    """Set the methods side by side on a spot about shares x, y of the piece."""
    look = _look(workspace, placement_id, x, y, edge)
    chosen, crop, output = look.size.method, look.crop, look.asked
    if chosen == "auto":
        chosen = choose_for(look.source, crop, output) or choose(crop.width / output[0])
    differs = differences({method: look.by(method)[0] for method in METHODS}, chosen)
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
                differs=differs[method],
            )
            for method in METHODS
        ],
    )


class BusiestPlace(BaseModel):
    """A place of a piece, by shares of its width and height."""

    x: float
    y: float


def busiest_place(workspace: Workspace, placement_id: int, edge: int) -> BusiestPlace:
    """Find where a spot of a piece shows most: methods differ there, and nowhere in a plain sky."""
    placed = load(workspace, placement_id)
    W, H = placed.lying.asked
    path = piece_preview(workspace, placed, 900)
    x, y = busiest(pixels_of(path), edge / W, edge / H)
    return BusiestPlace(x=x, y=y)


def spot_picture(
    workspace: Workspace, placement_id: int, x: float, y: float, edge: int, method: Method
) -> bytes:
    """Return a spot of the piece by one method, at true pixels, as a JPEG in sRGB."""
    return encode_preview(*_look(workspace, placement_id, x, y, edge).by(method))


def advice(workspace: Workspace, placement_id: int) -> Advice:
    """How much resolution is enough for a placement, from its own detail and from sight."""
    lying, (source, _, surface, crop) = at_full_size(workspace, load(workspace, placement_id))
    tiles, noise = light_tiles(source, crop, surface)
    return advise(lying.size, tally(lying), lying.extent, tiles, noise)
