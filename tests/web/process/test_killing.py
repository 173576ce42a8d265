"""A real server, killed while photos come in: what it confirmed is there after a restart."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpx2 as httpx
import pytest
from pytest_socket import enable_socket

from tests import samples
from tests.waiting import LIMIT, until

pytestmark = pytest.mark.process


def serve(data, port):
    command = [str(Path(sys.executable).with_name("oak-ledge")), "serve", "--data", str(data)]
    server = subprocess.Popen([*command, "--port", str(port)], stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    while "ready" not in server.stdout.readline():
        assert server.poll() is None
    server.stdout.close()  # it says nothing more
    return server


def free_port():
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return one.getsockname()[1]


@pytest.mark.parametrize("after", [0.4])
def test_no_photo_that_was_confirmed_is_lost_when_the_server_is_killed(tmp_path, after):
    enable_socket()
    files = [samples.bytes_of(samples.grain(300, 200, seed=n), "JPEG") for n in range(40)]
    port, data = free_port(), tmp_path / "data"
    server = serve(data, port)
    confirmed: list[int] = []

    def bring():
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT) as client:
            for n, content in enumerate(files):
                try:
                    answer = client.post("/api/photos", files=[("files", (f"{n}.jpg", content))])
                except httpx.HTTPError:
                    return
                if answer.status_code == 201:
                    confirmed.extend(one["id"] for one in answer.json()["photos"])

    bringing = threading.Thread(target=bring)
    bringing.start()
    until(lambda: confirmed or not bringing.is_alive(), every=0.01)
    time.sleep(after)
    os.kill(server.pid, signal.SIGKILL)
    server.wait()
    bringing.join()
    assert confirmed
    again = serve(data, port)
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT) as client:
            for photo_id in confirmed:
                assert client.get(f"/api/photos/{photo_id}").status_code == 200
                answer = client.get(f"/api/photos/{photo_id}/preview?edge=256")
                assert answer.content.startswith(b"\xff\xd8")
            asked = {"photo_ids": confirmed, "size_texts": ["100x100px"]}
            job = client.post("/api/jobs", json=asked).json()
            asked = client.post(f"/api/jobs/{job['id']}/deliveries", json={}).json()
            path = f"/api/deliveries/{asked['id']}"
            until(lambda: client.get(path).json()["state"] == "done")
            made = client.get(path).json()
            assert {file["state"] for file in made["files"]} == {"made"}
        assert not list(data.rglob("*.part"))
    finally:
        again.terminate()
        again.wait()


def test_what_was_being_sent_when_the_server_was_killed_arrives_once_and_whole(tmp_path):
    enable_socket()
    port, data = free_port(), tmp_path / "data"
    server = serve(data, port)
    sign = 3  # of a new library; it is rehearsed
    with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT) as client:
        photos = [
            client.post(
                "/api/photos",
                files=[("files", (f"{n}.jpg", samples.bytes_of(samples.grain(400, 170, seed=n), "JPEG")))],
            ).json()["photos"][0]["id"]
            for n in range(6)
        ]  # fmt: skip
        asked = {"photo_ids": photos, "size_texts": ["384x160px"]}
        job = client.post("/api/jobs", json=asked).json()["id"]
        delivery = client.post(f"/api/jobs/{job}/deliveries", json={}).json()["id"]
        path = f"/api/deliveries/{delivery}"
        until(lambda: client.get(path).json()["state"] == "done")
        slow = {"rehearsing": True, "fault": "slow"}
        client.put(f"/api/receivers/{sign}/rehearsal", json=slow)
        client.post(f"{path}/send", json={"receiver_id": sign})
        until(lambda: client.get(f"{path}/sendings").json()["counts"].get("accepted", 0) > 0)
    os.kill(server.pid, signal.SIGKILL)
    server.wait()
    again = serve(data, port)
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT) as client:
            until(lambda: client.get(f"{path}/sendings").json()["counts"] == {"accepted": 6})
            files = client.get(path).json()["files"]
        arrived = {
            file.name: file.read_bytes()
            for file in (data / "stand-ins" / str(sign)).iterdir()
            if file.is_file() and file.name[0] != "."
        }
        made = data / "deliveries" / str(delivery)
        assert arrived == {file["name"]: (made / file["name"]).read_bytes() for file in files}
    finally:
        again.terminate()
        again.wait()
