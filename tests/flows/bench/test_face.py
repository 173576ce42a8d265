"""A photo's points through the flows: set, chosen, confirmed, undone; over a series; on sheets and contact sheets."""

from __future__ import annotations

from io import BytesIO

import pytest
from pypdf import PdfReader

from oak_ledge.core.errors import FaceError
from oak_ledge.core.gestures.heads import LayHead
from oak_ledge.core.gestures.turn import Angle, Mirror
from oak_ledge.demo.fill import PHOTOS
from oak_ledge.flows.bench import face, fixes, history, view as bench
from oak_ledge.flows.bench.face import ConfirmFace, FindFace, PickFace, SetFace
from oak_ledge.flows.bench.sizes import other_size
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.errors import ChangedMeanwhileError, RequestError
from oak_ledge.flows.export.export import contact_sheet
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.jobs.batches import Heads
from oak_ledge.flows.photos import photos
from oak_ledge.flows.sheets import sheets
from oak_ledge.web.api.answer import LETTERS
from tests.conftest import NOW

IDENTITY = "35x45mm@600 head 32-36mm eyes 50-60%"
# Sure of the middle of the photo, no one's head: 300 px from crown to chin.
POINTS = ((560.0, 380.0), (640.0, 380.0), (600.0, 550.0), (600.0, 250.0))


@pytest.fixture
def carriers(bring, workspace):
    """Bring drawn portraits in, their heads found; start a job of them; give it with its pieces by name."""

    def start(*numbers, text=IDENTITY):
        names = [f"carrier-{number}.jpg" for number in numbers]
        taken = bring(*((name, PHOTOS / name) for name in names), find=True)
        job_id = jobs.start(
            workspace, "Carriers", [photo.id for photo in taken.photos], [], [text], NOW
        )
        return job_id, {one.photo_name: one.id for one in jobs.view(workspace, job_id).placements}

    return start


def loosely(function):
    """Return a function whose answers are looked into without asking whether they are there."""
    return function


looked, changed, told_of = map(loosely, (bench.view, face.change_face, face.tell_face))
walked, fixed, put_on, added = map(loosely, (history.walk, fixes.fix, other_size.put, jobs.add))


def codes(view):
    return {note.code for note in view.notes}


def test_found_points_lay_the_piece_and_wait_for_one_look(workspace, carriers):
    job_id, at = carriers(1, 2)
    one = at["carrier-1.jpg"]
    view = looked(workspace, one)
    assert (view.head.height_words, view.head.within, view.head.asks) == ("34.0 mm", True, True)
    assert "subject-cut" not in codes(view)
    note = next(note for note in view.notes if note.code == "face-found")
    assert [way.words for way in note.ways] == ["They are right", "Right for all 2"]
    confirmed = fixed(workspace, one, "face-found", NOW, view.step, "right")
    assert "face-found" not in codes(confirmed)
    assert confirmed.lying == view.lying  # what is confirmed moves nothing
    assert confirmed.steps[-1] == "points confirmed"
    other = looked(workspace, at["carrier-2.jpg"])
    assert [way.key for way in next(n for n in other.notes if n.code == "face-found").ways] == [
        "right"
    ]
    assert "face-found" in codes(walked(workspace, one, -1, NOW))
    assert face.confirm_all(workspace, job_id, NOW).model_dump() == {"confirmed": 2, "left": 0}
    assert "face-found" not in codes(looked(workspace, at["carrier-2.jpg"]))
    assert face.confirm_all(workspace, job_id, NOW).confirmed == 0


def test_points_set_by_hand_lay_this_piece_and_those_nobody_worked_on(workspace, placed):
    job_id, at = placed(IDENTITY)
    assert looked(workspace, at).head.face is None
    assert [note.code for note in looked(workspace, at).notes][:1] == ["head"]
    view = added(workspace, job_id, [], [], ["2x2in@300 head 1-1.375in"], NOW)
    untouched = next(one.id for one in view.placements if one.id != at)
    view = changed(workspace, at, SetFace(do="set", points=POINTS), NOW)
    assert view.head.height_words == "34.0 mm"
    assert view.photo.faces.set.measured is not None
    assert view.crop[2] == pytest.approx(300 * 827 / 803.15, rel=1e-3)
    assert view.steps == ["suggested", "head measured"]
    assert looked(workspace, untouched).head.height_words == "1.19 in"
    undone = walked(workspace, at, -1, NOW)
    assert undone.photo.faces.set is None
    assert looked(workspace, untouched).head.face is None
    redone = walked(workspace, at, 1, NOW)
    assert (redone.lying, redone.photo.faces) == (view.lying, view.photo.faces)
    assert looked(workspace, untouched).head.height_words == "1.19 in"
    # what another piece changed since stays
    moved = tuple((x, y + 20) for x, y in POINTS)
    changed(workspace, untouched, SetFace(do="set", points=moved), NOW)
    assert walked(workspace, at, -1, NOW).photo.faces.set.chin[1] == pytest.approx(570, abs=0.5)


def test_points_under_a_hand_are_told_and_not_kept(workspace, placed):
    _, at = placed(IDENTITY)
    live = told_of(workspace, at, SetFace(do="set", points=POINTS))
    assert live.head.height_words == "34.0 mm"
    assert looked(workspace, at).photo.faces.set is None
    with pytest.raises(FaceError, match="chin lies above"):
        told_of(workspace, at, SetFace(do="set", points=(*POINTS[:2], POINTS[3], POINTS[2])))


def test_points_are_meant_as_they_are_seen_on_a_mirrored_photo(workspace, placed):
    _, at = placed(IDENTITY)
    history.keep(workspace, at, Mirror(kind="mirror"), NOW)
    view = changed(workspace, at, SetFace(do="set", points=POINTS), NOW)
    for seen, meant in zip(view.head.face.points, POINTS, strict=True):
        assert seen == pytest.approx(meant)
    assert view.photo.faces.set.left_eye == pytest.approx((1200 - 640, 380))


def test_two_at_once_and_faces_that_are_not_there_are_refused(workspace, placed):
    _, at = placed(IDENTITY)
    step = looked(workspace, at).step
    changed(workspace, at, SetFace(do="set", points=POINTS), NOW, step)
    with pytest.raises(ChangedMeanwhileError) as second:
        changed(workspace, at, SetFace(do="set", points=POINTS), NOW, step)
    assert second.value.newer == looked(workspace, at)
    with pytest.raises(RequestError, match="there is no face 0"):
        changed(workspace, at, PickFace(do="pick", face=0), NOW)
    changed(workspace, at, FindFace(do="find"), NOW)
    with pytest.raises(RequestError, match=r"No face of quay\.jpg is chosen"):
        changed(workspace, at, ConfirmFace(do="right"), NOW)


def test_of_several_faces_the_one_that_is_picked_is_laid(workspace, bring, tmp_path):
    from PIL import Image

    wide = Image.new("RGB", (2000, 1200), (168, 178, 184))
    for n, name in enumerate(("carrier-1.jpg", "carrier-2.jpg")):
        wide.paste(Image.open(PHOTOS / name).resize((900, 1200)), (1000 * n, 0))
    wide.save(tmp_path / "two.png")
    photo = bring(("two.png", tmp_path / "two.png"), find=True).photos[0]
    job_id = jobs.start(workspace, "Two", [photo.id], [], [IDENTITY], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    view = looked(workspace, at)
    assert view.notes[0].text == "2 faces were found. Click the one that is meant."
    assert len(view.head.others) == 2
    smaller = min(
        range(2), key=lambda n: view.head.others[n].points[2][1] - view.head.others[n].points[3][1]
    )
    picked = changed(workspace, at, PickFace(do="pick", face=smaller), NOW)
    assert picked.head.face.points == view.head.others[smaller].points
    assert picked.head.within
    assert "face-found" in codes(picked)


def test_a_series_gets_one_head_size_and_eye_line_and_says_what_can_not(workspace, carriers):
    job_id, at = carriers(1, 2, 3)
    model = at["carrier-2.jpg"]
    history.keep(workspace, model, LayHead(kind="lay_head", height=33, eyes=57), NOW)
    history.keep(workspace, at["carrier-1.jpg"], LayHead(kind="lay_head", height=35.5), NOW)
    doing = Heads(do="heads", placement_id=model)
    told = batches.do(workspace, job_id, list(at.values()), doing, NOW, only_tell=True)
    assert (told.changed, told.refused) == (2, [])
    assert looked(workspace, at["carrier-1.jpg"]).head.height == "35.5"
    done = batches.do(
        workspace, job_id, list(at.values()), Heads(do="heads", placement_id=model), NOW
    )
    heads = [looked(workspace, one).head for one in at.values()]
    assert {head.height for head in heads} == {"33.0"}
    assert {head.eyes for head in heads} == {"57"}
    assert done.what == "heads as on carrier-2.jpg"
    batches.undo(workspace, job_id, NOW)
    assert looked(workspace, at["carrier-1.jpg"]).head.height == "35.5"


def test_what_no_series_can_take_along_is_named_with_its_reason(
    workspace, carriers, bring, tmp_path
):
    job_id, at = carriers(1)
    from tests import samples

    bare = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1200, 800)), find=True).photos[0]
    small = bring(
        ("small.jpg", _shrunk(PHOTOS / "carrier-2.jpg", tmp_path, 540)), find=True
    ).photos[0]
    cut = bring(("cut.jpg", _cut(PHOTOS / "carrier-3.jpg", tmp_path)), find=True).photos[0]
    added(workspace, job_id, [bare.id, small.id, cut.id], [], [], NOW)
    pieces = {one.photo_name: one.id for one in jobs.view(workspace, job_id).placements}
    doing = Heads(do="heads", placement_id=at["carrier-1.jpg"])
    done = batches.do(workspace, job_id, list(pieces.values()), doing, NOW)
    reasons = {one.placement_id: one.reason for one in done.refused}
    assert reasons[pieces["quay.jpg"]].startswith("No head is known")
    assert reasons[pieces["small.jpg"]].startswith("too few pixels: it would be enlarged ×4")
    assert reasons[pieces["cut.jpg"]].startswith("too near the edge: its ")
    with pytest.raises(RequestError, match=r"No head is known in quay\.jpg"):
        batches.do(
            workspace,
            job_id,
            [at["carrier-1.jpg"]],
            Heads(do="heads", placement_id=pieces["quay.jpg"]),
            NOW,
        )


def _shrunk(path, folder, high):
    from PIL import Image

    image = Image.open(path)
    image.resize((round(image.width * high / image.height), high)).save(
        folder / "small.jpg", quality=95
    )
    return folder / "small.jpg"


def _cut(path, folder):
    from PIL import Image

    image = Image.open(path)
    image.crop((0, 380, image.width, image.height)).save(folder / "cut.jpg", quality=95)
    return folder / "cut.jpg"


def test_another_size_with_a_head_is_laid_by_it_and_its_note_fixed(workspace, carriers):
    _, at = carriers(2, text="4x5in@150")
    one = at["carrier-2.jpg"]
    view = put_on(workspace, one, OtherSizeBody(text="50x70mm@300 head 31-36mm"), NOW)
    assert view.head.height == "33.5"
    history.keep(workspace, one, LayHead(kind="lay_head", height=39), NOW)
    assert fixed(workspace, one, "head", NOW).head.height == "33.5"
    history.keep(workspace, one, Angle(kind="angle", angle=-3.0), NOW)
    tilted = looked(workspace, one)
    assert "head-tilt" in codes(tilted)
    level = fixed(workspace, one, "head-tilt", NOW)
    assert "head-tilt" not in codes(level)
    assert level.head.height == tilted.head.height


def test_a_small_paper_full_of_one_picture_and_a_contact_sheet_with_its_lines(workspace, carriers):
    job_id, at = carriers(1)
    one = at["carrier-1.jpg"]
    small = looked(workspace, one).head.sheet
    assert (small.copies, small.words, small.paper) == (8, "8 on 10 × 15 cm", "10x15cm@600")
    sheet = sheets.start(
        workspace,
        job_id,
        [one],
        NOW,
        paper=small.paper,
        copies=small.copies,
        margin=small.margin,
        gap=small.gap,
        marks=False,
    )
    assert (len(sheet.pieces), sheet.pages) == (8, 1)
    face.confirm_all(workspace, job_id, NOW)
    delivery = orders.deliver(workspace, job_id, None, NOW).id
    plain, lined = (
        contact_sheet(workspace, delivery, "a4", LETTERS, heads=heads) for heads in (False, True)
    )
    oak = [_oak_pixels(pdf) for pdf in (plain, lined)]
    assert oak[0] < 50
    assert oak[1] > 400


def _oak_pixels(pdf):
    """Count what of a contact sheet is of the colour of its lines."""
    import numpy as np
    from PIL import Image

    (image,) = PdfReader(BytesIO(pdf)).pages[0].images
    page = np.asarray(Image.open(BytesIO(image.data)).convert("RGB")).astype(int)
    return int((abs(page - (168, 118, 62)).max(axis=2) < 24).sum())


def test_where_faces_are_not_looked_for_none_is(workspace, bring):
    from dataclasses import replace

    from oak_ledge.flows.photos.photos import Incoming

    blind = replace(workspace, finds=False)
    data = (PHOTOS / "carrier-1.jpg").read_bytes()
    (photo,) = photos.take_in(blind, [Incoming("carrier-1.jpg", BytesIO(data))], NOW).photos
    assert photo.faces is not None
    assert photo.faces.found == ()
    assert photo.keeps.zones == ()
