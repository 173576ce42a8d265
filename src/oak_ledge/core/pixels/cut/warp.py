"""Turned and four-corner placements → exactly W × H pixels, filtered for any scale.

One recipe: where the photo is enlarged it is first enlarged upright with the kernel asked for, by a
whole factor; then it is mapped at its own density, pixel for pixel; then reduced to the output,
exactly placed. Nothing aliases, nothing moves, and an angle of 0.01° looks like 0°. Mapping
interpolates by cubics, which what is reduced afterwards can't tell from the truth; near scale 1 by
the finer, slower Lanczos.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil
from typing import TYPE_CHECKING, Any, Literal, NamedTuple, TypeAlias

import numpy as np
import pyvips

from oak_ledge.core.errors import FileError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.cut.methods import Method, choose
from oak_ledge.core.pixels.cut.rows import Rows, prove_whole
from oak_ledge.core.pixels.cut.strips import resample
from oak_ledge.core.pixels.open.border import reading_pixels
from oak_ledge.core.pixels.open.decoding import dtype_of
from oak_ledge.core.pixels.open.photo import OpenPhoto
from oak_ledge.core.planes.matrices import Matrix, at, local_steps, mapped_share, steps_on

if TYPE_CHECKING:
    import numpy.typing as npt

# Output pixels made beyond every edge, for the reduction's filter to reach into.
_MARGIN = 4


# Photo pixels kept around what is mapped, for the interpolation.
_REACH = 8


# Mapped pixels at a time: bounds memory.
_STRIP = 6_000_000


# Values of the photo that there is room for beyond those needed.
_AHEAD = 12_000_000


# Mapped pixels along a tile's side; output pixels at least.
_MAPPED_SIDE, _LEAST = 1600, 64


# Of an enlarged photo's tiles: what two of them share is enlarged twice.
_ENLARGED_SIDE = 6000


# Pixels: the library's own limit is 2¹⁵.
_MOST_EDGE = 32_766


# Mapped pixels: under that.
_WIDEST = 32_000


# The same where only the photo's mirror is seen.
_BEYOND = 4.0


# So many mapped to one of the photo; output pixels of a block then.
_UNEVEN, _TILE = 4.0, 64


# Ten times as loose on a ground is 100, nearly all of it beyond the photo.
MOST_MAPPED = 400


# Photo pixels per output pixel from which cubics do.
_REDUCED_ENOUGH = 1.25


KERNELS: dict[Method, str] = {
    "mitchell": "mitchell", "bicubic": "cubic", "lanczos": "lanczos3", "nearest": "nearest",
}  # fmt: skip


Border = Literal["edge", "mirror"]


Floats: TypeAlias = "npt.NDArray[np.float64]"


def warp(
    photo: OpenPhoto,
    matrix: Matrix,
    output: Pixels,
    edges: Pixels,
    method: Method | None = None,
    border: Border = "edge",
) -> Array:
    """Draw the output whose points a matrix maps into the photo.

    Parameters
    ----------
    photo : opened for one pass; it is used up
    matrix : output points [0, W] × [0, H] → photo points, unshrunk
    output : output (W, H)
    edges : the photo's (width, height), turned
    method : the kernel, or None to choose by scale
    border : beyond the photo its last pixels count as repeated, or it is mirrored

    Returns
    -------
    (H, W, C) array of the photo's own depth; `coverage` tells how much of each pixel the photo covers.
    """
    stored = stored_by(edges, photo.orientation) @ matrix
    stored = np.diag([1 / photo.shrink, 1 / photo.shrink, 1.0]) @ stored
    across = (float(photo.image.width), float(photo.image.height))
    share = mapped_share(stored, output, across)
    if share > MOST_MAPPED:
        msg = (
            "the crop comes so near to where its plane vanishes that the piece can't be drawn. "
            "Tighten it, or set the corners anew"
        )
        raise FileError(msg)
    mapping = _Mapping.of(stored, output, across, method, border)
    out = np.empty((output[1], output[0], photo.image.bands), dtype_of(photo.image))
    with reading_pixels():
        side = (_MAPPED_SIDE if mapping.more == 1 else _ENLARGED_SIDE) / mapping.dense
        for part, source, origin in _tiles(photo, stored, output, side, whole=border == "mirror"):
            inside = np.array([[1, 0, -origin[0]], [0, 1, -origin[1]], [0, 0, 1]]) @ stored
            inside = np.diag([mapping.more, mapping.more, 1.0]) @ inside
            pixels = _enlarged(source, mapping, alpha=photo.alpha)
            for block, here in _parts(stored, part, mapping.dense, across, share, border):
                strip = _strip(pixels, inside, block, here, mapping)
                out[block.top : block.top + block.height, block.left : block.left + block.width] = (
                    _unpremultiplied(strip, out.dtype) if photo.alpha else strip
                )
        prove_whole(photo)
    return out


@dataclass(frozen=True)
class _Mapping:
    """How a photo is mapped.

    `more` is how many times as large it is made first; `dense` is how many mapped pixels make one of
    the output; `interpolation` is cv2's own number.
    """

    kernel: Method
    more: int
    dense: float
    interpolation: int
    border: Border

    @classmethod
    def of(
        cls,
        stored: Matrix,
        output: Pixels,
        photo: tuple[float, float],
        method: Method | None,
        border: Border,
    ) -> _Mapping:
        """Choose it by how many photo pixels the steepest output pixel spans."""
        import cv2  # here: it takes its time to load, and most files are made without it

        steps = steps_on(stored, output, photo)
        steps = (steps if len(steps) else local_steps(stored, output)).max(axis=1)
        steepest = float(steps.max())
        kernel = method or choose(steepest)
        more = ceil(1 / steepest - 1e-9) if kernel != "nearest" else 1
        dense = max(1.0, steepest * more)
        interpolation = cv2.INTER_CUBIC
        if kernel == "nearest":
            interpolation = cv2.INTER_NEAREST
        elif more == 1 and dense < _REDUCED_ENOUGH:
            interpolation = cv2.INTER_LANCZOS4
        return cls(kernel, more, dense, interpolation, border)


def _enlarged(source: Array, mapping: _Mapping, *, alpha: bool) -> npt.NDArray[Any]:
    """Enlarge a part of a photo by the whole factor of its mapping; colours weigh by what is opaque."""
    wide, high = source.shape[1] * mapping.more, source.shape[0] * mapping.more
    if max(wide, high) > _MOST_EDGE:
        msg = (
            f"turned like this it takes a picture of {wide} × {high} px, where an edge holds "
            f"at most {_MOST_EDGE}. Enlarge it less, or choose another ground than its mirror"
        )
        raise FileError(msg)
    pixels: npt.NDArray[Any] = source
    if alpha:
        pixels = source.astype(np.float32)
        pixels[..., :-1] *= pixels[..., -1:] / np.iinfo(source.dtype).max
    if mapping.more > 1:
        pixels = resample(pixels, (wide, high), mapping.kernel)
    return pixels


def _unpremultiplied(strip: npt.NDArray[Any], dtype: np.dtype[Any]) -> npt.NDArray[Any]:
    """Take what is opaque out of the colours again."""
    top = np.iinfo(dtype).max
    strip[..., :-1] *= top / np.maximum(strip[..., -1:], 1e-3)
    rounded: npt.NDArray[Any] = np.clip(np.rint(strip), 0, top)
    return rounded


class _Block(NamedTuple):
    """A part of the output that is mapped at once."""

    left: int
    width: int
    top: int
    height: int


def _blocks(part: _Block, dense: float) -> Iterator[_Block]:
    """Go through a part of the output in blocks: all at once where they are few enough mapped pixels."""
    wide = min(part.width, max(16, int(_WIDEST / dense) - 2 * _MARGIN))
    most = 4 * _STRIP / (dense * dense)
    high = min(part.height, max(16, int(most / (wide + 2 * _MARGIN)) - 2 * _MARGIN))
    wide = min(wide, max(16, int(most / (high + 2 * _MARGIN)) - 2 * _MARGIN))
    yield from _cut_up(part, wide, high)


def _cut_up(part: _Block, wide: int, high: int) -> Iterator[_Block]:
    for top in range(part.top, part.top + part.height, high):
        for left in range(part.left, part.left + part.width, wide):
            across = min(wide, part.left + part.width - left)
            yield _Block(left, across, top, min(high, part.top + part.height - top))


def _parts(
    matrix: Matrix,
    part: _Block,
    dense: float,
    photo: tuple[float, float],
    share: float,
    border: Border,
) -> Iterator[tuple[_Block, float]]:
    """Go through a part of the output in blocks, each with how many pixels are mapped for one of it.

    That is everywhere the same, but where a plane is seen so much aslant that it would be far too
    many in most of the piece.
    """
    if share <= _UNEVEN:
        yield from ((block, dense) for block in _blocks(part, dense))
        return
    for block in _cut_up(part, _TILE, _TILE):
        shift = np.array([[1, 0, block.left], [0, 1, block.top], [0, 0, 1]], np.float64)
        steps = steps_on(matrix @ shift, (block.width, block.height), photo)
        least = _BEYOND if border == "mirror" else 1.0
        yield block, min(dense, float(steps.max(initial=least)))


def _strip(
    pixels: npt.NDArray[Any],
    matrix: Matrix,
    block: _Block,
    dense: float,
    mapping: _Mapping,
) -> npt.NDArray[Any]:
    """Map a block of the output at `dense` mapped pixels to one of the output, and reduce them."""
    import cv2

    width, count = block.width, block.height
    across, along = _Axis.of(width, dense), _Axis.of(count, dense)
    down = np.array(
        [
            [1 / dense, 0, block.left - across.offset / dense - _MARGIN],
            [0, 1 / dense, block.top - along.offset / dense - _MARGIN],
            [0, 0, 1],
        ],
        np.float64,
    )
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]], np.float64)
    # cv2 counts from the middle of a pixel, we from its corner
    mapped = cv2.warpPerspective(
        pixels,
        np.linalg.inv(half) @ matrix @ down @ half,
        (across.mapped, along.mapped),
        flags=mapping.interpolation | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REFLECT if mapping.border == "mirror" else cv2.BORDER_REPLICATE,
    )
    mapped = mapped.reshape(along.mapped, across.mapped, -1)
    if dense > 1:
        image = pyvips.Image.new_from_array(np.ascontiguousarray(mapped))
        kernel = KERNELS[mapping.kernel]
        image = image.reducev(dense, kernel=kernel).reduceh(dense, kernel=kernel)
        mapped = image.numpy().reshape(image.height, image.width, -1)
    return np.array(mapped[_MARGIN : _MARGIN + count, _MARGIN : _MARGIN + width])


@dataclass(frozen=True)
class _Axis:
    """How many mapped pixels one axis needs, and where the first output pixel begins in them.

    libvips makes round(mapped ÷ dense) outputs and centres them on what it is given.
    """

    mapped: int
    offset: float

    @classmethod
    def of(cls, outputs: int, dense: float) -> _Axis:
        mapped = ceil((outputs + 2 * _MARGIN) * dense)
        count = halves_up(mapped / dense)
        return cls(mapped, (mapped - count * dense) / 2)


def stored_by(edges: Pixels, orientation: int) -> Matrix:
    """Map upright photo points to the stored picture: the orientation tag undone."""
    width, height = edges
    matrix = np.eye(3)
    if orientation in (2, 3, 6, 7):
        matrix = np.array([[-1, 0, width], [0, 1, 0], [0, 0, 1]], np.float64)
    if orientation in (3, 4, 7, 8):
        matrix = np.array([[1, 0, 0], [0, -1, height], [0, 0, 1]], np.float64) @ matrix
    if orientation >= 5:
        matrix = np.array([[0, 1, 0], [1, 0, 0], [0, 0, 1]], np.float64) @ matrix
    return matrix


def _tiles(
    photo: OpenPhoto, matrix: Matrix, output: Pixels, side: float, *, whole: bool
) -> Iterator[tuple[_Block, Array, tuple[int, int]]]:
    """Go through the output in tiles: each, the photo pixels it needs, and their origin.

    The photo is decoded from top to bottom once, and tiles are taken in the order in which it shows
    them: of it no more is kept than the tile at hand and those to come still need, however it is
    turned. `side` is a tile's, with its margins, in output pixels; `whole` gives one tile.
    """
    image = photo.image
    edge = max(_LEAST, int(side) - 2 * _MARGIN)
    piece = _Block(0, output[0], 0, output[1])
    tiles = [piece] if whole else [*_cut_up(piece, edge, edge)]
    reach = _REACH + float(local_steps(matrix, output).max()) * (_MARGIN + 1)
    boxes = []
    for tile in tiles:
        right, bottom = tile.left + tile.width, tile.top + tile.height
        corners = [(x, y) for x in (tile.left, right) for y in (tile.top, bottom)]
        mapped = at(matrix, np.array(corners, np.float64))
        boxes.append((*np.floor(mapped.min(axis=0) - reach), *np.ceil(mapped.max(axis=0) + reach)))
    bounds = np.array(boxes)
    bounds[:, 0::2] = np.clip(bounds[:, 0::2], 0, image.width)
    bounds[:, 1::2] = np.clip(bounds[:, 1::2], 0, image.height)
    left, right = int(min(bounds[:, 0].min(), image.width - 1)), int(bounds[:, 2].max())
    width = max(1, right - left)
    order = np.lexsort((bounds[:, 0], bounds[:, 1]))
    lows = np.minimum(bounds[order, 1], image.height - 1).astype(int)
    ends = np.maximum.accumulate(np.maximum(bounds[order, 3].astype(int), lows + 1))
    ahead = 0 if whole else max(1, _AHEAD // (width * image.bands))
    source = Rows(photo, left, width, int((ends - lows).max()) + ahead)
    for number, low, end in zip(order.tolist(), lows.tolist(), ends.tolist(), strict=True):
        kept = source.fetch(low, end)
        # a tile wholly beyond the photo is filled from the pixels nearest to it
        first = min(max(0, int(bounds[number, 0]) - left), width - 1)
        last = max(first + 1, int(bounds[number, 2]) - left)
        yield tiles[number], kept[:, first:last], (left + first, low)


def coverage(matrix: Matrix, output: Pixels, edges: Pixels) -> npt.NDArray[np.float32]:
    """Return the share, 0 to 1, of each output pixel that a photo covers, as (H, W).

    A pixel on the photo's edge is covered by how far its middle lies from that edge, in its own
    pixels: exact where the mapping is straight and upright, smooth everywhere.
    """
    out = np.empty((output[1], output[0]), np.float32)
    columns = np.arange(output[0]) + 0.5
    step = local_steps(matrix, output).max()
    for row in range(output[1]):
        points = np.stack([columns, np.full(output[0], row + 0.5)], axis=1)
        x, y = at(matrix, points).T
        sides = [x, edges[0] - x, y, edges[1] - y]
        out[row] = np.prod([np.clip(side / step + 0.5, 0, 1) for side in sides], axis=0)
    return out
