"""Files made on a continued ground: photo pixels bit for bit, however the photo is turned."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Continue
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.turn import Angle, Mirror, Quarter
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.flows.delivery.making import Work, draw
from tests import samples
from tests.samples import size

WIDE = size("4:3 extend", file={"format": "png"})
TURNS: dict[str, Any] = {
    "as it is": ([], lambda pixels: pixels),
    "a quarter": ([Quarter(kind="quarter", by=1)], lambda pixels: np.rot90(pixels, -1)),
    "mirrored": ([Mirror(kind="mirror")], lambda pixels: pixels[:, ::-1]),
    "both": (
        [Quarter(kind="quarter", by=-1), Mirror(kind="mirror")],
        lambda pixels: np.rot90(pixels)[:, ::-1],
    ),
}


def work(path, asked, *gestures):
    facts = look_at(path, most_pixels=10**8)
    placement = suggest(asked, facts.upright)
    for gesture in [*gestures, Continue(kind="continue")]:
        placement = apply(asked, facts.upright, placement, gesture)
    return Work(path, path.name, facts, asked, placement)


def pixels_of(made):
    with Image.open(BytesIO(draw(made, Limits())[0])) as image:
        return np.asarray(image)


@pytest.mark.parametrize("tag", [1, 6])
@pytest.mark.parametrize("turn", TURNS)
def test_a_photo_stands_in_its_ground_bit_for_bit(tmp_path, turn, tag):
    gestures, turned = TURNS[turn]
    upright = samples.grain(120, 80)
    path = samples.oriented(tmp_path / "photo.png", upright, tag)
    made = work(path, WIDE, *gestures)
    piece, crop = pixels_of(made), made.lying.crop
    photo = turned(upright)
    left, top = round(-crop.left), round(-crop.top)
    high, wide = photo.shape[:2]
    assert max(left, top) > 0
    assert piece.shape[:2][::-1] == made.lying.asked
    shown = photo[max(0, -top) :, max(0, -left) :]  # an exact ratio may trim a pixel
    there = piece[max(0, top) : top + high, max(0, left) : left + wide]
    assert np.array_equal(there, shown[: there.shape[0], : there.shape[1]])


@pytest.mark.parametrize(
    "gesture",
    [
        Angle(kind="angle", angle=4),
        Square(kind="square", corners=((20, 14), (100, 20), (98, 64), (16, 70))),
    ],
)
def test_opened_corners_and_what_surrounds_a_plane_are_continued(tmp_path, gesture):
    path = samples.photo(tmp_path / "photo.png", 120, 80)
    asked = size("100x100px extend", file={"format": "png"})
    made = work(path, asked, gesture)
    white = work(path, asked, gesture)
    plain = white.placement.size.model_copy(update={"ground": "#ffffff"})
    white = Work(
        path, "x.png", white.photo, asked, white.placement.model_copy(update={"size": plain})
    )
    piece, bare = pixels_of(made).astype(int), pixels_of(white).astype(int)
    assert piece.shape == (100, 100, 3)
    beyond = (bare == 255).all(axis=2)
    assert beyond.sum() > 50
    assert (piece[beyond] == 255).all(axis=1).mean() < 0.05
    within = ~beyond
    within[1:, :] &= ~beyond[:-1]
    within[:-1, :] &= ~beyond[1:]
    within[:, 1:] &= ~beyond[:, :-1]
    within[:, :-1] &= ~beyond[:, 1:]
    assert np.abs(piece - bare)[within].mean() < 1.5
