"""The output pixels of a size, where the crop decides them, and how they turn (rules, section 2)."""

from __future__ import annotations

from fractions import Fraction
from math import ceil

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.sizes.choices import Turn, Turned
from oak_ledge.core.sizes.geometry import (
    edges_of,
    print_pixels,
    whole_shape,
    within_border,
    written_pixels,
)
from oak_ledge.core.sizes.shapes.ratio import MOST_TERM, RatioShape
from oak_ledge.core.sizes.size import Size


def open_pixels(
    size: Size, extent: Pixels, crop: tuple[float, float], turned: Turned | None
) -> Pixels:
    """Return the output pixels a size makes of a crop, where the crop decides (rules, section 2).

    Parameters
    ----------
    size : of a shape without `written_pixels`
    extent : the photo's (width, height), turned
    crop : (width, height) in photo pixels
    turned : a person's own choice of wide or tall, for a ratio or a box

    Examples
    --------
    A ratio of small whole terms is exact; else it is right to the nearest pixel.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> ratio = read_size("3:1")
    >>> open_pixels(ratio, (6000, 4000), (1000, 900), None)
    (999, 333)
    """
    shape, seen = whole_shape(size), _in_dots(crop, size.dot)
    edges = tuple(pixels for _, pixels in edges_of(size))
    return shape.pixels_on(
        extent, edges, seen, lambda pixels: turned_pixels(pixels, size.turn, extent, turned)
    )


def _in_dots(crop: tuple[float, float], dot: Fraction) -> tuple[float, float]:
    """Return a crop as it counts in oblong dots, with no more of them than it has photo pixels."""
    if dot == 1:
        return crop
    return crop[0] * min(1.0, float(1 / dot)), crop[1] * min(1.0, float(dot))


def ratio_around(size: Size, extent: Pixels, turned: Turned | None, hairline: int = 0) -> Pixels:
    """Return the smallest output pixels of a ratio that a whole photo lies in, unscaled.

    Where that leaves less than `hairline` pixels of ground on a side, it is the largest box below
    that leaves none so narrow.

    Examples
    --------
    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> ratio = read_size("2:1")
    >>> ratio_around(ratio, (600, 401), None)
    (802, 401)
    >>> ratio_around(ratio, (600, 301), None, 4)
    (600, 300)
    """
    shape = whole_shape(size)
    assert isinstance(shape, RatioShape)  # or no ratio is asked around

    def turn(pixels: Pixels) -> Pixels:
        return turned_pixels(pixels, size.turn, extent, turned)

    terms = turn(shape.terms)
    times = max(extent[0] / terms[0], extent[1] / terms[1])
    if max(terms) > MOST_TERM:
        box = (
            max(extent[0], halves_up(times * terms[0])),
            max(extent[1], halves_up(times * terms[1])),
        )
        if _narrow(box, extent, hairline):
            return shape.pixels((), extent, turn)
        return box
    most = ceil(times - 1e-9)
    least = max(1, int(min(extent[0] / terms[0], extent[1] / terms[1])))
    boxes = ((k * terms[0], k * terms[1]) for k in range(most, least - 1, -1))
    return next(
        (box for box in boxes if not _narrow(box, extent, hairline)),
        (most * terms[0], most * terms[1]),
    )


def _narrow(box: Pixels, extent: Pixels, hairline: int) -> bool:
    return any(
        0 < edge - photo < min(2 * hairline, edge / 16)
        for edge, photo in zip(box, extent, strict=True)
    )


def picture_pixels(size: Size, extent: Pixels, turned: Turned | None) -> Pixels | None:
    """Return the pixels of a size's picture, turned to suit a photo or as a person did; None where open.

    A border stays where it is while its print is turned.
    """
    written = written_pixels(size)
    if written is None or size.border is None:
        return None if written is None else turned_pixels(written, size.turn, extent, turned)
    return within_border(size, turned_pixels(print_pixels(size), size.turn, extent, turned))


def turned_pixels(pixels: Pixels, turn: Turn, extent: Pixels, turned: Turned | None) -> Pixels:
    """Turn output pixels to suit a photo, or as a person turned them (rules, section 2).

    Parameters
    ----------
    pixels : (width, height) as written
    turn : `suit` trades the edges where the photo's longer edge lies the other way
    extent : the photo's (width, height), turned
    turned : a person's own choice for this photo, which wins

    Examples
    --------
    >>> turned_pixels((2400, 3000), "suit", (6000, 4000), None)
    (3000, 2400)
    """
    width, height = pixels
    if turned is not None:
        other_way = (width < height) if turned == "wide" else (width > height)
    else:
        other_way = turn == "suit" and (width - height) * (extent[0] - extent[1]) < 0
    return (height, width) if other_way else (width, height)
