from __future__ import annotations

import pytest
from hypothesis import given

from oak_ledge.core.placements import Move, Scale, apply, suggest
from oak_ledge.core.tally import measured_lengths, output_lengths, tally
from tests import strategies
from tests.samples import size


def test_the_arithmetic_from_photo_to_print_by_hand():
    # 6000 × 4000 onto 8 × 10 in: 5:4 takes 5000 × 4000; a half of it is 2500 × 2000 at 1.2
    asked, held = size("8x10in@300"), (6000, 4000)
    half = apply(asked, held, suggest(asked, held), Scale(kind="scale", factor=0.5))
    found = tally(asked, held, apply(asked, held, half, Move(kind="move", dx=-250, dy=100)))
    assert (found.width, found.height, found.ppi) == (3000, 2400, 300)
    assert found.crop == (1500, 1100, 2500, 2000)
    assert found.scale == pytest.approx(1.2)
    assert found.real_ppi == pytest.approx(250)
    assert found.trimmed == pytest.approx(1 - 2500 * 2000 / 24e6)
    assert found.trimmed_sides.model_dump() == pytest.approx(
        {"left": 0.25, "top": 0.275, "right": 2000 / 6000, "bottom": 0.225}
    )
    assert found.kept == pytest.approx(0.25)
    assert found.shape_cost == pytest.approx(1 / 6)
    assert (found.uncovered, found.stretch, found.copied) == (0, 0, False)
    assert found.sentence == (
        "6000 × 4000 px, cut to 2500 × 2000 (5:4), ×1.2, makes 3000 × 2400 px: "
        "10 × 8 in at 300 ppi, a JPEG."
    )


@given(strategies.laid_sizes, strategies.held, strategies.gestures)
def test_shares_are_shares_and_nothing_is_stretched_or_bare(asked, held, gesture):
    found = tally(asked, held, apply(asked, held, suggest(asked, held), gesture))
    sides = found.trimmed_sides
    for share in (found.trimmed, found.kept, found.shape_cost, *sides.model_dump().values()):
        assert 0 <= share <= 1
    assert found.uncovered == 0
    assert abs(found.stretch) < 1e-9
    across = 1 - sides.left - sides.right
    along = 1 - sides.top - sides.bottom
    assert 1 - found.trimmed == pytest.approx(across * along, abs=1e-7)
    assert (found.real_ppi is None) == (asked.ppi is None)


@pytest.mark.parametrize(
    ("text", "pixels", "words"),
    [
        ("8x10in@300", (3000, 2400), "10 × 8 in"),
        ("21x29.7cm@300", (2480, 3508), "21 × 29.7 cm"),
        ("1200x1600px@300", (1200, 1600), "4 × 5.33 in"),
        ("1200x1600px", (1200, 1600), None),
    ],
)
def test_the_physical_size_is_said_in_the_sizes_own_unit(text, pixels, words):
    assert output_lengths(size(text), pixels) == words


def test_whole_pixels_are_measured_to_a_thousandth():
    assert measured_lengths(2480, 3508, 300, "cm") == "20.997 × 29.701 cm"
