"""What fills the canvas beyond the photo's edge (rules, section 6).

A plain colour, laid down in the photo's own profile; or what the photo gives: its edge drawn out, its
mirror, or itself enlarged and blurred. Photo pixels are never changed by it.
"""

from __future__ import annotations

from io import BytesIO
from math import ceil, floor
from typing import TYPE_CHECKING, Any, cast

import numpy as np
from PIL import Image, ImageCms

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.pixels.cut.cut import Array, cut
from oak_ledge.core.pixels.cut.draft import MOST_PIXELS, draft
from oak_ledge.core.pixels.cut.methods import Method
from oak_ledge.core.pixels.cut.warp import Border, coverage, warp
from oak_ledge.core.pixels.ground.fills import FILLERS
from oak_ledge.core.pixels.open.photo import OpenPhoto
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.matrices import Matrix, corners_of
from oak_ledge.core.planes.points import rectangle
from oak_ledge.core.planes.polygons import area, overlap
from oak_ledge.core.sizes.ground import BLACK, CLEAR, GROUNDS, WHITE
from oak_ledge.core.sizes.size import Size

if TYPE_CHECKING:
    import numpy.typing as npt


# Of the canvas's shorter edge: how far the photo runs out into it.
_SEAM = 0.02


def cut_on_ground(
    photo: OpenPhoto,
    crop: Crop,
    output: Pixels,
    edges: Pixels,
    ground: str,
    method: Method | None = None,
    plane: Matrix | None = None,
    *,
    for_screen: bool = False,
) -> Array:
    """Cut a crop, turned or not, that may reach beyond the photo: exactly `output` pixels.

    Output pixels wholly on the photo are those of `cut` or `warp`, value for value. Those that lie
    across its edge are blended by the share the photo covers, the others are ground.

    Parameters
    ----------
    photo, crop, output, edges, method : as of `cut`
    ground : an sRGB colour, #rrggbb, or one of `GROUNDS`
    plane : where four corners are squared up, maps points of their plane to the photo
    for_screen : a plane is drawn quickly, at about the pixels that are seen

    Returns
    -------
    (H, W, C) array of the photo's own depth; on a clear ground with an alpha band
    """
    if ground == CLEAR:
        on = cut_on_ground(photo, crop, output, edges, "edge", method, plane, for_screen=for_screen)
        return _cleared(on, _shares_of(crop, output, edges, plane), alpha=photo.alpha)
    if crop.angle % 360 or plane is not None:
        matrix = crop.matrix(output)
        matrix = matrix if plane is None else plane @ matrix
        border: Border = FILLERS[ground].border if ground in FILLERS else "edge"
        held = photo.image.width * photo.image.height <= MOST_PIXELS
        if for_screen and plane is not None and held and method != "nearest":
            pixels = draft(photo, matrix, output, edges, border)
        else:
            pixels = warp(photo, matrix, output, edges, method, border)
        return _mapped_on_ground(photo, pixels, matrix, output, edges, ground)
    return _upright_on_ground(photo, crop, output, edges, ground, method)


def _shares_of(
    crop: Crop, output: Pixels, edges: Pixels, plane: Matrix | None
) -> npt.NDArray[np.float32]:
    """Return the share of each output pixel that the photo covers, (H, W), 0 to 1."""
    if crop.angle % 360 or plane is not None:
        matrix = crop.matrix(output)
        return coverage(matrix if plane is None else plane @ matrix, output, edges)
    shares = np.zeros((output[1], output[0]), np.float32)
    columns, across = _covered(crop.left, crop.width, output[0], edges[0])
    rows, down = _covered(crop.top, crop.height, output[1], edges[1])
    shares[rows[0] : rows[1], columns[0] : columns[1]] = down[:, None] * across
    return shares


def _cleared(pixels: Array, shares: npt.NDArray[np.float32], *, alpha: bool) -> Array:
    """Return pixels, (H, W, C), clear by what the photo does not cover of each; not premultiplied."""
    top = np.iinfo(pixels.dtype).max
    opaque = shares * (pixels[..., -1] if alpha else top)
    out = pixels if alpha else np.dstack([pixels, np.empty(shares.shape, pixels.dtype)])
    out[..., -1] = np.rint(opaque)
    return out


def _upright_on_ground(
    photo: OpenPhoto, crop: Crop, output: Pixels, edges: Pixels, ground: str, method: Method | None
) -> Array:
    """Cut an upright crop; whole rows and columns of it lie on the photo, or beyond it."""
    columns, shares_across = _covered(crop.left, crop.width, output[0], edges[0])
    rows, shares_down = _covered(crop.top, crop.height, output[1], edges[1])
    if (
        columns == (0, output[0])
        and rows == (0, output[1])
        and _all_one(shares_across, shares_down)
    ):
        return cut(photo, crop, output, edges, method)
    step = (crop.width / output[0], crop.height / output[1])
    inner = (columns[1] - columns[0], rows[1] - rows[0])
    part = Crop(
        crop.left + columns[0] * step[0],
        crop.top + rows[0] * step[1],
        inner[0] * step[0],
        inner[1] * step[1],
    )
    pixels = cut(photo, part, inner, edges, method).copy()
    around = ((rows[0], output[1] - rows[1]), (columns[0], output[0] - columns[1]), (0, 0))
    whole = _ground_for(ground, photo, pixels, around)
    for row in {0, inner[1] - 1}:
        if shares_down[row] < 1:
            line = whole[rows[0] + row, columns[0] : columns[1]]
            shares = shares_down[row] * shares_across
            pixels[row] = _blended(pixels[row], line, shares, photo.alpha)
    between = slice(int(shares_down[0] < 1), inner[1] - int(shares_down[-1] < 1))
    for column in {0, inner[0] - 1}:
        if shares_across[column] < 1:
            shares = np.full(len(pixels[between]), shares_across[column])
            line = whole[rows[0] : rows[1], columns[0] + column][between]
            pixels[between, column] = _blended(pixels[between, column], line, shares, photo.alpha)
    whole[rows[0] : rows[1], columns[0] : columns[1]] = pixels
    return whole


def _ground_for(
    ground: str, photo: OpenPhoto, pixels: Array, around: tuple[tuple[int, int], ...]
) -> Array:
    """Return a whole canvas of ground, `around` rows and columns larger than the photo's part."""
    filler = FILLERS.get(ground)
    if filler is not None and filler.canvas is None:
        return cast("Array", np.pad(pixels, around, mode=filler.pad))
    high, wide = (pixels.shape[axis] + sum(around[axis]) for axis in (0, 1))
    if filler is not None and filler.canvas is not None:
        return _seamed(filler.canvas(pixels, (wide, high)), pixels, around)
    out = np.empty((high, wide, pixels.shape[2]), pixels.dtype)
    out[:] = tone_of(ground, photo, pixels)
    return out


def _seamed(canvas: Array, pixels: Array, around: tuple[tuple[int, int], ...]) -> Array:
    """Blend the photo's edge into the ground over a narrow seam, outwards only."""
    seam = max(1, halves_up(min(canvas.shape[:2]) * _SEAM))
    (above, below), (before, after), _ = around
    near = tuple(
        (min(other, seam), min(two, seam)) for other, two in ((above, below), (before, after))
    )
    edge = np.pad(pixels, (*near, (0, 0)), mode="edge").astype(np.float32)
    rows = np.arange(edge.shape[0]) - near[0][0]
    columns = np.arange(edge.shape[1]) - near[1][0]
    away_down = np.maximum(np.maximum(-rows, rows - pixels.shape[0] + 1), 0)
    away_across = np.maximum(np.maximum(-columns, columns - pixels.shape[1] + 1), 0)
    away = np.maximum(away_down[:, None], away_across[None])
    weight = np.clip(1 - away / (seam + 1), 0, 1).astype(np.float32)[..., None]
    top, left = above - near[0][0], before - near[1][0]
    place = canvas[top : top + edge.shape[0], left : left + edge.shape[1]]
    place[:] = np.rint(edge * weight + place * (1 - weight))
    return canvas


def _mapped_on_ground(
    photo: OpenPhoto, pixels: Array, matrix: Matrix, output: Pixels, edges: Pixels, ground: str
) -> Array:
    piece = corners_of(matrix, *output)
    beyond = area(piece) - overlap(rectangle(*edges), piece)
    filler = FILLERS.get(ground)
    if beyond < 1e-6 * area(piece) or (filler is not None and filler.canvas is None):
        return pixels
    if filler is not None and filler.canvas is not None:
        canvas: npt.NDArray[Any] = filler.canvas(pixels, output)
    else:
        canvas = np.broadcast_to(tone_of(ground, photo, pixels), pixels.shape)
    for row, shares in enumerate(coverage(matrix, output, edges)):
        partly = shares < 1
        if partly.any():
            line = pixels[row, partly]
            pixels[row, partly] = _blended(
                line, canvas[row, partly], shares[partly].astype(np.float64), photo.alpha
            )
    return pixels


def _covered(
    start: float, extent: float, outputs: int, edge: int
) -> tuple[tuple[int, int], npt.NDArray[np.float64]]:
    """Return which output pixels of one axis the photo touches, and the share of each it covers."""
    step = extent / outputs
    low = max(0, floor(-start / step + 1e-9))
    high = min(outputs, ceil((edge - start) / step - 1e-9))
    low, high = min(low, outputs - 1), max(high, 1)
    begins = start + np.arange(low, high) * step
    covered = np.minimum(begins + step, edge) - np.maximum(begins, 0)
    shares = np.clip(covered / step, 0, 1)
    shares[shares > 1 - 1e-6] = 1  # dust of the division
    return (low, high), shares


def _all_one(*shares: npt.NDArray[np.float64]) -> bool:
    return all(bool((share == 1).all()) for share in shares)


def _blended(
    line: Array, tone: npt.NDArray[Any], shares: npt.NDArray[np.float64], alpha: bool
) -> npt.NDArray[np.float64]:
    """Lay a line of pixels over the ground by its shares; colours weigh by what is opaque of both."""
    top = np.iinfo(line.dtype).max
    values = line.astype(np.float64)
    photo_part, ground_part = shares[:, None], 1 - shares[:, None]
    if alpha:
        photo_part = photo_part * values[:, -1:] / top
        ground_part = ground_part * np.broadcast_to(tone, values.shape)[:, -1:] / top
    whole = photo_part + ground_part
    out = (photo_part * values + ground_part * tone) / np.maximum(whole, 1e-12)
    if alpha:
        out[:, -1:] = whole * top
    rounded: npt.NDArray[np.float64] = np.rint(out)
    return rounded


def behind_cut_out(ground: str) -> str:
    """Return the colour a thing that is cut out stands on: the ground's, or white where that is of the photo."""
    return ground if ground.startswith("#") else WHITE


def flattened(pixels: Array, ground: str, photo: OpenPhoto) -> Array:
    """Lay pixels with alpha, (H, W, C), on a colour; what is clear becomes exactly that colour.

    `photo` is what they are of, as it is without alpha.
    """
    colours = pixels[..., :-1]
    tone = tone_of(ground, photo, colours)
    shares = pixels[..., -1:].astype(np.float32) / np.iinfo(pixels.dtype).max
    laid: npt.NDArray[Any] = np.rint(colours * shares + tone * (1 - shares))
    flat: npt.NDArray[Any] = laid.astype(pixels.dtype)
    return cast("Array", flat)


def takes_colours(size: Size, *, cut: bool = False) -> bool:
    """Return whether a size stands photos, or what is `cut` out of them, on a ground that is more than a grey."""
    shown = (
        cut or size.differ == "extend" or (size.outline is not None and size.file.format == "jpeg")
    )
    grounds = [size.ground] if shown or size.border is not None else []
    if size.sides is not None:
        grounds.append(size.sides.ground)
    return any(
        len({ground[at : at + 2] for at in (1, 3, 5)}) > 1
        for ground in grounds
        if ground not in GROUNDS
    )


def tone_of(ground: str, photo: OpenPhoto, pixels: Array) -> npt.NDArray[np.float64]:
    """Return an sRGB colour as a pixel of the photo: its bands, its depth, its profile.

    A grey photo can only take the colour's lightness: open it with `colours` for one that has a hue.
    """
    bands = pixels.shape[2] - int(photo.alpha)
    values = [int(ground[at : at + 2], 16) for at in (1, 3, 5)]
    if ground not in (WHITE, BLACK):  # which are the same in every profile
        dot = Image.new("RGB", (1, 1), tuple(values))
        mode = "L" if bands == 1 else "RGB"
        if photo.icc is not None:
            into = ImageCms.ImageCmsProfile(BytesIO(photo.icc))
            laid = ImageCms.profileToProfile(
                dot, ImageCms.createProfile("sRGB"), into, outputMode=mode
            )
        else:
            laid = dot.convert(mode)
        values = list(laid.tobytes()) if laid else values
    top = np.iinfo(pixels.dtype).max
    tone = [value * top / 255 for value in values[:bands]]
    return np.rint([*tone, top] if photo.alpha else tone)
