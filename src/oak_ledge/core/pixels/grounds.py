"""What fills the canvas beyond the photo's edge (rules, section 6). So far a plain colour."""

from __future__ import annotations

from io import BytesIO
from math import ceil, floor

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageCms

from oak_ledge.core.geometry import Matrix, area, corners_of, crop_matrix, overlap, rectangle
from oak_ledge.core.pixels.cut import Array, cut
from oak_ledge.core.pixels.methods import Method
from oak_ledge.core.pixels.photos import OpenPhoto
from oak_ledge.core.pixels.warp import coverage, warp
from oak_ledge.core.placements import Crop
from oak_ledge.core.sizes import BLACK, WHITE, Size
from oak_ledge.core.units import Pixels


def cut_on_ground(
    photo: OpenPhoto,
    crop: Crop,
    asked: Pixels,
    held: Pixels,
    ground: str,
    method: Method | None = None,
    plane: Matrix | None = None,
) -> Array:
    """Cut a crop, turned or not, that may reach beyond the photo: exactly `asked` pixels.

    Output pixels wholly on the photo are those of `cut` or `warp`, value for value. Those that lie
    across its edge are blended by the share the photo covers, the others are ground.

    Parameters
    ----------
    photo, crop, asked, held, method : as of `cut`
    ground : an sRGB colour, #rrggbb; it is laid down in the photo's own profile
    plane : where four corners are squared up, maps points of their plane to the photo

    Returns
    -------
    (H, W, C) array of the photo's own depth
    """
    if crop.angle % 360 or plane is not None:
        matrix = crop_matrix(crop.left, crop.top, crop.width, crop.height, crop.angle, asked)
        matrix = matrix if plane is None else plane @ matrix
        return _mapped_on_ground(photo, matrix, asked, held, ground, method)
    columns, shares_across = _covered(crop.left, crop.width, asked[0], held[0])
    rows, shares_down = _covered(crop.top, crop.height, asked[1], held[1])
    if columns == (0, asked[0]) and rows == (0, asked[1]) and _all_one(shares_across, shares_down):
        return cut(photo, crop, asked, held, method)
    step = (crop.width / asked[0], crop.height / asked[1])
    inner = (columns[1] - columns[0], rows[1] - rows[0])
    part = Crop(
        crop.left + columns[0] * step[0],
        crop.top + rows[0] * step[1],
        inner[0] * step[0],
        inner[1] * step[1],
    )
    pixels = cut(photo, part, inner, held, method).copy()
    tone = tone_of(ground, photo, pixels)
    for row in {0, inner[1] - 1}:
        if shares_down[row] < 1:
            pixels[row] = _blended(pixels[row], tone, shares_down[row] * shares_across, photo.alpha)
    between = slice(int(shares_down[0] < 1), inner[1] - int(shares_down[-1] < 1))
    for column in {0, inner[0] - 1}:
        if shares_across[column] < 1:
            shares = np.full(len(pixels[between]), shares_across[column])
            pixels[between, column] = _blended(pixels[between, column], tone, shares, photo.alpha)
    out = np.empty((asked[1], asked[0], pixels.shape[2]), pixels.dtype)
    out[:] = tone
    out[rows[0] : rows[1], columns[0] : columns[1]] = pixels
    return out


def _mapped_on_ground(
    photo: OpenPhoto,
    matrix: Matrix,
    asked: Pixels,
    held: Pixels,
    ground: str,
    method: Method | None,
) -> Array:
    pixels = warp(photo, matrix, asked, held, method)
    piece = corners_of(matrix, *asked)
    beyond = area(piece) - overlap(rectangle(*held), piece)
    if beyond < 1e-6 * area(piece):
        return pixels
    tone = tone_of(ground, photo, pixels)
    for row, shares in enumerate(coverage(matrix, asked, held)):
        partly = shares < 1
        if partly.any():
            line = pixels[row, partly]
            pixels[row, partly] = _blended(
                line, tone, shares[partly].astype(np.float64), photo.alpha
            )
    return pixels


def _covered(
    start: float, extent: float, outputs: int, edge: int
) -> tuple[tuple[int, int], npt.NDArray[np.float64]]:
    """Give which output pixels of one axis the photo touches, and the share of each it covers."""
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
    line: Array, tone: npt.NDArray[np.float64], shares: npt.NDArray[np.float64], alpha: bool
) -> npt.NDArray[np.float64]:
    """Lay a line of pixels over the ground by its shares; colours weigh by what is opaque."""
    top = np.iinfo(line.dtype).max
    values = line.astype(np.float64)
    opaque = values[:, -1:] / top if alpha else 1.0
    photo_part = shares[:, None] * opaque
    ground_part = 1 - shares[:, None]
    whole = photo_part + ground_part
    out = (photo_part * values + ground_part * tone) / whole
    if alpha:
        out[:, -1:] = whole * top
    return np.rint(out)


def takes_colours(size: Size) -> bool:
    """Say whether a size stands photos on a ground that is more than a grey."""
    parts = {size.ground[at : at + 2] for at in (1, 3, 5)}
    return size.differ == "extend" and len(parts) > 1


def tone_of(ground: str, photo: OpenPhoto, pixels: Array) -> npt.NDArray[np.float64]:
    """Give an sRGB colour as a pixel of the photo: its bands, its depth, its profile.

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
