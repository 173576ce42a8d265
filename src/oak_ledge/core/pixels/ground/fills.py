"""What draws each ground that the photo gives: drawn on, or a canvas of its own behind the photo."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil
from typing import Literal

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.warp import Border
from oak_ledge.core.sizes.ground import CONTINUED

# Pixels of the longer edge a ground is blurred at, and the blur's sigma there.
_BLUR_EDGE, _BLUR = 240, 9.0


@dataclass(frozen=True)
class Filler:
    """What draws a ground: `border` repeats the photo beyond its edge; else `canvas` draws one.

    `canvas` is given the photo's part, (H, W, C), and the whole (width, height).
    """

    border: Border = "edge"
    canvas: Callable[[Array, Pixels], Array] | None = None

    @property
    def pad(self) -> Literal["edge", "symmetric"]:
        """The word numpy has for the border."""
        return "edge" if self.border == "edge" else "symmetric"


def blurred(pixels: Array, output: Pixels) -> Array:
    """Enlarge pixels to cover a canvas, and blur them so much that nothing in them is read."""
    import cv2  # here: it takes its time to load, and most files are made without it

    high, wide = pixels.shape[:2]
    scale = max(output[0] / wide, output[1] / high)
    part_wide, part_high = min(wide, ceil(output[0] / scale)), min(high, ceil(output[1] / scale))
    left, top = (wide - part_wide) // 2, (high - part_high) // 2
    part = pixels[top : top + part_high, left : left + part_wide]
    small = cv2.resize(
        part.astype(np.float32), _fitted(output, _BLUR_EDGE), interpolation=cv2.INTER_AREA
    )
    small = cv2.GaussianBlur(small, (0, 0), _BLUR, borderType=cv2.BORDER_REPLICATE)
    large = cv2.resize(small, output, interpolation=cv2.INTER_CUBIC)
    top_value = np.iinfo(pixels.dtype).max
    blur: Array = np.clip(large + 0.5, 0, top_value).astype(pixels.dtype)
    return blur.reshape(output[1], output[0], -1)


def _fitted(output: Pixels, edge: int) -> Pixels:
    """Return a canvas's proportions with a longer edge of so many pixels."""
    scale = edge / max(output)
    return max(1, halves_up(output[0] * scale)), max(1, halves_up(output[1] * scale))


# Until more of the scene is made, a blur stands in for it.
FILLERS: dict[str, Filler] = {
    "edge": Filler("edge"),
    "mirror": Filler("mirror"),
    "blur": Filler(canvas=blurred),
    CONTINUED: Filler(canvas=blurred),
}
