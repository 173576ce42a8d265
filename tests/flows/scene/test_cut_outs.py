"""Things cut out in a job: begun from what was found, brushed, on every ground, undone, for many, for a receiver."""

from __future__ import annotations

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.gestures.beyond_photo import Continue, Ground
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.turn import Quarter
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.strokes import Stroke
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.delivery.filling import fill_next
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.photos import previews
from oak_ledge.flows.pieces import pictures
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.pieces.pieces import figures_of
from oak_ledge.flows.receivers import check, receivers
from oak_ledge.flows.scene import brushing, cut_outs, retouch_tries, retouches
from oak_ledge.flows.scene.cut_outs import CutOutBody
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from tests import samples
from tests.conftest import NOW

BALL = (300, 200, 90)
LIES = Zone(left=205, top=105, width=190, height=190)


def made_photo(path, colour=(30, 60, 40)):
    """A dark ball on a pale table, 600 × 400 px; a second, smaller one beside it."""
    y, x = np.mgrid[0:400, 0:600]
    photo = np.full((400, 600, 3), (214, 212, 206), np.uint8)
    photo[(x - BALL[0]) ** 2 + (y - BALL[1]) ** 2 < BALL[2] ** 2] = colour
    photo[(x - 480) ** 2 + (y - 200) ** 2 < 30**2] = (200, 60, 50)
    noisy = photo.astype(int) + (samples.grain(600, 400).astype(int) - 128) // 50
    return samples.save(path, np.clip(noisy, 0, 255).astype(np.uint8))


def work(workspace):
    while fill_next(workspace, "one", lambda: NOW):
        pass


@pytest.fixture
def ball(workspace, bring, tmp_path):
    """Start a job with the ball on sizes: (job id, its placements)."""

    def lay(*sizes, zones=(LIES,)):
        photo = bring(("ball.png", made_photo(tmp_path / "ball.png"))).photos[0]
        if zones:
            with transaction(workspace.sessions) as session:
                photos.set_keeps(session, photo.id, Keeps(zones=zones))
        job_id = jobs.start(workspace, "Stall", [photo.id], [], list(sizes), NOW)
        return job_id, [piece.id for piece in jobs.view(workspace, job_id).placements]

    return lay


def made(workspace, job_id, placement_id):
    file = orders.deliver(workspace, job_id, [placement_id], NOW).files[-1]
    assert file.state == "made", file.reason
    with Image.open(folder_of(workspace, file.delivery_id) / (file.name or "")) as image:
        return np.asarray(image)


def test_it_stands_on_any_ground_in_preview_and_file_and_is_undone(workspace, ball):
    job_id, (white, blue, clear) = ball(
        "600x400px png", "600x400px png on #3060a0", "600x400px on clear"
    )
    before = made(workspace, job_id, white)
    first = hash_of(load(workspace, white))
    view = cut_outs.cut_out(workspace, white, CutOutBody(), NOW)
    assert (view.words, view.pieces) == (("1. cut out, try 1",), 3)
    assert hash_of(load(workspace, white)) != first
    work(workspace)
    for at, ground in (
        (white, (255, 255, 255)),
        (blue, (48, 96, 160)),
        (clear, (255, 255, 255, 0)),
    ):
        pixels = made(workspace, job_id, at)
        for y, x in ((5, 5), (395, 595), (200, 480), (200, 200)):
            assert tuple(int(v) for v in pixels[y, x]) == ground  # the small ball is gone too
        inside = np.s_[140:260, 240:360]
        assert np.array_equal(pixels[inside][..., :3], before[inside])
        with Image.open(pictures.piece_preview(workspace, load(workspace, at), 600)) as shown:
            assert shown.mode == ("RGBA" if at == clear else "RGB")
            there = np.asarray(shown)[5, 5]
            assert np.abs(there.astype(int) - ground).max() <= 2
    with Image.open(previews.photo_preview(workspace, load(workspace, white).photo, 600)) as shown:
        assert (shown.format, shown.mode) == ("PNG", "RGBA")
        alpha = np.asarray(shown)[..., 3]
        assert (alpha[5, 5], alpha[BALL[1], BALL[0]]) == (0, 255)
    history.walk(workspace, white, -1, NOW)
    assert hash_of(load(workspace, white)) == first
    assert np.array_equal(made(workspace, job_id, white), before)


def test_a_brush_takes_in_and_away_also_on_a_turned_photo(workspace, ball):
    job_id, (at,) = ball("400x600px png on #0000ff", zones=())
    history.keep(workspace, at, Quarter(kind="quarter", by=1), NOW)
    # turned clockwise, (x, y) of the photo is seen at (400 − y, x)
    on = Stroke(points=((200.0, 480.0),), radius=22)
    off = Stroke(points=((200.0, 300.0),), radius=110, away=True)
    view = cut_outs.cut_out(workspace, at, CutOutBody(strokes=(on, off)), NOW)
    assert [stroke.points for stroke in view.retouches[0].strokes] == [
        ((480.0, 200.0),),
        ((300.0, 200.0),),
    ]
    work(workspace)
    pixels = made(workspace, job_id, at)
    assert tuple(pixels[300, 200]) == (0, 0, 255)  # the ball is taken away
    assert np.abs(pixels[480, 200].astype(int) - (200, 60, 50)).max() < 8
    more = CutOutBody(strokes=(off.model_copy(update={"away": False}),))
    assert len(cut_outs.cut_out(workspace, at, more, NOW).retouches[0].strokes) == 3
    work(workspace)
    assert np.abs(made(workspace, job_id, at)[300, 200].astype(int) - (30, 60, 40)).max() < 8
    assert bench.view(workspace, at).steps[-2:] == ["cut out", "cut out anew"]


def test_tries_stand_side_by_side_and_another_is_taken(workspace, ball):
    job_id, (at,) = ball("600x400px png")
    cut_outs.cut_out(workspace, at, CutOutBody(), NOW)
    photo = load(workspace, at).photo
    number = photo.retouches.retouches[0].number
    assert {view.state for view in retouch_tries.tries(workspace, photo.id, number, NOW)} == {
        "waiting"
    }
    work(workspace)
    views = retouch_tries.tries(workspace, photo.id, number, NOW)
    assert [view.state for view in views] == ["made"] * 4
    assert not any(view.bold for view in views)  # a plain table: the edge is told
    path = retouch_tries.picture(workspace, photo.id, number, 2, NOW)
    assert path is not None
    with Image.open(path) as spot:
        row = np.asarray(spot.convert("L"))[3] // 12
        assert len(np.unique(row)) >= 2  # on squares of two tones
    two = photo.retouches.retouches[0].model_copy(update={"attempt": 2})
    body = retouches.RetouchesBody(
        retouches=[two], version=photo.retouches.version, placement_id=at
    )
    assert retouches.put(workspace, photo.id, body, NOW, job_id).words == ("1. cut out, try 2",)


def test_it_is_done_to_all_chosen_once_and_squared_photos_are_refused(workspace, ball):
    job_id, (one, two) = ball("600x400px png", "300x300px png")
    done = cut_outs.cut_out_of_all(workspace, job_id, [one, two], NOW)
    assert (done.photos, done.there) == (1, 0)
    assert cut_outs.cut_out_of_all(workspace, job_id, [two], NOW).there == 1
    assert len(load(workspace, one).photo.retouches.retouches) == 1
    for at in (one, two):
        assert ("cut-out", "look") in [
            (note.code, note.level) for note in figures_of(load(workspace, at))[1]
        ]
    assert batches.undo(workspace, job_id, NOW).changed == 1
    assert load(workspace, two).photo.retouches.cut is None
    assert cut_outs.cut_out_of_all(workspace, job_id, [two, one], NOW).photos == 1
    for wrong in ([], [999]):
        with pytest.raises(RequestError, match="Choose placements"):
            cut_outs.cut_out_of_all(workspace, job_id, wrong, NOW)
    corners = ((20.0, 20.0), (560.0, 30.0), (570.0, 380.0), (25.0, 370.0))
    history.keep(workspace, two, Square(kind="square", corners=corners), NOW)
    with pytest.raises(RequestError, match="the photo itself"):
        cut_outs.cut_out(workspace, two, CutOutBody(), NOW)


def test_a_ground_of_the_photo_is_white_behind_it_and_nothing_found_fails_in_words(
    workspace, bring, ball, tmp_path
):
    job_id, (at,) = ball("600x600px png")
    history.keep(workspace, at, Ground(kind="ground", beyond=True, fill="blur"), NOW)
    cut_outs.cut_out(workspace, at, CutOutBody(), NOW)
    work(workspace)
    pixels = made(workspace, job_id, at)
    assert {tuple(pixels[y, x]) for y, x in ((110, 10), (300, 580))} == {(255, 255, 255)}
    history.keep(workspace, at, Continue(kind="continue"), NOW)
    dot = Stroke(points=((60.0, 160.0),), radius=9)
    brushing.brush(workspace, at, brushing.Brushed(strokes=(dot,)), NOW)
    work(workspace)
    continued = made(workspace, job_id, at)
    assert {tuple(continued[y, x]) for y, x in ((20, 300), (580, 300))} == {(255, 255, 255)}
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 300)) as shown:
        assert np.asarray(shown.convert("RGB"))[10, 150].min() > 250
    flat = samples.save(tmp_path / "flat.png", np.full((200, 300, 3), 128, np.uint8))
    photo = bring(("flat.png", flat)).photos[0]
    other = jobs.start(workspace, "Flat", [photo.id], [], ["300x200px png"], NOW)
    piece = jobs.view(workspace, other).placements[0].id
    cut_outs.cut_out(workspace, piece, CutOutBody(), NOW)
    work(workspace)
    file = orders.deliver(workspace, other, None, NOW).files[0]
    assert file.state in ("made", "failed")
    if file.state == "failed":
        assert "stands out" in (file.reason or "")


def test_a_marketplace_that_wants_a_plain_ground_gets_the_thing_alone(workspace, bring, tmp_path):
    y, x = np.mgrid[0:1200, 0:1800]
    photo = (
        np.stack([120 + 60 * np.sin(x / 9), 100 + 0 * x, 70 + 40 * np.sin(y / 13)], axis=2)
    ).astype(np.uint8)
    photo[(x - 900) ** 2 + (y - 600) ** 2 < 300**2] = (30, 90, 200)
    taken = bring(("float.png", samples.save(tmp_path / "float.png", photo))).photos[0]
    with transaction(workspace.sessions) as session:
        zone = Zone(left=590, top=290, width=620, height=620)
        photos.set_keeps(session, taken.id, Keeps(zones=(zone,)))
    job_id = jobs.start(workspace, "Stall", [taken.id], [], ["1600x1600px"], NOW)
    delivery = orders.deliver(workspace, job_id, None, NOW)
    stall = next(one.id for one in receivers.every(workspace) if one.name == "Stall marketplace")
    (refused,) = check.check_delivery(workspace, stall, delivery.id).files
    assert refused.fixes == ("Cut the thing out, on white",)
    fixed = check.fix(workspace, stall, delivery.id, delivery.files[0].id, NOW)
    work(workspace)
    assert fixed.files[0].state == "made"
    assert check.check_delivery(workspace, stall, delivery.id).files[0].state == "accepted"
    with Image.open(folder_of(workspace, delivery.id) / (fixed.files[0].name or "")) as image:
        corners = [image.getpixel(at) for at in ((0, 0), (1599, 0), (0, 1599), (1599, 1599))]
        assert corners == [(255, 255, 255)] * 4
