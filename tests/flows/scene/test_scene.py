"""Grounds and retouches as work: asked for, made by a worker, taken, undone, lost, cancelled."""

from __future__ import annotations

from datetime import timedelta

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.errors import FillError
from oak_ledge.core.gestures.beyond_photo import Continue, Ground
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.turn import Mirror, Quarter
from oak_ledge.core.photos.continued import BrushedOver
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.core.pixels.open.photo import upright_pixels
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.flows.bench import fixes, history, keep_zones as zones, view as bench
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.delivery.filling import AtWork, fill_next, is_wanted_no_more
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.jobs.batches import OnGround
from oak_ledge.flows.photos import previews, scenes, tries
from oak_ledge.flows.photos.photos import find_photo
from oak_ledge.flows.pieces import pictures
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.scene import brushing, grounds, retouch_tries, retouches
from oak_ledge.flows.scene.brushing import Brushed
from oak_ledge.flows.scene.retouches import RetouchesBody
from oak_ledge.store import placements
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.photos import present
from oak_ledge.store.work import fills
from tests import samples
from tests.conftest import NOW
from tests.samples import there

WIDE = "4:3 extend"
TAKE = Continue(kind="continue")
DOT = Stroke(points=((70.0, 50.0),), radius=9)


def work(workspace, most=9):
    """Do what waits, as a worker would; give how much that was."""
    done = 0
    while done < most and fill_next(workspace, "one", lambda: NOW):
        done += 1
    return done


@pytest.fixture
def wide(placed):
    """A small photo that a size is wider than: (job id, placement id)."""
    return placed(WIDE, 150, 100)


def brush(workspace, at, **more):
    return brushing.brush(workspace, at, Brushed(strokes=(DOT,), **more), NOW)


def states(found):
    return {one.attempt: one.state for one in found}


def test_tries_are_asked_for_made_in_turn_ordered_and_taken(workspace, wide):
    _, at = wide
    assert set(states(grounds.tries(workspace, at, NOW)).values()) == {"waiting"}
    assert grounds.picture(workspace, at, 1, 200) is None
    assert fill_next(workspace, "one", lambda: NOW)
    found = grounds.tries(workspace, at, NOW)
    assert states(found) == {1: "made", 2: "waiting", 3: "waiting", 4: "waiting"}
    with transaction(workspace.sessions) as session:
        fills.claim(session, "two", 10**9, NOW, NOW + timedelta(minutes=1))
    later = {one.attempt: one for one in grounds.tries(workspace, at, NOW + timedelta(seconds=4))}
    assert later[2].state == "being made"
    assert 0.3 < later[2].share < 0.9
    assert 1 <= there(later[2].seconds) <= 6
    with transaction(workspace.sessions) as session:
        fills.put_all_back(session)
    assert work(workspace) == 3
    found = grounds.tries(workspace, at, NOW)
    kept = [one.order for one in found if not one.left_out]
    assert kept == list(range(1, len(kept) + 1))
    with Image.open(grounds.picture(workspace, at, 2, 200)) as shown:
        assert shown.size == (148, 111)
    view = history.keep(workspace, at, Continue(kind="continue", attempt=2), NOW)
    assert (view.being_made, view.steps[-1]) == (True, "ground continued")
    assert [one.attempt for one in grounds.tries(workspace, at, NOW) if one.taken] == [2]
    assert work(workspace) == 1  # the one that was taken, at full size
    assert not bench.view(workspace, at).being_made
    assert bench.view(workspace, at).stations[3].unit == "continued"
    with transaction(workspace.sessions) as session:
        assert fills.waiting(session) == 0


def test_two_windows_look_at_tries_of_their_own_and_both_are_made(workspace, wide):
    _, at = wide
    found = {}
    for _ in range(9):
        for seed in (1, 2):
            found[seed] = states(grounds.tries(workspace, at, NOW, seed=seed))
        fill_next(workspace, "one", lambda: NOW)
    assert {state for one in found.values() for state in one.values()} == {"made"}


def test_another_seed_and_another_crop_want_the_former_no_more(workspace, wide, monkeypatch):
    _, at = wide
    grounds.tries(workspace, at, NOW)
    monkeypatch.setattr(tries, "LOOKED", -1.0)  # nobody looks at them any more
    grounds.tries(workspace, at, NOW, seed=2)
    with reading(workspace.sessions) as session:
        assert fills.waiting(session) == 4
    grounds.cancel(workspace, at)
    with reading(workspace.sessions) as session:
        assert fills.waiting(session) == 0


def test_within_the_photo_there_are_no_tries(workspace, placed):
    _, at = placed("3:2", 150, 100)
    assert grounds.tries(workspace, at, NOW) == []
    with pytest.raises(NotFoundError, match="stays within its photo"):
        grounds.picture(workspace, at, 1, 200)


def test_a_worker_that_is_lost_harms_nothing_and_one_that_always_is_ends(workspace, wide):
    _, at = wide
    grounds.tries(workspace, at, NOW)
    for n in range(fills.MOST_LOST):
        with transaction(workspace.sessions) as session:
            claimed = there(fills.claim(session, f"w{n}", 10**9, NOW, NOW))
            assert there(claimed.work.ground).attempt == 1
        with transaction(workspace.sessions) as session:
            fills.put_back(session, f"w{n}")
    found = {one.attempt: one for one in grounds.tries(workspace, at, NOW)}
    assert (found[1].state, "twice" in there(found[1].reason)) == ("failed", True)
    assert work(workspace) == 3


def test_what_is_cancelled_is_seen_by_the_worker_that_is_at_it(workspace, wide):
    _, at = wide
    grounds.tries(workspace, at, NOW)
    with transaction(workspace.sessions) as session:
        one = there(fills.claim(session, "one", 10**9, NOW, NOW + timedelta(minutes=1)))
    at_work = AtWork(one.id)
    assert not is_wanted_no_more(workspace, "one", at_work)
    assert is_wanted_no_more(workspace, "another", at_work)
    grounds.cancel(workspace, at)
    assert is_wanted_no_more(workspace, "one", at_work)
    assert not is_wanted_no_more(workspace, "one", AtWork())


def test_no_more_is_begun_than_memory_holds(workspace, wide):
    _, at = wide
    grounds.tries(workspace, at, NOW)
    with transaction(workspace.sessions) as session:
        assert fills.claim(session, "one", 1, NOW, NOW) is not None  # one alone may
        assert fills.claim(session, "two", 1, NOW, NOW) is None
        assert fills.claim(session, "two", 10**9, NOW, NOW) is not None


def test_what_fails_says_why_and_holds_up_nothing(workspace, wide, monkeypatch):
    _, at = wide
    photo = bench.load(workspace, at).photo
    everything = Zone(left=0, top=0, width=150, height=100)
    zones.set_keeps(workspace, photo.id, Keeps(zones=(everything,)), NOW)
    grounds.tries(workspace, at, NOW)
    assert work(workspace) == 4
    found = grounds.tries(workspace, at, NOW)
    assert {one.state for one in found} == {"failed"}
    assert "nothing left of the photo" in there(found[0].reason)
    with pytest.raises(RequestError, match="nothing left of the photo"):
        grounds.picture(workspace, at, 1, 200)


def test_the_file_has_the_ground_that_was_taken_whatever_was_cleaned_away(workspace, wide):
    job_id, at = wide
    history.keep(workspace, at, TAKE, NOW)
    work(workspace)
    made = [path.read_bytes() for path in sorted(workspace.scenes.rglob("*.npz"))]
    first = orders.deliver(workspace, job_id, None, NOW)
    for path in workspace.scenes.rglob("*.npz"):
        path.write_bytes(path.read_bytes()[:-40])  # damaged on the disk
    again = orders.deliver(workspace, job_id, None, NOW)
    assert [one.files[0].state for one in (first, again)] == ["made", "made"]
    one, other = (there(found.files[0].measured).sha256 for found in (first, again))
    assert one == other
    assert [path.read_bytes() for path in sorted(workspace.scenes.rglob("*.npz"))] == made


def test_a_crop_that_leaves_its_ground_says_so_and_gets_a_new_one(workspace, wide):
    job_id, at = wide
    history.keep(workspace, at, TAKE, NOW)
    view = history.keep(workspace, at, Move(kind="move", dx=0, dy=-4), NOW)
    assert "ground-unmade" in {note.code for note in view.notes}
    box = there(bench.load(workspace, at).placement.continued).box
    view = fixes.fix(workspace, at, "ground-unmade", NOW)
    assert "ground-unmade" not in {note.code for note in view.notes}
    assert there(bench.load(workspace, at).placement.continued).box[1] < box[1]
    with pytest.raises(RequestError):
        fixes.fix(workspace, at, "ground-unmade", NOW)
    history.keep(workspace, at, Move(kind="move", dx=0, dy=-9), NOW)
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert file.state == "made"


def test_too_large_a_ground_is_refused_and_nothing_is_kept(workspace, placed):
    _, at = placed("40:1 extend", 150, 100)
    with pytest.raises(FillError, match="times the photo"):
        history.keep(workspace, at, TAKE, NOW)
    assert bench.load(workspace, at).placement.continued is None


def test_a_size_that_would_need_too_large_a_ground_is_stopped_and_listed_all_the_same(
    workspace, placed
):
    job_id, at = placed("40:1 extend", 150, 100)
    batches.do(workspace, job_id, [at], OnGround(do="ground", fill="blur"), NOW)
    history.keep(workspace, at, Ground(kind="ground", fill="continued"), NOW)
    note = next(n for n in bench.view(workspace, at).notes if n.code == "ground-unmade")
    assert (note.level, "times the photo" in note.text) == ("stop", True)
    assert orders.plan(workspace, job_id, None)[0].held == note.text
    assert len(hash_of(bench.load(workspace, at))) == 64


def test_what_could_not_be_made_is_told_and_made_on_a_new_wish(workspace, wide, monkeypatch):
    _, at = wide
    view = history.keep(workspace, at, TAKE, NOW)
    full = OSError(28, "No space left on device")

    def no_room(*_):
        raise full

    with monkeypatch.context() as patched:
        patched.setattr("oak_ledge.flows.photos.scenes.replace_file", no_room)
        assert work(workspace) == 1
    view = bench.view(workspace, at)
    assert (view.being_made, "disk is full" in view.not_made) == (False, True)
    pictures.piece_preview(workspace, bench.load(workspace, at), 150)
    with reading(workspace.sessions) as session:
        assert fills.waiting(session) == 0  # looking at it asks no more
    history.keep(workspace, at, Continue(kind="continue"), NOW)
    assert work(workspace) == 1
    assert not bench.view(workspace, at).not_made


def test_many_pieces_are_continued_at_once_and_undone_at_once(workspace, wide):
    job_id, at = wide
    done = batches.do(workspace, job_id, [at], OnGround(do="ground", fill="continued"), NOW)
    assert done.changed == 1
    assert there(bench.load(workspace, at).placement.continued).attempt == 1
    batches.undo(workspace, job_id, NOW)
    assert bench.load(workspace, at).placement.continued is None


def test_a_copied_job_has_the_grounds_and_retouches_of_the_first(workspace, wide):
    job_id, at = wide
    history.keep(workspace, at, TAKE, NOW)
    brush(workspace, at)
    lying = bench.load(workspace, at).placement
    copied = jobs.view(workspace, jobs.copy(workspace, job_id, NOW)).placements[0].id
    view = bench.view(workspace, copied)
    assert (bench.load(workspace, copied).placement, view.steps[-1]) == (lying, "ground continued")
    assert view.stations[0].unit == "px · 1 retouch"


def test_all_pieces_of_a_photo_show_a_retouch_until_it_is_undone(workspace, placed):
    job_id, at = placed("150x100px, 3:2", 150, 100)
    every = [one.id for one in jobs.view(workspace, job_id).placements]
    before = [hash_of(bench.load(workspace, one)) for one in every]
    plain = pictures.piece_preview(workspace, bench.load(workspace, every[1]), 150).read_bytes()
    found = brush(workspace, at)
    assert (found.made, found.pieces, found.words) == ((False,), 2, ("1. painted over, try 1",))
    assert bench.view(workspace, at).being_made
    stands_in = pictures.piece_preview(workspace, bench.load(workspace, every[1]), 150)
    assert stands_in.read_bytes() == plain
    assert work(workspace) == 1
    assert not bench.view(workspace, at).being_made
    shown = pictures.piece_preview(workspace, bench.load(workspace, every[1]), 150).read_bytes()
    assert shown != plain
    assert all(
        a != hash_of(bench.load(workspace, one)) for a, one in zip(before, every, strict=True)
    )
    view = bench.view(workspace, every[1])
    note = next(note for note in view.notes if note.code == "retouched")
    assert (note.level, "The original file is not altered" in note.text) == ("fine", True)
    assert view.stations[0].unit == "px · 1 retouch"
    history.walk(workspace, at, -1, NOW)
    assert [hash_of(bench.load(workspace, one)) for one in every] == before
    history.walk(workspace, at, 1, NOW)
    assert len(retouches.view(workspace, 1).retouches) == 1
    assert all(retouches.view(workspace, 1).made)  # what was made is still there


def test_what_is_painted_over_for_one_job_changes_no_other(workspace, placed):
    first, at = placed("150x100px", 150, 100)
    second = jobs.start(workspace, "Another client", [1], [], ["150x100px"], NOW)
    theirs = jobs.view(workspace, second).placements[0].id
    brush(workspace, theirs)
    with transaction(workspace.sessions) as session:
        placements.set_state(session, theirs, "made", NOW)
    was, view = hash_of(bench.load(workspace, theirs)), bench.view(workspace, at)
    assert view.stations[0].unit == "px"
    found = brush(workspace, at, kind="copy_texture", offset=(30.0, 0.0))
    assert (found.pieces, found.others) == (1, 1)
    assert (bench.load(workspace, theirs).state, hash_of(bench.load(workspace, theirs))) == (
        "made",
        was,
    )
    with pytest.raises(RequestError, match="is in 2 jobs"):
        retouches.view(workspace, 1)
    with pytest.raises(NotFoundError, match="no photo 1"):
        retouches.view(workspace, 1, 99)
    assert retouches.everywhere(workspace, 1, first, NOW).others == 0
    there = bench.load(workspace, theirs)
    assert (there.state, there.photo.retouches.retouches) == ("placed", found.retouches)
    batches.undo(workspace, second, NOW)
    assert (bench.load(workspace, theirs).state, hash_of(bench.load(workspace, theirs))) == (
        "made",
        was,
    )
    assert retouches.view(workspace, 1, first).others == 1
    bench_view = bench.view(workspace, theirs)
    assert bench_view.photo.look != bench.view(workspace, at).photo.look


def test_a_photo_comes_into_a_job_as_it_is_retouched_in_none(workspace, bring):
    photo = bring(("quay.jpg", samples.bytes_of(samples.grain(150, 100), "JPEG"))).photos[0]
    asked = RetouchesBody(retouches=[Retouch(kind="paint_over", strokes=(DOT,))])
    found = retouches.put(workspace, photo.id, asked, NOW)
    assert (found.pieces, len(found.retouches)) == (0, 1)
    job = jobs.start(workspace, "Evening", [photo.id], [], ["3:2"], NOW)
    assert retouches.view(workspace, photo.id, job).retouches == found.retouches


def test_undo_takes_back_its_own_retouch_and_leaves_those_of_others(workspace, placed):
    job_id, at = placed("150x100px, 3:2", 150, 100)
    other = jobs.view(workspace, job_id).placements[1].id
    brush(workspace, at)
    brush(workspace, other, kind="copy_texture", offset=(30.0, 0.0))
    history.walk(workspace, at, -1, NOW)
    assert [one.kind for one in retouches.view(workspace, 1).retouches] == ["copy_texture"]
    history.go_to(workspace, other, 0, NOW)
    assert retouches.view(workspace, 1).retouches == ()
    history.walk(workspace, at, 1, NOW)
    assert [one.kind for one in retouches.view(workspace, 1).retouches] == ["paint_over"]


def test_a_list_of_retouches_names_the_version_it_saw(workspace, placed):
    _, at = placed("3:2", 150, 100)
    found = brush(workspace, at)
    hidden = [one.model_copy(update={"shown": False}) for one in found.retouches]
    asked = RetouchesBody(retouches=hidden, version=found.version, placement_id=at)
    retouches.put(workspace, 1, asked, NOW)
    assert bench.view(workspace, at).steps[-1] == "shown without a retouch"
    with pytest.raises(ChangedMeanwhileError, match="retouched meanwhile") as raised:
        retouches.put(workspace, 1, RetouchesBody(retouches=[], version=found.version), NOW)
    assert raised.value.newer == retouches.view(workspace, 1)
    with pytest.raises(RequestError, match="has no placement 99"):
        retouches.put(workspace, 1, RetouchesBody(retouches=[], placement_id=99), NOW)
    assert len(retouches.view(workspace, 1).retouches) == 1


def test_the_tries_of_a_retouch_are_ordered_and_one_is_taken(workspace, placed):
    _, at = placed("3:2", 150, 100)
    found = brush(workspace, at)
    assert set(states(retouch_tries.tries(workspace, 1, 1, NOW)).values()) == {"waiting"}
    assert retouch_tries.picture(workspace, 1, 1, 3, NOW) is None
    work(workspace)
    assert set(states(retouch_tries.tries(workspace, 1, 1, NOW)).values()) == {"made"}
    with Image.open(retouch_tries.picture(workspace, 1, 1, 3, NOW)) as shown:
        assert max(shown.size) <= 640
    third = [found.retouches[0].model_copy(update={"attempt": 3})]
    retouches.put(workspace, 1, RetouchesBody(retouches=third, placement_id=at), NOW)
    assert [one.attempt for one in retouch_tries.tries(workspace, 1, 1, NOW) if one.taken] == [3]
    assert bench.view(workspace, at).steps[-1] == "try 3 taken"
    assert all(retouches.view(workspace, 1).made)
    retouch_tries.tries(workspace, 1, 1, NOW, seed=2)
    retouch_tries.cancel(workspace, 1, 1)
    with reading(workspace.sessions) as session:
        assert fills.waiting(session) == 0


def test_more_is_brushed_on_a_turned_and_mirrored_photo(workspace, placed):
    _, at = placed("3:2", 150, 100)
    history.keep(workspace, at, Quarter(kind="quarter", by=1), NOW)
    history.keep(workspace, at, Mirror(kind="mirror"), NOW)
    first = brush(workspace, at).retouches[0]
    # a quarter clockwise: (x, y) → (100 − y, x); then mirrored across 100: (y, x)
    assert np.allclose(first.strokes[0].points[0], (50, 70))
    more = brush(workspace, at, number=first.number).retouches
    assert [len(one.strokes) for one in more] == [2]
    corners = ((20, 20), (80, 20), (80, 120), (20, 120))
    history.keep(workspace, at, Square(kind="square", corners=corners), NOW)
    with pytest.raises(RequestError, match="on the photo itself"):
        brush(workspace, at)


def test_a_delivery_keeps_the_retouches_it_was_asked_with(workspace, placed):
    job_id, at = placed("photo", 150, 100)
    relabelled = there(orders.deliver(workspace, job_id, None, NOW).files[0].measured)
    brush(workspace, at, kind="copy_texture", offset=(30.0, 0.0))
    retouched = orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    assert retouched.files[0].state == "made"  # as its bytes can't be copied any more
    assert there(retouched.files[0].measured).sha256 != relabelled.sha256
    name = retouched.files[0].name
    folder = workspace.deliveries / str(retouched.id)
    original = present(workspace.originals, find_photo(workspace, 1))
    with Image.open(folder / name) as made, Image.open(original) as was:
        differ = np.abs(np.asarray(made).astype(int) - np.asarray(was)).max(axis=2)
    ys, xs = np.nonzero(differ > 40)
    assert len(ys) > 20
    assert (abs(xs - 70).max(), abs(ys - 50).max()) <= (10, 10)
    with pytest.raises(RequestError, match="Nothing changed"):
        orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    history.walk(workspace, at, -1, NOW)
    again = orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    assert there(again.files[0].measured).sha256 == relabelled.sha256


def test_pictures_of_a_photo_are_told_apart_by_what_is_retouched(workspace, placed):
    _, at = placed("3:2", 150, 100)
    photo = find_photo(workspace, 1)
    plain = previews.photo_preview(workspace, photo, 64)
    brush(workspace, at, kind="copy_texture", offset=(30.0, 0.0))
    now = bench.load(workspace, at).photo
    assert previews.look_of(now) != previews.look_of(photo) == ""
    assert previews.photo_preview(workspace, now, 64) == plain  # until it is made
    work(workspace)
    assert previews.photo_preview(workspace, now, 64) != plain
    assert scenes.missing(workspace, now) == []


def test_a_place_of_the_ground_is_painted_over_for_that_piece_alone(workspace, placed):
    _, at = placed("2:1 extend", 150, 100)
    history.keep(workspace, at, TAKE, NOW)
    plain = there(bench.load(workspace, at).placement.continued)
    dab = Stroke(points=((-13.0, 50.0),), radius=6)
    kept = brushing.brush(workspace, at, Brushed(strokes=(dab,)), NOW)
    assert kept.in_ground
    assert kept.retouches == ()
    load = bench.load(workspace, at)
    painted = there(load.placement.continued)
    assert painted == plain.model_copy(update={"over": (BrushedOver(strokes=(dab,)),)})
    assert bench.view(workspace, at).steps[-1] == "painted over in the ground"
    maker = Maker(present(workspace.originals, load.photo))
    before, after = (upright_pixels(maker.scene(ground)).astype(int) for ground in (plain, painted))
    changed = np.abs(before - after).any(2)
    y, x = np.nonzero(changed)
    assert changed.any()
    assert np.hypot(x + 0.5 + plain.box[0] + 13, y + 0.5 + plain.box[1] - 50).max() <= 7
    # It is a step like others, another try begins without, and the photo's own retouches stay apart.
    history.go_to(workspace, at, bench.view(workspace, at).place - 1, NOW)
    assert there(bench.load(workspace, at).placement.continued) == plain
    history.go_to(workspace, at, bench.view(workspace, at).place + 1, NOW)
    history.keep(workspace, at, TAKE.model_copy(update={"attempt": 2}), NOW)
    assert there(bench.load(workspace, at).placement.continued).over == ()
    across = Stroke(points=((-3.0, 50.0), (9.0, 50.0)), radius=4)
    assert len(brushing.brush(workspace, at, Brushed(strokes=(across,)), NOW).retouches) == 1
    both = bench.load(workspace, at)
    assert there(both.placement.continued).over == (BrushedOver(strokes=(across,)),)
    assert bench.view(workspace, at).steps[-2:] == ["painted over", "painted over in the ground"]
    far = TAKE.model_copy(update={"attempt": 2, "over": BrushedOver(strokes=(DOT,))})
    with pytest.raises(FillError, match="beyond the photo"):
        history.keep(workspace, at, far, NOW)


def test_a_brush_that_was_too_tight_is_grown_and_says_so(workspace, bring, tmp_path):
    y, x = np.mgrid[0:400, 0:600]
    share = np.clip((64 - np.hypot(x - 300, y - 200)) / 8 + 0.5, 0, 1)[..., None]
    pixels = np.rint((170, 190, 210) * (1 - share) + np.array((60, 40, 30)) * share)
    photo = bring(
        ("disc.png", samples.save(tmp_path / "disc.png", pixels.astype(np.uint8)))
    ).photos[0]
    job_id = jobs.start(workspace, "One", [photo.id], [], ["3:2"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    tight, wide = (Stroke(points=((300.0, 200.0),), radius=radius) for radius in (62, 90))
    view = brushing.brush(workspace, at, Brushed(strokes=(tight,)), NOW)
    assert 3 <= view.grown <= 14
    assert view.retouches[0].strokes[0].radius == pytest.approx(62 + view.grown, abs=0.1)
    view = brushing.brush(workspace, at, Brushed(strokes=(wide,)), NOW)
    assert view.grown == 0
    assert view.retouches[1].strokes == (wide,)
