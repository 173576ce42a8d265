"""Upright boxes, each as left, top, width and height in one unit."""

from __future__ import annotations

Box = tuple[float, float, float, float]


def meet(box: Box, other: Box) -> bool:
    """Return whether two boxes share more than an edge.

    >>> meet((0, 0, 2, 2), (1, 1, 2, 2)), meet((0, 0, 2, 2), (2, 0, 2, 2))
    (True, False)
    """
    return (
        box[0] < other[0] + other[2]
        and other[0] < box[0] + box[2]
        and box[1] < other[1] + other[3]
        and other[1] < box[1] + box[3]
    )
