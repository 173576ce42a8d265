"""Jobs as they are worked on: what belongs to them, many pieces at once, subjects, survival."""

from __future__ import annotations

import io
from datetime import date, timedelta
from pathlib import PurePath

import pytest
from PIL import Image

from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.demo.fill import PHOTOS
from oak_ledge.flows.bench import fixes, history, keep_zones as zones, view as bench
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs import batches, jobs, ledge as ledges, quick, survivors as surviving
from oak_ledge.flows.jobs.batches import (
    KeepZones,
    Like,
    OnFile,
    OnGround,
    OtherSize,
    Over,
    Reset,
    Settle,
)
from oak_ledge.flows.jobs.job_views import JobChange
from oak_ledge.flows.jobs.quick import FileBody, QuickBody
from oak_ledge.flows.photos import photos
from oak_ledge.web.api.answer import LETTERS
from tests import samples
from tests.conftest import NOW

TEXTS = ["8x10in@60", "384x160px", "60x40cm@30"]


@pytest.fixture
def many(workspace, bring, tmp_path):
    """A job of three photos (the last one tall) on three sizes; give its id."""
    shapes = ((1200, 800), (1500, 700), (800, 1200))
    files = [
        (f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", *shape))
        for n, shape in enumerate(shapes)
    ]
    ids = [one.id for one in bring(*files).photos]
    return jobs.start(workspace, "Evening", ids, [], TEXTS, NOW)


def pieces(workspace, job_id):
    return jobs.view(workspace, job_id).placements


def test_photos_and_sizes_are_taken_out_and_come_back_as_they_were_left(workspace, many):
    job = jobs.view(workspace, many)
    assert len(job.placements) == 9
    first = job.placements[0]
    history.keep(workspace, first.id, Scale(kind="scale", factor=0.5), NOW)
    gone = jobs.take_out(workspace, many, "photo", first.member_id, NOW)
    assert len(gone.placements) == 6
    assert [one.name for one in gone.photos] == ["p1.jpg", "p2.jpg"]
    gone = jobs.take_out(workspace, many, "size", first.size_id, NOW)
    assert len(gone.placements) == 4
    back = jobs.add(workspace, many, [first.photo_id], [], [TEXTS[0], "5x7in@60"], NOW)
    assert len(back.placements) == 12
    again = next(one for one in back.placements if one.id == first.id)
    assert again.crop == bench.view(workspace, first.id).crop
    assert again.state == "placed"
    for _ in range(2):
        jobs.take_out(workspace, many, "photo", pieces(workspace, many)[0].member_id, NOW)
    with pytest.raises(NotFoundError):
        jobs.take_out(workspace, many, "size", 999, NOW)


def test_a_job_is_put_in_order_noted_put_away_and_copied(workspace, many):
    job = jobs.view(workspace, many)
    order = [one.id for one in reversed(job.photos)]
    answer = {"photo_order": order, "notes": "matt paper", "due": date(2026, 12, 4), "away": True}
    changed = jobs.change(workspace, many, JobChange.model_validate(answer), NOW)
    assert [one.name for one in changed.photos] == ["p2.jpg", "p1.jpg", "p0.jpg"]
    assert (changed.notes, changed.due, changed.away) == ("matt paper", date(2026, 12, 4), True)
    assert pieces(workspace, many)[0].photo_name == "p2.jpg"
    assert jobs.every(workspace).jobs == []
    assert [one.id for one in jobs.every(workspace, away=True).jobs] == [many]
    with pytest.raises(RequestError, match="name each"):
        jobs.change(workspace, many, JobChange(photo_order=order[:2]), NOW)
    kept = jobs.change(workspace, many, JobChange(away=False), NOW)
    assert kept.due == date(2026, 12, 4)  # what is left out stays
    assert jobs.change(workspace, many, JobChange(no_due=True), NOW).due is None
    copied = jobs.view(workspace, jobs.copy(workspace, many, NOW))
    assert (copied.name, copied.notes) == ("Evening, again", "matt paper")
    assert [one.text for one in copied.sizes] == [one.text for one in job.sizes]
    assert {one.state for one in copied.placements} == {"new"}


def test_a_deleted_job_comes_back_for_thirty_days_then_goes_with_its_own_photos(
    workspace, many, placed
):
    job = jobs.view(workspace, many)
    shared = job.photos[0].photo_id
    other = jobs.start(workspace, "Other", [shared], [], ["100%"], NOW)
    jobs.delete(workspace, many, NOW)
    with pytest.raises(NotFoundError):
        jobs.view(workspace, many)
    assert [one.name for one in jobs.deleted(workspace)] == ["Evening"]
    assert jobs.clean_up(workspace, NOW + timedelta(days=29)) == 0
    assert jobs.restore(workspace, many, NOW).name == "Evening"
    assert jobs.view(workspace, many).placements == job.placements
    jobs.delete(workspace, many, NOW)
    kept = workspace.originals
    before = len(list(kept.rglob("*.jpg")))
    waiting, _ = placed("100%", width=333, height=222)  # a photo of a job of its own
    assert jobs.clean_up(workspace, NOW + timedelta(days=31)) == 1
    assert len(list(kept.rglob("*.jpg"))) == before - 2 + 1
    assert photos.find_photo(workspace, shared).name == "p0.jpg"
    assert jobs.view(workspace, other).placements
    assert jobs.view(workspace, waiting).placements
    with pytest.raises(NotFoundError):
        photos.find_photo(workspace, job.photos[1].photo_id)


@pytest.mark.parametrize(
    ("doing", "what", "changed"),
    [
        (Settle(do="settle"), "approved", 9),
        (Over(do="turn"), "turned", 9),
        (OnGround(do="ground", fill="blur"), "ground chosen", 9),
        (OtherSize(do="size", text="5x7in@60"), "put on 5 × 7 in", 9),
        (Reset(do="start_again"), "started again", 1),
        (KeepZones(do="keep_whole"), "moved around keep zones", 1),
    ],
)
def test_one_thing_is_done_to_many_and_undone_as_one(workspace, many, doing, what, changed):
    first = pieces(workspace, many)[0]
    marked = Keeps(zones=(Zone(left=1050, top=600, width=140, height=150),))
    zones.set_keeps(workspace, first.photo_id, marked, NOW)
    history.keep(workspace, first.id, Move(kind="move", dx=-300, dy=0), NOW)
    before = pieces(workspace, many)
    ids = [one.id for one in before]
    answer = batches.do(workspace, many, ids, doing, NOW, only_tell=True)
    assert pieces(workspace, many) == before
    done = batches.do(workspace, many, ids, doing, NOW)
    assert done == answer
    stopped = done.before.get("stopped", 0)
    assert (done.what, done.changed) == (what, changed - (stopped if what == "approved" else 0))
    assert done.refused == []
    assert batches.last(workspace, many) == f"{what}: {done.changed}"
    assert pieces(workspace, many) != before
    undone = batches.undo(workspace, many, NOW)
    assert (undone.changed, undone.after) == (done.changed, done.before)
    assert pieces(workspace, many) == before
    assert batches.last(workspace, many) is None
    with pytest.raises(RequestError, match="Nothing was done"):
        batches.undo(workspace, many, NOW)


def test_what_was_worked_on_since_stays_and_what_cannot_be_says_why(workspace, many):
    one, two, *rest = pieces(workspace, many)
    history.keep(workspace, one.id, Angle(kind="angle", angle=2), NOW)
    done = batches.do(
        workspace, many, [two.id, *(p.id for p in rest)], Like(do="like", placement_id=one.id), NOW
    )
    assert done.changed == 8
    assert {p.angle for p in pieces(workspace, many)} == {2.0}
    history.keep(workspace, two.id, Scale(kind="scale", factor=0.7), NOW)
    undone = batches.undo(workspace, many, NOW)
    assert (undone.changed, [r.placement_id for r in undone.refused]) == (7, [two.id])
    assert pieces(workspace, many)[1].angle == 2.0
    free = jobs.add(workspace, many, [], [], ["100%"], NOW)
    on_free = next(p for p in free.placements if p.size_name == "100 %")
    answer = batches.do(workspace, many, [on_free.id, one.id], OnGround(do="ground"), NOW)
    assert (answer.changed, answer.refused) == (2, [])
    too_large = OtherSize(do="size", text="window 90000x90000px")
    answer = batches.do(workspace, many, [one.id], too_large, NOW)
    assert (answer.changed, answer.refused[0].placement_id) == (0, one.id)
    assert "larger than the photo" in answer.refused[0].reason
    for ids in ([], [99_999]):
        with pytest.raises(RequestError):
            batches.do(workspace, many, ids, Settle(do="settle"), NOW)


def test_a_found_subject_is_laid_around_until_it_is_taken_or_refused(workspace, bring):
    path = PHOTOS / "lighthouse.jpg"
    photo = bring((path.name, path), find=True).photos[0]
    job_id = jobs.start(workspace, "x", [photo.id], [], ["8x10in@100", "1:4"], NOW)
    (one,) = jobs.view(workspace, job_id).photos
    (found,) = one.found
    assert one.zones == ()
    for piece in pieces(workspace, job_id):
        left, _, width, _ = piece.crop
        centre = found.left + found.width / 2
        assert abs(left + width / 2 - centre) < abs(3600 / 2 - centre) or width > 3000
    assert all(note.code != "keep-cut" for p in pieces(workspace, job_id) for note in p.notes)
    taken = zones.decide_found(workspace, photo.id, NOW, take=True)
    assert taken.keeps.zones[0].width == pytest.approx(found.width)
    assert jobs.view(workspace, job_id).photos[0].found == ()
    assert any(note.code == "keep-cut" for note in pieces(workspace, job_id)[1].notes)
    other = PHOTOS / "glass-float.jpg"
    second = bring((other.name, other), find=True).photos[0]
    job_id = jobs.start(workspace, "y", [second.id], [], ["1:1"], NOW)
    assert pieces(workspace, job_id)[0].crop[0] != 600
    zones.decide_found(workspace, second.id, NOW, take=False)
    assert pieces(workspace, job_id)[0].crop == (600, 0, 2400, 2400)
    again = jobs.start(workspace, "z", [second.id], [], ["1:1"], NOW)
    assert pieces(workspace, again)[0].crop == (600, 0, 2400, 2400)


def test_the_ledge_is_given_by_shelves_filtered_and_gone_through(workspace, many):
    stretch = ledges.stretch(workspace, many, "photo", "all", 1, 1)
    assert {one.photo_name for one in stretch.pieces} == {"p1.jpg"}
    assert stretch.more
    assert stretch.survivals[0].share < 1
    by_size = ledges.stretch(workspace, many, "size", "all", 0, 9)
    assert [one.size_id for one in by_size.pieces] == sorted(one.size_id for one in by_size.pieces)
    over = ledges.overview(workspace, many)
    assert over.pieces == 9
    looks = ledges.stretch(workspace, many, "photo", "look", 0, 9).pieces
    assert len(looks) == over.to_look_at > 0
    code, count = next(iter(over.codes.items()))
    assert len(ledges.stretch(workspace, many, "photo", code, 0, 9).pieces) == count
    here = pieces(workspace, many)[4]
    queue = ledges.queue(workspace, many, here.id, "size", "all")
    assert [(one.job_size_id, one.photo.name) for one in queue] == [
        (here.size_id, f"p{n}.jpg") for n in range(3)
    ]
    queue = ledges.queue(workspace, many, here.id, "photo", "all")
    assert {one.job_photo_id for one in queue} == {here.member_id}
    assert len(queue) == 3
    assert here.id in [one.id for one in ledges.queue(workspace, many, here.id, None, "look")]


def test_survival_tells_which_sizes_cannot_keep_a_zone_and_by_how_much(workspace, many):
    photo = jobs.view(workspace, many).photos[0]
    wide = Keeps(zones=(Zone(left=50, top=100, width=1100, height=520),))
    zones.set_keeps(workspace, photo.photo_id, wide, NOW)
    answer = surviving.survivals(workspace, many)[0]
    keeps = {one.size_name: one.keeps for one in answer.sizes}
    assert keeps == {"8 × 10 in": False, "384 × 160 px": False, "60 × 40 cm": True}
    short = answer.sizes[0]
    assert short.short == pytest.approx(1100 / 1000 - 1)
    assert "needs 1100 px wide, this shape takes 1000 px: 10 % short" in short.text
    assert 0 < answer.share < 1


@pytest.mark.parametrize(("camera", "edges"), [("3:2", (1748, 1240)), ("3:4", (1240, 1748))])
def test_a_framing_card_is_drawn_at_its_paper_size(workspace, many, camera, edges):
    with Image.open(
        io.BytesIO(surviving.framing_card(workspace, many, camera, "png", LETTERS))
    ) as card:
        assert card.size == edges
        assert card.info["dpi"][0] == pytest.approx(300, abs=0.1)
        oak = [
            n
            for n, colour in card.convert("RGB").getcolors(1 << 24) or []
            if colour == (168, 118, 62)
        ]
        assert oak[0] > 5000
    assert surviving.framing_card(workspace, many, camera, "pdf", LETTERS).startswith(b"%PDF")
    with pytest.raises(RequestError, match="3:2"):
        surviving.framing_card(workspace, many, "wide", "pdf", LETTERS)


@pytest.mark.thorough
def test_a_quick_job_tells_pixels_and_bytes_before_and_makes_what_it_told(workspace, many):
    ids = [one.photo_id for one in jobs.view(workspace, many).photos]
    file = FileBody(format="jpeg", at_most=60_000)
    answer = quick.tell(workspace, QuickBody(photo_ids=ids, size_texts=["long 600px"], file=file))
    assert [one.pixels for one in answer] == ["600 × 400 px", "600 × 280 px", "400 × 600 px"]
    assert all(one.about_bytes and one.about_bytes <= 60_000 for one in answer)
    (stopped, *_) = quick.tell(workspace, QuickBody(photo_ids=ids, size_texts=["20x25in@300"]))
    assert stopped.stopped
    (refused, *_) = quick.tell(workspace, QuickBody(photo_ids=ids, size_texts=["window 5000x10px"]))
    assert "larger than the photo" in refused.text
    job_id = jobs.start(workspace, "q", ids, [], ["long 600px"], NOW, file)
    made = pieces(workspace, job_id)
    assert [f"{p.width} × {p.height} px" for p in made] == [one.pixels for one in answer]
    assert jobs.view(workspace, job_id).sizes[0].size.file.at_most == 60_000
    assert quick.tell(workspace, QuickBody(photo_ids=ids)) == []


def test_a_limit_that_can_not_be_kept_offers_what_would_keep_it(workspace, bring, tmp_path):
    photo = bring(("float.jpg", (PHOTOS / "glass-float.jpg").read_bytes())).photos[0]
    file = FileBody(format="jpeg", at_most=40_000)
    unweighed = jobs.start(workspace, "u", [photo.id], [], ["900x600px"], NOW, file)
    failed = orders.deliver(workspace, unweighed, None, NOW).files[0].stop
    assert failed is not None
    assert len(failed.ways) == 3  # though no one asked for its bytes before
    asked = QuickBody(photo_ids=[photo.id], size_texts=["900x600px"], file=file)
    (told,) = quick.tell(workspace, asked)
    assert told.stopped == "The file is likely to have more than 40 kB even at quality 60."
    job_id = jobs.start(workspace, "q", [photo.id], [], ["900x600px"], NOW, file)
    (at,) = [one.id for one in pieces(workspace, job_id)]
    held = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert held.state == "failed"
    assert "which exceeds the limit of 40 kB" in (held.reason or "")
    assert held.stop is not None
    ways = [one.key for one in held.stop.ways]
    assert ways == [one.kind for one in told.ways] == ["quality", "format", "pixels"]
    for way in ways:
        step = bench.view(workspace, at).step
        fixes.fix(workspace, at, "over-limit", NOW, step, way)
        made = orders.deliver(workspace, job_id, None, NOW).files[0]
        assert made.state == "made", (way, made.reason)
        assert made.measured is not None
        assert made.measured.bytes <= 40_000
        history.walk(workspace, at, -1, NOW)
    with pytest.raises(RequestError, match="nothing to fix"):
        fixes.fix(workspace, at, "over-limit", NOW, way="luck")


def test_a_job_may_begin_empty_and_is_called_by_what_is_in_it(workspace, many):
    photos = [one.photo_id for one in jobs.view(workspace, many).photos]
    empty = jobs.start(workspace, "", [], [], [], NOW)
    assert jobs.view(workspace, empty).name == "New job"
    jobs.add(workspace, empty, photos[:1], [], ["5x7in@300", "a4 300dpi"], NOW)
    assert len(pieces(workspace, empty)) == 2
    named = jobs.start(workspace, " ", photos, [], [], NOW)
    first = jobs.view(workspace, named)
    assert first.name == f"{PurePath(first.photos[0].name).stem} and {len(photos) - 1} more"
    for photo in first.photos:
        jobs.take_out(workspace, named, "photo", photo.id, NOW)
    assert jobs.view(workspace, named).photos == []
    jobs.add(workspace, named, photos[-1:], [], [], NOW)
    assert [one.photo_id for one in jobs.view(workspace, named).photos] == photos[-1:]


def test_every_photo_lies_on_every_size_turned_as_it_is_turned(workspace, many):
    for piece in pieces(workspace, many):
        if piece.size_name != "384 × 160 px":  # pixels stay as they are written
            assert (piece.width > piece.height) == (piece.extent[0] > piece.extent[1])
        assert piece.outline[0] == pytest.approx(piece.crop[:2])
    placed = pieces(workspace, many)[0]
    history.keep(workspace, placed.id, Ground(kind="ground", beyond=True), NOW)
    assert read_size(TEXTS[0]).differ == "trim"
    assert pieces(workspace, many)[0].own is not None


def test_how_many_files_are_written_is_settled_at_once_and_undone_as_one(workspace, many):
    job_id, ids = many, [piece.id for piece in pieces(workspace, many)]
    doing = OnFile.model_validate(
        {"do": "file", "file": {"format": "tiff", "bits": 16, "location": False}}
    )
    done = batches.do(workspace, job_id, ids, doing, NOW)
    assert (done.what, done.changed) == ("file changed", len(ids))
    files = [piece.lying.size.file for piece in placements_of(workspace, ids)]
    assert {(file.format, file.bits, file.location) for file in files} == {("tiff", 16, False)}
    back = OnFile.model_validate({"do": "file", "file": {"format": "jpeg"}})
    batches.do(workspace, job_id, ids, back, NOW)
    files = [piece.lying.size.file for piece in placements_of(workspace, ids)]
    assert {(file.format, file.bits) for file in files} == {("jpeg", None)}  # which holds 8 alone
    wrong = OnFile.model_validate({"do": "file", "file": {"pattern": "{sky}"}})
    refused = batches.do(workspace, job_id, ids, wrong, NOW)
    assert (refused.changed, len(refused.refused)) == (0, len(ids))
    batches.undo(workspace, job_id, NOW)
    assert {piece.lying.size.file.format for piece in placements_of(workspace, ids)} == {"tiff"}


def placements_of(workspace, ids):
    return [bench.load(workspace, id_) for id_ in ids]
