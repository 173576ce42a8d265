"""Real worker processes beside a real server: killed at any moment, every file is made, once."""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path

import httpx2 as httpx
import pytest
from PIL import Image
from pytest_socket import enable_socket

from tests import samples
from tests.waiting import LIMIT, until
from tests.web.process.test_killing import free_port, serve

pytestmark = pytest.mark.process


def workers_of(server):
    answer = Path(f"/proc/{server.pid}/task/{server.pid}/children").read_text()
    return [int(pid) for pid in answer.split()]


def begun(client, count=4):
    files = [
        ("files", (f"p{n}.jpg", samples.bytes_of(samples.grain(1500, 1000, seed=n), "JPEG")))
        for n in range(count)
    ]
    ids = [one["id"] for one in client.post("/api/photos", files=files).json()["photos"]]
    asked = {"photo_ids": ids, "size_texts": ["1000x700px", "700x900px", "12x9in@80"]}
    job = client.post("/api/jobs", json=asked).json()
    return client.post(f"/api/jobs/{job['id']}/deliveries", json={}).json()["id"]


def finished(client, delivery):
    def now():
        return client.get(f"/api/deliveries/{delivery}").json()

    until(lambda: now()["state"] == "done", lambda: now()["counts"])
    return now()


@pytest.mark.parametrize(("who", "after"), [("worker", 0.9), ("server", 0.8)])
def test_a_kill_at_any_moment_loses_nothing_and_doubles_nothing(tmp_path, who, after):
    enable_socket()
    port, data = free_port(), tmp_path / "data"
    server = serve(data, port)
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT)
    try:
        delivery = begun(client)
        time.sleep(after)
        if who == "worker":
            os.kill(workers_of(server)[0], signal.SIGKILL)
        else:
            os.kill(server.pid, signal.SIGKILL)
            server.wait()
            server = serve(data, port)
        answer = finished(client, delivery)
        assert answer["counts"] == {"made": 12}
        folder = data / "deliveries" / str(delivery)
        assert sorted(path.name for path in folder.iterdir()) == sorted(
            file["name"] for file in answer["files"]
        )
        for file in answer["files"]:
            with Image.open(folder / file["name"]) as image:
                image.load()
                assert image.size == (file["asked"]["width"], file["asked"]["height"])
        with client.stream("GET", f"/api/deliveries/{delivery}/events") as events:
            assert next(events.iter_lines()).startswith('data: {"id"')
    finally:
        client.close()
        server.terminate()
        server.wait()


def test_a_ground_is_broken_off_at_once_and_its_worker_goes_on(tmp_path):
    enable_socket()
    port = free_port()
    server = serve(tmp_path / "data", port)
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT)
    try:
        picture = samples.bytes_of(samples.grain(330, 220), "JPEG", quality=80)
        photo = client.post("/api/photos", files=[("files", ("p.jpg", picture))]).json()
        asked = {"photo_ids": [photo["photos"][0]["id"]], "size_texts": ["2:1 extend"]}
        at = client.post("/api/jobs", json=asked).json()["placements"][0]["id"]
        path = f"/api/placements/{at}/grounds"

        def come_to(query, happens):
            def states():
                tries = client.get(path, params=query).json()
                return {each["try"]: each["state"] for each in tries}

            until(lambda: happens(states()), states)

        come_to({}, lambda states: "being made" in states.values())
        workers = workers_of(server)
        assert client.delete(path).status_code == 204
        come_to({"seed": 2}, lambda states: states[1] == "made")
        assert workers_of(server) == workers  # each began anew in its own place
        assert client.get("/api/photos/1").status_code == 200
        assert not list((tmp_path / "data" / "scenes").rglob("*.part"))
    finally:
        client.close()
        server.terminate()
        server.wait()
