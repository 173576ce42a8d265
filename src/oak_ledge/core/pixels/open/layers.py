"""A photo with what was painted over on it and continued around it: patches laid over its pixels."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import pyvips

from oak_ledge.core.pixels.open.orientation import as_stored, place_stored

if TYPE_CHECKING:
    import numpy.typing as npt


@dataclass(frozen=True, eq=False)
class Patch:
    """Pixels that take a photo's place, or lie beside it: (H, W, C), upright, of the photo's depth.

    `left` and `top` are in the photo's upright pixels; they may lie before it. One that `cuts` is a
    thing cut out: its last band is alpha, and all beside it is clear.
    """

    left: int
    top: int
    pixels: npt.NDArray[Any]
    cuts: bool = False


@dataclass(frozen=True, eq=False)  # told by identity: its pixels are many
class Scene:
    """A photo's file, patches in the order they are laid, and the canvas: a box around the photo."""

    path: Path
    patches: tuple[Patch, ...]
    box: tuple[int, int, int, int]
    """left, top, right, bottom in the photo's upright pixels"""

    @property
    def edges(self) -> tuple[int, int]:
        """Width and height of the canvas, upright."""
        left, top, right, bottom = self.box
        return right - left, bottom - top

    @property
    def cut(self) -> bool:
        """Whether a thing is cut out of it."""
        return any(patch.cuts for patch in self.patches)


def laid_out(image: Any, orientation: int, scene: Scene) -> Any:
    """Lay a scene's patches over its photo's stored pixels, on its canvas; it still streams."""
    edges = scene.edges
    left, top = scene.box[:2]
    swapped = orientation >= 5
    wide, high = (image.height, image.width) if swapped else (image.width, image.height)
    canvas = (edges[1], edges[0]) if swapped else edges
    if canvas != (image.width, image.height):
        x, y = place_stored(-left, -top, wide, high, edges, orientation)
        image = image.embed(x, y, *canvas)
    for patch in scene.patches:
        high, wide = patch.pixels.shape[:2]
        at = place_stored(patch.left - left, patch.top - top, wide, high, edges, orientation)
        pixels = np.ascontiguousarray(as_stored(patch.pixels, orientation))
        laid = pyvips.Image.new_from_array(pixels, interpretation=image.interpretation)
        image = (_cleared(image) if patch.cuts else image).insert(laid, *at)
    return image


def _cleared(image: Any) -> Any:
    """Make all of an image clear, its colours as they are."""
    colours = image[: image.bands - 1] if image.hasalpha() else image
    kind = colours.interpretation
    return colours.bandjoin(0).cast(image.format).copy(interpretation=kind)
