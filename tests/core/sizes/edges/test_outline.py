"""Outlines: written, read and said; what can't be one is refused in words."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from oak_ledge.core.errors import SizeError, SizeTextError
from oak_ledge.core.pixels.finish.outline import covered
from oak_ledge.core.sizes.edges.outline import drawn_path, outline_on
from oak_ledge.core.sizes.text.print_words import read_outline
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.flows.library.entry import with_outline
from tests.samples import there

DROP = "M0.5 0C0.8 0 1 0.3 1 0.6S0.7 1 0.5 1A0.5 0.4 0 0 1 0 0.6Q0 0 0.5 0Z"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("5x5in@300 outline circle", "cut to a circle"),
        ("5x7in@300 extend outline ellipse", "cut to an ellipse"),
        ("10x15cm@300 outline rounded 6mm", "corners rounded by 6 mm"),
        ("900x600px outline rounded 8%", "corners rounded by 8 % of the short edge"),
        (f'900x600px outline path "{DROP}"', "cut along a path"),
        ("900x600px outline heart", "cut to a heart"),
        ("900x600px outline star", "cut to a star"),
        ("900x600px outline star 7", "cut to a star of 7 points"),
        ("900x600px outline cloud 16 bit", "cut to a cloud"),
        ("900x600px outline arch", "cut with an arched top"),
        ("900x600px outline hexagon", "cut to a hexagon"),
    ],
)
def test_an_outline_is_written_and_said_as_it_is_read(text, words):
    found = read_size(text)
    assert write_size(found) == text
    assert read_size(write_size(found)) == found
    assert words in say_size(found)
    assert found.file.format == "png"
    assert type(found).model_validate_json(found.model_dump_json()) == found


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("5x5in@300 outline", "which outline is missing"),
        ("5x5in@300 outline circle outline ellipse", "a second time"),
        ("5x5in@300 outline rounded", "radius is missing"),
        ("5x5in@300 outline rounded 5", "unit of the corners' radius"),
        ("500x500px outline rounded 5mm", "need a resolution"),
        ("500x500px outline rounded 51%", "from 0 to 50 %"),
        ("500x500px outline path", "path's data is missing"),
        ('500x500px outline path "M0 0L1 1L0 1"', "one closed path"),
        ('500x500px outline path "M0 0L1 1L0 1ZM0 0L1 0L1 1Z"', "one closed path"),
        ('500x500px outline path "M0 0L2 1L0 1Z"', "leaves the square"),
        ('500x500px outline path "M0 0L1 1L0.5 0.5Z"', "encloses nothing"),
        ('500x500px outline path "M0 0L1e999 1L0 1Z"', "outline"),
        ('500x500px outline path "<script>"', "no path data"),
        ("500x500px outline star 2", "3 to 24 points, not 2"),
        ("500x500px outline star 25", "3 to 24 points, not 25"),
        ("500x500px outline heart 5", "isn't understood"),
        ('500x500px outline path "M0 0L1Z"', "outline"),
    ],
)
def test_what_is_no_outline_is_refused(text, why):
    with pytest.raises(SizeTextError, match=why):
        read_size(text)


def area(points):
    x, y = points.T
    return abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def test_outlines_are_drawn_out_to_the_piece():
    on = {
        text: outline_on(there(read_size(f"600x400px {text}").outline), (600, 400), None)
        for text in (
            "outline circle",
            "outline ellipse",
            "outline rounded 25%",
            f'outline path "{DROP}"',
        )
    }
    circle, ellipse, rounded, path = on.values()
    assert area(circle) == pytest.approx(np.pi * 200**2, rel=1e-4)
    assert np.allclose(np.hypot(*(circle - (300, 200)).T), 200)
    assert area(ellipse) == pytest.approx(np.pi * 300 * 200, rel=1e-4)
    assert area(rounded) == pytest.approx(600 * 400 - (4 - np.pi) * 100**2, rel=1e-4)
    assert path.min() >= 0
    assert path[:, 0].max() == pytest.approx(600)
    print_ = there(read_size("4x6in@300 outline rounded 12.7mm").outline)
    corner = outline_on(print_, (1200, 1800), read_size("4x6in@300").ppi)
    assert area(corner) == pytest.approx(1200 * 1800 - (4 - np.pi) * 150**2, rel=1e-5)
    assert drawn_path(print_, (1200, 1800), read_size("4x6in@300").ppi).endswith("Z")


@pytest.mark.parametrize(
    ("text", "output", "share"),
    [
        ("heart", (300, 300), None),
        ("heart", (420, 260), None),
        ("star", (300, 300), 5 * 0.3819660 * np.sin(np.pi / 5) / (2 * np.sin(0.4 * np.pi)) / (1 + np.cos(np.pi / 5))),
        ("star 8", (300, 200), None),
        ("star 3", (200, 300), None),
        ("cloud", (360, 240), None),
        ("arch", (200, 300), 1 - (1 - np.pi / 4) / 3),
        ("arch", (300, 100), 1 - (1 - np.pi / 4) / 2),
        ("hexagon", (300, 200), 0.75),
    ],
)  # fmt: skip
def test_a_shipped_outline_is_one_part_symmetric_and_drawn_out_to_four_edges(text, output, share):
    drawn = outline_on(read_outline(text), output, None)
    assert np.allclose(drawn.min(0), 0)
    assert np.allclose(drawn.max(0), output)
    seen = covered(drawn, output)
    assert np.abs(seen - seen[:, ::-1]).max() < 0.01
    assert cv2.connectedComponents((seen > 0.5).astype(np.uint8))[0] == 2  # it, and all around
    assert cv2.connectedComponents((seen <= 0.5).astype(np.uint8))[0] >= 2
    if share is not None:
        assert seen.mean() == pytest.approx(share, abs=1e-4)
    large = outline_on(read_outline(text), (output[0] * 20, output[1] * 20), None) / 20
    finer = covered(large, output)
    assert np.abs(finer - seen).max() < 0.01  # no coarser where it is large


@pytest.mark.parametrize(
    ("text", "outline", "now"),
    [
        ("8x10in@300", "heart", "8x10in@300 outline heart"),
        ("8x10in@300 outline star 5 png", "arch", "8x10in@300  png outline arch"),
        ("8x10in@300 outline rounded 6mm", "", "8x10in@300"),
        ("8x10", "rounded 8%", "8x10 outline rounded 8%"),
    ],
)
def test_an_outline_is_put_in_the_place_of_another(text, outline, now):
    assert with_outline(text, outline).size == now
    with pytest.raises(SizeError):
        with_outline(text, "blob")
