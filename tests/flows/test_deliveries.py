from __future__ import annotations

from zipfile import ZipFile

import pytest
from PIL import Image

from oak_ledge.core.errors import FileError
from oak_ledge.core.gestures import Scale
from oak_ledge.core.pixels import proof
from oak_ledge.flows import deliveries, jobs, making, placements, previews
from oak_ledge.flows.workspace import AskedError, NotFoundError, recover
from oak_ledge.store import deliveries as store
from oak_ledge.store.database import transaction
from oak_ledge.store.deliveries import STOPPED
from tests import samples
from tests.conftest import NOW, open_at


def test_a_file_is_made_measured_and_found_again(workspace, placed):
    job_id, at = placed("4x5in@150", icc_profile=samples.SRGB)
    told = deliveries.deliver(workspace, job_id, None, NOW)
    file = told.files[0]
    assert (told.state, file.state, file.name) == ("done", "made", "quay_4x5in@150.jpg")
    assert file.measured is not None
    assert (file.measured.width, file.measured.height, file.measured.ppi) == (750, 600, 150)
    assert [line.what for line in file.proof if line.same] == [
        "pixels",
        "resolution",
        "physical size",
        "kind",
    ]
    path = deliveries.file_path(workspace, told.id, file.name)
    with Image.open(path) as image:
        assert image.size == (750, 600)
        assert image.info["icc_profile"] == samples.SRGB
    assert placements.view(workspace, at).state == "made"
    assert deliveries.newest_file(workspace, at) == file


def test_a_stopped_piece_is_not_made_and_says_why_while_the_others_are(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 1200, 800))).photos[0]
    job_id = jobs.start(workspace, "x", [photo.id], [], ["6x8px", "300x200px", "100%"], NOW)
    told = deliveries.deliver(workspace, job_id, None, NOW)
    assert [file.state for file in told.files] == ["failed", "made", "made"]
    assert "Did you mean inches: 6 × 8 in?" in (told.files[0].reason or "")
    with ZipFile(deliveries.archive(workspace, told.id)) as archive:
        assert sorted(archive.namelist()) == ["a_100pct.jpg", "a_300x200px.jpg"]


def test_two_pieces_of_one_name_do_not_meet(workspace, bring, tmp_path):
    one = samples.photo(tmp_path / "a.jpg", 300, 200)
    two = samples.save(tmp_path / "b.png", samples.grain(300, 200))
    told = bring(("same.jpg", one), ("same.png", two))
    job_id = jobs.start(workspace, "x", [p.id for p in told.photos], [], ["90x80px"], NOW)
    made = deliveries.deliver(workspace, job_id, None, NOW)
    assert [file.name for file in made.files] == ["same_90x80px.jpg", "same_90x80px-2.jpg"]


def test_a_file_that_is_not_as_asked_is_taken_away_and_marked_failed(
    workspace, placed, monkeypatch
):
    job_id, at = placed()

    def wrong(path):
        return proof.measure(path).model_copy(update={"width": 399})

    monkeypatch.setattr(making, "measure", wrong)
    told = deliveries.deliver(workspace, job_id, [at], NOW)
    assert told.files[0].state == "failed"
    assert "pixels: asked 500 × 400, measured 399 × 400" in (told.files[0].reason or "")
    assert list(deliveries.folder_of(workspace, told.id).iterdir()) == []
    assert placements.view(workspace, at).state == "new"


def test_after_a_kill_what_was_running_says_so(workspace, placed):
    job_id, at = placed()
    asked = deliveries.deliver(workspace, job_id, [at], NOW).files[0].asked
    with transaction(workspace.sessions) as session:
        killed = store.add(session, job_id, [(at, asked)], NOW)
    again = open_at(workspace.data)
    assert deliveries.view(again, killed).state == "running"  # a command beside a server
    recover(again)
    told = deliveries.view(again, killed)
    assert (told.state, told.files[0].state, told.files[0].reason) == ("stopped", "failed", STOPPED)
    again.sessions.kw["bind"].dispose()


def test_only_files_of_the_delivery_are_handed_out(workspace, placed):
    job_id, at = placed()
    told = deliveries.deliver(workspace, job_id, [at], NOW)
    for name in ("../../oak-ledge.db", "nothing.jpg", "..", ""):
        with pytest.raises(NotFoundError, match="has no file"):
            deliveries.file_path(workspace, told.id, name)


@pytest.mark.parametrize(("which", "error"), [([], AskedError), ([99], NotFoundError)])
def test_a_delivery_of_nothing_is_refused(workspace, placed, which, error):
    job_id, _ = placed()
    with pytest.raises(error):
        deliveries.deliver(workspace, job_id, which, NOW)
    with pytest.raises(NotFoundError):
        deliveries.deliver(workspace, 99, None, NOW)
    with pytest.raises(NotFoundError):
        deliveries.view(workspace, 1)


def test_a_folder_that_cannot_be_written_to_is_told(workspace, placed, tmp_path):
    _, at = placed()
    loaded = placements.load(workspace, at)
    blocked = tmp_path / "a-file"
    blocked.write_text("not a folder")
    path = workspace.originals / loaded.photo.hash[:2] / f"{loaded.photo.hash}.jpg"
    work = making.Work(path, "q.jpg", loaded.photo.facts, loaded.size, loaded.placement)
    with pytest.raises(FileError, match=r"cannot be written to: .*Choose another folder"):
        making.make(work, blocked / "deeper", workspace.limits)


def test_the_piece_shown_is_the_piece_made(workspace, placed):
    job_id, at = placed("4x5in@60")
    placements.keep(workspace, at, Scale(kind="scale", factor=0.6, u=0, v=0), NOW)
    told = deliveries.deliver(workspace, job_id, [at], NOW)
    with Image.open(
        previews.piece_preview(workspace, placements.load(workspace, at), 300)
    ) as shown:
        seen = shown.convert("RGB")
    with Image.open(deliveries.file_path(workspace, told.id, told.files[0].name or "")) as made:
        true = made.convert("RGB")
    assert seen.size == true.size == (300, 240)
    worst = max(abs(a - b) for a, b in zip(seen.tobytes()[::97], true.tobytes()[::97], strict=True))
    assert worst < 14  # both are JPEGs; the waves run over 180 levels
