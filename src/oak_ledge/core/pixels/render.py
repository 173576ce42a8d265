"""Photo + size + crop → the finished pixels: cut, ground, sharpening, profile, in this order."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.content import choose_for
from oak_ledge.core.pixels.cut.cut import Array, held_otherwise, load_shrink
from oak_ledge.core.pixels.finish.profile import beyond, converted, marked
from oak_ledge.core.pixels.finish.sharpen import sharpened, sharpening_of
from oak_ledge.core.pixels.ground.grounds import cut_on_ground, takes_colours
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.placement import Corners, Placement, photo_held
from oak_ledge.core.planes.matrices import onto_quad
from oak_ledge.core.sizes.file_settings import FileSettings
from oak_ledge.core.sizes.size import Size


@dataclass(frozen=True)
class Held:
    """How a picture is held: (width, height) after quarter turns and mirror, and squared corners.

    `plane` is the extent in which a crop is meant where there are `corners`, points of the
    picture as held.
    """

    extent: Pixels
    quarter: int = 0
    mirror: bool = False
    corners: Corners | None = None
    plane: Pixels | None = None


def held_like(placement: Placement, size: Size, upright: Pixels) -> Held:
    """Say how a placement holds its photo."""
    plane = held_at(size, upright, placement) if placement.corners else None
    extent = photo_held(upright, placement)
    return Held(extent, placement.quarter, placement.mirror, placement.corners, plane)


def render(
    path: Path,
    size: Size,
    crop: Crop,
    asked: Pixels,
    held: Held,
    *,
    whole: Pixels | None = None,
    marks: bool = False,
) -> tuple[Array, bytes | None]:
    """Draw a piece from a photo's file.

    Parameters
    ----------
    path : the photo, or a smaller picture of it
    size : the size at work
    crop : in pixels of that picture
    asked : pixels to draw, (W, H)
    held : how the picture is held
    whole : the piece's own output pixels where fewer are drawn of it, for a preview: it is then
        shown as it will look, its sharpening too fine to be seen at that scale
    marks : stripe what the file's profile cannot hold

    Returns
    -------
    (H, W, C) pixels and the profile to embed.
    """
    plane = None
    if held.corners is not None and held.plane is not None:
        plane = onto_quad(*held.plane, held.corners)
    # An upright file is made from every pixel of its photo; what is shrunk on load is up to 20 dB
    # further from the truth: good enough for a preview, and what turned pictures can afford.
    draft = whole not in (None, asked)
    quick = plane is None and (draft or crop.angle % 360 != 0)
    shrink = load_shrink(crop, asked) if quick else 1
    opened = open_photo(path, shrink=shrink, colours=takes_colours(size))
    tag = held_otherwise(opened.orientation, held.quarter, mirror=held.mirror)
    opened = replace(opened, orientation=tag)
    method = choose_for(path, crop, asked) if size.method == "auto" else size.method
    pixels = cut_on_ground(opened, crop, asked, held.extent, size.ground, method, plane)
    how = None if draft else sharpening_of(size, asked)
    if how is not None:
        pixels = sharpened(pixels, how, alpha=opened.alpha)
    lost = beyond(pixels, opened.icc, size.file) if marks else None
    made, icc = converted(pixels, opened.icc, size.file)
    return (made if lost is None else marked(made, lost)), icc


def share_beyond(path: Path, size: Size, crop: Crop, asked: Pixels, held: Held) -> float:
    """Give the share, 0 to 1, of a piece that its file's profile cannot hold; drawn at `asked`."""
    as_kept = size.model_copy(update={"file": FileSettings()})
    pixels, icc = render(path, as_kept, crop, asked, held, whole=(0, 0))
    lost = beyond(pixels, icc, size.file)
    return 0.0 if lost is None else float(lost.mean())
