"""Receivers kept, asked about files made and not made yet, and what they refuse fixed in one step."""

from __future__ import annotations

import io
import json

import pytest

from oak_ledge.core.errors import ReceiverError
from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.receivers.takes import Takes
from oak_ledge.core.receivers.way import FolderWay
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.delivery import deliveries, orders
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.receivers import check, receivers
from oak_ledge.flows.receivers.receivers import ReceiverBody
from oak_ledge.web.api.answer import LETTERS
from tests import samples
from tests.conftest import NOW

# As a new library has them.
LAB, STALL, SIGN = 1, 2, 3
PIER = Receiver(name="Pier", takes=Takes(formats=("jpeg",)), way=FolderWay(path="/pier"))


def body_of(workspace, receiver_id, **changes):
    """A receiver as it is answered, changed, and sent back whole."""
    answered = json.loads(receivers.view(workspace, receiver_id).model_dump_json())
    return ReceiverBody.model_validate(answered | changes)


def test_receivers_are_kept_changed_deleted_and_brought_back(workspace):
    pier = receivers.add(workspace, PIER)
    assert pier.sentence == "Takes JPEG."
    with pytest.raises(RequestError, match="is a receiver “Pier” already"):
        receivers.add(workspace, PIER.model_copy(update={"name": "PIER"}))
    body = body_of(workspace, pier.id, name="Long pier")
    own = Receiver(name="Own", way=FolderWay(path=str(workspace.data / "photos")))
    with pytest.raises(RequestError, match="is Oak Ledge's own"):
        receivers.add(workspace, own)
    changed = receivers.change(workspace, pier.id, body)
    assert (changed.name, changed.version) == ("Long pier", pier.version + 1)
    with pytest.raises(ChangedMeanwhileError, match="changed meanwhile") as late:
        receivers.change(workspace, pier.id, body)
    assert late.value.newer == changed
    with pytest.raises(RequestError, match="Say the version"):
        receivers.change(workspace, pier.id, body_of(workspace, pier.id, version=None))
    with pytest.raises(RequestError, match="Choose another name"):
        receivers.change(workspace, pier.id, body_of(workspace, pier.id, name="sign on the quay"))
    receivers.delete(workspace, pier.id, NOW)
    with pytest.raises(NotFoundError):
        receivers.view(workspace, pier.id)
    assert receivers.add(workspace, PIER).id > pier.id  # a number is never given twice
    assert receivers.bring_back(workspace, pier.id).name == "Long pier"


@pytest.mark.parametrize(
    ("name", "number"),
    [("Harbour print lab", LAB), ("LAB", LAB), ("marketplace", STALL), ("quay", SIGN)],
)
def test_a_receiver_is_found_by_its_name_or_a_word_of_it(workspace, name, number):
    assert receivers.called(workspace, name).id == number


def test_a_name_that_means_none_or_several_is_refused_with_those_there_are(workspace):
    with pytest.raises(NotFoundError, match="there are “Harbour print lab”, “Stall"):
        receivers.called(workspace, "bakery")
    receivers.add(workspace, PIER.model_copy(update={"name": "Other lab"}))
    with pytest.raises(NotFoundError, match="Several receivers are called “lab”"):
        receivers.called(workspace, "lab")


def test_receivers_go_out_and_come_in_as_json_all_or_none(workspace):
    text = receivers.export(workspace)
    with pytest.raises(RequestError, match="already"):
        receivers.take_in(workspace, text)
    pair = [json.loads(text)[0], json.loads(PIER.model_dump_json())]
    with pytest.raises(RequestError):
        receivers.take_in(workspace, json.dumps(pair))
    assert len(receivers.every(workspace)) == 3
    with pytest.raises(ReceiverError, match="receiver “Pier”: way"):
        receivers.take_in(workspace, json.dumps([*pair, pair[1] | {"way": {"kind": "post"}}]))
    taken = receivers.take_in(workspace, json.dumps(pair), replace=True)
    assert [kept.id for kept in taken] == [LAB, 4]
    again = receivers.export(workspace)
    assert json.loads(again)[:3] == json.loads(text)


def test_a_host_is_known_once_a_person_said_so(workspace):
    lab = receivers.view(workspace, LAB)
    known = receivers.know_host(workspace, LAB, "ssh-ed25519 AAAA", lab.version)
    assert "key known" in known.way_words
    with pytest.raises(ChangedMeanwhileError):
        receivers.know_host(workspace, LAB, "ssh-ed25519 BBBB", lab.version)
    with pytest.raises(RequestError, match="no host key"):
        receivers.know_host(workspace, SIGN, "ssh-ed25519 AAAA", 1)


@pytest.fixture
def delivered(workspace, bring, tmp_path):
    """Two photos on a print, a sign that takes them and one they are too heavy for; give the id."""
    files = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 1200 + n, 800)) for n in range(2)]
    ids = [photo.id for photo in bring(*files).photos]
    asked = [
        {"text": "4x6in@150", "name": "Print", "group": "print"},
        {"text": "384x160px", "name": "Sign", "group": "screen"},
        {"text": "1200x800px", "name": "Board", "group": "screen", "file": {"format": "tiff"}},
    ]
    chosen = [sizes.add(workspace, SizeBody.model_validate(body)).id for body in asked]
    job_id = jobs.start(workspace, "Quay", ids, chosen, [], NOW)
    return orders.deliver(workspace, job_id, None, NOW).id


@pytest.mark.thorough
def test_receivers_are_asked_about_what_is_meant_for_them(workspace, delivered):
    job_id = deliveries.view(workspace, delivered).job_id
    for receiver_id, words in ((LAB, "2 of 2"), (SIGN, "2 of 4")):
        made = check.check_delivery(workspace, receiver_id, delivered)
        assert made.words == f"{words} would be accepted"
        planned = check.check_plan(workspace, receiver_id, job_id)
        assert planned.words == f"{words} would be accepted, by estimated bytes"
        assert [file.state for file in planned.files] == [file.state for file in made.files]
        assert {file.file_id for file in planned.files} == {None}
    with pytest.raises(RequestError, match="Nothing in this delivery is for “Stall marketplace”"):
        check.check_delivery(workspace, STALL, delivered)
    nothing = check.check_plan(workspace, STALL, job_id)
    assert nothing.files == []
    assert nothing.words.startswith("Nothing in this job is for “Stall marketplace”.")


def test_a_size_that_names_its_receiver_is_for_it_alone(workspace, bring, tmp_path):
    pier = receivers.add(workspace, PIER)
    photo = bring(("p.jpg", samples.photo(tmp_path / "p.jpg", 600, 400))).photos[0]
    bodies = (
        {"text": "384x160px", "group": "screen", "goes_to": "pier"},
        {"text": "80x60px", "group": "screen"},
    )
    chosen = [sizes.add(workspace, SizeBody.model_validate(body)).id for body in bodies]
    job_id = jobs.start(workspace, "Quay", [photo.id], chosen, [], NOW)
    delivery = orders.deliver(workspace, job_id, None, NOW).id
    named, other = (file.name for file in deliveries.view(workspace, delivery).files)
    asked = {
        number: [file.file for file in check.check_delivery(workspace, number, delivery).files]
        for number in (pier.id, SIGN)
    }
    assert asked == {pier.id: [named, other], SIGN: [other]}


FIXABLE = [
    (SIGN, {"text": "1200x800px", "group": "screen", "file": {"format": "tiff"}}),
    (LAB, {"text": "4x6in@100", "group": "print"}),
    (LAB, {"text": "10x4in@110", "group": "print", "file": {"format": "webp"}}),
    (STALL, {"text": "1200x800px", "group": "marketplace"}),
    (STALL, {"text": "900x900px", "group": "marketplace", "file": {"format": "tiff"}}),
]


@pytest.mark.thorough
@pytest.mark.parametrize(("receiver_id", "asked"), FIXABLE)
def test_what_is_refused_is_fixed_in_one_step_that_can_be_undone(
    workspace, bring, tmp_path, receiver_id, asked
):
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 1500, 1000))).photos[0]
    size = sizes.add(workspace, SizeBody.model_validate(asked))
    job_id = jobs.start(workspace, "Quay", [photo.id], [size.id], [], NOW)
    foreseen = check.check_plan(workspace, receiver_id, job_id)
    shown = orders.deliver(workspace, job_id, None, NOW)
    file = shown.files[0]
    (refused,) = check.check_delivery(workspace, receiver_id, shown.id).files
    assert (refused.file_id, refused.placement_id) == (file.id, file.placement_id)
    assert refused.fixes == foreseen.files[0].fixes != ()
    fixed = check.fix(workspace, receiver_id, shown.id, file.id, NOW)
    assert fixed.counts == {"made": 1}, fixed.files[0].reason
    (accepted,) = check.check_delivery(workspace, receiver_id, shown.id).files
    assert accepted.state == "accepted", accepted.reasons
    assert [path.name for path in deliveries.folder_of(workspace, shown.id).iterdir()] == [
        fixed.files[0].name
    ]
    with pytest.raises(RequestError, match="can be fixed"):
        check.fix(workspace, receiver_id, shown.id, file.id, NOW)
    lying = bench.view(workspace, file.placement_id)
    name = receivers.view(workspace, receiver_id).name
    assert lying.steps[1:] == [f"fixed for {name}"]
    undone = history.walk(workspace, file.placement_id, -1, NOW)
    assert undone.lying.size is None
    assert orders.again(workspace, shown.id, file.id, NOW).files[0].name == file.name


@pytest.mark.thorough
def test_a_file_that_changed_since_is_never_called_good(workspace, delivered):
    made = deliveries.view(workspace, delivered)
    path = deliveries.folder_of(workspace, delivered) / (made.files[0].name or "")
    path.write_bytes(samples.bytes_of(samples.grain(700, 600), "JPEG"))
    first = check.check_delivery(workspace, LAB, delivered).files[0]
    assert (first.state, first.fixes) == ("failed", ())
    assert "not as it was when it was measured" in first.reasons[0]
    path.write_bytes(b"damaged")
    first, second = check.check_delivery(workspace, LAB, delivered).files
    assert "cannot be read back" in first.reasons[0]
    assert second.state == "accepted"


def test_a_file_of_no_delivery_is_asked_about(workspace, tmp_path):
    path = samples.photo(tmp_path / "a.jpg", 384, 160)
    assert check.check_file(workspace, SIGN, path, "a.jpg").files[0].state == "accepted"
    (text,) = check.check_file(workspace, SIGN, samples_text(tmp_path), "notes.txt").files
    assert (text.file, text.state) == ("notes.txt", "failed")


def samples_text(folder):
    path = folder / "notes.txt"
    path.write_text("no picture")
    return path


def test_a_contact_sheet_holds_every_file(workspace, delivered):
    sheet = handing_out.contact_sheet(workspace, delivered, "a4", LETTERS)
    assert sheet.startswith(b"%PDF")
    assert sheet.count(b"/Type /Page\n") + sheet.count(b"/Type /Page ") == 1
    assert io.BytesIO(sheet).getbuffer().nbytes > 20_000
