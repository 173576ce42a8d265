"""Nothing is lost: steps of several hands, sizes that change, what many pieces had done to them."""

from __future__ import annotations

import threading
from functools import partial

import pytest
from hypothesis import HealthCheck, given, settings, strategies as st

from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.pixels import Finish
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle, Mirror, Turn
from oak_ledge.core.photos.keep_zones import MOST_ZONES, Keeps, Zone
from oak_ledge.core.placements.fit import tightness
from oak_ledge.flows.bench import fixes, history, keep_zones as zones, view as bench
from oak_ledge.flows.errors import ChangedMeanwhileError, RequestError
from oak_ledge.flows.jobs import batches, jobs, size_changes
from oak_ledge.flows.jobs.batches import Over
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody, SizeChange
from oak_ledge.flows.photos import photos
from oak_ledge.store import photos as store
from oak_ledge.store.database import transaction
from tests import samples, strategies
from tests.conftest import NOW

TIGHTEN = Scale(kind="scale", factor=0.8)
ROUNDS = 25


def at_once(*works):
    """Do several things from a barrier on; give what each gave or raised."""
    barrier, came = threading.Barrier(len(works)), {}

    def do(n, work):
        barrier.wait()
        try:
            came[n] = work()
        except Exception as exc:  # noqa: BLE001 - given to the test
            came[n] = exc

    threads = [threading.Thread(target=do, args=pair) for pair in enumerate(works)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return [came[n] for n in range(len(works))]


@pytest.mark.thorough
def test_of_two_at_once_no_confirmed_step_is_lost(workspace, placed):
    _, at = placed()
    first, answer = bench.view(workspace, at).lying, 0
    for n in range(ROUNDS):
        moves = [Move(kind="move", dx=dx, dy=0) for dx in (1 + n % 5, -2)]
        tight = Scale(kind="scale", factor=0.99)
        came = at_once(
            *(lambda one=one: history.keep(workspace, at, one, NOW) for one in (moves[0], tight))
        )
        assert not [one for one in came if isinstance(one, Exception)]
        answer += 2
        assert len(bench.view(workspace, at).steps) == answer + 1
    while bench.view(workspace, at).can_undo:
        history.walk(workspace, at, -1, NOW)
    assert bench.view(workspace, at).lying == first


def test_of_two_that_name_the_step_they_saw_one_is_told_what_is_newer(workspace, placed):
    _, at = placed()
    for _ in range(ROUNDS):
        seen = bench.view(workspace, at).step
        came = at_once(
            *(
                partial(history.keep, workspace, at, Scale(kind="scale", factor=f), NOW, seen)
                for f in (0.97, 0.96)
            )
        )
        lost = [one for one in came if isinstance(one, ChangedMeanwhileError)]
        kept = [one for one in came if not isinstance(one, Exception)]
        assert (len(lost), len(kept)) == (1, 1)
        assert lost[0].newer == kept[0]
        assert kept[0].step == bench.view(workspace, at).step


@pytest.mark.parametrize("step", range(3))
def test_an_older_step_is_refused_by_everything_that_changes(workspace, placed, step):
    _, at = placed()
    for _ in range(3):
        history.keep(workspace, at, TIGHTEN, NOW)
    before = bench.view(workspace, at)
    for change in (
        lambda: history.keep(workspace, at, TIGHTEN, NOW, step),
        lambda: history.put(workspace, at, before.lying, NOW, step),
        lambda: history.walk(workspace, at, -1, NOW, step),
        lambda: history.go_to(workspace, at, 0, NOW, step),
        lambda: history.settle(workspace, at, NOW, step),
        lambda: fixes.fix(workspace, at, "size-changed", NOW, step),
        lambda: history.tell(workspace, at, TIGHTEN, step),
    ):
        with pytest.raises(ChangedMeanwhileError, match=r"quay\.jpg .* was changed meanwhile"):
            change()
    assert bench.view(workspace, at) == before


def test_a_step_of_the_same_place_in_the_history_is_still_another_one(workspace, placed):
    _, at = placed()
    seen = history.keep(workspace, at, TIGHTEN, NOW).step
    history.walk(workspace, at, -1, NOW)
    now = history.keep(workspace, at, Move(kind="move", dx=3, dy=0), NOW)
    assert (now.place, len(now.steps)) == (1, 2)
    assert now.step != seen
    with pytest.raises(ChangedMeanwhileError):
        history.keep(workspace, at, TIGHTEN, NOW, seen)


def test_of_two_changes_of_a_size_at_one_version_one_is_refused(workspace):
    kept = sizes.add(workspace, SizeBody(text="60x40px", name="Small"))
    for n in range(ROUNDS):
        version = sizes.view(workspace, kept.id).version
        texts = (f"{61 + n}x40px", f"{61 + n}x90px")
        came = at_once(
            *(
                partial(sizes.change, workspace, kept.id, SizeChange(version=version, text=text))
                for text in texts
            )
        )
        lost = [one for one in came if isinstance(one, ChangedMeanwhileError)]
        assert len(lost) == 1
        assert lost[0].newer == sizes.view(workspace, kept.id)
        assert sizes.view(workspace, kept.id).version == version + 1


def test_a_batch_is_undone_only_where_its_own_step_still_stands(workspace, placed):
    job_id, at = placed()
    batches.do(workspace, job_id, [at], Over(do="turn"), NOW)
    history.walk(workspace, at, -1, NOW)
    own = history.keep(workspace, at, TIGHTEN, NOW)
    done = batches.undo(workspace, job_id, NOW)
    assert (done.changed, len(done.refused)) == (0, 1)
    assert bench.view(workspace, at).lying == own.lying


@pytest.fixture
def worked_on(workspace, bring, tmp_path):
    """A job of two photos on a saved size; one of them has had all kinds of work done to it."""
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 1200, 800 + n)) for n in range(2)]
    kept = sizes.add(workspace, SizeBody(text="8x10in@60", name="Wall"))
    ids = [photo.id for photo in bring(*files).photos]
    job_id = jobs.start(workspace, "Evening", ids, [kept.id], [], NOW)
    one, two = (piece.id for piece in jobs.view(workspace, job_id).placements)
    for gesture in (
        Mirror(kind="mirror"),
        TIGHTEN,
        Move(kind="move", dx=-40, dy=25),
        Angle(kind="angle", angle=3),
        Finish(kind="finish", sharpen_for="rough"),
    ):
        history.keep(workspace, one, gesture, NOW)
    history.settle(workspace, one, NOW)
    return job_id, kept.id, one, two


def share(workspace, at):
    return tightness(bench.load(workspace, at).lying)


def test_a_size_of_which_only_the_file_changed_moves_no_crop(workspace, worked_on):
    _, size_id, one, two = worked_on
    before = {at: bench.view(workspace, at) for at in (one, two)}
    sizes.change(workspace, size_id, SizeChange(version=1, file={"quality": 80}))
    fixes.fix(workspace, two, "size-changed", NOW)
    for at in (one, two):
        after = bench.view(workspace, at)
        assert (after.crop, after.placement, after.state) == (
            before[at].crop, before[at].placement, before[at].state,
        )  # fmt: skip
        assert after.size.size.file.quality == 80
    after = bench.view(workspace, one)
    assert (after.lying.mirror, after.lying.angle, after.sharpen_for) == (True, 3, "rough")
    assert after.own_size is not None
    assert after.own_size.size.file.quality == 80
    assert after.steps == [*before[one].steps, "the saved size taken"]


def test_a_size_of_another_shape_keeps_centre_angle_and_share_and_is_undone_for_all(
    workspace, worked_on
):
    job_id, size_id, one, two = worked_on
    before = {at: bench.view(workspace, at) for at in (one, two)}
    tight = share(workspace, one)
    sizes.change(workspace, size_id, SizeChange(version=1, text="5x7in@80"))
    fixes.fix(workspace, one, "size-changed", NOW)
    after = bench.view(workspace, one)
    assert (after.asked.width, after.asked.height) == (560, 400)
    assert (after.lying.cx, after.lying.cy) == pytest.approx(
        (before[one].lying.cx, before[one].lying.cy)
    )
    assert (after.lying.angle, after.lying.mirror, after.state) == (3, True, "placed")
    assert share(workspace, one) == pytest.approx(tight)
    assert bench.view(workspace, two).state == "new"
    done = batches.undo(workspace, job_id, NOW)
    assert (done.changed, done.refused) == (2, [])
    for at in (one, two):
        again = bench.view(workspace, at)
        assert (again.lying, again.state) == (before[at].lying, before[at].state)
        assert (again.size, again.step) == (before[at].size, before[at].step)


def test_what_is_undone_past_a_changed_size_is_as_it_was_and_stays_on_its_own(workspace, worked_on):
    job_id, size_id, one, two = worked_on
    before = bench.view(workspace, one)
    sizes.change(workspace, size_id, SizeChange(version=1, text="5x7in@80"))
    fixes.fix(workspace, two, "size-changed", NOW)
    taken = bench.view(workspace, one)
    back = history.walk(workspace, one, -1, NOW)
    assert (back.crop, back.asked) == (before.crop, before.asked)
    assert history.walk(workspace, one, 1, NOW).lying == taken.lying
    moved = history.keep(workspace, one, Move(kind="move", dx=9, dy=0), NOW)
    done = batches.undo(workspace, job_id, NOW)
    assert (done.changed, [left.placement_id for left in done.refused]) == (1, [one])
    assert bench.view(workspace, one).crop == moved.crop
    assert bench.view(workspace, one).asked == moved.asked


def test_four_corners_outlive_another_size(workspace, worked_on):
    _, size_id, one, two = worked_on
    corners = ((200, 150), (900, 170), (920, 640), (180, 650))
    history.keep(workspace, one, Square(kind="square", corners=corners), NOW)
    sizes.change(workspace, size_id, SizeChange(version=1, text="600x600px"))
    fixes.fix(workspace, two, "size-changed", NOW)
    after = bench.view(workspace, one)
    assert after.lying.corners == corners
    assert (after.asked.width, after.asked.height, after.stretch) == (600, 600, 0)


@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.lists(strategies.gestures, min_size=1, max_size=4),
    st.sampled_from(["5x7in@80", "3:1", "500x500px"]),
)
@pytest.mark.thorough
def test_any_work_comes_back_bit_for_bit_after_another_size(workspace, placed, gestures, text):
    job_id, at = placed("4x5in@100")
    for gesture in gestures:
        history.keep(workspace, at, gesture, NOW)
    before = bench.view(workspace, at)
    kept = sizes.add(workspace, SizeBody(text=text))
    with transaction(workspace.sessions) as session:
        row = bench.placed_in(session, at)
        size_changes.take_size(
            session, job_id, row.job_size_id, kept.size, "taken", NOW, saved_id=None
        )
    batches.undo(workspace, job_id, NOW)
    assert bench.view(workspace, at).lying == before.lying


def test_a_found_subject_is_not_lost_where_no_zone_can_be_added(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 900, 600))).photos[0]
    zone = Zone(left=10, top=10, width=50, height=50)
    zones.set_keeps(workspace, photo.id, Keeps(zones=(zone,) * MOST_ZONES), NOW)
    with transaction(workspace.sessions) as session:
        store.set_found(session, photo.id, Keeps(zones=(zone,)))
    with pytest.raises(RequestError, match="can have 60 zones"):
        zones.decide_found(workspace, photo.id, NOW, take=True)
    assert photos.find_photo(workspace, photo.id).found == Keeps(zones=(zone,))


def test_a_zone_is_forgotten_by_number_only_as_long_as_the_numbers_stand(workspace, placed):
    _, at = placed()
    drawn = zones.Marked(kind="zone", x0=10, y0=10, x1=90, y1=90)
    for _ in range(3):
        zones.mark(workspace, at, drawn, NOW)
    assert len(zones.forget(workspace, at, 0, NOW, 3).keeps) == 2
    with pytest.raises(ChangedMeanwhileError, match="changed meanwhile"):
        zones.forget(workspace, at, 0, NOW, 3)
    assert len(bench.view(workspace, at).keeps) == 2


def test_turning_over_twice_after_a_batch_is_a_step_of_its_own(workspace, placed):
    job_id, at = placed()
    batches.do(workspace, job_id, [at], Over(do="turn"), NOW)
    again = history.keep(workspace, at, Turn(kind="turn"), NOW)
    assert batches.undo(workspace, job_id, NOW).changed == 0
    assert bench.view(workspace, at).lying == again.lying
