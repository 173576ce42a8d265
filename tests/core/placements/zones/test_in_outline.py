"""Keep zones and outlines: suggestions go around an outline, bleed and frame know it."""

from __future__ import annotations

from fractions import Fraction
from itertools import product

import numpy as np
import pytest

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.gesture import PhotoContext
from oak_ledge.core.gestures.start import KeepWhole
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.pixels.finish.outline import covered, outlined
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.placements.zones.around import suggest_around
from oak_ledge.core.placements.zones.in_outline import cut_line
from oak_ledge.core.sizes.edges.outline import outline_on
from oak_ledge.core.sizes.geometry import bleed_pixels, edge_path
from tests.samples import size, there

PHOTO = (6000, 4000)
DROP = 'path "M0.5 0L1 0.7L0.5 1L0 0.7Z"'


def keeps(left, top, width, height):
    return Keeps(zones=(Zone(left=left, top=top, width=width, height=height),))


def hidden(asked, placement, zones):
    notes = keep_notes(lying_on(asked, PHOTO, placement), zones)
    return [note for note in notes if note is not None and note.code in ("keep-hidden", "keep-cut")]


@pytest.mark.parametrize(
    ("outline", "zone"),
    [
        *product(
            ["circle", "ellipse", "rounded 40%"],
            [(900, 700, 700, 700), (2600, 300, 800, 400), (4600, 2400, 500, 900)],
        ),
        (DROP, (2600, 1800, 600, 500)),  # which is widest below its middle
    ],
)
def test_a_first_suggestion_goes_around_what_must_stay_whole(outline, zone):
    asked = size(f"1200x1200px outline {outline}")
    made = suggest_around(asked, PHOTO, keeps(*zone))
    assert hidden(asked, made, keeps(*zone)) == []


def test_the_fix_of_the_note_goes_around_it_too_and_no_looser_than_it_needs():
    asked, zone = size("1200x1200px outline circle"), keeps(2000, 1500, 600, 600)
    tight = apply(
        asked, PHOTO, suggest(asked, PHOTO), Type(kind="type", left=1990, top=1490, width=700)
    )
    (note,) = hidden(asked, tight, zone)
    assert "reaches outside the outline" in note.text
    fixed = apply(asked, PHOTO, tight, KeepWhole(kind="keep_whole"), PhotoContext(keeps=zone))
    assert hidden(asked, fixed, zone) == []
    assert 700 < fixed.width < 1100  # the circle around a square of 600 is 849 across


def test_where_nothing_helps_it_stays_and_is_noted():
    asked = size("1200x1200px outline circle")
    large = keeps(50, 50, 5900, 3900)
    made = suggest_around(asked, PHOTO, large)
    assert hidden(asked, made, large)


@pytest.mark.parametrize("outline", ["circle", "ellipse", "rounded 0.5in"])
def test_with_bleed_the_file_goes_around_the_line_it_is_cut_along(outline):
    asked = size(f"4x4in@100 outline {outline}", bleed="1/8in")
    assert bleed_pixels(asked) == 12.5
    lying = lying_on(asked, PHOTO, suggest(asked, PHOTO))
    assert lying.asked == (425, 425)
    made = outline_on(there(asked.outline), lying.asked, Fraction(100), 12.5)
    line = cut_line(lying) * lying.asked
    away = [np.hypot(*(line - point).T).min() for point in made[:: len(made) // 40]]
    assert max(away) == pytest.approx(12.5, abs=0.3)
    assert min(away) == pytest.approx(12.5, abs=0.3)
    pixels = np.full((425, 425, 3), 90, np.uint8)
    found = outlined(
        pixels,
        there(asked.outline),
        asked.ppi,
        whole=lying.asked,
        bleed=12.5,
        alpha=False,
        tone=None,
    )
    assert found[..., 3].astype(float).sum() / 255 == pytest.approx(
        covered(made, (425, 425)).sum(), rel=1e-3
    )
    assert (
        edge_path(asked, lying.asked) != edge_path(size(f"4x4in@100 outline {outline}"), (400, 400))
        or outline != "rounded 0.5in"
    )


def test_a_framed_piece_may_have_an_outline_and_a_stretched_canvas_none():
    asked = size("5x7in@300 outline ellipse", frame={"lip": "1/4in"})
    zone = keeps(2900, 1900, 200, 200)
    made = suggest_around(asked, PHOTO, zone)
    assert hidden(asked, made, zone) == []
    with pytest.raises(ValueError, match="a stretched canvas has straight edges"):
        size("5x7in@300 outline ellipse", wrap="1in")
