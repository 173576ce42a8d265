from __future__ import annotations

import pytest
from PIL import Image

from oak_ledge.core.errors import CoreError
from oak_ledge.flows.bench import file, view as bench
from oak_ledge.flows.bench.file import PieceFileBody
from oak_ledge.flows.delivery import deliveries, orders
from oak_ledge.flows.jobs import jobs
from tests import samples
from tests.conftest import NOW


def settle(workspace, at, **asked):
    return file.settle_file(workspace, at, PieceFileBody(**asked), NOW)


def test_a_file_is_settled_for_one_piece_then_made_so(workspace, placed):
    job_id, at = placed("4x5in@100")
    crop = bench.view(workspace, at).crop
    settled = settle(
        workspace, at, format="webp", quality=70, at_most="90kB", pattern="{job}_{photo}"
    )
    assert (settled.file.format, settled.file.quality, settled.limit) == ("webp", 70, "90 kB")
    assert (settled.file_name, settled.stations[-1].figure) == ("Evening_quay.webp", "WebP 70")
    assert (settled.crop, settled.steps[-1], settled.own_size is None) == (
        crop,
        "file changed",
        False,
    )
    made = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert made.name == "Evening_quay.webp"
    with Image.open(deliveries.folder_of(workspace, 1) / made.name) as image:
        assert image.format == "WEBP"
    assert settle(workspace, at, no_limit=True, profile="grey").limit == ""
    assert [one.name for one in file.earlier(workspace, at)] == ["Evening_quay.webp"]


def test_a_file_is_settled_for_all_on_a_size_and_no_crop_moves(workspace, bring, tmp_path):
    files = [(f"{n}.jpg", samples.photo(tmp_path / f"{n}.jpg", 900 + n, 600)) for n in range(3)]
    photos = bring(*files).photos
    job_id = jobs.start(workspace, "Quay", [photo.id for photo in photos], [], ["5x7in@100"], NOW)
    ids = [one.id for one in jobs.view(workspace, job_id).placements]
    before = [bench.view(workspace, one).crop for one in ids]
    settle(workspace, ids[0], format="png", metadata="keep", location=False, for_all=True)
    views = [bench.view(workspace, one) for one in ids]
    assert [view.crop for view in views] == before
    assert {(view.file.format, view.file.location) for view in views} == {("png", False)}
    assert {view.own_size for view in views} == {None}


@pytest.mark.parametrize("pattern", ["{nonsense}", "../{photo}"])
def test_a_name_that_can_not_be_is_refused_or_made_safe(workspace, placed, pattern):
    _, at = placed("4x5in@100")
    before = bench.view(workspace, at)
    try:
        settled = settle(workspace, at, pattern=pattern)
    except CoreError:
        assert bench.view(workspace, at) == before
    else:
        assert "/" not in settled.file_name
        assert settled.file_name.endswith("quay.jpg")
