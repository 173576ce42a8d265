"""Pieces of several files: drawn once, cut bit for bit, delivered, proven and handed over in order."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from unittest.mock import Mock

import numpy as np
import pytest
from PIL import Image
from PIL.JpegImagePlugin import JpegImageFile

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.gestures.move import Nudge
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.render import render
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.bench.sizes import other_size
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody
from oak_ledge.flows.delivery import deliveries, listed, making, orders, workshop
from oak_ledge.flows.delivery.making import Work, draw
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.receivers import check
from oak_ledge.store.database import transaction
from oak_ledge.store.work import claims
from tests import samples
from tests.conftest import NOW
from tests.samples import size


def pixels(data):
    with Image.open(BytesIO(data)) as image:
        return np.asarray(image)


def quality_of(data):
    """Give a JPEG's tables of quantization: equal where its quality is."""
    return JpegImageFile(BytesIO(data)).quantization


@pytest.mark.parametrize("kind", ["png", "tiff"])
@pytest.mark.parametrize("deep", [False, True])
def test_panels_joined_are_the_one_render_bit_for_bit(tmp_path, kind, deep):
    path = (
        samples.deep(tmp_path / "a.png", 300, 200)
        if deep
        else samples.photo(tmp_path / "a.jpg", 300, 200)
    )
    facts = look_at(path, most_pixels=10**8)

    def drawn(text):
        asked = size(text, file={"format": kind}, sharpen_for="screen")
        return draw(Work(path, path.name, facts, asked, suggest(asked, facts.upright)), Limits())

    (whole,) = drawn("150x90px")
    parts = [pixels(one) for one in drawn("50x45px panels 3x2")]
    rows = [np.concatenate(parts[at : at + 3], axis=1) for at in (0, 3)]
    assert np.array_equal(np.concatenate(rows), pixels(whole))


def test_all_panels_keep_within_the_limit_at_one_quality(tmp_path):
    plain, busy = np.full((200, 200, 3), 120, np.uint8), samples.grain(200, 200)
    path = samples.save(tmp_path / "a.png", np.concatenate([plain, busy], axis=1))
    facts = look_at(path, most_pixels=10**8)
    asked = size("200x200px panels 2", file={"at_most": 20_000})
    files = draw(Work(path, "a", facts, asked, suggest(asked, facts.upright)), Limits())
    assert max(map(len, files)) <= 20_000
    tables = [quality_of(one) for one in files]
    assert tables[0] == tables[1]
    free = draw(
        Work(path, "a", facts, size("200x200px panels 2"), suggest(asked, facts.upright)), Limits()
    )
    assert quality_of(free[0]) != tables[0]  # the limit did bind


def test_a_delivery_treats_them_as_one_piece_of_several_files(workspace, placed, monkeypatch):
    job_id, at = placed("200x250px panels 3")
    planned = orders.plan(workspace, job_id, None)
    names = [
        "quay_200x250px-panels-3_1.jpg",
        "quay_200x250px-panels-3_2.jpg",
        "quay_200x250px-panels-3_3.jpg",
    ]
    assert [(one.name, one.pixels, one.panel) for one in planned] == [
        (name, "200 × 250", n) for n, name in enumerate(names, 1)
    ]
    renders = Mock(side_effect=render)
    monkeypatch.setattr(making, "render", renders)
    made = orders.deliver(workspace, job_id, None, NOW)
    assert renders.call_count == 1
    assert [(file.name, file.state, file.panel, file.panels) for file in made.files] == [
        (name, "made", n, 3) for n, name in enumerate(names, 1)
    ]
    assert all(line.same is not False for file in made.files for line in file.proof)
    assert {file.picture for file in made.files} == {(600, 250)}
    folder = deliveries.folder_of(workspace, made.id)
    with Image.open(folder / names[1]) as image:
        assert image.size == (200, 250)
    assert bench.view(workspace, at).state == "made"
    (short,) = listed.listed(workspace, NOW).deliveries
    assert [(one.width, one.height) for one in short.pieces] == [(600, 250)]
    with pytest.raises(RequestError, match="Nothing changed"):
        orders.deliver(workspace, job_id, None, NOW, only_changed=True)
    (folder / names[2]).unlink()  # one of them gone: the piece is made again, all of it
    assert len(orders.deliver(workspace, job_id, None, NOW, only_changed=True).files) == 3


def test_made_again_all_panels_are_of_one_state(workspace, placed):
    job_id, at = placed("200x250px panels 2")
    made = orders.deliver(workspace, job_id, None, NOW)
    folder = deliveries.folder_of(workspace, made.id)
    before = [(folder / (file.name or "")).read_bytes() for file in made.files]
    history.keep(workspace, at, Nudge(kind="nudge", dx=0, dy=5), NOW)
    again = orders.again(workspace, made.id, made.files[1].id, NOW)
    after = [(folder / (file.name or "")).read_bytes() for file in again.files]
    assert all(was != now for was, now in zip(before, after, strict=True))
    assert [file.name for file in again.files] == [file.name for file in made.files]
    other_size.put(workspace, at, OtherSizeBody(text="200x250px panels 3"), NOW)
    with pytest.raises(RequestError, match="made as 2 panels and is 3 panels now"):
        orders.again(workspace, made.id, made.files[0].id, NOW)


def test_one_worker_takes_all_panels_of_a_piece_and_holds_their_pixels(workspace, bring, tmp_path):
    (photo,) = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 300, 200))).photos
    waiting = replace(workspace, ask=lambda times: None)
    texts = ["70x70px panels 6", *(f"{edge}x70px" for edge in range(70, 76))]
    job_id = jobs.start(workspace, "x", [photo.id], [], texts, NOW)
    delivery = orders.deliver(waiting, job_id, None, NOW)

    def claimed(worker, most):
        with transaction(workspace.sessions) as session:
            return [file.panel for file in claims.claim(session, worker, most, NOW)]

    assert claimed("1", 10**9) == [1, 2, 3, 4, 5, 6, None, None, None]
    held = 300 * 200 + 6 * 70 * 70  # of the four pieces the largest
    assert claimed("2", held + 300 * 200 + 75 * 70 - 1) == []
    assert len(claimed("2", held + 300 * 200 + 75 * 70)) == 3
    for worker in ("1", "2"):
        workshop.lost_worker(waiting, worker, pid=0, now=NOW)
    workshop.make_what_waits(workspace, "3", lambda: NOW)
    assert deliveries.view(workspace, delivery.id).counts == {"made": 12}


# The receiver of that name, as a new library has it.
STALL = 2


def test_a_receiver_takes_the_panels_in_order(workspace, bring, tmp_path):
    (photo,) = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 4000, 2600))).photos
    job_id = jobs.start(workspace, "x", [photo.id], [], ["1600x2000px panels 3"], NOW)
    made = orders.deliver(workspace, job_id, None, NOW)
    told = check.check_delivery(workspace, STALL, made.id).files
    assert [file.file for file in told] == [file.name for file in made.files]
    # the first is on no plain ground
    assert [file.state for file in told] == ["refused", "accepted", "accepted"]
