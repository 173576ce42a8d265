from __future__ import annotations

import pytest
from hypothesis import given

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.reports.sentence import measured_lengths, output_lengths
from oak_ledge.core.reports.tally import tally
from oak_ledge.core.sizes.hidden_edges import insets
from tests import strategies
from tests.samples import size


def test_the_arithmetic_from_photo_to_print_by_hand():
    # 6000 × 4000 onto 8 × 10 in: 5:4 takes 5000 × 4000; a half of it is 2500 × 2000 at 1.2
    asked, extent = size("8x10in@300"), (6000, 4000)
    half = apply(asked, extent, suggest(asked, extent), Scale(kind="scale", factor=0.5))
    found = tally(
        lying_on(asked, extent, apply(asked, extent, half, Move(kind="move", dx=-250, dy=100)))
    )
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
        "6000 × 4000 px, cut to 2500 × 2000 (5:4, turned wide), ×1.2, makes 3000 × 2400 px: "
        "10 × 8 in at 300 ppi, a JPEG."
    )
    round_ = size("600x600px", outline={"kind": "circle"}, file={"format": "png"})
    told = tally(lying_on(round_, (600, 600), suggest(round_, (600, 600)))).sentence
    assert told.endswith("makes 600 × 600 px, cut to a circle, a PNG.")


@given(strategies.laid_sizes, strategies.extents, strategies.gestures)
def test_shares_are_shares_and_only_what_may_be_is_stretched_or_bare(asked, extent, gesture):
    found = tally(lying_on(asked, extent, apply(asked, extent, suggest(asked, extent), gesture)))
    sides = found.trimmed_sides
    for share in (found.trimmed, found.kept, found.shape_cost, *sides.model_dump().values()):
        assert 0 <= share <= 1
    assert asked.differ == "extend" or found.uncovered == 0
    assert asked.differ == "stretch" or found.stretch == 0
    across = 1 - sides.left - sides.right
    along = 1 - sides.top - sides.bottom
    assert 1 - found.trimmed == pytest.approx(across * along, abs=1e-7)
    assert (found.real_ppi is None) == (asked.ppi is None)


FRAME = {"opening": "8x10in", "lip": "6mm"}
MATTED = {"mat": {"outer": "16x20in", "window": "7.5x9.5in"}, "lip": "6mm"}


@pytest.mark.parametrize(
    ("changes", "file", "seen", "words"),  # of 8 × 10 in at 300 ppi, on a tall photo
    [
        ({}, (2400, 3000), None, "8 × 10 in at 300 ppi, a JPEG."),
        ({"bleed": "3mm"}, (2471, 3071), None, "at 300 ppi, 3 mm bleed all round, a JPEG."),
        ({"wrap": "1.5in"}, (3300, 3900), None, "1.5 in to wrap on every side"),
        ({"bleed": "3mm", "wrap": "4cm"}, (3416, 4016), None, "3 mm bleed all round, 4 cm to"),
        ({"frame": FRAME}, (2400, 3000), (7.5276, 9.5276), "7.53 × 9.53 in seen inside the frame"),
        ({"frame": MATTED}, (2400, 3000), (7.5, 9.5), "7.5 × 9.5 in seen in the mat's window"),
        (
            {"frame": {"mat": {"outer": "16x20in", "window": "12x9.5in"}}},
            (2400, 3000),
            (8, 9.5),
            "8 × 9.5 in seen in the mat's window",
        ),
    ],
)
@pytest.mark.parametrize("wide", [False, True])
def test_what_is_printed_and_what_is_seen_are_told_apart(changes, file, seen, words, wide):
    asked, extent = size("8x10in@300", **changes), (6000, 4000) if wide else (4000, 6000)
    found = tally(lying_on(asked, extent, suggest(asked, extent)))
    turned = (lambda pair: pair[::-1]) if wide else (lambda pair: pair)
    assert (found.width, found.height) == turned(file)
    assert found.printed == turned((8.0, 10.0))
    if seen is None:
        assert found.seen is None
    else:
        assert found.seen == pytest.approx(turned(seen), abs=1e-4)
    if not wide:
        assert words in found.sentence
    edges = insets(asked, (found.width, found.height))
    if not changes:
        assert edges is None
    if edges is None:
        return
    across, along = ((f / 300 - p) / 2 * 300 / f for f, p in zip(file, (8, 10), strict=True))
    assert edges[0] == pytest.approx(turned((across, along)), abs=2e-4)
    inner = seen or (8, 10)
    visible = tuple(1 - 2 * share for share in turned(edges[1]))
    wanted = [inner[i] * 300 / file[i] for i in (0, 1)]
    assert visible == pytest.approx(wanted, abs=5e-4)


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
