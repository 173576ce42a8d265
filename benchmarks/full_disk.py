"""A disk that is full at random points of a day's work: nothing half written, nothing lost, only plain words.

A small file system is mounted for it (Linux, as root); where that may not be done this says so. At each
point the disk is filled to a few kilobytes by a file beside the data, work goes on, then there is room again.

    python -m benchmarks.full_disk [points]
"""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
from contextlib import suppress
from pathlib import Path

import httpx2 as httpx
from PIL import Image
from tests import samples
from tests.web.process.test_killing import free_port, serve

SPACE = "48m"


def work(client, folder: Path, number: int, trouble: list[str]) -> list[dict]:
    """Do a little of everything; give what was confirmed. Every answer must be in words."""

    def ask(method, path, **body):
        answer = client.request(method, path, **body)
        if answer.status_code >= 500 and answer.status_code not in (503, 507):
            trouble.append(f"{method} {path}: {answer.status_code} {answer.text[:120]}")
        return answer

    done = []
    with samples.save(
        folder / f"p{number}.png", samples.grain(500 + number, 300, seed=number)
    ).open("rb") as file:
        told = ask("POST", "/api/photos", files={"files": file})
    if told.status_code == 201 and told.json()["photos"]:
        photo = told.json()["photos"][0]["id"]
        done.append({"get": f"/api/photos/{photo}"})
        job = ask(
            "POST", "/api/jobs", json={"photo_ids": [photo], "size_texts": ["400x300px", "90x80px"]}
        )
        if job.status_code == 201:
            pieces = job.json()["placements"]
            done.append({"get": f"/api/jobs/{job.json()['id']}"})
            tighten = {"gesture": {"kind": "scale", "factor": 0.9}, "keep": True}
            kept = ask("POST", f"/api/placements/{pieces[0]['id']}/gesture", json=tighten)
            if kept.status_code == 200:
                done.append(
                    {"step": f"/api/placements/{pieces[0]['id']}", "is": kept.json()["step"]}
                )
            ask("GET", f"/api/placements/{pieces[1]['id']}/preview?edge={200 + number}")
            ask("POST", f"/api/jobs/{job.json()['id']}/deliveries", json={})
    return done


def main(points: int) -> int:
    mount = Path(tempfile.mkdtemp(prefix="oak-ledge-full-"))
    made = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={SPACE}", "tmpfs", mount], check=False
    )
    if made.returncode:
        print("no file system may be mounted here; run this as root")
        return 0
    dice, trouble, confirmed, missing = random.Random(5), [], [], []
    folder, port = Path(tempfile.mkdtemp()), free_port()
    server = serve(mount / "data", port)
    filler = mount / "filler"
    try:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60) as client:
            for number in range(points):
                left = dice.choice((0, 4096, 20_000, 60_000, 150_000, 400_000))
                free = int(
                    subprocess.check_output(["df", "--output=avail", "-B1", mount]).split()[-1]
                )
                with suppress(OSError), filler.open("wb") as file:  # the server writes too
                    file.write(bytes(max(0, free - left)))
                confirmed += work(client, folder, number, trouble)
                filler.unlink()
                confirmed += work(client, folder, 100 + number, trouble)
            for one in client.get("/api/jobs").json():
                client.post(f"/api/jobs/{one['id']}/deliveries", json={})
            for one in confirmed:
                answer = client.get(one.get("get") or one["step"])
                if answer.status_code != 200 or (
                    "is" in one and answer.json()["step"] != one["is"]
                ):
                    missing.append(str(one))
    finally:
        server.terminate()
        server.wait()
    half = [str(path) for path in (mount / "data").rglob("*.part")]
    broken = []
    for path in (mount / "data" / "deliveries").rglob("*.jpg"):
        try:
            with Image.open(path) as image:
                image.load()
        except OSError as exc:
            broken.append(f"{path}: {exc}")
    subprocess.run(["umount", mount], check=False)
    print(f"{points} times full: {len(confirmed)} confirmed, {len(missing)} missing, {len(half)} half written, "
          f"{len(broken)} broken files, {len(trouble)} answers without words")  # fmt: skip
    print("\n".join([*trouble, *missing, *half, *broken][:20]) or "nothing half, nothing lost")
    return 1 if trouble or missing or half or broken else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 20))
