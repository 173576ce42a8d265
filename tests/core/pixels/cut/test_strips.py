"""Strips resampled by several cores at once, in memory that is used again."""

from __future__ import annotations

import time
from dataclasses import replace
from threading import Semaphore

import numpy as np
import pytest
from numpy.testing import assert_array_equal

from oak_ledge.core.pixels.cut import strips
from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.open.photo import decoded_once, open_photo
from oak_ledge.core.placements.crop import Crop
from tests import samples

EDGES = (120, 400)
CUTS = [
    (Crop(3.3, 0, 100, 400), (70, 333), None),
    (Crop(0, 10.5, 120, 300), (50, 41), None),
    (Crop(0, 0, 120, 400), (240, 800), "bicubic"),
    (Crop(0, 390, 120, 10), (120, 400), "nearest"),  # many strips of the same few rows
]


@pytest.fixture
def unsteady(monkeypatch):
    """Make strips of a few rows, on four cores, each taking its own time."""
    real, turn = strips.resample_strip, iter(range(10_000))

    def resample(*args, **more):
        time.sleep(0.002 * (next(turn) % 3))
        real(*args, **more)

    def begin():
        monkeypatch.setattr(strips, "resample_strip", resample)
        monkeypatch.setattr(strips, "_STRIP_VALUES", 4000)
        monkeypatch.setattr("os.cpu_count", lambda: 4)

    return begin


@pytest.mark.parametrize("spare", [None, 0, 1, 3])
@pytest.mark.parametrize(("crop", "asked", "method"), CUTS)
@pytest.mark.parametrize("bands", [1, 3, 4])
def test_strips_give_what_one_core_gives_whoever_is_done_first(
    tmp_path, unsteady, bands, crop, asked, method, spare
):
    path = samples.save(tmp_path / "grain.png", samples.grain(EDGES[0], EDGES[1], bands))
    true = cut(open_photo(path), crop, asked, EDGES, method)
    unsteady()
    cores = None if spare is None else Semaphore(spare)
    found = cut(replace(open_photo(path), spare=cores), crop, asked, EDGES, method)
    assert_array_equal(found, true)
    decoded = decoded_once(path, most_bytes=1_000_000, spare=cores)
    assert_array_equal(cut(open_photo(decoded), crop, asked, EDGES, method), true)
    if cores is not None:  # each that was taken was given back
        assert [cores.acquire(blocking=False) for _ in range(spare + 1)] == [True] * spare + [False]


@pytest.mark.parametrize("at", [0, 3, 12])
def test_what_goes_wrong_in_a_strip_ends_the_cut_and_frees_its_core(
    tmp_path, monkeypatch, unsteady, at
):
    path = samples.save(tmp_path / "grain.png", samples.grain(*EDGES))
    unsteady()
    real, turn, cores = strips.resample_strip, iter(range(10_000)), Semaphore(2)

    def resample(*args, **more):
        time.sleep(0.002)
        if next(turn) >= at:  # this one, and all that come after it
            raise MemoryError
        real(*args, **more)

    monkeypatch.setattr(strips, "resample_strip", resample)
    with pytest.raises(MemoryError):
        cut(open_photo(path), Crop(0, 0, *EDGES), (60, 200), EDGES)
    turn = iter(range(10_000))
    with pytest.raises(MemoryError):
        cut(replace(open_photo(path), spare=cores), Crop(0, 0, *EDGES), (60, 200), EDGES)
    assert [cores.acquire(blocking=False) for _ in range(3)] == [True, True, False]


def test_values_beyond_a_whole_number_are_clipped_to_it():
    hard = np.zeros((64, 64, 1), np.uint8)
    hard[16:48, 16:48] = 255  # Lanczos swings over at the edge, up and down
    found = strips.resample(hard, (40, 40), "lanczos")
    soft = strips.resample(hard.astype(np.float32), (40, 40), "lanczos")
    assert soft.min() < -2
    assert soft.max() > 257
    assert_array_equal(found, np.floor(soft.clip(0, 255) + 0.5).clip(0, 255).astype(np.uint8))
