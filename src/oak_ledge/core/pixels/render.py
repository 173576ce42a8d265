"""Photo + size + crop → the finished pixels: cut, ground, sharpening, profile, in this order."""

from __future__ import annotations

from pathlib import Path

from oak_ledge.core.pixels.colour import converted
from oak_ledge.core.pixels.content import choose_for
from oak_ledge.core.pixels.cut import Array, load_shrink
from oak_ledge.core.pixels.grounds import cut_on_ground, takes_colours
from oak_ledge.core.pixels.photos import open_photo
from oak_ledge.core.pixels.sharpen import sharpened, sharpening_of
from oak_ledge.core.placements import Crop
from oak_ledge.core.sizes import Size
from oak_ledge.core.units import Pixels


def render(
    path: Path, size: Size, crop: Crop, asked: Pixels, held: Pixels, *, whole: Pixels | None = None
) -> tuple[Array, bytes | None]:
    """Draw a piece from a photo's file.

    Parameters
    ----------
    path : the photo, or a smaller picture of it
    size : the size at work
    crop : in pixels of that picture
    asked : pixels to draw, (W, H)
    held : the picture's (width, height) as held
    whole : the piece's own output pixels where fewer are drawn of it, for a preview: it is then
        shown as it will look, its sharpening too fine to be seen at that scale

    Returns
    -------
    (H, W, C) pixels and the profile to embed.
    """
    opened = open_photo(path, shrink=load_shrink(crop, asked), colours=takes_colours(size))
    method = choose_for(path, crop, asked) if size.method == "auto" else size.method
    pixels = cut_on_ground(opened, crop, asked, held, size.ground, method)
    how = sharpening_of(size, asked) if whole in (None, asked) else None
    if how is not None:
        pixels = sharpened(pixels, how, alpha=opened.alpha)
    return converted(pixels, opened.icc, size.file.profile)
