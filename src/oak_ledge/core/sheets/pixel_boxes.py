"""Pieces on a sheet's own pixels: each exactly its W × H, none over another."""

from __future__ import annotations

from collections.abc import Sequence

from oak_ledge.core.errors import FileError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.planes.boxes import meet
from oak_ledge.core.sizes.edges.panels import PanelBox


def pixel_boxes(wanted: Sequence[PanelBox], canvas: Pixels) -> list[PanelBox]:
    """Return boxes a place on whole pixels: rounding alone may lay one a pixel over its neighbour.

    Parameters
    ----------
    wanted : each with its own pixels, where its place comes to by rounding
    canvas : the sheet's width and height

    Raises
    ------
    FileError
        If they don't fit on whole pixels.
    """
    placed: list[tuple[int, PanelBox]] = []
    order = sorted(range(len(wanted)), key=lambda n: (wanted[n].top, wanted[n].left))
    for n in order:
        box = _pushed(wanted[n], [other for _, other in placed])
        placed.append((n, _back(box, canvas)))
    boxes = [box for _, box in sorted(placed, key=lambda pair: pair[0])]
    for n, box in enumerate(boxes):
        over = any(meet(box, other) for other in boxes[n + 1 :])
        if over or box.left < 0 or box.top < 0:
            msg = "the pieces lie too close for whole pixels. Leave a gap of a pixel, or make a PDF"
            raise FileError(msg)
    return boxes


def _pushed(box: PanelBox, others: Sequence[PanelBox]) -> PanelBox:
    """Push a box off those it overlaps, to the right or down, whichever is less."""
    for _ in range(2 * len(others) + 1):
        met = next((other for other in others if meet(box, other)), None)
        if met is None:
            return box
        right, down = met.left + met.width - box.left, met.top + met.height - box.top
        box = (
            box._replace(left=box.left + right)
            if right <= down
            else box._replace(top=box.top + down)
        )
    return box


def _back(box: PanelBox, canvas: Pixels) -> PanelBox:
    left, top = min(box.left, canvas[0] - box.width), min(box.top, canvas[1] - box.height)
    return box._replace(left=left, top=top)
