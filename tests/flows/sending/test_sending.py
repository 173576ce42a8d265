"""Files of a delivery sent to a receiver: written down, each once, through cut lines and kills."""

from __future__ import annotations

import threading
import time
from datetime import datetime, timedelta

import pytest
from typing_extensions import override

from oak_ledge.core.receivers.receiver import Receiver
from oak_ledge.core.receivers.takes import Takes
from oak_ledge.core.receivers.way import FolderWay, HttpWay
from oak_ledge.flows.delivery import deliveries, orders
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.receivers import receivers
from oak_ledge.flows.receivers.receivers import ReceiverBody
from oak_ledge.flows.sending import sender as sending, sendings
from oak_ledge.flows.sending.sender import Sender
from oak_ledge.flows.sending.stand_ins import StandIns, folder_of
from oak_ledge.receivers.errors import BrokenLineError, NotReadyError
from oak_ledge.store.database import transaction
from oak_ledge.store.receivers import sendings as rows
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def delivered(workspace, bring, tmp_path):
    """Three photos on a size without a resolution; give the delivery's id."""
    photos = [(f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 300 + n, 200)) for n in range(3)]
    ids = [photo.id for photo in bring(*photos).photos]
    job_id = jobs.start(workspace, "Quay", ids, [], ["240x160px"], NOW)
    return orders.deliver(workspace, job_id, None, NOW).id


def receiver(workspace, way, **takes):
    """Keep a receiver; give its id."""
    return receivers.add(workspace, Receiver(name="Pier", takes=Takes(**takes), way=way)).id


def send(workspace, receiver_id, stand_ins=None, clock=lambda: NOW, **more):
    """Let the sender of a receiver send what waits."""
    sender = Sender(workspace, receiver_id, stand_ins or StandIns(workspace.data), clock, **more)
    return sender.send()


def states(workspace, delivery_id):
    return [
        (file.state, file.tries) for file in sendings.of_delivery(workspace, delivery_id, NOW).files
    ]


def test_each_file_is_sent_once_with_a_receipt_and_again_only_if_asked(
    workspace, delivered, tmp_path
):
    there = tmp_path / "drive"
    there.mkdir()
    pier = receiver(workspace, FolderWay(path=str(there)))
    asked = sendings.send(workspace, pier, delivered, NOW)
    assert [file.state for file in asked.files] == ["waiting"] * 3
    came: list[rows.Sending] = []
    assert send(workspace, pier, came=came.append)
    shown = sendings.of_delivery(workspace, delivered, NOW)
    assert shown.counts == {"accepted": 3}
    assert all("every byte compared" in (file.receipt or "") for file in shown.files)
    assert sorted(row.name for row in came) == sorted(path.name for path in there.iterdir())
    for again, expected in ((False, ["accepted"] * 3), (True, ["waiting"] * 3)):
        told = sendings.send(workspace, pier, delivered, NOW, again=again)
        assert [file.state for file in told.files] == expected
    send(workspace, pier)
    assert len(list(there.iterdir())) == 3  # the same bytes under the same name
    received = sendings.of_receiver(workspace, pier, NOW)
    assert (len(received.latest), received.open.counts) == (3, {})


def test_what_the_rules_refuse_is_not_sent_and_what_changed_on_disk_neither(
    workspace, delivered, tmp_path
):
    (tmp_path / "drive").mkdir()
    pier = receiver(workspace, FolderWay(path=str(tmp_path / "drive")), most_files=2)
    files = sendings.send(workspace, pier, delivered, NOW).files
    assert [file.state for file in files] == ["waiting", "waiting", "refused"]
    assert files[2].reasons == ("it is file 3; 2 are taken together",)
    folder = deliveries.folder_of(workspace, delivered)
    (folder / files[0].file).write_bytes(samples.bytes_of(samples.grain(240, 160), "JPEG"))
    (folder / files[1].file).unlink()
    send(workspace, pier)
    told = {row.file: row for row in sendings.of_receiver(workspace, pier, NOW).latest}
    assert told[files[0].file].reasons == (sending.CHANGED,)
    assert told[files[1].file].state == "failed"
    assert "can't be read here" in told[files[1].file].reasons[0]
    assert list((tmp_path / "drive").iterdir()) == []


def test_nothing_goes_before_a_first_that_has_to_be_on_plain_ground(workspace, delivered):
    pier = receiver(workspace, FolderWay(path="/quay"), first_on_plain_ground=True)
    first, *others = sendings.send(workspace, pier, delivered, NOW).files
    assert "on a plain ground" in first.reasons[0]
    assert [(file.state, file.reasons) for file in others] == [("refused", (sendings.BEHIND,))] * 2


class Flaky:
    """A line that does to each file what it is told to, in turn."""

    def __init__(self, *does):
        self.does, self.sent, self.lock = list(does), [], threading.Lock()

    def put(self, file, sent):
        with self.lock:
            does = self.does.pop(0) if self.does else None
            self.sent.append((file.name, file.before))
        if does is not None:
            raise does
        return "arrived"

    def close(self):
        pass


@pytest.fixture
def line(monkeypatch):
    """Put a line in the place of every way; waits are short."""
    monkeypatch.setattr(sending, "FIRST_WAIT", 0.002)
    monkeypatch.setattr(sending, "AT_ONCE", 1)

    def take(*does):
        flaky = Flaky(*does)
        from contextlib import nullcontext

        monkeypatch.setattr(sending, "open_line", lambda way, secret: nullcontext(flaky))
        return flaky

    return take


def ticking():
    """A clock that goes on: what waits is due soon."""
    begun = time.monotonic()
    return lambda: NOW + timedelta(seconds=time.monotonic() - begun)


BREAK = BrokenLineError("the line broke")


@pytest.mark.parametrize(
    ("does", "expected"),
    [
        ([BREAK], [("accepted", 2), ("accepted", 1), ("accepted", 1)]),
        ([BREAK] * 4, [("accepted", 5), ("accepted", 1), ("accepted", 1)]),
        ([BREAK] * 5, [("failed", 5), ("failed", 0), ("failed", 0)]),  # nobody is there
        ([None, *[BREAK] * 5], [("accepted", 1), ("failed", 5), ("failed", 0)]),
        ([ValueError("oops")], [("failed", 1), ("accepted", 1), ("accepted", 1)]),
        ([NotReadyError("sign in first")], [("failed", 1), ("failed", 0), ("failed", 0)]),
    ],
)
def test_a_line_that_breaks_is_tried_again_and_a_receiver_that_is_away_costs_one_file_its_tries(
    workspace, delivered, line, does, expected
):
    flaky = line(*does)
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)
    send(workspace, pier, clock=ticking())
    assert states(workspace, delivered) == expected
    for number, (name, before) in enumerate(flaky.sent):  # what may be there is looked for first
        assert before is (name in [earlier for earlier, _ in flaky.sent[:number]])


def test_what_a_killed_sender_was_at_goes_once_more_and_is_looked_for_first(
    workspace, delivered, line
):
    flaky = line()
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)
    with transaction(workspace.sessions) as session:  # taken, and then it was killed
        taken = rows.take_next(session, pier, NOW, rehearsed=False, ids=None)
    assert taken is not None
    send(workspace, pier)
    assert (taken.name, True) in flaky.sent
    assert sorted(before for _, before in flaky.sent) == [False, False, True]
    assert {state for state, _ in states(workspace, delivered)} == {"accepted"}


def test_a_receiver_is_paused_and_stopped_and_what_arrived_stays(workspace, delivered, line):
    line()
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)
    sendings.pause(workspace, pier, paused=True)
    send(workspace, pier)
    assert {state for state, _ in states(workspace, delivered)} == {"waiting"}
    sendings.stop(workspace, pier, NOW, delivered)
    stopped = sendings.of_delivery(workspace, delivered, NOW).files
    assert {file.reasons for file in stopped} == {(sendings.STOPPED,)}
    assert not receivers.view(workspace, pier).paused
    assert sendings.send(workspace, pier, delivered, NOW).counts == {"waiting": 3}
    send(workspace, pier)
    sendings.stop(workspace, pier, NOW)
    assert {state for state, _ in states(workspace, delivered)} == {"accepted"}


def test_a_file_that_is_stopped_under_way_ends_there(workspace, delivered, line, monkeypatch):
    line()
    monkeypatch.setattr(sending, "_TELL", 0)
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)

    class Slow(Flaky):
        @override
        def put(self, file, sent):
            sent(10)
            sendings.stop(workspace, pier, NOW)
            sent(20)
            raise AssertionError

    from contextlib import nullcontext

    monkeypatch.setattr(sending, "open_line", lambda way, secret: nullcontext(Slow()))
    send(workspace, pier)
    assert {file.reasons for file in sendings.of_delivery(workspace, delivered, NOW).files} == {
        (sendings.STOPPED,)
    }


def test_a_receiver_that_is_changed_while_files_go_gets_the_rest_by_its_new_way(
    workspace, delivered, tmp_path, monkeypatch
):
    monkeypatch.setattr(sending, "AT_ONCE", 1)
    folders = [tmp_path / name for name in ("old", "new")]
    for folder in folders:
        folder.mkdir()
    ways = [FolderWay(path=str(folder)) for folder in folders]
    pier = receiver(workspace, ways[0])
    sendings.send(workspace, pier, delivered, NOW)

    def came(row):
        if not list(folders[1].iterdir()) and len(list(folders[0].iterdir())) == 1:
            view = receivers.view(workspace, pier)
            body = ReceiverBody(name=view.name, way=ways[1], version=view.version)
            receivers.change(workspace, pier, body)

    send(workspace, pier, came=came)
    assert {state for state, _ in states(workspace, delivered)} == {"accepted"}
    assert [len(list(folder.iterdir())) for folder in folders] == [1, 2]


def test_two_senders_of_a_receiver_never_send_at_once(workspace, delivered, line):
    line()
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)
    tried = []
    first = Sender(workspace, pier, StandIns(workspace.data), lambda: NOW)
    first.came = lambda row: tried.append(send(workspace, pier))
    assert first.send()
    assert tried == [False] * 3


@pytest.mark.thorough
def test_a_rehearsal_goes_to_a_stand_in_and_counts_for_nothing_after(
    workspace, delivered, tmp_path, monkeypatch
):
    way = HttpWay(url="https://shop.example/in", secret="env:NOWHERE")
    shop = receiver(workspace, way, formats=("jpeg",))
    receivers.rehearse(workspace, shop, rehearsing=True, fault="break-off")
    sendings.send(workspace, shop, delivered, NOW)
    stand_ins = StandIns(workspace.data)
    monkeypatch.setattr(sending, "FIRST_WAIT", 0.01)
    try:
        send(workspace, shop, stand_ins, ticking())
    finally:
        stand_ins.end()
    shown = sendings.of_delivery(workspace, delivered, NOW)
    assert [file.state for file in shown.files] == ["accepted"] * 3
    assert max(file.tries for file in shown.files) > 1
    arrived = folder_of(workspace.data, shop)
    whole = deliveries.folder_of(workspace, delivered)
    for path in whole.iterdir():
        assert (arrived / path.name).read_bytes() == path.read_bytes()
    assert sendings.shown_file(workspace, shop) in [arrived / path.name for path in whole.iterdir()]
    receivers.rehearse(workspace, shop, rehearsing=False, fault=None)
    assert sendings.of_delivery(workspace, delivered, NOW).files == []
    assert sendings.send(workspace, shop, delivered, NOW).counts == {"waiting": 3}
    send(workspace, shop)
    (why,) = {file.reasons for file in sendings.of_delivery(workspace, delivered, NOW).files}
    assert "no secret in the environment under NOWHERE" in why[0]


def test_progress_and_time_left_are_told(workspace, delivered, line):
    line()
    pier = receiver(workspace, FolderWay(path="/quay"))
    sendings.send(workspace, pier, delivered, NOW)
    with transaction(workspace.sessions) as session:
        taken = rows.take_next(session, pier, NOW, rehearsed=False, ids=None)
        assert taken is not None
        rows.accepted(session, taken.id, "arrived", NOW + timedelta(seconds=2))
    told = sendings.of_delivery(workspace, delivered, NOW + timedelta(seconds=2))
    left = sum(file.bytes for file in told.files if file.state == "waiting")
    assert told.bytes_per_second == pytest.approx(taken.bytes / 2, abs=1)
    assert told.seconds_left == max(1, round(left / (taken.bytes / 2)))


def test_what_is_not_there_is_refused_in_words(workspace, delivered):
    with pytest.raises(NotFoundError, match="no receiver 99"):
        sendings.send(workspace, 99, delivered, NOW)
    pier = receiver(workspace, FolderWay(path="/quay"))
    with pytest.raises(NotFoundError, match="no delivery 99"):
        sendings.send(workspace, pier, 99, NOW)
    receivers.delete(workspace, pier, datetime(2026, 11, 24, tzinfo=NOW.tzinfo))
    with pytest.raises(NotFoundError):
        sendings.send(workspace, pier, delivered, NOW)
    with pytest.raises(RequestError, match="is for “Harbour print lab”"):
        sendings.send(workspace, 1, _screen(workspace, delivered), NOW)


def _screen(workspace, delivered):
    """Another delivery, of a piece for a screen."""
    from oak_ledge.flows.library import sizes
    from oak_ledge.flows.library.views import SizeBody

    job = deliveries.view(workspace, delivered)
    size = sizes.add(workspace, SizeBody(text="80x60px", name="Board", group="screen"))
    job_id = jobs.start(workspace, "Board", [job.files[0].photo_id], [size.id], [], NOW)
    return orders.deliver(workspace, job_id, None, NOW).id
