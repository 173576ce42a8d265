"""How large a crop may be and where it may lie: inside the photo, its ratio untouched.

A crop never leaves the photo, unless its size says `extend`: it is slid inside, then shrunk about the held point.
"""

from __future__ import annotations

from fractions import Fraction
from math import ceil, floor, hypot

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.placements.crop import Proportions, face_of
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.planes.points import Point, extent_at, turn_of
from oak_ledge.core.planes.polygons import half_plane, nearest_in
from oak_ledge.core.planes.roomiest import roomiest, slid_inside
from oak_ledge.core.planes.surface import Squared, Surface
from oak_ledge.core.sizes.geometry import ratio_is_open, written_pixels
from oak_ledge.core.sizes.pixels_from_crop import open_pixels
from oak_ledge.core.sizes.size import Size

# Photo pixels on the shorter edge.
SMALLEST_CROP = 8.0


# Output pixels; less ground than that on a side is given up.
HAIRLINE = 4


# Of the edge; on a tiny piece four pixels are no hairline.
THIN = 1 / 16


# Of a crop's shorter edge: what can be moved by less lies still under a hand.
ROOM = 1 / 50


# Clockwise on the screen.
CORNERS = ((-1, -1), (1, -1), (1, 1), (-1, 1))


# A crop is at most so many times as wide as the smallest around the photo.
MOST_GROUND = 10


def largest_width(extent: Pixels | Proportions, ratio: Proportions, angle: float = 0.0) -> float:
    """Return the width of the largest crop of a ratio, turned by an angle, inside a photo.

    A turned rectangle lies inside an upright one where the upright box around it does.

    >>> largest_width((6000, 4000), (3000, 2400))
    5000.0
    """
    (pw, ph), (across, along) = extent, ratio
    if angle:
        wide, high = extent_at(angle, across, along)
        return min(pw / wide, ph / high) * across
    return float(pw) if pw * along <= ph * across else ph * across / along


def around_width(extent: Pixels, ratio: Proportions, angle: float = 0.0) -> float:
    """Return the width of the smallest crop of a ratio, turned by an angle, around a whole photo.

    >>> around_width((6000, 4000), (3000, 2400))
    6000.0
    """
    (pw, ph), (across, along) = extent, ratio
    if angle:
        wide, high = extent_at(angle, pw, ph)
        return max(wide, high * across / along)
    return float(pw) if pw * along >= ph * across else ph * across / along


def fitting_width(size: Size, extent: Pixels, ratio: Proportions, angle: float) -> float:
    """Return the width of a crop that suggests itself: the largest inside, or around to extend.

    Where extending would leave a hairline of ground, it is the largest inside too.
    """
    if size.differ != "extend" or leaves_hairline(size, extent, ratio, angle):
        return largest_width(extent, ratio, angle)
    return around_width(extent, ratio, angle)


def leaves_hairline(size: Size, extent: Pixels, ratio: Proportions, angle: float) -> bool:
    """Return whether the smallest crop around a photo leaves under `HAIRLINE` of ground on a side.

    That is no ground anybody asked for, but a shape that is a few pixels off.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> size = read_size("3000x2000px extend")
    >>> leaves_hairline(size, (6000, 3990), (3, 2), 0), leaves_hairline(size, (6000, 3900), (3, 2), 0)
    (True, False)
    """
    if angle:
        return False
    around = around_width(extent, ratio)
    written = written_pixels(size)
    scale = 1.0
    if written is not None and not size.shape.whole_pixels:
        scale = (max if ratio[0] >= ratio[1] else min)(written) / around
    edges = (around * scale, around * ratio[1] / ratio[0] * scale)
    more = [edge - photo * scale for edge, photo in zip(edges, extent, strict=True)]
    return any(
        1e-6 < ground < 2 * HAIRLINE - 1e-6 and ground < edge * THIN
        for ground, edge in zip(more, edges, strict=True)
    )


def tightness(lying: Lying) -> float:
    """Return a crop's width as a share of the one that suggests itself at its angle."""
    angle = lying.placement.angle
    return lying.placement.width / fitting_width(lying.size, lying.extent, lying.proportions, angle)


def as_tight(lying: Lying, share: float, ratio: Proportions | None = None) -> Lying:
    """Make a crop as tight as it was, and keep it inside; a window keeps its size.

    `ratio` is the crop's own unless one is given, where it is open.
    """
    if lying.size.shape.whole_pixels:
        return keep_inside(lying)
    across, along = ratio = ratio or lying.proportions
    width = share * fitting_width(lying.size, lying.extent, ratio, lying.placement.angle)
    return keep_inside(adopt(lying, width, width * along / across))


def widest(size: Size, surface: Surface, ratio: Proportions, angle: float) -> float:
    """Return the width no crop of a ratio may pass."""
    if isinstance(surface, Squared):
        return roomiest(region_of(size, surface), ratio, angle)[0]
    fitting = fitting_width(size, surface.extent, ratio, angle)
    return fitting * MOST_GROUND if size.differ == "extend" else fitting


def region_of(size: Size, plane: Squared) -> tuple[Point, ...]:
    """Return where on a plane a crop may lie."""
    return plane.reach if size.differ == "extend" else plane.outline


def most_edges(size: Size, surface: Surface) -> tuple[float, float]:
    """Return the width and height no crop may pass, whatever its ratio."""
    wide, high = surface.bounds[2:]
    times = MOST_GROUND if size.differ == "extend" else 1
    return float(wide * times), float(high * times)


def adopt(lying: Lying, width: float, height: float) -> Lying:
    """Return the crop that comes nearest to width × height: output first, then the crop.

    Where the crop decides the output, the output is rounded and the crop snapped to its ratio.
    Elsewhere the height follows from the width, and a window stays as large as it is; what may be
    stretched takes both as they are.
    """
    size = lying.size
    if size.shape.whole_pixels:
        return lying
    if written_pixels(size) is not None:
        stretch = lying.placement.stretch
        if size.differ == "stretch":
            across, along = face_of(size, lying.asked)
            stretch = height * across / (width * along)
        return lying.changed(width=width, stretch=stretch)
    free = open_pixels(size, lying.extent, (width, height), lying.placement.turned)
    share = size.shape.share
    if share is not None and _fits_at(share, lying, free):
        width = float(free[0] / share)
    elif _as_it_is(size, width, height, free):
        width = float(free[0])
    elif width < height:  # the shorter edge gives way
        across, along = face_of(size, free)
        width = height * across / along
    return lying.changed(free=free, width=width)


def _fits_at(share: Fraction, lying: Lying, free: Pixels) -> bool:
    """Return whether the crop that makes an output at exactly its share lies in the photo."""
    if lying.size.differ == "extend":
        return True
    wide, high = (float(edge / share) for edge in free)
    angle = lying.placement.angle
    if isinstance(lying.surface, Squared):
        return wide <= widest(lying.size, lying.surface, free, angle)
    wide, high = extent_at(angle, wide, high)
    return wide <= lying.extent[0] and high <= lying.extent[1]


def _as_it_is(size: Size, width: float, height: float, free: Pixels) -> bool:
    """Return whether a crop's own pixels are the output, unscaled."""
    if size.shape.unscaled:
        return True
    if size.shape.one_edge:
        return False
    return size.dot == 1 and (halves_up(width), halves_up(height)) == free


def keep_inside(lying: Lying) -> Lying:
    """Slide a crop into the photo; shrink it only where it is too large. Ratio unchanged.

    A crop that may be extended is only kept from losing the photo out of sight.
    """
    lying = shrunk(lying)
    size, surface, placement = lying.size, lying.surface, lying.placement
    across, along = ratio = lying.proportions
    angle = placement.angle
    if isinstance(surface, Squared):
        region = region_of(size, surface)
        width, (cx, cy) = slid_inside(
            region, (placement.cx, placement.cy), placement.width, ratio, angle
        )
        return lying.changed(cx=cx, cy=cy, width=width)
    pw, ph = surface.extent
    W, H = lying.asked
    width = min(placement.width, widest(size, surface, ratio, angle))
    height = width * along / across
    extends = size.differ == "extend"
    if not extends and not angle:
        height = min(height, float(ph))
    unscaled = width == W and abs(height - H) < 1e-6
    whole = size.shape.whole_pixels or (
        unscaled and (extends or (ph >= H and placement.free is not None))
    )
    whole = whole and not angle
    if extends and angle:
        cx, cy = _in_sight(surface.extent, (width, height), angle, (placement.cx, placement.cy))
        return lying.changed(cx=cx, cy=cy, width=width)
    wide, high = extent_at(angle, width, height) if angle else (width, height)
    cx = _centre(placement.cx, wide, pw, extends=extends, whole=whole)
    cy = _centre(placement.cy, high, ph, extends=extends, whole=whole)
    return lying.changed(cx=cx, cy=cy, width=width)


def has_room(lying: Lying) -> bool:
    """Return whether a crop can be moved by enough that a hand sees it: a fiftieth of its shorter edge."""
    crop, placement = lying.crop, lying.placement
    step = ROOM * min(crop.width, crop.height)
    for dx, dy in ((-step, 0.0), (step, 0.0), (0.0, -step), (0.0, step)):
        there = keep_inside(lying.changed(cx=placement.cx + dx, cy=placement.cy + dy)).placement
        if hypot(there.cx - placement.cx, there.cy - placement.cy) > step / 2:
            return True
    return False


def on_pixels(lying: Lying) -> Lying:
    """Put an upright crop of whole width and height on whole photo pixels, so that it can be copied.

    Halves go so that an odd pixel is trimmed, or filled, at the right and the foot.
    """
    crop = lying.crop
    whole = all(abs(edge - round(edge)) < 1e-9 for edge in (crop.width, crop.height))
    if not whole or crop.angle or isinstance(lying.surface, Squared):
        return lying
    left, top = (
        ceil(edge - 0.5) if edge >= 0 else floor(edge + 0.5) for edge in (crop.left, crop.top)
    )
    return lying.changed(cx=left + crop.width / 2, cy=top + crop.height / 2)


def _in_sight(
    photo: Pixels, edges: tuple[float, float], angle: float, centre: Point
) -> tuple[float, float]:
    """Keep some of the photo in a turned crop: it and the photo share a bit along the edges of both.

    Two convex shapes meet where no such direction parts them (Gottschalk, Lin & Manocha, *OBBTree*,
    SIGGRAPH 1996).
    """
    middle = (photo[0] / 2, photo[1] / 2)
    c, s = turn_of(angle)
    (wide, high), (across, along) = extent_at(angle, *edges), extent_at(angle, *photo)
    reach = wide + high + sum(photo)
    room = [(middle[0] + dx * reach, middle[1] + dy * reach) for dx, dy in CORNERS]
    for nx, ny, whole, crop in (
        (1.0, 0.0, photo[0], wide), (0.0, 1.0, photo[1], high),
        (c, s, across, edges[0]), (-s, c, along, edges[1]),
    ):  # fmt: skip
        apart = (whole + crop) / 2 - min(SMALLEST_CROP, whole, crop)
        at = nx * middle[0] + ny * middle[1]
        room = half_plane(half_plane(room, nx, ny, apart - at), -nx, -ny, apart + at)
    return nearest_in(room, centre) if len(room) > 2 else middle


def _centre(centre: float, extent: float, edge: int, *, extends: bool, whole: bool) -> float:
    """Keep a crop inside on one axis; `whole` puts it on whole photo pixels, to be copied."""
    most, least = edge - extent / 2, extent / 2
    if extends:
        shown = min(SMALLEST_CROP, extent, float(edge))
        most, least = edge - shown + extent / 2, shown - extent / 2
    if whole:
        low = halves_up(centre - extent / 2)
        return min(max(low, round(least - extent / 2)), round(most - extent / 2)) + extent / 2
    return min(max(centre, least), most) if least <= most else edge / 2


def shrunk(lying: Lying) -> Lying:
    """Shrink a crop that decides its output until both edges fit the photo."""
    size, surface, free = lying.size, lying.surface, lying.placement.free
    if free is None or size.differ == "extend":
        return lying
    for _ in range(3):  # rounding the output may grow the crop again by a hair
        across, along = ratio = lying.proportions
        placement = lying.placement
        height = placement.width * along / across
        wide, high = extent_at(placement.angle, placement.width, height)
        most = widest(size, surface, ratio, placement.angle)
        inside = wide <= surface.extent[0] and high <= surface.extent[1]
        if placement.width <= most if isinstance(surface, Squared) else inside:
            break
        fit, edges = most / placement.width, most_edges(size, surface)
        width, height = min(placement.width * fit, edges[0]), min(height * fit, edges[1])
        if size.shape.open_ratio and size.shape.as_it_is:
            whole = (max(1, int(width + 1e-9)), max(1, int(height + 1e-9)))
            return lying.changed(free=whole, width=float(whole[0]))
        if not size.shape.unscaled and (1 - fit) * max(free) <= 1:
            return lying.changed(width=most)  # rounding's dust: what comes out stays
        lying = adopt(lying, width, height)
    return lying


def may_change_ratio(size: Size) -> bool:
    """Return whether a hand may give the crop any ratio."""
    return ratio_is_open(size) or size.differ == "stretch"


def resized(lying: Lying, width: float) -> Lying:
    """Return the same crop at another width, its centre kept, within the smallest and largest."""
    across, along = ratio = lying.proportions
    angle = lying.placement.angle
    least = smallest_width(lying.extent, ratio, angle)
    width = min(max(width, least), widest(lying.size, lying.surface, ratio, angle))
    return adopt(lying, width, width * along / across)


def smallest_width(extent: Pixels, ratio: Proportions, angle: float) -> float:
    """Return the width of the smallest crop of a ratio: eight photo pixels on its shorter edge."""
    across, along = ratio
    return min(SMALLEST_CROP * max(1.0, across / along), largest_width(extent, ratio, angle))
