"""What is sent by itself: the files of a watched folder with receipts beside the photos, a delivery's."""

from __future__ import annotations

import json

import pytest

from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.receivers.takes import Takes
from oak_ledge.core.receivers.way import FolderWay
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.sending import sendings
from oak_ledge.flows.sending.automatic import hand_over
from oak_ledge.flows.sending.sender import Sender
from oak_ledge.flows.sending.stand_ins import StandIns
from oak_ledge.flows.watch import standing_orders
from oak_ledge.flows.watch.folder import Watched, made_of, prepare_out, seal_of
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def pier(workspace, tmp_path):
    """A receiver that is a folder and takes JPEGs; give its id and the folder."""
    there = tmp_path / "pier"
    there.mkdir()
    takes, way = Takes(formats=("jpeg",)), FolderWay(path=str(there))
    return receivers.add(workspace, Receiver(name="Pier", takes=takes, way=way)).id, there


def send(workspace, receiver_id):
    return Sender(workspace, receiver_id, StandIns(workspace.data), lambda: NOW).send()


def test_a_photo_in_a_folder_becomes_a_file_that_is_sent_with_a_receipt_beside_the_photo(
    workspace, pier, tmp_path
):
    number, there = pier
    folder = tmp_path / "arrivals"
    folder.mkdir()
    texts = ["300x200px", "180x120px png"]
    standing_orders.give(workspace, str(folder), texts, "", NOW, number)
    (order,) = standing_orders.every(workspace)
    photo = samples.photo(folder / "quay.jpg", 600, 400)
    given = standing_orders.find(workspace, order.id)
    watched = Watched(folder, folder / "made", given.sizes.sizes, LyingOptions(), workspace.limits)
    prepare_out(watched.out)
    made_of(watched, photo, NOW, seal_of(watched))
    receipts = folder / "quay.jpg.sent.json"
    for _ in range(2):  # again and again: each is written down once
        hand_over(workspace, NOW)
    assert not receipts.exists()
    assert sendings.of_receiver(workspace, number, NOW).open.counts == {"waiting": 1}
    send(workspace, number)
    hand_over(workspace, NOW)
    said = json.loads(receipts.read_text())
    assert [(file["receiver"], file["state"]) for file in said["files"]] == [
        ("Pier", "accepted"),
        ("Pier", "refused"),
    ]
    assert "every byte compared" in said["files"][0]["receipt"]
    assert "it is a PNG; JPEG is taken" in said["files"][1]["reasons"][0]
    (arrived,) = there.iterdir()
    assert arrived.read_bytes() == (folder / "made" / arrived.name).read_bytes()
    (shown,) = standing_orders.every(workspace)[0].latest
    assert [words.partition(": ")[0] for words in shown.sent] == [
        file["file"] for file in said["files"]
    ]
    written = receipts.stat().st_mtime_ns
    arrived.unlink()
    hand_over(workspace, NOW)
    send(workspace, number)
    assert (receipts.stat().st_mtime_ns, list(there.iterdir())) == (written, [])  # once


def test_a_delivery_that_ends_in_a_receiver_is_sent_when_it_is_made(
    workspace, bring, pier, tmp_path
):
    number, there = pier
    photo = bring(("quay.jpg", samples.photo(tmp_path / "quay.jpg", 600, 400))).photos[0]
    job_id = jobs.start(workspace, "Quay", [photo.id], [], ["300x200px"], NOW)
    delivery = orders.deliver(workspace, job_id, None, NOW, send_to=number)
    assert sendings.of_delivery(workspace, delivery.id, NOW).files == []
    hand_over(workspace, NOW)
    assert sendings.of_delivery(workspace, delivery.id, NOW).counts == {"waiting": 1}
    send(workspace, number)
    hand_over(workspace, NOW)  # it was handed over before
    assert sendings.of_delivery(workspace, delivery.id, NOW).counts == {"accepted": 1}
    assert len(list(there.iterdir())) == 1
