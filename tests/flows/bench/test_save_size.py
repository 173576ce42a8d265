"""Saving what is on the bench: what will be saved is told first, and what was saved stands first."""

from __future__ import annotations

from oak_ledge.core.gestures.pull import Draw
from oak_ledge.flows.bench import history
from oak_ledge.flows.bench.sizes import save_size
from oak_ledge.flows.bench.sizes.other_size import choices
from oak_ledge.flows.bench.sizes.save_size import SaveSizeBody
from oak_ledge.flows.library import sizes
from tests.conftest import NOW


def test_what_will_be_saved_is_told_and_its_name_carries_the_resolution(workspace, placed):
    _, at = placed("4x5in@150")
    told = save_size.would_keep(workspace, at)
    assert told.name == "4 × 5 in 150 ppi"
    assert told.sentence.startswith("4 × 5 in at 150 ppi: 600 × 750 px")


def test_a_free_crop_is_told_and_kept_as_its_exact_pixels(workspace, placed):
    sizes.add_starters(workspace)
    _, at = placed("100%")
    history.keep(workspace, at, Draw(kind="draw", x0=100, y0=80, x1=460, y1=200), NOW)
    told = save_size.would_keep(workspace, at)
    assert (told.text, told.name) == ("360x120px", "360 × 120 px")
    kept = save_size.keep_of(workspace, at, SaveSizeBody(name="Quay strip"))
    assert kept.text == told.text
    assert sizes.choices(workspace)[0].name == "Quay strip"  # first where a job begins
    (row,) = [row for row in choices(workspace, at).library if row.name == "Quay strip"]
    assert (row.label, row.facts) == ("360 × 120 px", "")
