"""Standing orders of a real server: followed, killed, moved away, and followed again."""

from __future__ import annotations

import os
import signal
from pathlib import Path

import httpx2 as httpx
import pytest
from pytest_socket import enable_socket

from tests import samples
from tests.waiting import LIMIT, until
from tests.web.process.test_killing import free_port, serve

pytestmark = pytest.mark.process


def test_an_order_is_followed_through_kills_and_a_folder_that_goes_away(tmp_path):
    enable_socket()
    port, quay = free_port(), tmp_path / "quay"
    quay.mkdir()
    server = serve(tmp_path / "data", port)
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=LIMIT)

    def now():
        (told,) = client.get("/api/standing-orders").json()
        return told

    def told_once(happens):
        until(lambda: happens(now()), now)
        return now()

    def following():
        return [
            pid
            for task in Path(f"/proc/{server.pid}/task").iterdir()
            for pid in map(int, (task / "children").read_text().split())
            if b"stand" in Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
        ]

    try:
        asked = {"folder": str(quay), "size_texts": ["300x200px", "6x8px"]}
        assert client.post("/api/standing-orders", json=asked).status_code == 201
        samples.photo(quay / "one.jpg", 450, 300)
        told = told_once(lambda told: told["files"] == 1 and told["latest"])
        (why,) = told["latest"][0]["reasons"]
        assert (
            "Write 6x8in@300, or bring the photo into a job, where it can be taken as it is" in why
        )
        (pid,) = following()
        os.kill(pid, signal.SIGKILL)
        told = told_once(lambda told: told["state"] == "not watching")
        assert told["trouble"] == "It ended."
        samples.photo(quay / "two.jpg", 450, 300)
        told_once(lambda told: (told["files"], told["state"]) == (2, "watching"))
        server.kill()
        server.wait()
        server = serve(tmp_path / "data", port)
        samples.photo(quay / "three.jpg", 450, 300)
        told = told_once(lambda told: told["files"] == 3)
        assert len(list((quay / "made").glob("*.jpg"))) == 3
        order = f"/api/standing-orders/{told['id']}"
        assert client.put(order, json={"on": False}).json()["state"] == "paused"
        until(lambda: not following(), following)
        quay.rename(tmp_path / "away")
        client.put(order, json={"on": True})
        told = told_once(lambda told: told["state"] == "not watching")
        assert told["trouble"] == f"{quay} is not there. Put it back, or end the order."
        assert client.delete(order).status_code == 204
        assert client.get("/api/standing-orders").json() == []
    finally:
        client.close()
        server.terminate()
        server.wait()
