"""Throughput of 1, 2, 4 and 8 workers of other machines, and what server and Redis cost for each file.

Each worker may have a tenth of a core (a control group of its own, as root), so that all are equal
and the server is never short; Redis and the network are loopback.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from ledge import PORT, call, photos, upload
from PIL import Image

COUNTS = (1, 2, 4, 8)
SHARE = 0.1  # of a core, for each worker
SIZES = ["8x10in@150", "5x7in@150", "1200x1200px", "long 1500px"]
PHOTOS = 16
REDIS, TOKEN = PORT + 1, "only-for-this-measurement"
GROUPS = Path("/sys/fs/cgroup/cpu")
PROGRAM = str(Path(sys.executable).with_name("oak-ledge"))


def processor(pid: int) -> float:
    """Give the seconds of processor time a process and its ended children have had."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return sum(int(fields[n]) for n in (11, 12, 13, 14)) / os.sysconf("SC_CLK_TCK")


def limited(number: int, folder: Path) -> subprocess.Popen[bytes]:
    """Start a worker that may have so much of a core."""
    group = GROUPS / f"oak-ledge-{number}"
    group.mkdir(exist_ok=True)
    (group / "cpu.cfs_period_us").write_text("100000")
    (group / "cpu.cfs_quota_us").write_text(str(round(SHARE * 100_000)))
    command = [PROGRAM, "work", "--server", f"http://127.0.0.1:{PORT}", "--token", TOKEN]
    command += ["--queue", f"redis://127.0.0.1:{REDIS}"]
    cache = os.environ | {"OAK_LEDGE_CACHE": str(folder / f"cache-{number}")}
    worker = subprocess.Popen(command, env=cache, stdout=subprocess.PIPE)
    assert worker.stdout is not None
    worker.stdout.readline()  # it stands ready
    (group / "cgroup.procs").write_text(str(worker.pid))
    return worker


def main() -> None:
    redis_program = shutil.which("redis-server")
    if redis_program is None or not os.access(GROUPS, os.W_OK):
        sys.exit(
            "this needs redis-server, and control groups that may be made (version 1, as root)"
        )
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        paths = photos(folder, PHOTOS)
        for path in paths:
            with Image.open(path) as image:
                image.resize((3000, 2000)).save(path, quality=90)
        command = [redis_program, "--port", str(REDIS), "--save", "", "--bind", "127.0.0.1"]
        redis = subprocess.Popen(command, stdout=subprocess.DEVNULL, cwd=folder)
        command = [
            PROGRAM,
            "serve",
            "--data",
            str(folder / "data"),
            "--port",
            str(PORT),
            "--workers",
            "0",
        ]
        command += ["--queue", f"redis://127.0.0.1:{REDIS}", "--token", TOKEN]
        server = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert server.stdout is not None
        while "ready" not in server.stdout.readline():
            pass
        ids = [upload(path) for path in paths]
        asked = {"name": "many", "photo_ids": ids, "size_texts": SIZES}
        job = call("POST", "/api/jobs", json.dumps(asked).encode())["id"]
        workers: list[subprocess.Popen[bytes]] = []
        alone = 0.0
        try:
            for count in COUNTS:
                while len(workers) < count:
                    workers.append(limited(len(workers), folder))
                time.sleep(5)  # all were heard of
                before = processor(server.pid), processor(redis.pid)
                begun = time.perf_counter()
                delivery = call("POST", f"/api/jobs/{job}/deliveries", b"{}")["id"]
                while (answer := call("GET", f"/api/deliveries/{delivery}"))["state"] != "done":
                    time.sleep(1)
                took = time.perf_counter() - begun
                files = len(answer["files"])
                assert answer["counts"] == {"made": files}, answer["counts"]
                rate = files / took
                alone = alone or rate
                spent = processor(server.pid) - before[0], processor(redis.pid) - before[1]
                print(
                    f"{count} workers: {rate:.2f} files a second, {rate / alone:.2f} × one; "
                    f"server {1000 * spent[0] / files:.0f} ms, Redis {1000 * spent[1] / files:.1f} ms "
                    "of a core for each file",
                    flush=True,
                )
            whole = sum(file["measured"]["bytes"] for file in answer["files"])
            sent = sum(path.stat().st_size for path in paths)
            print(
                f"a file is {whole / files / 1e6:.2f} MB, an original {sent / PHOTOS / 1e6:.2f} MB"
            )
        finally:
            for process in (*workers, server, redis):
                process.kill()
                process.wait()
            for group in GROUPS.glob("oak-ledge-*"):
                group.rmdir()


if __name__ == "__main__":
    main()
