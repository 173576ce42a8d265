"""Letting a crop reach beyond its photo: the ground, a shape of its own, so much on a side, more of the scene."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import FillError, PlacementError
from oak_ledge.core.gestures.gesture import BaseGesture, Start
from oak_ledge.core.gestures.pull import pulled
from oak_ledge.core.gestures.typed import TypedUnit, unit_pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.photos.continued import (
    MOST_OVER,
    OUTWARD,
    BrushedOver,
    Continued,
    Side,
    SideSource,
)
from oak_ledge.core.photos.retouches import Tried
from oak_ledge.core.photos.strokes import Strokes
from oak_ledge.core.placements.fit import around_width, keep_inside
from oak_ledge.core.placements.lying import Lying, on_own_size
from oak_ledge.core.placements.placement import Placement, changed, crop_of
from oak_ledge.core.placements.scene_geometry import (
    ground_for,
    ground_needed,
    is_beyond,
    upright_of,
)
from oak_ledge.core.placements.suggestion import check_window, suggested
from oak_ledge.core.placements.zones.on_surface import to_upright, upright_side
from oak_ledge.core.planes.points import rotated
from oak_ledge.core.planes.surface import Squared, Surface
from oak_ledge.core.sizes.ground import CONTINUED, Fill
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.core.values import FAR


def grounded(
    size: Size,
    lying: Lying,
    *,
    beyond: bool | None = None,
    fill: Fill | None = None,
    sit: tuple[float, float] | None = None,
) -> Placement:
    """Choose the ground; where the crop may reach beyond for the first time, it takes all in.

    `size` is the one of the job, to which the size at work may be the photo's own exception. `sit` are
    shares that say where the photo sits in its piece.
    """
    chosen: dict[str, object] = {}
    if fill is not None:
        chosen["ground"] = fill
    if beyond is not None:
        chosen["differ"] = "extend" if beyond else "trim"
    own, (wide, high) = size_from(dict(lying.size) | chosen), lying.extent
    new_lying = on_own_size(lying, size, own)
    if own.differ != lying.size.differ:
        check_window(new_lying)
        new_lying = new_lying.changed(stretch=1.0)
        if beyond and new_lying.placement.free is None and not own.shape.whole_pixels:
            width = around_width(lying.extent, new_lying.proportions, new_lying.placement.angle)
            new_lying = new_lying.changed(cx=wide / 2, cy=high / 2, width=width)
        new_lying = keep_inside(new_lying)
    if sit is not None:
        crop = new_lying.crop
        cx = crop.width / 2 - sit[0] * (crop.width - wide)
        cy = crop.height / 2 - sit[1] * (crop.height - high)
        new_lying = keep_inside(new_lying.changed(cx=cx, cy=cy))
    return new_lying.placement


def to_ratio(size: Size, lying: Lying, ratio: str) -> Lying:
    """Extend a photo that is cut unscaled to a shape of its own: the smallest crop around it.

    Raises
    ------
    PlacementError, SizeTextError
        If the text is no ratio, or the size sets its own pixels.
    """
    shape = read_size(ratio).shape
    if shape.ratio is None:
        msg = f"“{ratio}” is not a ratio. Write it like 16:9"
        raise PlacementError(msg)
    if not _unscaled(lying.size):
        msg = (
            f"this size, {write_size(lying.size)}, has a shape of its own. "
            f"Lay the photo on one such as {ratio} extend"
        )
        raise PlacementError(msg)
    own = size_from(dict(lying.size) | {"shape": shape, "differ": "extend", "turn": "fixed"})
    first = suggested(own, lying.surface).placement
    return keep_inside(on_own_size(lying, size, own).changed(**crop_of(first)))


def beyond_side(size: Size, lying: Lying, side: Side, by: float) -> Placement:
    """Put one side of a crop so many photo pixels beyond the photo.

    Where the photo is cut unscaled and upright the other three stay, and the shape follows in
    whole pixels; elsewhere the side opposite stays, and the shape.
    """
    at, crop = lying.size, lying.crop
    if _unscaled(at) and not crop.angle and not isinstance(lying.surface, Squared):
        edges = {"left": crop.left, "top": crop.top, "right": crop.right, "bottom": crop.bottom}
        far = {"left": 0, "top": 0, "right": lying.extent[0], "bottom": lying.extent[1]}[side]
        edges[side] = far + sum(OUTWARD[side]) * halves_up(by)
        free = (
            halves_up(edges["right"] - edges["left"]),
            halves_up(edges["bottom"] - edges["top"]),
        )
        shape = read_size(f"{free[0]}:{free[1]}").shape
        own = size_from(dict(at) | {"shape": shape, "differ": "extend", "turn": "fixed"})
        new_lying = on_own_size(lying, size, own).changed(
            cx=edges["left"] + free[0] / 2,
            cy=edges["top"] + free[1] / 2,
            width=float(free[0]),
            free=free,
            turned=None,
        )
        return keep_inside(new_lying).placement
    own = size_from(dict(at) | {"differ": "extend"})
    over = on_own_size(lying, size, own).changed(stretch=1.0)
    crop = over.crop
    u, v = OUTWARD[side]
    half = crop.width / 2 if u else crop.height / 2
    out = half + by - reaches(over)[side]
    dx, dy = rotated(u * out, v * out, crop.angle)
    pointer = (over.placement.cx + dx, over.placement.cy + dy)
    return pulled(over, (u, v), pointer, centre=False, hold_ratio=True)


def reaches(lying: Lying) -> dict[Side, float]:
    """Return photo pixels beyond the photo on each side of a crop; below 0 it ends inside."""
    crop, placement = lying.crop, lying.placement
    frame = [
        rotated(x - placement.cx, y - placement.cy, -crop.angle) for x, y in lying.surface.outline
    ]
    xs, ys = zip(*frame, strict=True)
    return {
        "left": crop.width / 2 + min(xs),
        "top": crop.height / 2 + min(ys),
        "right": crop.width / 2 - max(xs),
        "bottom": crop.height / 2 - max(ys),
    }


def ground_shown(lying: Lying) -> dict[Side, float]:
    """Return photo pixels of ground beyond each side of the photo that a crop shows; below 0 it ends inside.

    Of a turned crop that is how far its furthest corner reaches.
    """
    wide, high = lying.surface.photo
    xs, ys = zip(*lying.outline, strict=True)
    return {"left": -min(xs), "top": -min(ys), "right": max(xs) - wide, "bottom": max(ys) - high}


def on_photo(surface: Surface, brushed: Strokes) -> Strokes:
    """Return strokes brushed where a crop is meant in the photo's own pixels."""
    return tuple(
        stroke.model_copy(update={"points": to_upright(surface, list(stroke.points))})
        for stroke in brushed
    )


def _unscaled(size: Size) -> bool:
    """Return whether a photo's own pixels come out, in any shape the crop has."""
    shape = size.shape
    return size.dot == 1 and shape.as_it_is


Share = Annotated[float, Field(ge=-100, le=100)]


class Ground(BaseGesture):
    """Extend the crop beyond the photo or not; choose what fills there and where the photo sits.

    What is left out stays. `ratio`, such as 16:9, gives a photo that is cut unscaled a shape of
    its own. `sit` are shares: (0, 0) puts the photo into the top left of its piece,
    (0.5, 1) to the middle of its foot.
    """

    kind: Literal["ground"]
    beyond: bool | None = None
    fill: Fill | None = None
    ratio: str | None = Field(default=None, max_length=40)
    sit: tuple[Share, Share] | None = None

    @property
    @override
    def name(self) -> str:
        return "ground chosen"

    @override
    def apply(self, start: Start) -> Placement:
        lying = start.lying
        if self.ratio is not None:
            lying = to_ratio(start.size, lying, self.ratio)
        chosen = self.model_dump(include={"beyond", "fill", "sit"})
        return grounded(start.size, lying, **chosen)


class Extend(BaseGesture):
    """Put one side of the crop so far beyond the photo."""

    kind: Literal["extend"]
    side: Side
    by: float = Field(ge=0, le=FAR)
    unit: TypedUnit = "px"

    @property
    @override
    def name(self) -> str:
        return "extended"

    @override
    def apply(self, start: Start) -> Placement:
        across, along = unit_pixels(self.unit, start.lying.extent, start.photo.ppi)
        by = self.by * (across if self.side in ("left", "right") else along)
        return beyond_side(start.size, start.lying, self.side, min(by, FAR))


class Continue(Tried, BaseGesture):
    """Fill beyond the photo with more of the scene, by one of the tries of a seed.

    `take_from` is what alone is copied, where it says something, brushed where the crop is meant:
    beyond `side` of what is seen, or, without one, beyond all sides; left out, it stays as it was. `over` is brushed over in the ground, besides what was: it is filled
    once more. Another try begins without.
    """

    kind: Literal["continue"]
    take_from: Strokes | None = None
    side: Side | None = None
    over: BrushedOver | None = None

    takes_ground: ClassVar[bool] = True

    @property
    @override
    def name(self) -> str:
        return "ground continued" if self.over is None else "painted over in the ground"

    @override
    def apply(self, start: Start) -> Placement:
        return continued(start, self)


def continued(start: Start, gesture: Continue) -> Placement:
    """Take a try for a placement as it lies.

    Raises
    ------
    FillError
        If so large a ground can't be made.
    """
    surface, was = start.lying.surface, start.placement.continued
    beyond = None if start.lying.size.differ == "extend" else True
    placement = grounded(start.size, start.lying, beyond=beyond, fill=CONTINUED)
    lying = Lying(placement.size or start.size, surface, placement)
    if ground_needed(lying) is None:
        return changed(placement, continued=None)
    of_all = None if gesture.side or gesture.take_from is None else gesture.take_from
    ground = ground_for(
        lying,
        start.photo.never_copied,
        seed=gesture.seed,
        attempt=gesture.attempt,
        take_from=None if of_all is None else on_photo(surface, of_all),
    )
    if gesture.side is not None and gesture.take_from is not None:
        ground = _from_source(
            ground, upright_side(surface, gesture.side), on_photo(surface, gesture.take_from)
        )
    return changed(placement, continued=_brushed_over(ground, was, gesture, surface))


def _from_source(ground: Continued, side: Side, take_from: Strokes) -> Continued:
    """Return a ground one side of which is copied from a source of its own; brushed nowhere, it has none."""
    others = tuple(source for source in ground.side_sources if source.side != side)
    own = (SideSource(side=side, take_from=take_from),) if take_from else ()
    return ground.model_copy(update={"side_sources": (*others, *own)})


def _brushed_over(
    ground: Continued, was: Continued | None, gesture: Continue, surface: Surface
) -> Continued:
    """Return a ground with what is brushed over in it, as long as it is the same one.

    Raises
    ------
    FillError
        If nothing of what is newly brushed lies in the ground.
    """
    same = was is not None and was.model_copy(update={"over": ()}) == ground
    over = was.over if was is not None and same else ()
    if gesture.over is not None:
        new = BrushedOver(
            strokes=on_photo(surface, gesture.over.strokes),
            polygons=tuple(to_upright(surface, list(each)) for each in gesture.over.polygons),
            take_from=on_photo(surface, gesture.over.take_from),
        )
        if not is_beyond(new, ground.box, upright_of(surface)):
            msg = "nothing of the ground is brushed over. Brush beyond the photo, within its ground"
            raise FillError(msg)
        if len(over) == MOST_OVER:
            msg = f"{MOST_OVER} places of this ground are painted over already. Take another try"
            raise FillError(msg)
        over = (*over, new)
    return ground.model_copy(update={"over": over})
