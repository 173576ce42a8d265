"""Parts of a crop at the photo's own pixels, to judge its detail by."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.pixels.cut.content import noise_of
from oak_ledge.core.pixels.cut.cut import as_stored
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.orientation import turned_further
from oak_ledge.core.pixels.open.photo import Source, open_photo
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.surface import Surface

# Photo pixels of a tile.
TILE_EDGE = 192


ACROSS, DOWN = 5, 4


# ITU-R BT.709, luma.
_WEIGHTS = np.array([0.2126, 0.7152, 0.0722])


def light_tiles(
    source: Source, crop: Crop, surface: Surface
) -> tuple[list[npt.NDArray[np.float64]], float]:
    """Read tiles of lightness, 0 to 1, spread evenly over a crop, and the photo's noise there.

    A turned crop is sampled over the upright box around it; tiles reach no further than the photo.

    Raises
    ------
    PhotoError
        If the photo is damaged.
    """
    photo = open_photo(source)
    tag = turned_further(photo.orientation, surface.quarter, mirror=surface.mirror)
    box, _ = as_stored(_around(crop, surface), (1, 1), surface.photo, tag)
    image = photo.image
    left, top = max(0, int(box.left)), max(0, int(box.top))
    right, bottom = min(image.width, int(box.right)), min(image.height, int(box.bottom))
    edge_x, edge_y = max(1, min(TILE_EDGE, right - left)), max(1, min(TILE_EDGE, bottom - top))
    left, top = min(left, image.width - edge_x), min(top, image.height - edge_y)
    tiles: list[npt.NDArray[np.float64]] = []
    deep = image.format == "ushort"
    with reading_pixels():
        region = pyvips.Region.new(image)
        for y in _spread(top, bottom - edge_y, DOWN):  # the photo streams from top to bottom
            for x in _spread(left, right - edge_x, ACROSS):
                data = region.fetch(x, y, edge_x, edge_y)
                values = np.frombuffer(data, np.uint16 if deep else np.uint8).astype(np.float64)
                pixels = values.reshape(edge_y, edge_x, image.bands) / (65535 if deep else 255)
                tiles.append(pixels[..., :3] @ _WEIGHTS if image.bands > 2 else pixels[..., 0])
    return tiles, min(noise_of(tile * 255) for tile in tiles) / 255


def _around(crop: Crop, surface: Surface) -> Crop:
    """Return the upright box of the photo that a crop lies in."""
    across, along = zip(*surface.to_photo(crop.corners()), strict=True)
    left, top = min(across), min(along)
    return Crop(left, top, max(across) - left, max(along) - top)


def _spread(first: int, last: int, count: int) -> list[int]:
    if last <= first:
        return [first]
    return sorted({first + (last - first) * n // (count - 1) for n in range(count)})
