"""Letting a crop reach beyond its photo: the ground, a shape of its own, so much on a side."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.pull import pulled
from oak_ledge.core.gestures.typed import TypedUnit
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.placements.crop import asked_pixels, crop_of, proportions
from oak_ledge.core.placements.fit import around_width, keep_inside
from oak_ledge.core.placements.placement import Placement, changed, own_size
from oak_ledge.core.placements.suggestion import check_window, suggest
from oak_ledge.core.planes.points import rectangle, turned
from oak_ledge.core.planes.surface import Plane
from oak_ledge.core.sizes.ground import Fill
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.core.values import FAR, Value

SideName = Literal["left", "top", "right", "bottom"]


OUTWARD: dict[SideName, tuple[float, float]] = {
    "left": (-1, 0), "top": (0, -1), "right": (1, 0), "bottom": (0, 1),
}  # fmt: skip


def grounded(
    size: Size,
    at: Size,
    held: Pixels,
    placement: Placement,
    *,
    beyond: bool | None = None,
    fill: Fill | None = None,
    sit: tuple[float, float] | None = None,
) -> Placement:
    """Choose the ground; where the crop may reach beyond for the first time, it takes all in.

    `at` is the size at work, the photo's own exception to `size` if it has one. `sit` are shares
    that say where the photo sits in its piece.
    """
    told: dict[str, object] = {}
    if fill is not None:
        told["ground"] = fill
    if beyond is not None:
        told["differ"] = "extend" if beyond else "trim"
    own = size_from(dict(at) | told)
    made = changed(placement, size=own_size(size, own), upright=None)
    if own.differ != at.differ:
        check_window(own, held, asked_pixels(own, held, made))
        made = changed(made, stretch=1.0)
        if beyond and made.free is None and not own.shape.whole_pixels:
            width = around_width(held, proportions(own, held, made), made.angle)
            made = changed(made, cx=held[0] / 2, cy=held[1] / 2, width=width)
        made = keep_inside(own, held, made)
    if sit is not None:
        crop = crop_of(own, held, made)
        cx = crop.width / 2 - sit[0] * (crop.width - held[0])
        cy = crop.height / 2 - sit[1] * (crop.height - held[1])
        made = keep_inside(own, held, changed(made, cx=cx, cy=cy))
    return made


def to_ratio(size: Size, at: Size, held: Pixels, placement: Placement, ratio: str) -> Placement:
    """Extend a photo that is cut unscaled to a shape of its own: the smallest crop around it.

    Raises
    ------
    PlacementError, SizeTextError
        If the text is no ratio, or the size sets its own pixels.
    """
    shape = read_size(ratio).shape
    if not isinstance(shape, RatioShape):
        msg = f"“{ratio}” is not a ratio. Write it like 16:9"
        raise PlacementError(msg)
    if not _unscaled(at):
        msg = f"this size, {write_size(at)}, has a shape of its own. Lay the photo on one such as {ratio} extend"
        raise PlacementError(msg)
    own = size_from(dict(at) | {"shape": shape, "differ": "extend", "turn": "fixed"})
    first = suggest(own, held)
    made = changed(
        placement, free=first.free, cx=first.cx, cy=first.cy, turned=None, upright=None, stretch=1.0
    )
    made = changed(made, size=own_size(size, own), width=first.width, angle=0.0)
    return keep_inside(own, held, made)


def beyond_side(
    size: Size, at: Size, held: Pixels, placement: Placement, side: SideName, by: float
) -> Placement:
    """Put one side of a crop so many photo pixels beyond the photo.

    Where the photo is cut unscaled and upright the other three stay, and the shape follows in
    whole pixels; elsewhere the side opposite stays, and the shape.
    """
    crop = crop_of(at, held, placement)
    if _unscaled(at) and not crop.angle and not isinstance(held, Plane):
        edges = {"left": crop.left, "top": crop.top, "right": crop.right, "bottom": crop.bottom}
        far = {"left": 0, "top": 0, "right": held[0], "bottom": held[1]}[side]
        edges[side] = far + sum(OUTWARD[side]) * halves_up(by)
        free = (
            halves_up(edges["right"] - edges["left"]),
            halves_up(edges["bottom"] - edges["top"]),
        )
        shape = read_size(f"{free[0]}:{free[1]}").shape
        own = size_from(dict(at) | {"shape": shape, "differ": "extend", "turn": "fixed"})
        made = changed(
            placement,
            cx=edges["left"] + free[0] / 2,
            cy=edges["top"] + free[1] / 2,
            width=float(free[0]),
            free=free,
            turned=None,
            upright=None,
            size=own_size(size, own),
        )
        return keep_inside(own, held, made)
    own = size_from(dict(at) | {"differ": "extend"})
    over = changed(placement, size=own_size(size, own), stretch=1.0, upright=None)
    crop = crop_of(own, held, over)
    u, v = OUTWARD[side]
    now = reaches(held, own, over)[side]
    half = crop.width / 2 if u else crop.height / 2
    out = half + by - now
    pointer = turned(u * out, v * out, crop.angle)
    pointer = (placement.cx + pointer[0], placement.cy + pointer[1])
    return pulled(own, held, over, (u, v), pointer, centre=False, hold_ratio=True)


def reaches(held: Pixels, at: Size, placement: Placement) -> dict[SideName, float]:
    """Give photo pixels beyond the photo on each side of a crop; below 0 it ends inside."""
    crop = crop_of(at, held, placement)
    outline = held.outline if isinstance(held, Plane) else rectangle(*held)
    frame = [turned(x - placement.cx, y - placement.cy, -crop.angle) for x, y in outline]
    xs, ys = zip(*frame, strict=True)
    return {
        "left": crop.width / 2 + min(xs),
        "top": crop.height / 2 + min(ys),
        "right": crop.width / 2 - max(xs),
        "bottom": crop.height / 2 - max(ys),
    }


def _unscaled(size: Size) -> bool:
    """Say whether a photo's own pixels come out, in any shape the crop has."""
    shape = size.shape
    return size.dot == 1 and shape.as_it_is


Share = Annotated[float, Field(ge=-100, le=100)]


class Ground(Value):
    """Let the crop reach beyond the photo or not, and say what fills there and where it sits.

    What is left out stays. `ratio`, such as 16:9, gives a photo that is cut unscaled a shape of
    its own. `sit` are shares: (0, 0) puts the photo into the top left of its piece,
    (0.5, 1) to the middle of its foot.
    """

    kind: Literal["ground"]
    beyond: bool | None = None
    fill: Fill | None = None
    ratio: str | None = Field(default=None, max_length=40)
    sit: tuple[Share, Share] | None = None


class Extend(Value):
    """Put one side of the crop so far beyond the photo."""

    kind: Literal["extend"]
    side: SideName
    by: float = Field(ge=0, le=FAR)
    unit: TypedUnit = "px"
