"""A delivery of 100 files from 25 photos: two workers against one, and against the plain Pillow script.

Then workers and server are killed at random moments: every file must be there, proven, once.
Say how many kills: python benchmarks/delivery.py 50. With `large` instead only the memory is told that
four photos of 100 megapixels take on four sizes, one of them a poster of 54 megapixels.
"""

from __future__ import annotations

import json
import os
import random
import signal
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from ledge import PORT, call, photos, upload
from PIL import Image

SIZES = ["8x10in@300", "5x7in@300", "1600x1600px", "long 2000px"]
LARGE, POSTERS = (12_240, 8_160), ["20x30in@300", "16x20in@300", "8x10in@300", "long 4000px"]
SAID = sys.argv[1] if len(sys.argv) > 1 else "6"
PLAIN = """
import sys
from PIL import Image, ImageOps
for path in sys.argv[1:]:
    for n, size in enumerate([(3000, 2400), (2100, 1500), (1600, 1600), (2000, 1333)]):
        with Image.open(path) as image:
            made = ImageOps.fit(ImageOps.exif_transpose(image), size, Image.Resampling.LANCZOS)
        made.save(f"{path}.{n}.plain.jpg", quality=92, subsampling=0, dpi=(300, 300))
        with Image.open(f"{path}.{n}.plain.jpg") as again:
            again.load()
            assert again.size == size
"""


class Server:
    def __init__(self, data: Path, workers: int) -> None:
        command = [str(Path(sys.executable).with_name("oak-ledge")), "serve", "--data", str(data)]
        answer = {**os.environ, "OAK_LEDGE_WORKERS": str(workers)}
        self.process = subprocess.Popen(
            [*command, "--port", str(PORT)], stdout=subprocess.PIPE, text=True, env=answer
        )
        assert self.process.stdout is not None
        while "ready" not in self.process.stdout.readline():
            pass
        time.sleep(1.5)  # its workers stand ready, as in a studio's morning

    def workers(self) -> list[int]:
        path = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children")
        return [int(pid) for pid in path.read_text().split()]

    def memory(self) -> float:
        peaks = 0.0
        for pid in (self.process.pid, *self.workers()):
            status = Path(f"/proc/{pid}/status").read_text()
            peaks += int(status.split("VmHWM:")[1].split()[0]) / 1024
        return peaks

    def end(self) -> None:
        self.process.terminate()
        self.process.wait()


def done(delivery: int) -> dict[str, Any]:
    while True:
        answer = dict(call("GET", f"/api/deliveries/{delivery}"))
        if answer["state"] == "done":
            return answer
        time.sleep(0.25)  # a page asks once a second


def seconds(job: int) -> float:
    begun = time.perf_counter()
    answer = done(call("POST", f"/api/jobs/{job}/deliveries", b"{}")["id"])
    assert answer["counts"] == {"made": 100}, answer["counts"]
    return time.perf_counter() - begun


def large() -> None:
    """Make posters of photos of 100 megapixels with two workers, and tell what that took."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        paths = photos(folder, 4)
        for path in paths:
            with Image.open(path) as image:
                image.resize(LARGE).save(path, quality=90)
        server = Server(folder / "data", 2)
        ids = [upload(path) for path in paths]
        asked = {"name": "posters", "photo_ids": ids, "size_texts": POSTERS}
        job = call("POST", "/api/jobs", json.dumps(asked).encode())["id"]
        answer = done(call("POST", f"/api/jobs/{job}/deliveries", b"{}")["id"])
        print(f"{answer['counts']} of 100 megapixels: {server.memory():.0f} MB of all processes")
        server.end()


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        paths = photos(folder, 25)
        data = folder / "data"
        server = Server(data, 2)
        ids = [upload(path) for path in paths]
        asked = {"name": "many", "photo_ids": ids, "size_texts": SIZES}
        job = call("POST", "/api/jobs", json.dumps(asked).encode())["id"]
        two, one, plain = [], [], []
        for _ in range(2):
            two.append(seconds(job))
            memory = server.memory()
            server.end()
            server = Server(data, 1)
            one.append(seconds(job))
            server.end()
            begun = time.perf_counter()
            subprocess.run([sys.executable, "-c", PLAIN, *map(str, paths)], check=True)
            plain.append(time.perf_counter() - begun)
            server = Server(data, 2)
        pace = statistics.median(a / b for a, b in zip(one, two, strict=True))
        share = statistics.median(a / b for a, b in zip(two, plain, strict=True))
        print(f"100 files: two workers {pace:.2f} × the throughput of one, "
              f"{share:.2f} × the time of the plain script; {memory:.0f} MB of all processes")  # fmt: skip
        chance = random.Random(7)
        for n in range(int(SAID)):
            delivery = call("POST", f"/api/jobs/{job}/deliveries", b"{}")["id"]
            time.sleep(chance.uniform(0.1, statistics.median(two)))
            if n % 2:
                os.kill(chance.choice(server.workers()), signal.SIGKILL)
            else:
                server.process.kill()
                server.process.wait()
                server = Server(data, 2)
            answer = done(delivery)
            there = sorted(path.name for path in (data / "deliveries" / str(delivery)).iterdir())
            assert answer["counts"] == {"made": 100}, answer["counts"]
            assert there == sorted(file["name"] for file in answer["files"]), there
        print(f"{SAID} kills of workers and server: every file made and proven, none twice")
        server.end()


if __name__ == "__main__":
    large() if SAID == "large" else main()
