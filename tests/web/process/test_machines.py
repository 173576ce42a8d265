"""Server, Redis and two workers on machines of their own: whatever is lost on the way, every file is made, once.

Each machine is a network namespace behind a switch, which takes root; where that is not permitted
this says so. Redis comes from Debian's packages with `make test`.
"""

from __future__ import annotations

import ctypes
import os
import shutil
import signal
import subprocess
import sys
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

import httpx2 as httpx
import pytest
from PIL import Image
from pytest_socket import enable_socket

from tests import samples
from tests.waiting import LIMIT, until

pytestmark = pytest.mark.process

SERVER, REDIS = "10.77.0.1", "10.77.0.2"
HOSTS = {"server": SERVER, "redis": REDIS, "one": "10.77.0.3", "two": "10.77.0.4"}
TOKEN = "what-only-the-workers-know"
QUEUE = f"redis://{REDIS}:6379"
OAK_LEDGE = [sys.executable, "-m", "oak_ledge"]
NEW_NETWORK = 0x40000000  # CLONE_NEWNET


def ip(*words):
    subprocess.run(["ip", *words], check=True, capture_output=True, text=True)


class Network:
    """Machines behind one switch, each a network namespace."""

    def __init__(self):
        self.mark = f"oak{os.getpid()}"
        self.names = [f"{self.mark}-{name}" for name in ("switch", *HOSTS)]

    def __enter__(self):
        switch = self.names[0]
        for name in self.names:
            ip("netns", "add", name)
            ip("-n", name, "link", "set", "lo", "up")
        ip("-n", switch, "link", "add", "bridge", "type", "bridge")
        ip("-n", switch, "link", "set", "bridge", "up")
        for host, address in HOSTS.items():
            ns = f"{self.mark}-{host}"
            ends = ("type", "veth", "peer", "name", "cable", "netns", ns)
            ip("-n", switch, "link", "add", f"to-{host}", *ends)
            ip("-n", switch, "link", "set", f"to-{host}", "master", "bridge", "up")
            ip("-n", ns, "addr", "add", f"{address}/24", "dev", "cable")
            ip("-n", ns, "link", "set", "cable", "up")
        return self

    def __exit__(self, *_):
        for name in self.names:
            subprocess.run(["ip", "netns", "del", name], check=False, capture_output=True)

    def on(self, host, command, **more):
        """Start a program on a machine."""
        ns = f"{self.mark}-{host}"
        return subprocess.Popen(["ip", "netns", "exec", ns, *command], **more)

    def pull(self, host):
        ip("-n", self.names[0], "link", "set", f"to-{host}", "down")

    def plug(self, host):
        ip("-n", self.names[0], "link", "set", f"to-{host}", "up")

    def enter(self, host):
        """Have the sockets of this thread, from now on, stand on a machine."""
        with Path(f"/var/run/netns/{self.mark}-{host}").open() as place:
            assert ctypes.CDLL(None, use_errno=True).setns(place.fileno(), NEW_NETWORK) == 0


def permitted():
    if shutil.which("ip") is None or os.geteuid() != 0:
        return False
    tried = subprocess.run(
        ["ip", "netns", "add", f"try{os.getpid()}"], check=False, capture_output=True
    )
    subprocess.run(["ip", "netns", "del", f"try{os.getpid()}"], check=False, capture_output=True)
    return tried.returncode == 0


@pytest.mark.allow_hosts([SERVER])
def test_workers_redis_and_server_are_killed_and_a_cable_is_pulled(tmp_path):
    program = shutil.which("redis-server")
    if program is None:
        pytest.skip("redis-server is not installed here: apt-get install redis-server")
    if not permitted():
        pytest.skip("network namespaces are not permitted here: run it as root, with iproute2")
    enable_socket()
    with (
        Network() as network,
        ThreadPoolExecutor(1, initializer=network.enter, initargs=("server",)) as beside,
    ):
        beside.submit(walk, network, tmp_path, program).result()


def walk(network, folder, program):
    running = {}

    def begin(what):
        cache = os.environ | {"OAK_LEDGE_CACHE": str(folder / what), "PYTHONUNBUFFERED": "1"}
        if what == "redis":
            command = [program, "--bind", REDIS, "--protected-mode", "no", "--save", ""]
        elif what == "server":
            command = [*OAK_LEDGE, "serve", "--data", str(folder / "data"), "--host", SERVER]
            command += ["--workers", "0", "--queue", QUEUE, "--token", TOKEN]
        else:
            command = [*OAK_LEDGE, "work", "--server", f"http://{SERVER}:8000"]
            command += ["--queue", QUEUE, "--token", TOKEN]
        with (folder / f"{what}.txt").open("a") as said:
            running[what] = network.on(
                what, command, env=cache, cwd=folder, stdout=said, stderr=subprocess.STDOUT
            )

    def kill(what):
        running[what].send_signal(signal.SIGKILL)
        running[what].wait()

    for what in HOSTS:
        begin(what)
    client = httpx.Client(base_url=f"http://{SERVER}:8000", timeout=LIMIT)

    def ask(path):
        def answer():
            with suppress(httpx.HTTPError):  # its server is away just now
                return [client.get(path).json()]

        return until(answer, lambda: path)[0]

    def come_to(happens):
        def counts():
            return Counter(ask(f"/api/deliveries/{delivery}")["counts"])

        until(lambda: happens(counts()["made"], counts()), counts)
        return ask(f"/api/deliveries/{delivery}")

    try:
        assert ask("/api/jobs") == []
        files = [
            ("files", (f"p{n}.jpg", samples.bytes_of(samples.grain(1500, 1000, seed=n), "JPEG")))
            for n in range(7)
        ]
        ids = [one["id"] for one in client.post("/api/photos", files=files).json()["photos"]]
        sizes = ["4x5in@300", "1000x700px", "7x5in@200", "1400x600px"]
        job = client.post("/api/jobs", json={"photo_ids": ids, "size_texts": sizes}).json()
        assert client.get(f"/api/work/originals/{'0' * 64}").status_code == 401
        delivery = client.post(f"/api/jobs/{job['id']}/deliveries", json={}).json()["id"]
        come_to(lambda made, _: made >= 4)
        kill("one")
        begin("one")
        come_to(lambda made, _: made >= 8)
        kill("redis")
        time.sleep(1)
        begin("redis")
        come_to(lambda made, _: made >= 12)
        kill("server")
        time.sleep(1)
        begin("server")
        come_to(lambda made, _: made >= 16)
        network.pull("two")
        time.sleep(10)
        network.plug("two")
        answer = come_to(lambda made, counts: made == sum(counts.values()))
        assert answer["state"] == "done"
        assert len(answer["files"]) == 28
        machines = {file["machine"] for file in answer["files"]}
        assert len(machines) >= 2
        assert all(one.startswith(f"{os.uname().nodename} (") for one in machines)
        place = folder / "data" / "deliveries" / str(delivery)
        assert sorted(path.name for path in place.iterdir()) == sorted(
            file["name"] for file in answer["files"]
        )
        for file in answer["files"]:
            assert all(line["same"] is not False for line in file["proof"])
            with Image.open(place / file["name"]) as image:
                image.load()
                assert image.size == (file["asked"]["width"], file["asked"]["height"])
    finally:
        client.close()
        for program in running.values():
            program.kill()
            program.wait()
