"""A part of a piece at true pixels is that part of its file; all of it goes to the clipboard."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.errors import FileError
from oak_ledge.core.gestures.pull import Draw
from oak_ledge.flows.bench import history
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.pieces import true_pixels
from tests.conftest import NOW


def test_a_part_is_that_part_of_the_whole_and_the_copy_has_every_pixel(workspace, placed):
    _, at = placed("4x5in@150")
    history.keep(workspace, at, Draw(kind="draw", x0=100, y0=80, x1=900, y1=700), NOW)
    piece = load(workspace, at)
    with Image.open(BytesIO(true_pixels.picture(workspace, piece))) as copied:
        assert (copied.format, copied.size) == ("PNG", piece.lying.asked)
        whole = np.asarray(copied.convert("RGB")).astype(int)
    with Image.open(BytesIO(true_pixels.part(workspace, piece, (120, 90, 200, 150)))) as seen:
        assert seen.size == (200, 150)
        part = np.asarray(seen.convert("RGB")).astype(int)
    assert np.abs(part - whole[90:240, 120:320]).mean() < 2  # a JPEG of it


def test_what_lies_beyond_the_piece_is_left_out_and_nothing_is_refused(workspace, placed):
    _, at = placed("300x200px")
    piece = load(workspace, at)
    with Image.open(BytesIO(true_pixels.part(workspace, piece, (-50, 150, 100, 100)))) as seen:
        assert seen.size == (50, 50)
    with pytest.raises(FileError, match="nothing of the piece there; it has 300 × 200 px"):
        true_pixels.part(workspace, piece, (300, 0, 10, 10))


def test_a_piece_too_large_for_a_clipboard_says_what_to_do(workspace, placed, monkeypatch):
    monkeypatch.setattr(true_pixels, "MOST_COPIED", 1_000_000)
    _, at = placed("1200x900px extend")
    with pytest.raises(FileError, match=r"takes 1 megapixels\. Make the file, and download it"):
        true_pixels.picture(workspace, load(workspace, at))
