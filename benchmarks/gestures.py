"""How long a gesture takes over loopback, and how soon an uploaded photo is on the screen.

The server is a process of its own, as people run it. One connection is kept open, as browsers
do. Printed: median and 95th percentile of the answers, told and kept; then the time from the
end of an upload's last byte to the preview's last byte.
"""

from __future__ import annotations

import http.client
import json
import random
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from one_file import photo

PORT = 8799
COUNT = 600


class Server:
    def __init__(self, data: str) -> None:
        command = [str(Path(sys.executable).with_name("oak-ledge")), "demo", "--data", data]
        self.process = subprocess.Popen(
            [*command, "--port", str(PORT)], stdout=subprocess.PIPE, text=True
        )
        assert self.process.stdout is not None
        while "ready" not in self.process.stdout.readline():
            pass
        self.connection = http.client.HTTPConnection("127.0.0.1", PORT)
        self.connection.connect()  # as browsers do, send small packets at once:
        self.connection.sock.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)

    def call(
        self, method: str, path: str, body: bytes = b"", kind: str = "application/json"
    ) -> bytes:
        self.connection.request(method, path, body or None, {"Content-Type": kind} if body else {})
        answer = self.connection.getresponse()
        content = answer.read()
        assert answer.status < 300, content
        return content


def gestures(server: Server, *, keep: bool) -> list[float]:
    job = json.loads(server.call("GET", "/api/jobs/3"))
    path = f"/api/placements/{job['placements'][1]['id']}/gesture"
    chance, taken = random.Random(1), []
    for _ in range(COUNT):
        told = {"kind": "move", "dx": chance.uniform(-90, 90), "dy": chance.uniform(-60, 60)}
        body = json.dumps({"gesture": told, "keep": keep}).encode()
        start = time.perf_counter()
        server.call("POST", path, body)
        taken.append((time.perf_counter() - start) * 1000)
    return sorted(taken)


def pieces(server: Server) -> list[float]:
    """Milliseconds until the piece is drawn finely again, after each of many kept moves."""
    job = json.loads(server.call("GET", "/api/jobs/1"))
    path = f"/api/placements/{job['placements'][0]['id']}"
    chance, taken = random.Random(2), []
    for number in range(60):
        told = {"kind": "move", "dx": chance.uniform(-90, 90), "dy": 0}
        gesture = {"kind": "scale", "factor": 0.98} if number < 5 else told
        body = json.dumps({"gesture": gesture, "keep": True}).encode()
        server.call("POST", f"{path}/gesture", body)
        start = time.perf_counter()
        server.call("GET", f"{path}/preview?edge=900")
        taken.append((time.perf_counter() - start) * 1000)
    return sorted(taken)


def upload(server: Server, path: Path) -> tuple[float, float]:
    """Seconds from sending a photo to its facts, and on to its preview."""
    edge = "----oak"
    head = f'--{edge}\r\nContent-Disposition: form-data; name="files"; filename="a.jpg"\r\n\r\n'
    body = head.encode() + path.read_bytes() + f"\r\n--{edge}--\r\n".encode()
    start = time.perf_counter()
    answer = json.loads(
        server.call("POST", "/api/photos", body, f"multipart/form-data; boundary={edge}")
    )
    taken = time.perf_counter() - start
    server.call("GET", f"/api/photos/{answer['photos'][0]['id']}/preview?edge=2048")
    return taken, time.perf_counter() - start


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        path = Path(data) / "photo.jpg"
        photo(path)
        server = Server(str(Path(data) / "work"))
        try:
            gestures(server, keep=False)
            for keep in (False, True):
                taken = gestures(server, keep=keep)
                print(f"gesture {'kept' if keep else 'told'}: median {statistics.median(taken):.1f} ms, "
                      f"95 % {taken[int(COUNT * 0.95)]:.1f} ms")  # fmt: skip
            drawn = pieces(server)
            print(f"piece drawn finely, 900 px: median {statistics.median(drawn):.0f} ms, "
                  f"95 % {drawn[int(len(drawn) * 0.95)]:.0f} ms")  # fmt: skip
            firsts = []
            for number in range(5):
                again = Path(data) / "again.jpg"
                again.write_bytes(path.read_bytes() + bytes([number]))  # another hash
                firsts.append(upload(server, again))
            print(f"24-megapixel upload: facts after {statistics.median(f[0] for f in firsts):.2f} s, "
                  f"preview after {statistics.median(f[1] for f in firsts):.2f} s")  # fmt: skip
        finally:
            server.process.terminate()
            server.process.wait()


if __name__ == "__main__":
    main()
