"""A quicker way to the same pixels when shrinking: libvips' reduction, placed exactly.

`vips_reduceh` and `vips_reducev` shrink by any factor with the wanted kernel and are the
quickest at hand, but take no sub-pixel start: they centre their output grid on a whole-pixel
window. So the window is chosen to fit. Making n output pixels more on one side moves the
grid by n/2 steps; a window of odd width moves it by half a photo pixel. Where some n brings the
grid within `SLACK` of the crop, the reduction serves; where none does, `cut` uses its own taps.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil
from typing import Any

from oak_ledge.core.units import halves_up

SLACK = 1 / 128  # photo pixels; libvips itself places its taps to 1/64
MOST_MORE = 40  # output pixels made and cut off again, on one side
SUPPORT = 3  # of Lanczos, in steps


@dataclass(frozen=True)
class Window:
    """Whole photo pixels [start, start + length), and the first wanted output pixel."""

    start: int
    length: int
    first: int


def window_for(start: float, extent: float, outputs: int) -> Window | None:
    """Find the window whose reduction lies on the grid of a crop, on one axis.

    Parameters
    ----------
    start, extent : the crop in photo pixels
    outputs : output pixels; extent ÷ outputs must be above 1

    Returns
    -------
    The window, which may reach beyond the photo, or None where no grid comes within `SLACK`.

    Examples
    --------
    >>> window_for(500, 5000, 3000)
    Window(start=493, length=5014, first=4)
    """
    step, centre = extent / outputs, start + extent / 2
    if step <= 1:
        return None
    for more in sorted(range(-MOST_MORE, MOST_MORE + 1), key=abs):
        doubled = 2 * (centre - more * step / 2)
        nearest = halves_up(doubled)
        if abs(doubled - nearest) / 2 > SLACK:
            continue
        length = ceil((outputs + abs(more)) * step + 2 * (SUPPORT * step + 2))
        length += (length - nearest) % 2
        for longer in range(length, length + 8 * ceil(step) + 16, 2):
            spare = halves_up(longer / step) - outputs + more
            if spare % 2 == 0:
                return Window((nearest - longer) // 2, longer, spare // 2)
    return None


def reduce(image: Any, across: Window, down: Window, step: tuple[float, float]) -> Any:
    """Set up the reduction of a streaming image; its pixels are computed when they are read.

    Beyond the photo's edge its last pixels count as repeated. `step` is photo pixels per
    output pixel across and down; the caller crops the wanted pixels from (first, first) on.
    """
    left, top = max(0, across.start), max(0, down.start)
    right = min(image.width, across.start + across.length)
    bottom = min(image.height, down.start + down.length)
    part = image.crop(left, top, right - left, bottom - top)
    whole = part.embed(
        left - across.start, top - down.start, across.length, down.length, extend="copy"
    )
    return whole.reducev(step[1], kernel="lanczos3").reduceh(step[0], kernel="lanczos3")
