from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.gestures.pixels import Finish
from oak_ledge.flows.bench import compare_methods, history, view as bench
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.pieces.pictures import piece_preview
from tests import samples
from tests.conftest import NOW


def picture(data):
    with Image.open(BytesIO(data)) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def test_a_spot_is_the_very_pixels_of_the_file(workspace, placed):
    job_id, at = placed("4x5in@150")  # 750 × 600 px of 1000 × 800
    finish = Finish(kind="finish", method="lanczos", sharpen_for="smooth")
    history.keep(workspace, at, finish, NOW)
    spot = compare_methods.spot(workspace, at, 0.7, 0.4, 120)
    assert (spot.left, spot.top, spot.width, spot.height) == (465, 180, 120, 120)
    assert [one.method for one in spot.methods if one.chosen] == ["lanczos"]
    shown = picture(compare_methods.spot_picture(workspace, at, 0.7, 0.4, 120, "lanczos"))
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    made = picture(handing_out.single(workspace, file.delivery_id, file.name or "").read_bytes())
    part = made[180:300, 465:585]
    # sharpening looks past the spot's edge in the file alone; both are JPEGs
    assert np.abs(shown - part)[4:-4, 4:-4].max() <= 14
    assert np.abs(shown - part).mean() < 2


def test_a_spot_of_a_piece_with_an_outline_is_no_cut_out_itself_and_its_preview_is_its_own(
    workspace, bring, tmp_path
):
    photo = bring(("quay.png", samples.photo(tmp_path / "quay.png", 900, 800))).photos[0]
    sizes = ["600x600px outline circle", "600x600px"]
    job_id = jobs.start(workspace, "", [photo.id], [], sizes, NOW)
    ats = [one.id for one in jobs.view(workspace, job_id).placements]
    round_, square = (
        picture(compare_methods.spot_picture(workspace, at, 0.0, 0.0, 120, "lanczos")) for at in ats
    )
    assert np.array_equal(round_, square)
    previews = [
        picture(piece_preview(workspace, bench.load(workspace, at), 300).read_bytes()) for at in ats
    ]
    assert (previews[0][1, 1] > 250).all()
    assert (previews[1][1, 1] < 250).any()


@pytest.mark.parametrize(("x", "y"), [(0.0, 0.0), (1.0, 1.0), (0.5, 0.5)])
def test_a_spot_stays_inside_and_methods_differ_as_they_should(workspace, bring, tmp_path, x, y):
    path = samples.save(tmp_path / "grain.png", samples.grain(1200, 800))
    photo = bring(("grain.png", path)).photos[0]
    job_id = jobs.start(workspace, "", [photo.id], [], ["20x25in@300"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id  # enlarged sevenfold
    spot = compare_methods.spot(workspace, at, x, y, 200)
    assert 0 <= spot.left <= 7500 - 200
    assert 0 <= spot.top <= 6000 - 200
    seen = {one.method: one for one in spot.methods}
    assert [one.name for one in spot.methods] == ["gentle", "natural", "crisp", "blocks"]
    assert seen["mitchell"].chosen  # all of it is noise
    assert "crisper" in seen["lanczos"].differs
    assert "blocky" in seen["nearest"].differs
    assert all(one.when for one in spot.methods)


@pytest.mark.parametrize(("left", "top"), [(900, 60), (40, 560), (560, 300)])
def test_methods_are_compared_on_the_busiest_spot(workspace, bring, tmp_path, left, top):
    pixels = np.full((800, 1200, 3), 130, np.uint8)
    pixels[top : top + 160, left : left + 160] = samples.grain(160, 160)
    photo = bring(("sky.png", samples.save(tmp_path / "sky.png", pixels))).photos[0]
    job_id = jobs.start(workspace, "", [photo.id], [], ["12x8in@100"], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    place = compare_methods.busiest_place(workspace, at, 220)
    spot = compare_methods.spot(workspace, at, place.x, place.y, 220)
    assert spot.left - 4 <= left <= spot.left + 64
    assert spot.top - 4 <= top <= spot.top + 64


def test_a_small_piece_is_shown_whole_and_a_window_as_it_is(workspace, placed):
    _, at = placed("window 90x60px")
    spot = compare_methods.spot(workspace, at, 0.2, 0.9, 220)
    assert (spot.left, spot.top, spot.width, spot.height) == (0, 0, 90, 60)
    assert {one.differs for one in spot.methods} <= {"chosen", "no difference to be seen"}


def test_advice_is_told_for_a_placement_turned_or_not(workspace, placed):
    _, at = placed("4x5in@150")
    upright = compare_methods.advice(workspace, at)
    assert upright.real == 200
    assert upright.ppi == 150
    lying = bench.view(workspace, at).lying.model_copy(update={"angle": 12.0})
    history.put(workspace, at, lying, NOW)
    turned = compare_methods.advice(workspace, at)
    assert turned.real is not None
    assert turned.real < 200
    assert len(turned.curve) == len(upright.curve)
