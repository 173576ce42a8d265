from __future__ import annotations

import re

import pytest
from hypothesis import HealthCheck, given, settings, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.pixels import Finish, Relabel, Resample
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Turn
from oak_ledge.flows.bench import fixes, history, view as bench
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.export import export
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.pieces import pictures
from tests import samples, strategies
from tests.conftest import NOW, open_at

TIGHTEN = Scale(kind="scale", factor=0.5)
MOVE = Move(kind="move", dx=40, dy=20)


def test_a_gesture_is_only_answered_until_it_is_kept(workspace, placed):
    _, at = placed()
    before = bench.view(workspace, at)
    answer = history.tell(workspace, at, TIGHTEN)
    assert answer.lying.width == before.lying.width / 2
    assert bench.view(workspace, at) == before
    kept = history.keep(workspace, at, TIGHTEN, NOW)
    assert kept.lying == answer.lying
    assert kept.scale == answer.scale
    assert (kept.state, kept.steps, kept.can_undo) == ("placed", ["suggested", "tightened"], True)


def test_a_gesture_that_changes_nothing_is_no_step(workspace, placed):
    _, at = placed("3x3in@100")
    history.keep(workspace, at, Turn(kind="turn"), NOW)
    assert bench.view(workspace, at).steps == ["suggested"]


@pytest.mark.thorough
@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(strategies.gestures, min_size=1, max_size=5))
def test_undoing_everything_gives_the_first_placement_bit_for_bit(workspace, placed, gestures):
    _, at = placed()
    first = bench.view(workspace, at).lying
    for gesture in gestures:
        history.keep(workspace, at, gesture, NOW)
    last = bench.view(workspace, at)
    while bench.view(workspace, at).can_undo:
        history.walk(workspace, at, -1, NOW)
    assert bench.view(workspace, at).lying == first
    while bench.view(workspace, at).can_redo:
        history.walk(workspace, at, 1, NOW)
    assert bench.view(workspace, at).lying == last.lying


def test_undo_and_redo_outlive_a_restart(workspace, placed):
    _, at = placed()
    history.keep(workspace, at, TIGHTEN, NOW)
    history.keep(workspace, at, MOVE, NOW)
    moved = bench.view(workspace, at).lying
    history.walk(workspace, at, -1, NOW)
    again = open_at(workspace.data)
    assert bench.view(again, at).can_redo
    assert history.walk(again, at, 1, NOW).lying == moved
    again.sessions.close()


def test_a_new_step_forgets_what_was_undone(workspace, placed):
    _, at = placed()
    history.keep(workspace, at, TIGHTEN, NOW)
    history.walk(workspace, at, -1, NOW)
    view = history.keep(workspace, at, MOVE, NOW)
    assert bench.view(workspace, at).steps == ["suggested", "moved"]
    assert not bench.view(workspace, at).can_redo
    assert view.lying.width == bench.view(workspace, at).lying.width


def test_what_is_put_by_number_is_kept_inside(workspace, placed):
    _, at = placed()
    far = bench.view(workspace, at).lying.model_copy(update={"cx": 9999.0, "width": 400.0})
    view = history.put(workspace, at, far, NOW)
    assert view.crop[0] + view.crop[2] == 1200
    assert view.crop[2] == 400


def test_relabelling_and_resampling_are_this_photos_own_and_are_undone_like_any_step(
    workspace, placed
):
    job_id, at = placed("4x5in@150")  # 750 × 600 px of a wide photo
    first = bench.view(workspace, at)
    relabel = Relabel(kind="relabel", width="10in")
    answer = history.tell(workspace, at, relabel)
    assert (answer.output.pixels, answer.output.lengths, answer.output.ppi) == (
        first.output.pixels, "10 × 8 in", "75 ppi",
    )  # fmt: skip
    assert bench.view(workspace, at) == first
    kept = history.keep(workspace, at, relabel, NOW)
    assert kept.own_size is not None
    assert (kept.size.text, kept.own_size.text) == ("4x5in@150", "8x10in@75")
    resample = Resample(kind="resample", ppi="60")
    kept = history.keep(workspace, at, resample, NOW)
    assert (kept.output.pixels, kept.output.lengths) == ("600 × 480 px", "10 × 8 in")
    assert kept.steps == ["suggested", "relabelled", "resampled"]
    piece = jobs.view(workspace, job_id).placements[0]
    assert (piece.width, piece.height) == (600, 480)
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert (file.state, file.name) == ("made", "quay_8x10in@60.jpg")
    assert (file.asked.width, file.asked.ppi) == (600, 60)
    back = Relabel(kind="relabel", ppi="150")
    history.walk(workspace, at, -1, NOW)
    assert history.keep(workspace, at, back, NOW).own_size is None
    for _ in range(2):
        history.walk(workspace, at, -1, NOW)
    assert bench.view(workspace, at).lying == first.lying
    with pytest.raises(SizeError, match="say one of ppi, width and height"):
        history.tell(workspace, at, Relabel(kind="relabel"))


def test_resampling_and_sharpening_are_chosen_for_a_photo_and_keep_the_sizes_name(
    workspace, placed
):
    job_id, at = placed("4x5in@150")
    plain = pictures.piece_preview(workspace, bench.load(workspace, at), 900).read_bytes()
    kept = history.keep(workspace, at, Finish(kind="finish", sharpen_for="rough"), NOW)
    assert (kept.method, kept.sharpen_for) == ("auto", "rough")
    assert kept.finish.endswith(
        "Sharpened 95 %, 0.45 px wide: for matte paper and canvas, which spread ink."
    )
    sharp = pictures.piece_preview(workspace, bench.load(workspace, at), 900).read_bytes()
    assert sharp != plain
    kept = history.keep(workspace, at, Finish(kind="finish", method="nearest", sharpen=20), NOW)
    assert "Blocks: for pixel art" in kept.finish
    assert "Sharpened 38 %" in kept.finish
    assert kept.own_size is not None
    assert kept.own_size.sentence.endswith(
        "resampled blocks; sharpened for rough paper or canvas, strength 20."
    )
    assert kept.output == bench.view(workspace, at).output
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert (file.state, file.name) == ("made", "quay_4x5in@150.jpg")
    off = Finish(kind="finish", method="auto", sharpen_for="off", sharpen=-1)
    assert history.keep(workspace, at, off, NOW).own_size is None


def test_a_files_bytes_are_told_once_its_photo_was_weighed(workspace, placed):
    _, at = placed("4x5in@150")
    assert bench.view(workspace, at).about_bytes is None
    weighed = bench.view(workspace, at, weigh=True)
    assert weighed.about_bytes is not None
    smaller = history.tell(workspace, at, Resample(kind="resample", ppi="75"))
    assert 0 < (smaller.about_bytes or 0) < weighed.about_bytes
    file = weighed.stations[-1]
    assert (file.name, file.unit) == ("File", "JPEG 92")
    assert file.figure.endswith(" kB")


def test_a_whole_jpeg_that_is_only_relabelled_keeps_its_bytes(workspace, placed):
    job_id, at = placed("photo@300")
    original = bench.load(workspace, at).photo.facts.bytes
    assert bench.view(workspace, at).about_bytes == original
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert file.measured is not None
    assert abs(file.measured.bytes - original) < 200


def test_a_piece_that_is_extended_says_its_ground(workspace, placed):
    _, at = placed("4x5in@150 extend")
    view = bench.view(workspace, at)
    ground = next(station for station in view.stations if station.name == "Ground")
    assert (ground.idle, ground.figure, ground.unit) == (False, "17 %", "white")
    assert view.crop == (0, -80, 1200, 960)
    assert view.uncovered == pytest.approx(1 / 6)


def noted(view):
    return {note.code: note for note in view.notes}


def test_too_few_pixels_are_fixed_by_fewer_ppi_or_a_looser_crop(workspace, placed, bring):
    _, at = placed("20x25in@300")  # of 1200 × 800: enlarged ×7.5 and stopped
    assert noted(bench.view(workspace, at))["enlarged"].way is None  # nor would half the ppi do
    _, at = placed("8x10in@300")  # 1000 × 800 become 3000 × 2400
    stopped = noted(bench.view(workspace, at))["enlarged"]
    assert (stopped.level, stopped.way) == ("stop", "Take 150 ppi")
    fixed = fixes.fix(workspace, at, "enlarged", NOW)
    assert (fixed.asked.width, fixed.asked.ppi, fixed.scale) == (1500, 150, 1.5)
    assert noted(fixed)["enlarged"].level == "fine"
    with pytest.raises(RequestError, match="nothing to fix"):
        fixes.fix(workspace, at, "short-of-ppi", NOW)
    asked = {"text": "4x5in@200", "receiver": {"low": 180, "high": 300}}
    size = sizes.add(workspace, SizeBody.model_validate(asked))
    photo = bench.view(workspace, at).photo.id
    job_id = jobs.start(workspace, "Lab", [photo], [size.id], [], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    history.keep(workspace, at, Scale(kind="scale", factor=0.5), NOW)
    assert noted(bench.view(workspace, at))["short-of-ppi"].way == "Loosen to 180 ppi"
    loose = fixes.fix(workspace, at, "short-of-ppi", NOW)
    assert "short-of-ppi" not in noted(loose)
    assert loose.real_ppi == pytest.approx(180, abs=0.3)


def test_settling_is_a_state_that_a_new_gesture_ends(workspace, placed):
    _, at = placed()
    assert history.settle(workspace, at, NOW).state == "settled"
    history.keep(workspace, at, TIGHTEN, NOW)
    assert bench.view(workspace, at).state == "placed"


def test_every_photo_is_laid_on_every_size_each_turned_as_it_is(workspace, bring, tmp_path):
    wide = samples.photo(tmp_path / "wide.png", 300, 200)
    tall = samples.photo(tmp_path / "tall.png", 200, 300)
    answer = bring(("wide.png", wide), ("tall.png", tall))
    ids = [photo.id for photo in answer.photos]
    job_id = jobs.start(workspace, "", ids, [], ["4x5in@50", "100x100px"], NOW)
    job = jobs.view(workspace, job_id)
    assert [(p.width, p.height) for p in job.placements] == [
        (250, 200),
        (200, 250),
        (100, 100),
        (100, 100),
    ]
    assert job.name == "wide and 1 more"
    assert job.counts == {"new": 4}
    assert job.next == job.placements[0]


@pytest.mark.parametrize(
    ("photo_ids", "size_ids", "texts", "error", "words"),
    [
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
    with pytest.raises(RequestError, match=r"can't be approved as it is\. The photo is enlarged"):
        history.settle(workspace, at, NOW)
    assert jobs.view(workspace, job_id).counts == {"stopped": 1}


@pytest.mark.parametrize(
    ("text", "asked", "made", "label"),
    [
        ("4x5in@150", {"width_px": 500}, (500, 400), 100),
        ("4x5in@150", {"percent": "40"}, (300, 240), 60),
        ("photo", {"width_px": 600}, (600, 400), None),
        ("16:9", {"height_px": 99}, (176, 99), None),
        ("100%", {"percent": "33,3"}, (400, 266), None),
        ("640x480px", {"percent": "50"}, (320, 240), None),
    ],
)
def test_pixels_are_asked_for_by_number_or_per_cent_also_without_a_physical_size(
    workspace, placed, text, asked, made, label
):
    _, at = placed(text)
    before = bench.view(workspace, at)
    gesture = Resample.model_validate({"kind": "resample", **asked})
    kept = history.keep(workspace, at, gesture, NOW)
    assert (kept.asked.width, kept.asked.height, kept.asked.ppi) == (*made, label)
    assert kept.crop == pytest.approx(before.crop, abs=3)
    with pytest.raises(SizeError, match="one of ppi, width_px"):
        history.keep(workspace, at, Resample(kind="resample"), NOW)


def test_a_stop_is_taken_on_a_persons_word_and_the_proof_says_so(workspace, placed):
    job_id, at = placed("20x25in@300")
    held = orders.deliver(workspace, job_id, None, NOW)
    assert held.counts == {"held": 1}
    with pytest.raises(RequestError, match="Nothing stops this piece under"):
        fixes.allow(workspace, at, "keep-cut", NOW)
    with pytest.raises(RequestError, match="can't be approved"):
        history.settle(workspace, at, NOW)
    taken = fixes.allow(workspace, at, "enlarged", NOW)
    note = noted(taken)["enlarged"]
    assert (note.level, note.way) == ("look", None)
    assert note.text.endswith("Made anyway, as you said.")
    moved = history.keep(workspace, at, Move(kind="move", dx=3, dy=0), NOW)
    assert moved.lying.allow == ("enlarged",)
    assert history.settle(workspace, at, NOW).state == "settled"
    assert history.walk(workspace, at, -1, NOW).lying.allow == ("enlarged",)
    assert noted(history.walk(workspace, at, -1, NOW))["enlarged"].level == "stop"
    history.walk(workspace, at, 1, NOW)
    made = orders.deliver(workspace, job_id, None, NOW)
    assert made.counts == {"made": 1}
    assert export.proof_sheet(made).splitlines()[1].endswith(",enlarged")


@pytest.mark.parametrize(
    ("text", "gesture", "said"),
    [
        ("4x5in@150", Relabel(kind="relabel", width="1.9in"), "394.74 ppi"),
        ("4x5in@150", Resample(kind="resample", percent="43 49/57"), "65.8 ppi"),
        ("41 2/3%", Finish(kind="finish", method="lanczos"), "41.67 %"),
    ],
)
def test_what_is_exact_inside_is_said_in_decimals(workspace, placed, text, gesture, said):
    _, at = placed(text)
    kept = history.keep(workspace, at, gesture, NOW)
    told = {
        name: value
        for name, value in kept.model_dump(mode="json").items()
        if name not in ("size", "own_size", "lying", "effective")
    }
    assert kept.own_size is not None
    told["label"] = kept.own_size.label
    told["sentence"] = kept.own_size.sentence
    broken = [(name, value) for name, value in told.items() if re.search(r"\d \d+/\d", str(value))]
    assert not broken
    assert said in str(told)
