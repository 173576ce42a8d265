"""Where a mark lies on a piece, in whole pixels of its picture (rules, section 6)."""

from __future__ import annotations

from math import ceil, floor
from typing import NamedTuple

from oak_ledge.core.errors import SizeError
from oak_ledge.core.marks.mark import PLACES, Mark, Place, pixels_of
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.photos.keep_zones import Keeps
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.on_surface import in_crop, zones_on
from oak_ledge.core.sizes.file_geometry import border_box, file_pixels, printed_pixels
from oak_ledge.core.sizes.geometry import bleed_pixels
from oak_ledge.core.sizes.size import Size

# Pixels: less is the dust of a division.
_DUST = 1e-6


class MarkBox(NamedTuple):
    """A mark's place on a piece, in pixels of all of it: border, bleed and turned-over sides counted."""

    left: int
    top: int
    width: int
    height: int


def field_of(size: Size, output: Pixels) -> MarkBox:
    """Return where marks may lie on a piece whose picture has `output` pixels.

    That is the picture without bleed and sides, within its border; of panels all of them together.
    """
    if size.border is not None:
        left, top, _, _ = border_box(size)
        return MarkBox(left, top, *output)
    off = halves_up(bleed_pixels(size))
    left = top = off
    if size.sides is not None:
        wide, high = file_pixels(size, output)
        left, top = off + (wide - output[0]) // 2, off + (high - output[1]) // 2
    return MarkBox(left, top, output[0] - 2 * off, output[1] - 2 * off)


def picture_corner(size: Size, output: Pixels) -> tuple[int, int]:
    """Return where on all of a piece its picture begins, bleed counted to the picture."""
    field = field_of(size, output)
    off = halves_up(bleed_pixels(size))  # none within a border
    return field.left - off, field.top - off


def barred_on(lying: Lying, keeps: Keeps) -> list[MarkBox]:
    """Return where a mark must not lie on a piece: around each keep zone that is seen on it."""
    wide, high = lying.asked
    x, y = picture_corner(lying.size, lying.asked)
    barred = []
    for kind, points in zones_on(lying.surface, keeps):
        if kind == "zone":
            us, vs = zip(*in_crop(points, lying.crop), strict=True)
            left, top = floor(min(us) * wide + _DUST), floor(min(vs) * high + _DUST)
            right, bottom = ceil(max(us) * wide - _DUST), ceil(max(vs) * high - _DUST)
            barred.append(MarkBox(x + left, y + top, right - left, bottom - top))
    return barred


def boxes(size: Size, output: Pixels, mark: Mark, shape: Pixels) -> dict[Place, MarkBox]:
    """Return the box of a mark at each of the nine places.

    Parameters
    ----------
    output : the picture's pixels
    shape : the mark's own width and height, which give its ratio

    Raises
    ------
    SizeError
        If it is wider or higher than what it is laid on.
    """
    field = field_of(size, output)
    short = min(printed_pixels(size, output)) - 2 * halves_up(bleed_pixels(size))
    wide = max(1, pixels_of(mark.width, short, size.ppi))
    high = max(1, halves_up(wide * shape[1] / shape[0]))
    margin = pixels_of(mark.margin, short, size.ppi)
    room = (field.width - wide - 2 * margin, field.height - high - 2 * margin)
    if min(room) < 0:
        msg = (
            f"the mark is {wide} × {high} px with {margin} px around it, and the picture only "
            f"{field.width} × {field.height}: make it smaller"
        )
        raise SizeError(msg)
    across, down = (margin, margin + room[0] // 2, margin + room[0]), (margin, margin + room[1] // 2, margin + room[1])  # fmt: skip
    spots = ((x, y) for y in down for x in across)
    nine = (place for place in PLACES if place != "calm")
    return {
        place: MarkBox(field.left + x, field.top + y, wide, high)
        for place, (x, y) in zip(nine, spots, strict=True)
    }
