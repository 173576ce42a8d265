from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.enough_resolution import advise, lost, viewing_distance
from oak_ledge.core.reports.tally import tally
from tests.samples import size

EDGE = 192


def grating(cycles, amplitude=0.2):
    """A tile of upright lines, `cycles` per photo pixel."""
    line = 0.5 + amplitude * np.sin(2 * np.pi * cycles * np.arange(EDGE))
    return np.broadcast_to(line, (EDGE, EDGE))


def noise(level, seed=1):
    return 0.5 + np.random.default_rng(seed).normal(0, level, (EDGE, EDGE))


@given(st.floats(0.05, 0.44), st.floats(0.02, 0.4))
def test_a_grating_is_lost_wholly_beyond_the_cutoff_and_not_at_all_below(cycles, amplitude):
    tile = grating(cycles, amplitude)
    rms = amplitude / 2**0.5
    assert lost([tile], cycles - 0.03)[0] == pytest.approx(rms, rel=0.05)
    assert lost([tile], cycles + 0.03)[0] < 0.03 * rms
    assert lost([tile], 0.5)[0] == 0


def test_noise_is_no_detail():
    tile = noise(0.03)
    assert lost([tile], 0.25)[0] == pytest.approx(0.03 * 0.75**0.5, rel=0.06)
    assert lost([tile], 0.25, noise=0.03)[0] < 0.009


def answer(tiles, text="8x10in@300", extent=(6000, 4000), level=0.0, **changes):
    asked = size(text, **{"receiver": {"low": 240, "high": 300}} | changes)
    found = tally(lying_on(asked, extent, suggest(asked, extent)))
    return advise(asked, found, extent, tiles, level)


# the crop has 500 real ppi: a cutoff of c ppi passes c/1000 cycles per photo pixel
FLAT = [np.full((EDGE, EDGE), 0.4)] * 20
FINE = [*FLAT[:16], *[grating(0.27)] * 4]  # lines that 283 ppi just carries, in a fifth of the crop
EVERYWHERE = [grating(0.2795, 0.1)] * 20


@pytest.mark.parametrize(
    ("tiles", "level", "ppi", "words"),
    [
        (FLAT, 0, 240, "Nothing to be seen is lost at 240 ppi."),
        (FINE, 0, 283, "283 ppi."),
        (EVERYWHERE, 0, 291, "Fine detail all over: 291 ppi."),
        ([grating(0.31)] * 20, 0, 300, "Fine detail all over: 300 ppi."),
        ([noise(0.02, seed) for seed in range(20)], 0.02, 240, "Nothing to be seen is lost"),
    ],
)
def test_the_lowest_resolution_that_loses_nothing_to_be_seen_is_advised(tiles, level, ppi, words):
    near = answer(tiles, "4x6in@300", extent=(3000, 2000), level=level)  # looked at from 12 in
    assert near.real == 500
    assert words in near.text
    assert near.ppi == min(ppi, 287)  # all that an eye tells apart from 12 in
    kept = [point.kept for point in near.curve]
    assert kept == sorted(kept)
    assert (near.curve[0].ppi, near.curve[-1].ppi) == (240, 300)


def test_what_no_eye_tells_apart_from_where_it_hangs_is_not_asked_for():
    far = answer(EVERYWHERE, "20x30in@300", extent=(15000, 10000))
    assert viewing_distance((20, 30)) == pytest.approx(54.08, abs=0.01)
    assert (far.sight, far.ppi) == (64, 240)
    assert far.text.endswith("Seen from there 240 ppi is enough.")


def test_where_it_is_not_enough_what_would_do_is_said():
    short = answer(FLAT, extent=(1500, 1000))
    assert short.real == 125
    assert "The crop needs 2400 × 1920 photo pixels, 1.92 times as many on each edge" in short.text
    assert short.text.endswith("a scan of an original of 10 × 8 in at 240 ppi.")


def test_without_a_print_there_is_nothing_to_advise():
    none = answer(FLAT, "1200x1600px", receiver=None)
    assert (none.ppi, none.curve) == (None, ())
    assert "Relabel" in none.text
