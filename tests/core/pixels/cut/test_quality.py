"""The upright cut against a picture sampled sixteen times as finely, beside two other libraries."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import pyvips
from PIL import Image, ImageDraw, ImageFont

from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.planes.matrices import at, crop_matrix, onto_quad
from oak_ledge.core.planes.surface import PlainSurface
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.size import Size
from oak_ledge.demo.fill import PHOTOS
from tests import samples
from tests.core.pixels.cut.test_cut import psnr

EDGE, FINER = 700, 16
BOXES = [
    ((40, 30, 600, 600), (375, 375)),
    ((43.3, 31.7, 577.7, 577.7), (230, 230)),
    ((100.5, 80.25, 333, 333), (250, 250)),
    ((20, 20, 660, 660), (132, 132)),
]


def zone():
    y, x = np.mgrid[0:EDGE, 0:EDGE] + 0.5
    middle = EDGE / 2
    radius = (x - middle) ** 2 + (y - middle) ** 2
    plate = 127.5 + 127.5 * np.cos(np.pi * 0.42 * radius / middle)
    return np.rint(plate)[..., None].repeat(3, axis=2).astype(np.uint8)


def lettering():
    image = Image.new("RGB", (EDGE, EDGE), "white")
    pen = ImageDraw.Draw(image)
    for line in range(22):
        font = ImageFont.load_default(10 + line * 0.6)
        pen.text((8, 8 + 31 * line), "An evening of paper lanterns 0123456789", "black", font)
    return np.asarray(image)


def lanterns():
    with Image.open(PHOTOS / "quay-lanterns.jpg") as image:
        return np.asarray(image.convert("RGB"))[700 : 700 + EDGE, 900 : 900 + EDGE]


def reference(source, start, extent, outputs):
    """The matrix that takes a line of pixels to its output: a wide interpolation at sixteen points
    of each output pixel, reduced by a Lanczos kernel of three lobes. All in double precision."""
    points = (np.arange(-4 * FINER, (outputs + 4) * FINER) + 0.5) / FINER
    places = start + points * extent / outputs
    wide = np.zeros((len(points), source))
    for step in range(-8, 10):
        index = np.floor(places - 0.5).astype(int) + step
        away = places - (index + 0.5)
        weights = np.where(np.abs(away) < 9, np.sinc(away) * np.sinc(away / 9), 0)
        np.add.at(wide, (np.arange(len(points)), np.clip(index, 0, source - 1)), weights)
    wide /= wide.sum(axis=1, keepdims=True)
    away = points[None] - (np.arange(outputs) + 0.5)[:, None]
    reduced = np.where(np.abs(away) < 3, np.sinc(away) * np.sinc(away / 3), 0)
    return reduced / reduced.sum(axis=1, keepdims=True) @ wide


@pytest.mark.thorough
@pytest.mark.parametrize("picture", [zone, lettering, lanterns])
@pytest.mark.parametrize(("box", "out"), BOXES)
def test_the_cut_is_as_near_to_the_truth_as_the_better_of_two_libraries(
    tmp_path, picture, box, out
):
    path = tmp_path / "picture.jpg"
    Image.fromarray(picture()).save(path, quality=97, subsampling=0)
    with Image.open(path) as image:
        pixels = np.asarray(image)
    left, top, width, height = box
    down, across = reference(EDGE, top, height, out[1]), reference(EDGE, left, width, out[0])
    true = np.einsum("ij,jkc->ikc", down, pixels.astype(float))
    true = np.clip(np.einsum("ij,kjc->kic", across, true), 0, 255)
    pillow = Image.fromarray(pixels).resize(
        out, Image.Resampling.LANCZOS, box=(left, top, left + width, top + height)
    )
    part = pyvips.Image.new_from_array(pixels, interpretation="srgb")
    part = part.crop(round(left), round(top), round(width), round(height))
    vips = part.resize(out[0] / part.width, vscale=out[1] / part.height).numpy()
    inner = slice(4, -4)

    def quality(found):
        return psnr(np.asarray(found)[inner, inner].astype(float), true[inner, inner])

    better = max(quality(pillow), quality(vips) if vips.shape[:2] == out[::-1] else 0)
    size = Size(shape=OwnShape(), turn="fixed", method="lanczos")
    made, _ = render(path, size, Crop(*box), out, PlainSurface((EDGE, EDGE)))
    assert quality(made) >= better


FOUR = ((60.0, 40.0), (640.0, 90.0), (600.0, 655.0), (95.0, 610.0))
MAPPINGS = {
    "turned": lambda out: crop_matrix(120, 100, 460, 460, 3.7, out),
    "much turned": lambda out: crop_matrix(160, 150, 380, 380, -27, out),
    "four corners": lambda out: onto_quad(out[0], out[1], FOUR),
}


@pytest.mark.thorough
@pytest.mark.parametrize("out", [(230, 230)])
@pytest.mark.parametrize("way", MAPPINGS)
def test_a_turned_photo_and_four_corners_are_near_to_the_truth(tmp_path, way, out):
    """The truth: the photo on a grid four times as fine, read at 64 points of every output pixel,
    their Lanczos of three lobes taken in double precision."""
    path = samples.save(tmp_path / "photo.png", lanterns())
    matrix = MAPPINGS[way](out)
    made = warp(open_photo(path), matrix, out, (EDGE, EDGE), "lanczos").astype(float)
    finer, points, beyond = 4, 8, 4
    up = reference_grid(EDGE, finer)
    fine = both_ways(up, lanterns().astype(float)).astype(np.float32)
    at_points = (np.arange(-beyond * points, (out[0] + beyond) * points) + 0.5) / points
    across, down = np.meshgrid(at_points, at_points)
    places = at(matrix, np.stack([across.ravel(), down.ravel()], axis=1))
    spots = (places * finer - 0.5).astype(np.float32).reshape(*across.shape, 2)
    edge = cv2.BORDER_REPLICATE
    seen = np.asarray(cv2.remap(fine, spots, np.empty(0), cv2.INTER_CUBIC, borderMode=edge))
    away = at_points[None] - (np.arange(out[0]) + 0.5)[:, None]
    reduce = np.where(np.abs(away) < 3, np.sinc(away) * np.sinc(away / 3), 0)
    reduce /= reduce.sum(axis=1, keepdims=True)
    true = np.clip(both_ways(reduce, seen), 0, 255)
    inner = slice(6, -6)
    assert psnr(made[inner, inner], true[inner, inner]) >= 45


def reference_grid(source, finer):
    """The matrix that takes a line of pixels to a grid so many times as fine, by a wide sinc."""
    places = (np.arange(source * finer) + 0.5) / finer - 0.5
    away = places[:, None] - np.arange(source)[None]
    weights = np.where(np.abs(away) < 12, np.sinc(away) * np.sinc(away / 12), 0)
    return weights / weights.sum(axis=1, keepdims=True)


def both_ways(matrix, pixels):
    """Apply a matrix along rows and columns of (H, W, C)."""
    down = np.tensordot(matrix, pixels, (1, 0))
    return np.tensordot(matrix, down, (1, 1)).transpose(1, 0, 2)
