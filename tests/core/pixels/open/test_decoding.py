"""A photo that is decoded while pieces are cut from it: the same pixels, and the same words for damage."""

from __future__ import annotations

import threading
import time
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from numpy.testing import assert_array_equal

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.pixels.cut.content import look_into
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.pixels.open import decoding
from oak_ledge.core.pixels.open.photo import decoded_once, in_memory, open_photo
from oak_ledge.core.placements.crop import Crop
from tests import samples

ROOM = 10_000_000
EDGES, ASKED = (400, 300), (120, 90)
LOW, TURNED = Crop(20, 140, 200, 150), Crop(120, 90, 160, 120, 30)


@pytest.fixture
def slowly(monkeypatch):
    """Decode a few rows at a time, with a pause after each, and none before this is set."""
    real, begin = decoding.fetch_into, threading.Event()

    def fetch(rows, region, left, top):
        assert begin.wait(20)
        real(rows, region, left, top)
        time.sleep(0.002)

    monkeypatch.setattr(decoding, "fetch_into", fetch)
    monkeypatch.setattr(decoding, "_FETCHED", 4000)
    return begin


def pieces(source):
    """Cut upright and turned, and look into it, all at once and before it is there."""
    todo = (
        lambda: cut(open_photo(source), LOW, ASKED, EDGES),
        lambda: warp(open_photo(source), TURNED.matrix(ASKED), ASKED, EDGES),
        lambda: look_into(source),
    )
    with ThreadPoolExecutor(len(todo)) as pool:
        return [done.result() for done in [pool.submit(one) for one in todo]]


@pytest.mark.parametrize("tag", [1, 3, 6])
def test_pieces_cut_while_a_photo_is_decoded_are_those_of_its_file(tmp_path, slowly, tag):
    upright = samples.grain(*EDGES)
    path = samples.oriented(tmp_path / "grain.png", upright, tag)
    source = decoded_once(path, most_bytes=ROOM)
    slowly.set()  # it is handed out before a row of it is there
    *found, content = pieces(source)
    *true, known = pieces(path)
    for one, other in zip(found, true, strict=True):
        assert_array_equal(one, other)
    assert content == known
    assert content.colours > 1000


def test_what_is_wrong_with_a_photo_is_told_to_all_who_wait_for_its_rows(tmp_path, slowly):
    path = samples.damaged(tmp_path / "grain.png", samples.grain(*EDGES))
    source = decoded_once(path, most_bytes=ROOM)
    slowly.set()
    for crop in (
        Crop(0, 0, 100, 20),
        Crop(0, 250, 100, 20),
    ):  # where it is whole, and where it is not
        with pytest.raises(PhotoError, match="damaged"):
            cut(open_photo(source), crop, (100, 20), EDGES)
    with pytest.raises(PhotoError, match="damaged"):
        in_memory(open_photo(path))


def test_of_a_large_photo_nothing_is_held(tmp_path):
    path = samples.save(tmp_path / "grain.png", samples.grain(*EDGES))
    assert decoded_once(path, most_bytes=4 * np.prod(EDGES)) != path
    assert decoded_once(path, most_bytes=3 * int(np.prod(EDGES)) - 1) == path
