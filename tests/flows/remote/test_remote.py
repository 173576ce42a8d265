"""Work on other machines: who is believed, what is handed out, and what of it is taken back."""

from __future__ import annotations

import json
import stat
from dataclasses import replace
from datetime import timedelta
from hashlib import sha256

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from PIL.ImageFile import ImageFile

from oak_ledge.core.files.digest import digest_header
from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.delivery import deliveries, orders, workshop
from oak_ledge.flows.errors import GoneError, RefusedError, TokenError, WrongOriginalError
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.recipe import recipe
from oak_ledge.flows.remote import dispatch, ticket_queue, token
from oak_ledge.flows.remote.dispatch import Elsewhere, hand_out
from oak_ledge.flows.remote.originals import Originals
from oak_ledge.flows.remote.ticket import Message, sealed
from oak_ledge.flows.remote.worker import Worker
from oak_ledge.flows.workspace import recover
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.work import claims
from oak_ledge.web.api import work
from oak_ledge.web.app import make_app
from oak_ledge.web.types import now
from tests import samples
from tests.conftest import NOW
from tests.samples import there

TOKEN = "what-only-the-workers-know"
KEY = token.key_of(TOKEN)
LATER = NOW + dispatch.LEASE + timedelta(seconds=1)


class Letters:
    """A queue in memory; away on wish."""

    def __init__(self):
        self.sent, self.away = [], False

    def send(self, text, seal):
        if not self.away:
            self.sent.append((text, seal))
        return not self.away


class Line:
    """What a worker says and hears, without a network; `before` may break in before a call."""

    def __init__(self, app, shown=TOKEN):
        self.client = TestClient(app, base_url="http://127.0.0.1:8000")
        self.client.headers["authorization"] = f"Bearer {shown}"
        self.before = lambda method, path: None

    def _ask(self, method, path, **more):
        self.before(method, path)
        answer = self.client.request(method, path, **more)
        if answer.status_code in (404, 410):
            raise GoneError(answer.json()["detail"])
        if answer.status_code in (401, 409):
            raise RefusedError(answer.json()["detail"])
        assert answer.status_code < 300, answer.text
        return answer

    def post(self, path, said=None, patience=None):
        content = self._ask("POST", path, json=said or {}).content
        return json.loads(content) if content else None

    def send(self, path, file):
        data = file.read_bytes()
        told = {"content-digest": digest_header(sha256(data).digest())}
        return self._ask("PUT", path, content=data, headers=told)

    def fetch(self, path):
        return [self._ask("GET", path).content]


@pytest.fixture
def here(workspace):
    waiting = replace(workspace, ask=lambda times: None)
    found = Elsewhere(waiting, KEY, Letters())
    found.presence.heard("0" * 32, "studio-2", NOW)
    return found


@pytest.fixture
def worker(here, tmp_path):
    app = make_app(here.workspace, elsewhere=here)
    app.dependency_overrides[now] = lambda: NOW
    line = Line(app)
    folder = tmp_path / "cache"
    fetch = lambda digest: line.fetch(f"/api/work/originals/{digest}")  # noqa: E731
    originals = Originals(folder, 10**9, fetch)
    return Worker(line, originals, Limits(), KEY, "studio-2")


@pytest.fixture
def asked(here, bring):
    """Ask for files of some sizes from one photo or several; give the delivery's id."""

    def ask(*texts, photos=1, edges=(1200, 800)):
        names = [f"p{n}.jpg" for n in range(photos)]
        ids = [
            one.id
            for one in bring(
                *(
                    (n, samples.bytes_of(samples.grain(edges[0], edges[1], seed=k), "JPEG"))
                    for k, n in enumerate(names)
                )
            ).photos
        ]
        job = jobs.start(here.workspace, "Quay", ids, [], list(texts), NOW)
        return orders.deliver(here.workspace, job, None, NOW).id

    return ask


def counts(here, delivery):
    return deliveries.view(here.workspace, delivery).counts


def files_in(here, delivery):
    folder = deliveries.folder_of(here.workspace, delivery)
    return {path.name: path.read_bytes() for path in folder.iterdir()} if folder.exists() else {}


def take_all(here, worker):
    """Have a worker take what was sent, and what is sent then, until nothing is."""
    while hand_out(here, NOW) and here.post.sent:
        while here.post.sent:
            worker.take(*here.post.sent.pop(0))


def test_files_are_the_same_byte_for_byte_as_those_made_beside_the_server(here, worker, asked):
    delivery = asked("600x400px", "300x400px panels 2", "4x5in@100 outline circle", photos=2)
    take_all(here, worker)
    assert counts(here, delivery) == {"made": 8}
    found = deliveries.view(here.workspace, delivery)
    assert {file.machine for file in found.files} == {"studio-2"}
    again = orders.deliver(here.workspace, found.job_id, None, NOW).id
    workshop.make_what_waits(here.workspace, "1", lambda: NOW)
    assert {file.machine for file in deliveries.view(here.workspace, again).files} == {None}
    assert files_in(here, delivery) == files_in(here, again)


def test_a_sheet_is_made_elsewhere_too(here, worker, asked):
    at = asked("4x5in@100", photos=2)
    take_all(here, worker)
    ask = worker.line.client
    job = deliveries.view(here.workspace, at).job_id
    pieces = [one["id"] for one in ask.get(f"/api/jobs/{job}").json()["placements"]]
    laid = {"placement_ids": pieces, "paper": "11x8in@100"}
    sheet = ask.post(f"/api/jobs/{job}/sheets", json=laid).json()["id"]
    for kind in ("pdf", "png"):
        delivery = ask.post(f"/api/sheets/{sheet}/make", json={"kind": kind}).json()["id"]
        take_all(here, worker)
        (file,) = deliveries.view(here.workspace, delivery).files
        assert (file.state, file.reason, file.machine) == ("made", None, "studio-2")


def test_a_ground_is_made_elsewhere_and_kept_here(here, worker, asked):
    ask = worker.line.client
    photo = deliveries.view(here.workspace, asked("600x400px", edges=(180, 120))).files[0].photo_id
    take_all(here, worker)
    at = ask.post("/api/jobs", json={"photo_ids": [photo], "size_texts": ["2:1 extend"]}).json()
    path = f"/api/placements/{at['placements'][0]['id']}/grounds"
    assert {one["state"] for one in ask.get(path).json()} == {"waiting"}
    take_all(here, worker)
    found = ask.get(path).json()
    assert {one["state"] for one in found} == {"made"}
    assert ask.get(f"{path}/{found[0]['try']}?edge=200").headers["content-type"] == "image/jpeg"


def test_what_is_too_large_to_be_sent_says_so_and_is_not_handed_out_for_ever(
    here, worker, asked, monkeypatch
):
    delivery = asked("600x400px", "300x200px")
    monkeypatch.setattr(ticket_queue, "MOST_MESSAGE_BYTES", 100)
    assert hand_out(here, NOW)
    assert here.post.sent == []
    assert counts(here, delivery) == {"failed": 2}
    reasons = {file.reason for file in deliveries.view(here.workspace, delivery).files}
    assert reasons == {dispatch.TOO_LARGE}
    photo = deliveries.view(here.workspace, delivery).files[0].photo_id
    ask = worker.line.client
    at = ask.post("/api/jobs", json={"photo_ids": [photo], "size_texts": ["2:1 extend"]}).json()
    path = f"/api/placements/{at['placements'][0]['id']}/grounds"
    assert {one["state"] for one in ask.get(path).json()} == {"waiting"}
    assert hand_out(here, NOW)
    assert {one["state"] for one in ask.get(path).json()} == {"failed"}


@pytest.mark.parametrize(
    "change",
    [
        lambda text, seal: (text.replace("600", "900"), seal),
        lambda text, seal: (text, "0" * 64),
        lambda text, seal: (text, "é"),
        lambda text, seal: ("", ""),
        lambda text, seal: sealed(Message.model_validate_json(text), token.key_of("another" * 4)),
        lambda text, seal: (text, seal.upper()),
    ],
    ids=["changed", "a seal of noughts", "no seal", "nothing", "another's", "its seal in capitals"],
)
def test_what_is_not_sealed_by_this_server_is_never_done(here, worker, asked, change):
    delivery = asked("600x400px")
    hand_out(here, NOW)
    (letter,) = here.post.sent
    worker.take(*change(*letter))
    assert counts(here, delivery) == {"running": 1}
    worker.take(*letter)  # and does no harm to the one that is
    assert counts(here, delivery) == {"made": 1}


def test_what_comes_late_is_thrown_away_and_made_once(here, worker, asked):
    delivery = asked("600x400px", "500x500px")
    hand_out(here, NOW)
    (slow,) = here.post.sent
    here.post.sent.clear()

    def another_is_quicker(method, path):
        if method != "PUT":
            return
        worker.line.before = lambda *_: None
        workshop.ask_again(here.workspace, LATER)  # the lease has ended
        workshop.make_what_waits(here.workspace, "quick", lambda: LATER)
        assert counts(here, delivery) == {"made": 2}

    worker.line.before = another_is_quicker
    before = files_in(here, delivery)
    worker.take(*slow)
    assert before == {}
    assert {file.machine for file in deliveries.view(here.workspace, delivery).files} == {None}
    worker.take(*slow)  # a message that comes twice begins nothing
    assert counts(here, delivery) == {"made": 2}
    assert not list(here.workspace.deliveries.rglob("*.part"))


def test_an_answer_that_was_lost_on_its_way_is_sent_again_and_the_others_follow(
    here, worker, asked
):
    delivery = asked("600x400px", "500x500px")
    hand_out(here, NOW)
    send = worker.line.send

    def twice(path, file):
        send(path, file)
        return send(path, file)

    worker.line.send = twice
    worker.take(*here.post.sent.pop())
    assert counts(here, delivery) == {"made": 2}


@pytest.mark.parametrize(
    ("size", "words"), [((599, 400), "not as asked"), (None, "cannot be read back")]
)
def test_a_file_that_lies_is_never_called_made(here, worker, asked, size, words):
    delivery = asked("600x400px")
    hand_out(here, NOW)
    real = worker.line.send

    def lie(path, file):
        file.write_bytes(
            b"words" if size is None else samples.bytes_of(samples.grain(*size), "JPEG")
        )
        return real(path, file)

    worker.line.send = lie
    worker.take(*here.post.sent.pop())
    (file,) = deliveries.view(here.workspace, delivery).files
    assert (file.state, files_in(here, delivery)) == ("failed", {})
    assert words in there(file.reason)


def test_a_file_that_is_cut_short_on_its_way_is_refused(here, worker, asked):
    delivery = asked("600x400px")
    hand_out(here, NOW)
    message = Message.model_validate_json(here.post.sent[0][0])
    worker.line.post(f"/api/work/{message.ticket}/begun", {"machine": "studio-2"})
    at = f"/api/work/{message.ticket}/files/{message.files[0].id}"
    told = {"content-digest": digest_header(sha256(b"whole").digest())}
    for headers in (told, {}, {"content-digest": "sha-256=:?:"}):
        answer = worker.line.client.put(at, content=b"who", headers=headers)
        assert answer.status_code == 400
    assert counts(here, delivery) == {"running": 1}


def test_a_picture_of_other_pixels_is_refused_before_it_is_decoded(
    here, worker, asked, monkeypatch
):
    delivery = asked("600x400px")
    monkeypatch.setattr(ImageFile, "load", lambda image: pytest.fail("it was decoded"))

    def lie(path, file):
        data = samples.huge_png()
        told = {"content-digest": digest_header(sha256(data).digest())}
        return worker.line._ask("PUT", path, content=data, headers=told)

    monkeypatch.setattr(worker.line, "send", lie)
    take_all(here, worker)
    (file,) = deliveries.view(here.workspace, delivery).files
    assert (file.state, "60000 × 60000" in (file.reason or "")) == ("failed", True)


def test_a_machine_that_can_not_goes_on_and_after_three_the_file_says_why(here, worker, asked):
    delivery = asked("600x400px")

    def full(method, path):
        if path.startswith("/api/work/originals"):
            raise OSError(28, "No space left on device")

    worker.line.before = full
    take_all(here, worker)
    (file,) = deliveries.view(here.workspace, delivery).files
    assert file.state == "failed"
    assert "No space left" in there(file.reason)


def test_only_the_token_opens_and_the_recipe_must_be_the_same(here, asked, tmp_path):
    delivery = asked("600x400px")
    hand_out(here, NOW)
    app = make_app(here.workspace, elsewhere=here)
    digest = Message.model_validate_json(here.post.sent[0][0]).photos[0].hash
    routes = [one for one in work.router.routes if isinstance(one, APIRoute)]
    paths = [(f"/api{one.path}", *sorted(one.methods or ())) for one in routes]
    assert len(paths) >= 9
    with TestClient(app, base_url="http://127.0.0.1:8000") as client:
        for path, method in paths:
            for shown in (
                {},
                {"authorization": "Bearer "},
                {"authorization": f"Bearer {TOKEN}x"},
                {"authorization": TOKEN},
            ):
                at = path.format(
                    ticket="0" * 32,
                    worker="0" * 32,
                    file_id=1,
                    digest=digest,
                    name="x",
                    sha256=digest,
                )
                answer = client.request(method, at, headers=shown)
                assert (answer.status_code, answer.headers["www-authenticate"]) == (401, "Bearer")
        client.headers["authorization"] = f"Bearer {TOKEN}"
        assert len(client.get(f"/api/work/originals/{digest}").content) > 1000
        assert client.get("/api/work/kept/..%2F..%2Foak-ledge.db").status_code == 404
        said = {"worker": "1" * 32, "machine": "m", "recipe": "older", "ticket": None}
        assert client.post("/api/work/here", json=said).status_code == 409
        said["recipe"] = recipe()
        assert client.post("/api/work/here", json=said).json() == {"wanted": True}
        assert client.post("/api/work/here", json={**said, "ticket": "0" * 32}).json() == {
            "wanted": False
        }
    with TestClient(make_app(here.workspace), base_url="http://127.0.0.1:8000") as without:
        assert without.get(f"/api/work/originals/{digest}").status_code == 404
    assert counts(here, delivery) == {"running": 1}


def test_no_more_is_handed_out_than_workers_are_there_for_and_nothing_is_lost_with_redis(
    here, worker, asked
):
    delivery = asked("600x400px", photos=5)
    assert hand_out(here, NOW)
    assert counts(here, delivery) == {"running": 2, "queued": 3}  # one at work, one that waits
    here.post.sent.clear()  # Redis is killed, and all that stood in it
    recover(here.workspace)  # and the server: what is elsewhere stays there
    assert counts(here, delivery) == {"running": 2, "queued": 3}
    here.post.away = True
    workshop.ask_again(here.workspace, LATER)
    here.presence.heard("0" * 32, "studio-2", LATER)
    assert not hand_out(here, LATER)
    assert counts(here, delivery) == {"queued": 5}
    here.post.away = False
    for _ in range(4):  # nobody began it: that is not counted against a file
        hand_out(here, LATER)
        workshop.ask_again(here.workspace, LATER + timedelta(seconds=30))
        here.post.sent.clear()
    take_all(here, worker)
    assert counts(here, delivery) == {"made": 5}
    gone = here.presence.machines(LATER + timedelta(minutes=1))
    assert gone == {}


def test_a_file_that_ends_its_workers_is_not_begun_for_ever(here, asked):
    delivery = asked("600x400px")
    for n in range(claims.MOST_LOST):
        with transaction(here.workspace.sessions) as session:
            assert len(claims.claim(session, str(n), 10**9, NOW)) == 1
        workshop.lost_worker(here.workspace, str(n), 0, NOW)
    (file,) = deliveries.view(here.workspace, delivery).files
    assert (file.state, file.reason) == ("failed", claims.LOST)
    with reading(here.workspace.sessions) as session:
        assert not claims.any_running(session)


def test_originals_are_checked_kept_within_bounds_and_stay_while_they_are_used(
    tmp_path, here, asked
):
    asked("600x400px", photos=3)
    here.presence.heard("1" * 32, "studio-2", NOW)
    hand_out(here, NOW)
    sent = [Message.model_validate_json(text).photos[0] for text, _ in here.post.sent]
    fetched = []

    def fetch(digest):
        fetched.append(digest)
        yield dispatch.original_of(here.workspace, digest).read_bytes()

    originals = Originals(tmp_path / "cache", 1, fetch)
    with originals.at_hand(sent) as paths:
        assert all(sha256(paths[one.hash].read_bytes()).hexdigest() == one.hash for one in sent)
    assert len(list((tmp_path / "cache" / "cache").iterdir())) == 1  # room for one, the newest
    with originals.at_hand(sent[-1:]):
        assert len(fetched) == 3
    (kept,) = (tmp_path / "cache" / "cache").iterdir()
    kept.chmod(0o644)
    kept.write_bytes(b"spoilt")
    with originals.at_hand(sent[-1:]) as paths:  # noticed, and fetched anew
        assert sha256(paths[sent[-1].hash].read_bytes()).hexdigest() == sent[-1].hash
    liar = Originals(tmp_path / "other", 10**9, lambda digest: [b"another photo"])
    with pytest.raises(WrongOriginalError, match=r"p2\.jpg"), liar.at_hand(sent[-1:]):
        pass
    assert not [one for one in (tmp_path / "other").rglob("*") if one.is_file()]


def test_a_token_is_made_once_kept_as_its_hash_and_replaced_on_wish(tmp_path):
    key, made = token.key_for(tmp_path, None)
    shown = there(made)
    assert token.is_same(key, shown)
    assert not token.is_same(key, shown[:-1])
    path = tmp_path / token.NAME
    assert stat.S_IMODE(path.stat().st_mode) == 0o600
    assert shown not in path.read_text()
    assert token.key_for(tmp_path, None) == (key, None)  # shown once
    other, _ = token.key_for(tmp_path, "x" * token.SHORTEST)
    assert other != key
    assert token.key_for(tmp_path, None) == (other, None)
    with pytest.raises(TokenError, match="24 characters"):
        token.key_for(tmp_path, "short")
    path.write_text("spoilt")
    assert token.key_for(tmp_path, None)[1] is not None
