"""A job of many photos: bringing them in, opening its ledge, scrolling it, changing its sizes.

100 JPEGs of 24 megapixels are brought in over loopback, two at a time as the page does, against the
plain libvips script that draws a thumbnail of each. Then 100 photos × 8 sizes stand on one ledge.
"""

from __future__ import annotations

import http.client
import json
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

sys.path.insert(0, str(Path(__file__).parents[1] / "docs" / "screenshots"))
from take import chrome

PORT = 8797
COUNT = 100
SIZES = ["8x10in@300", "5x7in@300", "4x6in@300", "16x20in@200", "1080x1080px", "1920x1080px",
         "384x160px", "long 2000px"]  # fmt: skip
PLAIN = """
import sys, pyvips
for path in sys.argv[1:]:
    pyvips.Image.thumbnail(path, 2048, size="down").write_to_file(path + ".small.jpg", Q=88)
"""


def photos(folder: Path, count: int = COUNT) -> list[Path]:
    """Draw photos that differ: soft scenes with grain, 6000 × 4000."""
    chance = np.random.default_rng(3)
    y, x = np.mgrid[0:4000, 0:6000].astype(np.float32) / 4000
    base = np.stack([np.sin(5 * x + k) * np.cos(4 * y - k) for k in range(3)], axis=-1)
    base = base * 90 + 120 + chance.normal(0, 6, base.shape).astype(np.float32)
    picture = Image.fromarray(np.clip(base, 0, 255).astype(np.uint8))
    paths = []
    for n in range(count):
        picture.paste(
            (n * 37 % 255, n * 91 % 255, 90), (40 * n, 30 * n, 40 * n + 600, 30 * n + 500)
        )
        paths.append(folder / f"photo-{n:03}.jpg")
        picture.save(paths[-1], quality=90)
    return paths


def call(method: str, path: str, body: bytes | None = None, kind: str = "application/json") -> Any:
    connection = http.client.HTTPConnection("127.0.0.1", PORT)
    connection.request(method, path, body, {"Content-Type": kind} if body else {})
    answer = connection.getresponse()
    content = answer.read()
    assert answer.status < 300, content
    return json.loads(content) if answer.headers["Content-Type"] == "application/json" else content


def upload(path: Path) -> int:
    head = f'--x\r\nContent-Disposition: form-data; name="files"; filename="{path.name}"\r\n\r\n'
    body = head.encode() + path.read_bytes() + b"\r\n--x--\r\n"
    told = call("POST", "/api/photos", body, "multipart/form-data; boundary=x")
    return int(told["photos"][0]["id"])


def bring_in(paths: list[Path]) -> tuple[list[int], float, float]:
    """Upload in two lanes; give ids, seconds until the first preview, and until all."""
    waiting, ids, first = list(paths), [], []
    begun = time.perf_counter()

    def lane() -> None:
        while waiting:
            ids.append(upload(waiting.pop(0)))
            if not first:
                call("GET", f"/api/photos/{ids[-1]}/preview?edge=512")
                first.append(time.perf_counter() - begun)

    lanes = [threading.Thread(target=lane) for _ in range(2)]
    for one in lanes:
        one.start()
    for one in lanes:
        one.join()
    return ids, first[0], time.perf_counter() - begun


def memory(process: subprocess.Popen[str]) -> float:
    status = Path(f"/proc/{process.pid}/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0]) / 1024


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        paths = photos(folder)
        command = [
            str(Path(sys.executable).with_name("oak-ledge")),
            "demo",
            "--data",
            str(folder / "data"),
        ]
        served = subprocess.Popen(
            [*command, "--port", str(PORT)], stdout=subprocess.PIPE, text=True
        )
        try:
            assert served.stdout is not None
            while "ready" not in served.stdout.readline():
                pass
            halves = paths[: COUNT // 2], paths[COUNT // 2 :]
            ids, first, ours = bring_in(halves[0])
            half = memory(served)
            begun = time.perf_counter()
            subprocess.run([sys.executable, "-c", PLAIN, *map(str, paths)], check=True)
            plain = time.perf_counter() - begun
            more, _, again = bring_in(halves[1])
            print(f"first preview after {first:.2f} s; {COUNT} brought in in {ours + again:.1f} s, "
                  f"{(ours + again) / plain:.2f} × the thumbnail script; "
                  f"memory {half:.0f} MB after half, {memory(served):.0f} MB after all")  # fmt: skip
            asked = {"name": "many", "photo_ids": ids + more, "size_texts": SIZES}
            begun = time.perf_counter()
            job = call("POST", "/api/jobs", json.dumps(asked).encode())
            print(
                f"{len(job['placements'])} placements laid in {time.perf_counter() - begun:.2f} s"
            )
            placements = [one["id"] for one in job["placements"]][:COUNT]
            body = {
                "placement_ids": placements,
                "doing": {"do": "size", "text": "9x12in@250"},
                "only_tell": True,
            }
            begun = time.perf_counter()
            call("POST", f"/api/jobs/{job['id']}/batch", json.dumps(body).encode())
            print(
                f"another size for {COUNT} photos, told: {(time.perf_counter() - begun) * 1000:.0f} ms"
            )
            served.terminate()
            served.wait()
            served = subprocess.Popen(
                [*command, "--port", str(PORT)], stdout=subprocess.PIPE, text=True
            )
            while "ready" not in served.stdout.readline():
                pass
            page(job["id"])
        finally:
            served.terminate()


PAINT = "return performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? null"
SCROLL = """
const done = arguments[0], long = [];
new PerformanceObserver((list) => long.push(...list.getEntries().map((e) => e.duration))).observe({ type: "longtask" });
const begun = performance.now();
const step = () => {
  window.scrollBy(0, 60);
  const more = document.querySelector(".more-shelves");
  const end = window.scrollY + window.innerHeight >= document.body.scrollHeight - 2;
  if ((more || !end) && performance.now() - begun < 60000) requestAnimationFrame(step);
  else done([long, document.querySelectorAll(".piece-stood").length, performance.now() - begun]);
};
requestAnimationFrame(step);
"""


def page(job_id: int) -> None:
    driver = chrome()
    driver.set_script_timeout(90)
    try:
        driver.get(
            f"http://127.0.0.1:{PORT}/"
        )  # styles and letters are there, as for anyone at work
        paints = []
        for _ in range(5):
            driver.get(f"http://127.0.0.1:{PORT}/jobs/{job_id}")
            time.sleep(1)
            paints.append(driver.execute_script(PAINT))
        print(f"ledge first painted after {paints[0]:.0f} ms right after a start, then "
              f"{statistics.median(paints[1:]):.0f} ms")  # fmt: skip
        long, pieces, took = driver.execute_async_script(SCROLL)
        told = f"{len(long)} tasks over 50 ms, longest {max(long, default=0):.0f} ms"
        print(f"scrolled past {pieces} pieces in {took / 1000:.1f} s: {told}")
    finally:
        driver.quit()


if __name__ == "__main__":
    main()
