"""The stand-in receivers: what they take, refuse and fix, their faults, and what is kept of it."""

from __future__ import annotations

import io
import time
from dataclasses import replace

import numpy as np
import pytest

from oak_ledge.core.files.proof import Measured
from oak_ledge.desks import DESKS, Parcel
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.delivery import deliveries, orders
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.receivers import receivers
from oak_ledge.web.api.answer import LETTERS
from tests import samples
from tests.conftest import NOW


def measured(width, height, ppi=None, weight=90_000, form="jpeg", profile="sRGB"):
    return Measured(
        width=width, height=height, ppi=ppi, bytes=weight, format=form, profile=profile, bits=8
    )


@pytest.mark.parametrize(
    ("desk", "group", "found", "reasons"),
    [
        ("lab", "print", measured(3000, 2400, 300), []),
        ("lab", "print", measured(3075, 2475, 300), []),  # an eighth of an inch of bleed around
        ("lab", "print", measured(2480, 3508, 300, profile=None), []),
        ("lab", "print", measured(3000, 2000, 300), ["none of its papers"]),
        ("lab", "print", measured(800, 640, 80), ["80 ppi"]),
        ("lab", "print", measured(3000, 2400, 300, form="webp"), ["WEBP"]),
        ("lab", "print", measured(3000, 2400, 300, profile="Press coated"), ["Press coated"]),
        ("marketplace", "marketplace", measured(1600, 1600), []),
        ("marketplace", "marketplace", measured(1200, 1500), ["longest edge 1500"]),
        ("marketplace", "marketplace", measured(2000, 900, weight=6_000_000), ["6.00 MB"]),
        ("sign", "screen", measured(384, 160, form="png"), []),
        ("sign", "screen", measured(192, 160), ["50 % of its face"]),
        ("sign", "screen", measured(384, 160, weight=160_000, form="webp"), ["WEBP", "160.0 kB"]),
    ],
)
def test_a_desk_takes_what_it_wants_and_says_what_would_fix_the_rest(
    tmp_path, desk, group, found, reasons
):
    path = samples.save(tmp_path / "a.jpg", np.full((40, 40, 3), 250, np.uint8))
    parcel = Parcel(path, found, group, 1)
    answer = DESKS[desk].check(parcel)
    assert DESKS[desk].is_for(parcel)
    assert answer.accepted == (not reasons)
    assert len(answer.reasons) == len(reasons)
    for said, word in zip(answer.reasons, reasons, strict=True):
        assert word in said
    assert len(answer.fixes) == len(reasons)


def test_a_listing_shows_so_many_and_begins_on_a_plain_ground(tmp_path):
    busy = samples.photo(tmp_path / "busy.jpg")
    stall = DESKS["marketplace"]
    first = Parcel(busy, measured(2000, 2000), "marketplace", 1)
    assert "plain ground" in stall.check(first).reasons[0]
    assert stall.check(replace(first, number=2)).accepted
    assert "picture 13" in stall.check(replace(first, number=13)).reasons[0]


@pytest.fixture
def delivered(workspace, bring, tmp_path):
    """Two photos on a print, a sign that takes them and one they are too heavy for; give the id."""
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 1200 + n, 800)) for n in range(2)]
    ids = [one.id for one in bring(*files).photos]
    asked = [
        {"text": "4x6in@150", "name": "Print", "group": "print"},
        {"text": "384x160px", "name": "Sign", "group": "screen"},
        {"text": "1200x800px", "name": "Board", "group": "screen", "file": {"format": "tiff"}},
    ]
    chosen = [sizes.add(workspace, SizeBody.model_validate(one)).id for one in asked]
    job_id = jobs.start(workspace, "Quay", ids, chosen, [], NOW)
    return orders.deliver(workspace, job_id, None, NOW).id


@pytest.mark.thorough
def test_files_are_rehearsed_sent_once_and_the_answers_kept(workspace, delivered):
    shown = receivers.rehearse(workspace, "sign", delivered)
    assert shown.words == "2 of 4 would be accepted"
    assert receivers.received(workspace)["sign"] == []
    sent = receivers.send(workspace, "sign", delivered, NOW)
    assert (len(sent.accepted), len(sent.refused)) == (2, 2)
    assert "held back: it would hang the sign" in sent.refused[0].why
    assert not receivers.every(workspace)[2].hung
    kept = receivers.received(workspace)["sign"]
    assert [one.accepted for one in kept] == [False, False, True, True]
    assert kept[-1].words.startswith("accepted, ticket sign-")
    again = receivers.send(workspace, "sign", delivered, NOW)
    assert again.accepted == sent.accepted
    assert sum(one.accepted for one in receivers.received(workspace)["sign"]) == 2
    with pytest.raises(RequestError, match="for the desk “Marketplace”"):
        receivers.send(workspace, "marketplace", delivered, NOW)
    with pytest.raises(NotFoundError, match="lab, marketplace, sign"):
        receivers.rehearse(workspace, "bakery", delivered)
    with pytest.raises(NotFoundError):
        receivers.send(workspace, "lab", 99, NOW)


FIXABLE = [
    ("sign", {"text": "1200x800px", "group": "screen", "file": {"format": "tiff"}}),
    ("lab", {"text": "4x6in@100", "group": "print"}),
    ("lab", {"text": "10x4in@110", "group": "print", "file": {"format": "webp"}}),
    ("marketplace", {"text": "1200x800px", "group": "marketplace"}),
    ("marketplace", {"text": "900x900px", "group": "marketplace", "file": {"format": "tiff"}}),
]


@pytest.mark.thorough
@pytest.mark.parametrize(("desk", "asked"), FIXABLE)
def test_what_a_desk_refuses_is_fixed_in_one_step_that_can_be_undone(
    workspace, bring, tmp_path, desk, asked
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1500, 1000))).photos[0]
    size = sizes.add(workspace, SizeBody.model_validate(asked))
    job_id = jobs.start(workspace, "Quay", [photo.id], [size.id], [], NOW)
    foreseen = receivers.rehearse_plan(workspace, desk, job_id, None)
    shown = orders.deliver(workspace, job_id, None, NOW)
    file = shown.files[0]
    refused = receivers.rehearse(workspace, desk, shown.id).refused[0]
    assert (refused.file_id, refused.placement_id) == (file.id, file.placement_id)
    assert refused.fixes == foreseen.refused[0].fixes
    fixed = receivers.fix(workspace, desk, shown.id, file.id, NOW)
    assert fixed.counts == {"made": 1}, fixed.files[0].reason
    assert receivers.rehearse(workspace, desk, shown.id).refused == []
    assert [path.name for path in deliveries.folder_of(workspace, shown.id).iterdir()] == [
        fixed.files[0].name
    ]
    with pytest.raises(RequestError, match="can be fixed"):
        receivers.fix(workspace, desk, shown.id, file.id, NOW)
    lying = bench.view(workspace, file.placement_id)
    assert lying.steps[1:] == [f"fixed for {DESKS[desk].title.lower()}"]
    undone = history.walk(workspace, file.placement_id, -1, NOW)
    assert undone.lying.size is None
    assert orders.again(workspace, shown.id, file.id, NOW).files[0].name == file.name


@pytest.mark.thorough
def test_before_files_are_made_a_desk_is_asked_about_those_meant_for_it(workspace, delivered):
    job_id = deliveries.view(workspace, delivered).job_id
    shown = "would be accepted, by estimated bytes"
    assert receivers.rehearse_plan(workspace, "lab", job_id, None).words == f"2 of 2 {shown}"
    sign = receivers.rehearse_plan(workspace, "sign", job_id, None)
    assert sign.words == f"2 of 4 {shown}"
    assert [one.file_id for one in sign.refused] == [None, None]
    with pytest.raises(RequestError, match="Nothing in this job is for"):
        receivers.rehearse_plan(workspace, "marketplace", job_id, None)


def test_faults_are_met_and_a_sign_that_hangs_is_reset(workspace, delivered, monkeypatch):
    receivers.stand(workspace, "lab", "refuses", reset=False)
    assert receivers.send(workspace, "lab", delivered, NOW).refused[0].why == receivers.CLOSED
    receivers.stand(workspace, "lab", "breaks off", reset=False)
    broken = receivers.send(workspace, "lab", delivered, NOW)
    assert (len(broken.accepted), broken.refused[0].why) == (1, receivers.BROKE_OFF)
    slept: list[float] = []
    monkeypatch.setattr(time, "sleep", slept.append)
    receivers.stand(workspace, "lab", "slow", reset=False)
    assert len(receivers.send(workspace, "lab", delivered, NOW).accepted) == 2
    assert slept == [receivers.SLOW]  # the one it has is not sent again
    hung = receivers.send(workspace, "sign", delivered, NOW, unchecked=True)
    assert "hangs until it is reset" in hung.refused[0].why
    assert "reset it" in hung.refused[1].why
    assert receivers.every(workspace)[2].hung
    assert not receivers.stand(workspace, "sign", None, reset=True).hung


@pytest.mark.thorough
def test_a_file_that_changed_since_is_never_handed_over(workspace, delivered):
    found = deliveries.view(workspace, delivered)
    path = deliveries.folder_of(workspace, delivered) / (found.files[0].name or "")
    path.write_bytes(samples.bytes_of(samples.grain(700, 600), "JPEG"))
    sent = receivers.send(workspace, "lab", delivered, NOW)
    assert "not as it was when it was measured" in sent.refused[0].why
    path.write_bytes(b"damaged")
    shown = receivers.rehearse(workspace, "lab", delivered)
    assert len(shown.accepted) == 1
    assert "cannot be read back" in shown.refused[0].why


def test_a_contact_sheet_holds_every_file(workspace, delivered):
    sheet = handing_out.contact_sheet(workspace, delivered, "a4", LETTERS)
    assert sheet.startswith(b"%PDF")
    assert sheet.count(b"/Type /Page\n") + sheet.count(b"/Type /Page ") == 1
    assert io.BytesIO(sheet).getbuffer().nbytes > 20_000
