"""Photo + size + crop → the finished pixels: cut, ground, sharpening, profile, in this order."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

import numpy as np

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.cut.content import choose_for
from oak_ledge.core.pixels.cut.cut import Array, load_shrink
from oak_ledge.core.pixels.cut.draft import finest_step, is_steep
from oak_ledge.core.pixels.finish.in_profile import in_profile
from oak_ledge.core.pixels.finish.outline import emptied, outlined
from oak_ledge.core.pixels.finish.profile import beyond, converted, marked
from oak_ledge.core.pixels.finish.sharpen import sharpened, sharpening_of
from oak_ledge.core.pixels.finish.sides import with_border, with_sides
from oak_ledge.core.pixels.ground.grounds import (
    behind_cut_out,
    cut_on_ground,
    flattened,
    takes_colours,
    tone_of,
)
from oak_ledge.core.pixels.open.header import upright_size
from oak_ledge.core.pixels.open.orientation import turned_further
from oak_ledge.core.pixels.open.photo import OpenPhoto, Source, is_cut, open_photo, read_ahead
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.planes.surface import Squared, Surface
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file_geometry import border_box
from oak_ledge.core.sizes.geometry import bleed_pixels, outside_of
from oak_ledge.core.sizes.ground import CLEAR
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.size import Size

if TYPE_CHECKING:
    import numpy.typing as npt


def render(
    source: Source,
    size: Size,
    crop: Crop,
    output: Pixels,
    surface: Surface,
    *,
    whole: Pixels | None = None,
    sides: Pixels | None = None,
    marks: bool = False,
    behind: Behind | None = None,
) -> tuple[Array, bytes | None]:
    """Draw a piece from a photo's file.

    Parameters
    ----------
    source : the photo, or a smaller picture of it
    size : the size at work
    crop : in pixels of that picture
    output : pixels to draw, (W, H)
    surface : what the crop is meant on, for that picture
    whole : the piece's own output pixels where fewer are drawn of it, for a preview: it is then
        shown as it will look, its sharpening too fine to be seen at that scale
    sides : pixels of the piece with the sides it is turned over by, where these are drawn too
    marks : stripe what the file's profile cannot hold
    behind : the photo that is seen where the ground is, in place of its colour

    Returns
    -------
    (H, W, C) pixels and the profile to embed.
    """
    plane = surface.onto if isinstance(surface, Squared) else None
    draft = whole not in (None, output)
    shrink, for_screen = _reading(crop, output, surface, draft=draft, preview=whole is not None)
    ground = size.ground if behind is None else CLEAR
    hues = behind is not None or takes_colours(size, cut=is_cut(source))
    opened = read_ahead(open_photo(source, shrink=shrink, colours=hues))
    tag = turned_further(opened.orientation, surface.quarter, mirror=surface.mirror)
    opened = replace(opened, orientation=tag)
    method = choose_for(source, crop, output) if size.method == "auto" else size.method
    pixels = cut_on_ground(
        opened, crop, output, surface.photo, ground, method, plane, for_screen=for_screen
    )
    pixels, opened = _on_ground(pixels, opened, size, output, behind, draft=draft)
    pixels = _outlined(pixels, size, output if whole in (None, (0, 0)) else whole, opened)
    if sides is not None:
        pixels = _with_sides(pixels, size, sides, opened)
    lost = beyond(pixels, opened.icc, size.file) if marks else None
    output_pixels, icc = converted(pixels, opened.icc, size.file)
    output_pixels = output_pixels if lost is None else marked(output_pixels, lost)
    return (
        emptied(output_pixels) if size.outline is not None or opened.alpha else output_pixels
    ), icc


def _on_ground(
    pixels: Array,
    opened: OpenPhoto,
    size: Size,
    output: Pixels,
    behind: Behind | None,
    *,
    draft: bool,
) -> tuple[Array, OpenPhoto]:
    """Sharpen what was cut, and lay it on the photo behind it, or what is cut out on its colour.

    The photo comes back as its pixels are then: with alpha only where its ground is clear.
    """
    if size.ground == CLEAR or behind is not None:
        opened = replace(opened, alpha=True)
    if not draft:
        pixels = _sharpened(pixels, size, output, opened)
    flat = replace(opened, alpha=False)
    if behind is not None:
        return _on_photo(pixels, behind, flat, draft=draft), flat
    if opened.cut and size.ground != CLEAR:
        return flattened(pixels, behind_cut_out(size.ground), flat), flat
    return pixels, opened


@dataclass(frozen=True)
class Behind:
    """A photo behind a piece: its file, and which part of the piece is drawn, in shares of all of it."""

    path: Path
    part: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)


def _on_photo(pixels: Array, behind: Behind, opened: OpenPhoto, *, draft: bool) -> Array:
    """Lay pixels with alpha, (H, W, C), on a photo that covers all of their piece, about its middle."""
    high, wide = pixels.shape[:2]
    left, top, across, along = behind.part
    whole = (round(wide / across), round(high / along))
    shape = ExactShape(width=Fraction(whole[0]), height=Fraction(whole[1]), unit="px")
    plain = Size(shape=shape, turn="fixed", file=FileSettings(profile="srgb", format="png", bits=8))
    upright = upright_size(behind.path)
    lying = lying_on(plain, upright, suggest(plain, upright))
    crop = lying.crop.part(left, top, across, along)
    screen = (2 * wide, 2 * high) if draft else None
    drawn, _ = render(behind.path, plain, crop, (wide, high), lying.surface, whole=screen)
    colours: npt.NDArray[Any] = (
        drawn[..., :3] if drawn.shape[2] >= 3 else np.repeat(drawn[..., :1], 3, axis=2)
    )
    bands = pixels.shape[2] - 1
    under = in_profile(cast("Array", colours), None, opened.icc, bands).astype(np.float32)
    under *= np.iinfo(pixels.dtype).max / 255
    shares = pixels[..., -1:].astype(np.float32) / np.iinfo(pixels.dtype).max
    laid = np.rint(pixels[..., :-1] * shares + under * (1 - shares))
    return cast("Array", laid.astype(pixels.dtype))


def _reading(
    crop: Crop, output: Pixels, surface: Surface, *, draft: bool, preview: bool
) -> tuple[int, bool]:
    """Return by what a photo is shrunk on loading, and whether it is mapped as for a screen.

    An upright file is made from every pixel of its photo; what is shrunk on load is up to 20 dB
    further from the truth: good enough for a preview, and what turned pictures can afford.
    """
    if not isinstance(surface, Squared):
        quick = draft or crop.angle % 360 != 0
        return (load_shrink(crop, output) if quick else 1), False
    if not preview:
        return 1, False
    onto = surface.onto @ crop.matrix(output)
    if not (draft or is_steep(onto, output, surface.photo)):
        return 1, False
    step = finest_step(onto, output, surface.photo)
    return next((part for part in (8, 4, 2) if part <= step), 1), True


def _outlined(pixels: Array, size: Size, whole: Pixels, opened: OpenPhoto) -> Array:
    """Cut pixels along their size's outline, where it has one."""
    if size.outline is None:
        return pixels
    return outlined(
        pixels,
        size.outline,
        size.ppi,
        whole=whole,
        bleed=bleed_pixels(size),
        alpha=opened.alpha,
        tone=tone_of(outside_of(size), opened, pixels) if size.file.format == "jpeg" else None,
    )


def _sharpened(pixels: Array, size: Size, output: Pixels, opened: OpenPhoto) -> Array:
    how = sharpening_of(size, output)
    return pixels if how is None else sharpened(pixels, how, alpha=opened.alpha)


def _with_sides(pixels: Array, size: Size, sides: Pixels, opened: OpenPhoto) -> Array:
    """Lay around a picture the sides that a canvas is turned over by, or its border, where it has some."""
    if size.border is not None:
        clear = size.ground == CLEAR and size.backdrop is None
        paper = None if clear else tone_of(outside_of(size), opened, pixels)
        return with_border(pixels, border_box(size), paper)
    if size.sides is None:
        return pixels
    ground = size.sides.ground
    tone = tone_of(ground, opened, pixels) if ground.startswith("#") else None
    return with_sides(pixels, sides, ground, tone)


def share_beyond(source: Source, size: Size, crop: Crop, output: Pixels, surface: Surface) -> float:
    """Return the share, 0 to 1, of a piece that its file's profile cannot hold; drawn at `output`."""
    as_kept = size.model_copy(update={"file": FileSettings(), "outline": None})
    pixels, icc = render(source, as_kept, crop, output, surface, whole=(0, 0))
    lost = beyond(pixels, icc, size.file)
    return 0.0 if lost is None else float(lost.mean())
