from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from io import BytesIO
from zipfile import ZipFile

import pytest
from PIL import Image

from oak_ledge.core.errors import FileError
from oak_ledge.core.gestures.pixels import Finish
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.pixels.prove import measure
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.delivery import (
    deliveries,
    drawing,
    making,
    orders,
    pictures as file_pictures,
    workshop,
)
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.photos import photos
from oak_ledge.flows.pieces import pictures
from oak_ledge.flows.workspace import recover
from oak_ledge.store import folders
from oak_ledge.store.database import transaction
from oak_ledge.store.photos import original
from oak_ledge.store.work import claims, deliveries as store
from tests import samples
from tests.conftest import NOW, open_at


def test_a_file_is_made_measured_and_found_again(workspace, placed):
    job_id, at = placed("4x5in@150", icc_profile=samples.SRGB)
    answer = orders.deliver(workspace, job_id, None, NOW)
    file = answer.files[0]
    assert (answer.state, file.state, file.name) == ("done", "made", "quay_4x5in@150.jpg")
    assert file.measured is not None
    assert (file.measured.width, file.measured.height, file.measured.ppi) == (750, 600, 150)
    assert [line.what for line in file.proof if line.same] == [
        "pixels",
        "resolution",
        "physical size",
        "kind",
    ]
    path = handing_out.single(workspace, answer.id, file.name)
    with Image.open(path) as image:
        assert image.size == (750, 600)
        assert image.info["icc_profile"] == samples.SRGB
    assert bench.view(workspace, at).state == "made"
    assert deliveries.newest_file(workspace, at) == file


def test_a_stopped_piece_is_not_made_and_says_why_while_the_others_are(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 1200, 800))).photos[0]
    job_id = jobs.start(workspace, "x", [photo.id], [], ["6x8px", "300x200px", "100%"], NOW)
    answer = orders.deliver(workspace, job_id, None, NOW)
    assert [file.state for file in answer.files] == ["held", "made", "made"]
    assert "Did you mean inches: 6 × 8 in?" in (answer.files[0].reason or "")
    stop = answer.files[0].stop
    assert stop is not None
    assert (stop.code, stop.way) == ("unit-slip", "Make it 6 × 8 in")
    zipped = b"".join(handing_out.archive(workspace, answer.id))
    with ZipFile(BytesIO(zipped)) as archive:
        assert archive.testzip() is None
        assert sorted(archive.namelist()) == ["a_100pct.jpg", "a_300x200px.jpg", "proof.csv"]


def test_two_pieces_of_one_name_do_not_meet(workspace, bring, tmp_path):
    one = samples.photo(tmp_path / "a.jpg", 300, 200)
    two = samples.save(tmp_path / "b.png", samples.grain(300, 200))
    answer = bring(("same.jpg", one), ("same.png", two))
    job_id = jobs.start(workspace, "x", [p.id for p in answer.photos], [], ["90x80px"], NOW)
    made = orders.deliver(workspace, job_id, None, NOW)
    assert [file.name for file in made.files] == ["same_90x80px.jpg", "same_90x80px-2.jpg"]


def test_a_file_that_is_not_as_asked_is_taken_away_and_marked_failed(
    workspace, placed, monkeypatch
):
    job_id, at = placed()

    def wrong(path, *rest, **named):
        return measure.measure(path).model_copy(update={"width": 399})

    monkeypatch.setattr(making, "measure", wrong)
    answer = orders.deliver(workspace, job_id, [at], NOW)
    assert answer.files[0].state == "failed"
    assert "pixels: asked 500 × 400, measured 399 × 400" in (answer.files[0].reason or "")
    assert list(deliveries.folder_of(workspace, answer.id).iterdir()) == []
    assert bench.view(workspace, at).state == "new"


def test_after_a_kill_what_was_being_made_is_made_again_under_its_name(workspace, placed):
    job_id, _ = placed()
    waiting = replace(workspace, ask=lambda times: None)  # workers that never come
    answer = orders.deliver(waiting, job_id, None, NOW)
    with transaction(workspace.sessions) as session:
        assert [file.state for file in claims.claim(session, "17", 10**9, NOW)] == ["running"]
    assert not workshop.make_next(workspace, "18", lambda: NOW)  # claimed is claimed
    half = deliveries.folder_of(workspace, answer.id)
    half.mkdir(parents=True)
    (half / (answer.files[0].name or "")).write_bytes(b"made, but the kill came before it was told")
    again = open_at(workspace.data)
    recover(again)
    assert deliveries.view(again, answer.id).files[0].state == "queued"
    (half / ".of-17-1700-ab12.part").write_bytes(b"half, after the tidying at the start")
    (half / ".of-1700-1800-ab12.part").write_bytes(b"half, of a worker that lives")
    workshop.lost_worker(again, "17", pid=1700, now=NOW)
    lives = half / ".of-1700-1800-ab12.part"
    assert list(half.glob("*.part")) == [lives]
    lives.unlink()
    assert workshop.make_next(again, "18", lambda: NOW)
    done = deliveries.view(again, answer.id)
    assert (done.state, done.files[0].state, done.files[0].name) == (
        "done",
        "made",
        answer.files[0].name,
    )
    assert [path.name for path in half.iterdir()] == [answer.files[0].name]
    again.sessions.close()


def test_deliveries_take_turns_and_can_be_paused_stopped_and_made_again(workspace, bring, tmp_path):
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 300 + n, 200)) for n in range(3)]
    ids = [photo.id for photo in bring(*files).photos]
    waiting = replace(workspace, ask=lambda times: None)
    large, small = (
        orders.deliver(waiting, jobs.start(workspace, "x", some, [], ["90x80px", "80x90px"], NOW), None, NOW).id
        for some in (ids, ids[:1])
    )  # fmt: skip

    def make():
        assert workshop.make_next(workspace, "1", lambda: NOW + timedelta(seconds=4))
        return [deliveries.view(workspace, one).counts.get("made", 0) for one in (large, small)]

    assert make() == [2, 0]
    assert make() == [2, 2]  # the small one need not wait for all of the large
    assert deliveries.view(workspace, small).state == "done"
    assert deliveries.view(workspace, large, NOW + timedelta(seconds=5)).seconds_left == 8
    assert orders.pause(waiting, large, NOW).state == "paused"
    assert not workshop.make_next(workspace, "1", lambda: NOW)
    assert orders.go_on(waiting, large, NOW).state == "queued"
    assert make() == [4, 2]
    stopped = orders.stop(waiting, large, NOW)
    assert (stopped.state, stopped.counts) == ("stopped", {"made": 4, "failed": 2})
    assert not workshop.make_next(workspace, "1", lambda: NOW)
    left = next(file for file in stopped.files if file.state == "failed")
    again = orders.again(workspace, large, left.id, NOW)
    assert (again.state, again.counts) == ("done", {"made": 5, "failed": 1})
    with pytest.raises(RequestError, match="could be made again"):
        orders.again(workspace, small, left.id, NOW)


def test_workers_hold_no_more_pixels_at_once_than_they_may(workspace, bring, tmp_path):
    sides = [
        (400, 300),
        (300, 200),
        (200, 200),
    ]  # 120 000, 60 000 and 40 000 px, and 7200 each made
    files = [(f"p{w}.jpg", samples.photo(tmp_path / f"p{w}.jpg", w, h)) for w, h in sides]
    ids = [photo.id for photo in bring(*files).photos]
    waiting = replace(workspace, ask=lambda times: None)
    job_id = jobs.start(workspace, "x", ids, [], ["90x80px", "80x90px"], NOW)
    delivery = orders.deliver(waiting, job_id, None, NOW).id

    def claimed(worker, most):
        with transaction(workspace.sessions) as session:
            return [file.photo_id for file in claims.claim(session, worker, most, NOW)]

    assert claimed("1", 1000) == [ids[0]] * 2  # too large, but alone
    assert claimed("2", 127_200 + 67_199) == []
    assert claimed("2", 127_200 + 67_200) == [ids[1]] * 2
    assert claimed("3", 127_200 + 67_200) == []
    workshop.lost_worker(waiting, "1", pid=0, now=NOW)
    assert claimed("3", 10**9) == [ids[0]] * 2
    for worker in ("2", "3"):
        workshop.lost_worker(waiting, worker, pid=0, now=NOW)
    workshop.make_what_waits(workspace, "4", lambda: NOW)
    assert deliveries.view(workspace, delivery).counts == {"made": 6}


@pytest.mark.thorough
def test_as_last_time_makes_only_what_changed(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 300, 200))).photos[0]
    job_id = jobs.start(workspace, "x", [photo.id], [], ["90x80px", "80x90px"], NOW)
    assert [one.same_as for one in orders.plan(workspace, job_id, None)] == [None, None]
    first = orders.deliver(workspace, job_id, None, NOW)
    planned = orders.plan(workspace, job_id, None)
    assert [one.same_as for one in planned] == [file.name for file in first.files]
    with pytest.raises(RequestError, match="Nothing changed"):
        orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    changed = jobs.view(workspace, job_id).placements[1].id
    history.keep(workspace, changed, Scale(kind="scale", factor=0.8), NOW)
    answer = orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    assert [file.placement_id for file in answer.files] == [changed]
    (deliveries.folder_of(workspace, first.id) / (first.files[0].name or "")).unlink()
    answer = orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    assert [file.placement_id for file in answer.files] != [changed]


def test_a_full_disk_and_a_missing_photo_are_told_per_file_and_the_rest_goes_on(
    workspace, bring, tmp_path, monkeypatch
):
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 300 + n, 200)) for n in range(3)]
    taken = bring(*files).photos
    job_id = jobs.start(workspace, "x", [p.id for p in taken], [], ["90x80px"], NOW)
    gone = photos.find_photo(workspace, taken[0].id)
    path = original(workspace.originals, gone)
    path.unlink()
    real = folders.place_over

    def full(part, path):
        if path.name.startswith("p1"):
            raise OSError(28, "No space left on device")
        real(part, path)

    monkeypatch.setattr(making, "place_over", full)
    answer = orders.deliver(workspace, job_id, None, NOW)
    assert [file.state for file in answer.files] == ["failed", "failed", "made"]
    assert "No space left" in (answer.files[1].reason or "")
    assert "The original of p0.jpg is missing" in (answer.files[0].reason or "")
    left = list(deliveries.folder_of(workspace, answer.id).iterdir())
    assert [path.name for path in left] == ["p2_90x80px.jpg"]  # nothing half written
    sheet = handing_out.proof_sheet(answer).splitlines()
    assert len(sheet) == 4
    assert sheet[3].startswith("p2_90x80px.jpg,made,90,80,")


def test_only_files_of_the_delivery_are_handed_out(workspace, placed):
    job_id, at = placed()
    answer = orders.deliver(workspace, job_id, [at], NOW)
    for name in ("../../oak-ledge.db", "nothing.jpg", "..", ""):
        with pytest.raises(NotFoundError, match="has no file"):
            handing_out.single(workspace, answer.id, name)


@pytest.mark.parametrize(("which", "error"), [([], RequestError), ([99], NotFoundError)])
def test_a_delivery_of_nothing_is_refused(workspace, placed, which, error):
    job_id, _ = placed()
    with pytest.raises(error):
        orders.deliver(workspace, job_id, which, NOW)
    with pytest.raises(NotFoundError):
        orders.deliver(workspace, 99, None, NOW)
    with pytest.raises(NotFoundError):
        deliveries.view(workspace, 1)


def test_a_folder_that_cannot_be_written_to_is_told(workspace, placed, tmp_path):
    _, at = placed()
    loaded = bench.load(workspace, at)
    blocked = tmp_path / "a-file"
    blocked.write_text("not a folder")
    path = workspace.originals / loaded.photo.hash[:2] / f"{loaded.photo.hash}.jpg"
    work = making.Work(path, "q.jpg", loaded.photo.facts, loaded.size, loaded.placement)
    with pytest.raises(FileError, match=r"cannot be written to: .*choose another folder"):
        making.make(work, blocked / "deeper", workspace.limits)


def test_the_piece_shown_is_the_piece_made(workspace, placed):
    job_id, at = placed("4x5in@60")
    history.keep(workspace, at, Scale(kind="scale", factor=0.6, u=0, v=0), NOW)
    answer = orders.deliver(workspace, job_id, [at], NOW)
    with Image.open(pictures.piece_preview(workspace, bench.load(workspace, at), 300)) as shown:
        seen = shown.convert("RGB")
    with Image.open(handing_out.single(workspace, answer.id, answer.files[0].name or "")) as made:
        true = made.convert("RGB")
    assert seen.size == true.size == (300, 240)
    worst = max(abs(a - b) for a, b in zip(seen.tobytes()[::97], true.tobytes()[::97], strict=True))
    assert worst < 14  # both are JPEGs; the waves run over 180 levels


def test_what_is_made_is_what_was_asked_for_whatever_is_done_meanwhile(workspace, placed):
    job_id, at = placed("90x80px")
    waiting = replace(workspace, ask=lambda times: None)
    answer = orders.deliver(waiting, job_id, None, NOW)
    other = batches.OtherSize(do="size", text="60x50px")
    batches.do(workspace, job_id, [at], other, NOW)
    history.keep(workspace, at, Finish(kind="finish", sharpen_for="rough"), NOW)
    workshop.make_what_waits(workspace, "1", lambda: NOW)
    file = deliveries.view(workspace, answer.id).files[0]
    assert (file.state, file.name, file.size_name) == ("made", "quay_90x80px.jpg", "90 × 80 px")
    with Image.open(handing_out.single(workspace, answer.id, file.name)) as image:
        assert (image.format, image.size) == ("JPEG", (90, 80))
    assert bench.view(workspace, at).state == "placed"  # what lies there now is not made


def test_an_edit_while_a_file_is_made_leaves_the_piece_in_work(workspace, placed, monkeypatch):
    job_id, at = placed()
    real = making.draw

    def drawn(work, limits):
        history.keep(workspace, at, Scale(kind="scale", factor=0.9), NOW)
        return real(work, limits)

    monkeypatch.setattr(drawing, "draw", drawn)
    assert orders.deliver(workspace, job_id, None, NOW).counts == {"made": 1}
    assert bench.view(workspace, at).state == "placed"


@pytest.mark.parametrize(
    "problem",
    [
        ZeroDivisionError(),
        MemoryError(),
        RuntimeError("of a codec"),
        OSError(5, "Input/output error"),
    ],
)
def test_whatever_goes_wrong_a_file_never_stays_being_made(workspace, placed, monkeypatch, problem):
    job_id, _ = placed()

    def fail(work, limits):
        raise problem

    monkeypatch.setattr(drawing, "draw", fail)
    answer = orders.deliver(workspace, job_id, None, NOW)
    assert (answer.state, answer.files[0].state) == ("done", "failed")
    assert answer.files[0].reason
    assert (answer.files[0].reason or "").endswith(".")
    assert (answer.files[0].reason or "")[0].isupper()


def test_a_lease_that_ends_gives_the_files_back_and_what_comes_late_is_nothing(workspace, placed):
    job_id, at = placed()
    waiting = replace(workspace, ask=lambda times: None)
    answer = orders.deliver(waiting, job_id, None, NOW)
    with transaction(workspace.sessions) as session:
        (file,) = claims.claim(session, "slow", 10**9, NOW + workshop.LEASE)
    later = NOW + timedelta(seconds=45)
    workshop.still_at_work(workspace, "slow", later)
    workshop.ask_again(waiting, NOW + timedelta(seconds=70))
    assert deliveries.view(workspace, answer.id).files[0].state == "running"
    workshop.ask_again(waiting, later + timedelta(seconds=61))
    assert deliveries.view(workspace, answer.id).files[0].state == "queued"
    workshop.make_what_waits(workspace, "quick", lambda: NOW)
    with transaction(workspace.sessions) as session:
        assert not store.file_failed(session, file, "slow", "too late", NOW)
    assert deliveries.view(workspace, answer.id).files[0].state == "made"
    assert bench.view(workspace, at).state == "made"


def test_a_delivery_whose_files_are_all_made_is_done_after_a_restart(workspace, placed):
    job_id, _ = placed()
    answer = orders.deliver(workspace, job_id, None, NOW)
    with transaction(workspace.sessions) as session:
        store.set_state(session, answer.id, "running")  # a kill between two steps left it so
    recover(workspace)
    assert deliveries.view(workspace, answer.id).state == "done"


@pytest.fixture
def made_once(workspace, placed):
    """A file that was made; its piece is given another size since. Job, placement, delivery, file."""
    job_id, at = placed("90x80px")
    answer = orders.deliver(workspace, job_id, None, NOW)
    batches.do(workspace, job_id, [at], batches.OtherSize(do="size", text="80x70px"), NOW)
    return job_id, at, answer.id, answer.files[0]


def there(workspace, delivery):
    return sorted(path.name for path in deliveries.folder_of(workspace, delivery).iterdir())


def test_a_delivery_shows_what_was_made_and_not_its_piece_as_it_lies_now(workspace, made_once):
    _, _, delivery, file = made_once
    with Image.open(file_pictures.file_picture(workspace, delivery, file.id, 256)) as shown:
        assert shown.size == (90, 80)
    ((first, piece),) = file_pictures.frozen_pieces(workspace, delivery)
    assert (first, piece.width, piece.size_name) == (file.id, 90, "90 × 80 px")
    (deliveries.folder_of(workspace, delivery) / file.name).unlink()
    with Image.open(file_pictures.file_picture(workspace, delivery, file.id, 256)) as shown:
        assert shown.size == (90, 80), "as it was asked for"
    with pytest.raises(NotFoundError, match="no file 99"):
        file_pictures.file_picture(workspace, delivery, 99, 256)


def test_made_again_the_new_file_takes_the_place_of_the_old_one(workspace, made_once):
    _, at, delivery, file = made_once
    again = orders.again(workspace, delivery, file.id, NOW)
    assert [one.name for one in again.files] == there(workspace, delivery) == ["quay_80x70px.jpg"]
    assert bench.view(workspace, at).state == "made"


def test_a_file_that_can_not_be_made_again_stays_as_it_was(workspace, made_once, monkeypatch):
    job_id, at, delivery, file = made_once
    batches.do(workspace, job_id, [at], batches.OtherSize(do="size", text="6x8px"), NOW)
    with pytest.raises(RequestError, match="can't be made again as its piece lies now"):
        orders.again(workspace, delivery, file.id, NOW)
    assert deliveries.view(workspace, delivery).files[0] == file.model_copy(
        update={"changed": True}
    )
    batches.do(workspace, job_id, [at], batches.OtherSize(do="size", text="80x70px"), NOW)

    def fail(work, limits):
        msg = "of no use"
        raise FileError(msg)

    monkeypatch.setattr(drawing, "draw", fail)
    answer = orders.again(workspace, delivery, file.id, NOW).files[0]
    assert (answer.state, answer.name, answer.measured) == ("made", file.name, file.measured)
    assert answer.reason == "Making it again failed. Of no use. The file made before is kept."
    assert there(workspace, delivery) == ["quay_90x80px.jpg"]
    assert handing_out.single(workspace, delivery, file.name).is_file()


def test_a_folder_that_is_away_for_a_moment_costs_no_proof(workspace, placed):
    job_id, _ = placed()
    answer = orders.deliver(workspace, job_id, None, NOW)
    folder = deliveries.folder_of(workspace, answer.id)
    away = folder.rename(folder.with_name("away"))
    with ZipFile(BytesIO(b"".join(handing_out.archive(workspace, answer.id)))) as archive:
        assert archive.namelist() == ["proof.csv"]
        assert b"gone from disk" in archive.read("proof.csv")
    assert deliveries.view(workspace, answer.id).files[0].state == "failed"
    assert orders.plan(workspace, job_id, None)[0].same_as is None
    away.rename(folder)
    back = deliveries.view(workspace, answer.id).files[0]
    assert (back.state, back.measured) == ("made", answer.files[0].measured)
    assert orders.plan(workspace, job_id, None)[0].same_as == back.name
