from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings, strategies as st

from oak_ledge.core.placements import Move, Scale, TurnOver
from oak_ledge.flows import jobs, placements
from oak_ledge.flows.workspace import AskedError, NotFoundError
from tests import samples, strategies
from tests.conftest import NOW, open_at

TIGHTEN = Scale(kind="scale", factor=0.5)
MOVE = Move(kind="move", dx=40, dy=20)


def test_a_gesture_is_only_answered_until_it_is_kept(workspace, placed):
    _, at = placed()
    before = placements.view(workspace, at)
    told = placements.tell(workspace, at, TIGHTEN)
    assert told.lying.width == before.lying.width / 2
    assert placements.view(workspace, at) == before
    kept = placements.keep(workspace, at, TIGHTEN, NOW)
    assert kept.lying == told.lying
    assert kept.scale == told.scale
    assert (kept.state, kept.steps, kept.can_undo) == ("placed", ["suggested", "tightened"], True)


def test_a_gesture_that_changes_nothing_is_no_step(workspace, placed):
    _, at = placed("3x3in@100")
    placements.keep(workspace, at, TurnOver(kind="turn"), NOW)
    assert placements.view(workspace, at).steps == ["suggested"]


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(strategies.gestures, min_size=1, max_size=5))
def test_undoing_everything_gives_the_first_placement_bit_for_bit(workspace, placed, gestures):
    _, at = placed()
    first = placements.view(workspace, at).lying
    for gesture in gestures:
        placements.keep(workspace, at, gesture, NOW)
    last = placements.view(workspace, at)
    while placements.view(workspace, at).can_undo:
        placements.walk(workspace, at, -1, NOW)
    assert placements.view(workspace, at).lying == first
    while placements.view(workspace, at).can_redo:
        placements.walk(workspace, at, 1, NOW)
    assert placements.view(workspace, at).lying == last.lying


def test_undo_and_redo_outlive_a_restart(workspace, placed):
    _, at = placed()
    placements.keep(workspace, at, TIGHTEN, NOW)
    placements.keep(workspace, at, MOVE, NOW)
    moved = placements.view(workspace, at).lying
    placements.walk(workspace, at, -1, NOW)
    again = open_at(workspace.data)
    assert placements.view(again, at).can_redo
    assert placements.walk(again, at, 1, NOW).lying == moved
    again.sessions.kw["bind"].dispose()


def test_a_new_step_forgets_what_was_undone(workspace, placed):
    _, at = placed()
    placements.keep(workspace, at, TIGHTEN, NOW)
    placements.walk(workspace, at, -1, NOW)
    view = placements.keep(workspace, at, MOVE, NOW)
    assert placements.view(workspace, at).steps == ["suggested", "moved"]
    assert not placements.view(workspace, at).can_redo
    assert view.lying.width == placements.view(workspace, at).lying.width


def test_what_is_put_by_number_is_kept_inside(workspace, placed):
    _, at = placed()
    far = placements.view(workspace, at).lying.model_copy(update={"cx": 9999.0, "width": 400.0})
    view = placements.put(workspace, at, far, NOW)
    assert view.crop[0] + view.crop[2] == 1200
    assert view.crop[2] == 400


def test_settling_is_a_state_that_a_new_gesture_ends(workspace, placed):
    _, at = placed()
    assert placements.settle(workspace, at, NOW).state == "settled"
    placements.keep(workspace, at, TIGHTEN, NOW)
    assert placements.view(workspace, at).state == "placed"


def test_every_photo_is_laid_on_every_size_each_turned_as_it_is(workspace, bring, tmp_path):
    wide = samples.photo(tmp_path / "wide.png", 300, 200)
    tall = samples.photo(tmp_path / "tall.png", 200, 300)
    told = bring(("wide.png", wide), ("tall.png", tall))
    ids = [photo.id for photo in told.photos]
    job_id = jobs.start(workspace, "", ids, [], ["4x5in@50", "100x100px"], NOW)
    job = jobs.view(workspace, job_id)
    assert [(p.width, p.height) for p in job.placements] == [
        (250, 200),
        (200, 250),
        (100, 100),
        (100, 100),
    ]
    assert job.name == "wide.png"
    assert job.counts == {"new": 4}
    assert job.next == job.placements[0]


@pytest.mark.parametrize(
    ("photo_ids", "size_ids", "texts", "error", "words"),
    [
        ([], [], ["100%"], AskedError, "at least one photo"),
        ([1], [], [], AskedError, "at least one size"),
        ([99], [], ["100%"], NotFoundError, "no photo 99"),
        ([1], [99], [], NotFoundError, "no size 99"),
        ([1], [], ["8x"], ValueError, "the height is missing"),
    ],
)
def test_a_job_that_cannot_be_leaves_nothing(
    workspace, placed, photo_ids, size_ids, texts, error, words
):
    placed()
    before = jobs.every(workspace)
    with pytest.raises(error, match=words):
        jobs.start(workspace, "x", photo_ids, size_ids, texts, NOW)
    assert jobs.every(workspace) == before


def test_the_counts_put_first_what_matters_most(workspace, placed):
    job_id, at = placed("20x25in@300")  # far larger than the photo
    placements.settle(workspace, at, NOW)
    assert jobs.view(workspace, job_id).counts == {"stopped": 1}
