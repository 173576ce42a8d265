"""Dragging a corner or an edge, and drawing the crop afresh."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from pydantic import Field
from typing_extensions import override

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.gesture import CropGesture, Start
from oak_ledge.core.placements.fit import (
    SMALLEST_CROP,
    adopt,
    keep_inside,
    may_change_ratio,
    resized,
    shrunk,
    smallest_width,
    widest,
)
from oak_ledge.core.placements.lying import Lying, on_own_size
from oak_ledge.core.placements.placement import Placement, changed
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.ground import Fill
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.values import FAR, Coordinate

# Photo pixels: by so little, which rounding the output may cost, a crop is not beyond its photo.
_DUST = 0.75

# For each axis: 1 or −1 where the crop grows that way from what is held, 0 where both ways.
Signs = tuple[float, float]


class Pull(CropGesture):
    """Drag a corner or an edge to a point of the photo; what is opposite, or the centre, is held."""

    kind: Literal["pull"]
    at: Literal["nw", "n", "ne", "e", "se", "s", "sw", "w"]
    x: Coordinate
    y: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")
    gives_way: float | None = Field(
        default=None, ge=0, le=FAR,
        description="photo pixels it is pulled on past where the photo stops it, before it reaches beyond",
    )  # fmt: skip
    ground: Fill | None = Field(
        default=None, description="what fills beyond the photo, where nothing did before"
    )

    @property
    @override
    def name(self) -> str:
        return "corner dragged" if len(self.at) == 2 else "edge dragged"

    @override
    def apply(self, start: Start) -> Placement:
        if self.gives_way is None:
            return super().apply(start)
        lying = start.lying
        refuse_window(lying)
        hand = Hand(self.signs, (self.x, self.y), centre=self.centre, hold_ratio=self.hold_ratio)
        if lying.size.differ != "extend":
            placement = pulled_outward(start.size, lying, hand, self.gives_way, self.ground)
        else:
            placement = pulled_beyond(start.size, lying, hand, self.gives_way)
        return changed(placement, before_levelling=None)

    @property
    def signs(self) -> Signs:
        """Which way it grows: (1, 1) the bottom right corner, (−1, 0) the left edge."""
        return sum(SIGNS[part][0] for part in self.at), sum(SIGNS[part][1] for part in self.at)

    @override
    def reshape(self, start: Start) -> Placement:
        how = {"centre": self.centre, "hold_ratio": self.hold_ratio}
        return pulled(start.lying, self.signs, (self.x, self.y), **how)


class Draw(CropGesture):
    """Draw the crop afresh from one point of the photo to another, or about the first."""

    kind: Literal["draw"]
    x0: Coordinate
    y0: Coordinate
    x1: Coordinate
    y1: Coordinate
    centre: bool = False
    hold_ratio: bool = Field(default=False, description="on a free size: keep the ratio")

    @property
    @override
    def name(self) -> str:
        return "drawn afresh"

    @override
    def reshape(self, start: Start) -> Placement:
        how = {"centre": self.centre, "hold_ratio": self.hold_ratio}
        return drawn(start.lying, (self.x0, self.y0), (self.x1, self.y1), **how)


SIGNS = {"n": (0.0, -1.0), "s": (0.0, 1.0), "w": (-1.0, 0.0), "e": (1.0, 0.0)}


@dataclass(frozen=True)
class Hand:
    """A corner or an edge, by its `signs`, pulled to a `pointer` on the photo."""

    signs: Signs
    pointer: Point
    centre: bool
    hold_ratio: bool


@dataclass(frozen=True)
class Wish:
    """What a hand wants of a crop: width and height, from a held point, growing the way `grows` says.

    `hold` is a step from the centre along the crop's own edges.
    """

    hold: Point
    grows: Signs
    edges: Point
    freely: bool


def wished(lying: Lying, hand: Hand) -> Wish:
    """Return what a pull asks for; where the ratio is held, one edge follows the other."""
    crop, placement, signs = lying.crop, lying.placement, hand.signs
    pointer = hand.pointer[0] - placement.cx, hand.pointer[1] - placement.cy
    px, py = rotated(*pointer, -placement.angle)
    reach = 1.0 if hand.centre else 0.5
    half = crop.width / 2, crop.height / 2
    hold = (0.0, 0.0) if hand.centre else (-signs[0] * half[0], -signs[1] * half[1])
    wide, high = (
        sign * (point - at) * 2 * reach if sign else extent
        for sign, point, at, extent in zip(
            signs, (px, py), hold, (crop.width, crop.height), strict=True
        )
    )
    grows: Signs = (0.0, 0.0) if hand.centre else signs
    freely = may_change_ratio(lying.size) and not hand.hold_ratio
    if not freely:
        across, along = lying.proportions
        if not signs[1]:
            high = wide * along / across
        elif not signs[0]:
            wide = high * across / along
        else:  # the pointer, projected on the crop's diagonal
            share = (wide * across + high * along) / (across * across + along * along)
            wide, high = share * across, share * along
    return Wish(hold, grows, (wide, high), freely)


def pulled(
    lying: Lying,
    signs: Signs,
    pointer: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Move a corner or an edge to the pointer; what lies opposite, or the centre, is held.

    Parameters
    ----------
    signs : which is pulled: (1, 1) the bottom right corner, (−1, 0) the left edge
    pointer : a point of the photo
    centre : hold the centre instead
    hold_ratio : where the ratio is open, keep it
    """
    wish = wished(lying, Hand(signs, pointer, centre=centre, hold_ratio=hold_ratio))
    return granted(lying, wish)


def granted(lying: Lying, wish: Wish) -> Placement:
    """Return the crop that comes nearest to a wish."""
    return grown(lying, wish.hold, wish.grows, wish.edges, freely=wish.freely)


def refuse_window(lying: Lying) -> None:
    """Refuse to make a window of whole pixels larger or smaller.

    Raises
    ------
    PlacementError
        If that is what it lies on.
    """
    if lying.size.shape.whole_pixels:
        width, height = lying.asked
        msg = (
            f"this size cuts out exactly {width} × {height} px of the photo, no more and no less. "
            "Drag inside to move it, or choose another size"
        )
        raise PlacementError(msg)


def pulled_outward(
    size: Size, lying: Lying, hand: Hand, gives_way: float, ground: Fill | None
) -> Placement:
    """Pull a crop that the photo stops; pulled on by more than `gives_way` it reaches beyond.

    Parameters
    ----------
    size : of the job, to which a crop that reaches beyond is an exception
    gives_way : photo pixels
    ground : what fills there; None for what the size says
    """
    wish = wished(lying, hand)
    stopped = granted(lying, wish)
    reached = Lying(lying.size, lying.surface, stopped).crop
    past = (wish.edges[0] - reached.width, wish.edges[1] - reached.height)
    more = [way if sign else 0.0 for way, sign in zip(past, hand.signs, strict=True)]
    slack = gives_way * (2 if hand.centre else 1)
    if max(more) <= slack:
        return stopped
    over = {"differ": "extend"} | ({} if ground is None else {"ground": ground})
    own = size_from(dict(lying.size) | over)
    free = None if written_pixels(own) is not None else lying.placement.free
    beyond = on_own_size(lying, size, own).changed(stretch=1.0, free=free)
    wish = wished(beyond, hand)
    if wish.freely:  # an edge that has not given way stays where the photo stops it
        edges = (
            wish.edges[0] if more[0] > slack else min(wish.edges[0], reached.width),
            wish.edges[1] if more[1] > slack else min(wish.edges[1], reached.height),
        )
        wish = replace(wish, edges=edges)
    return granted(beyond, wish)


def pulled_beyond(size: Size, lying: Lying, hand: Hand, gives_way: float) -> Placement:
    """Pull a crop that may reach beyond the photo: at the photo's edge it stops, until it gives way.

    Where it ends within the photo, on a size that does not extend, it reaches beyond no more.
    """
    wish = wished(lying, hand)
    if not lying.placement.angle and not isinstance(lying.surface, Squared):
        wish = _stopped_at_edge(lying, hand, wish, gives_way)
    within = Lying(lying.size, lying.surface, granted(lying, wish))
    if size.differ == "extend" or not _in_photo(within):
        return within.placement
    differ = size.differ if lying.size.shape == size.shape else "trim"
    own = size_from(dict(lying.size) | {"differ": differ, "ground": size.ground})
    return keep_inside(on_own_size(within, size, own)).placement


def _in_photo(lying: Lying) -> bool:
    xs, ys = zip(*lying.outline, strict=True)
    wide, high = lying.surface.photo
    low, most = min(*xs, *ys), max(max(xs) - wide, max(ys) - high)
    return bool(low >= -_DUST and most <= _DUST)


def _stopped_at_edge(lying: Lying, hand: Hand, wish: Wish, gives_way: float) -> Wish:
    """Hold a pulled edge at the photo's, from inside or from beyond, until it gives way."""
    crop, centre = lying.crop, (lying.placement.cx, lying.placement.cy)
    before = (crop.width, crop.height)
    held: list[float | None] = [None, None]
    for axis, sign in enumerate(hand.signs):
        if not sign:
            continue
        photo = lying.extent[axis] if sign > 0 else 0
        times, base = (0.5, centre[axis]) if hand.centre else (1.0, centre[axis] + wish.hold[axis])
        was = sign * (base - photo) + times * before[axis]
        now = sign * (base - photo) + times * wish.edges[axis]
        stops = 0 < now <= gives_way if was <= _DUST else -gives_way <= now < 0
        if stops:
            held[axis] = sign * (photo - base) / times
    if held == [None, None]:
        return wish
    if wish.freely:
        wide, high = (
            edge if hold is None else hold for edge, hold in zip(wish.edges, held, strict=True)
        )
        return replace(wish, edges=(wide, high))
    across, along = lying.proportions
    wide = held[0] if held[0] is not None else (held[1] or 0) * across / along
    return replace(wish, edges=(wide, wide * along / across))


def drawn(
    lying: Lying,
    start: Point,
    end: Point,
    *,
    centre: bool,
    hold_ratio: bool,
) -> Placement:
    """Draw the crop afresh from a point of the photo to another; with `centre` about the first."""
    placement = lying.placement
    if lying.size.shape.whole_pixels:  # it comes to lie about what was drawn
        cx, cy = start if centre else ((a + b) / 2 for a, b in zip(start, end, strict=True))
        return keep_inside(lying.changed(cx=cx, cy=cy)).placement
    x0, y0 = rotated(start[0] - placement.cx, start[1] - placement.cy, -placement.angle)
    x1, y1 = rotated(end[0] - placement.cx, end[1] - placement.cy, -placement.angle)
    reach = 2.0 if centre else 1.0
    wide, high = reach * abs(x1 - x0), reach * abs(y1 - y0)
    freely = may_change_ratio(lying.size) and not hold_ratio
    if not freely:
        across, along = lying.proportions
        wide = max(wide, high * across / along)
        high = wide * along / across
    signs = (0.0, 0.0) if centre else (1.0 if x1 >= x0 else -1.0, 1.0 if y1 >= y0 else -1.0)
    return grown(lying, (x0, y0), signs, (wide, high), freely=freely)


def grown(
    lying: Lying,
    hold: Point,
    signs: Signs,
    wanted: Point,
    *,
    freely: bool,
) -> Placement:
    """Return a crop of wanted width and height that grows from a held point the way `signs` say.

    `hold` is a step from the old centre along the crop's own edges. The crop stops at the photo's
    edge where it lies upright; turned, or beyond the photo, it is kept inside as a whole.
    """
    across, along = ratio = lying.proportions
    placement, extent = lying.placement, lying.extent
    angle = placement.angle
    if lying.size.differ == "extend" or angle or isinstance(lying.surface, Squared):
        room_x = widest(lying.size, lying.surface, ratio, angle)
        room_y = room_x * along / across
    else:
        at = (placement.cx + hold[0], placement.cy + hold[1])
        room_x, room_y = (
            _room(point, edge, sign) for point, edge, sign in zip(at, extent, signs, strict=True)
        )
    wide, high = wanted
    # a crop begun at the very edge, where there is no room, slides back in
    room_x, room_y = (
        max(room, min(SMALLEST_CROP, edge))
        for room, edge in zip((room_x, room_y), extent, strict=True)
    )
    if freely:
        smallest = min(SMALLEST_CROP, room_x, room_y)
        wide, high = min(max(wide, smallest), room_x), min(max(high, smallest), room_y)
        new_lying = shrunk(adopt(lying, wide, high))
    else:
        smallest = smallest_width(extent, ratio, angle)
        width = min(max(wide, smallest), room_x, room_y * across / along)
        new_lying = resized(lying, width)
    after = new_lying.crop
    dx, dy = rotated(
        hold[0] + signs[0] * after.width / 2, hold[1] + signs[1] * after.height / 2, angle
    )
    return keep_inside(new_lying.changed(cx=placement.cx + dx, cy=placement.cy + dy)).placement


def _room(point: float, edge: int, sign: float) -> float:
    """Return how far a crop can grow from a point of one axis inside the photo."""
    before, after = max(0.0, point), max(0.0, edge - point)
    return after if sign > 0 else before if sign < 0 else 2 * min(before, after)
