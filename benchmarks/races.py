"""Two clients on one placement of a real server, 200 rounds from a barrier: no confirmed step may be lost.

In odd rounds each names the step it saw, and one of them must be told what is newer; in even rounds none
does, and both must be kept. In the end every step is undone, and the first state must be there again.

    python -m benchmarks.races [rounds]
"""

from __future__ import annotations

import sys
import tempfile
import threading
from pathlib import Path

import httpx2 as httpx
from tests import samples
from tests.web.process.test_killing import free_port, serve


def main(rounds: int) -> int:
    folder, port = Path(tempfile.mkdtemp(prefix="oak-ledge-races-")), free_port()
    server = serve(folder / "data", port)
    base = f"http://127.0.0.1:{port}"
    lost, refused, kept, bad = 0, 0, 0, []
    try:
        with (
            httpx.Client(base_url=base, timeout=30) as one,
            httpx.Client(base_url=base, timeout=30) as two,
        ):
            with samples.photo(folder / "a.jpg", 1200, 800).open("rb") as file:
                photo = one.post("/api/photos", files={"files": file}).json()["photos"][0]["id"]
            job = one.post(
                "/api/jobs", json={"photo_ids": [photo], "size_texts": ["4x5in@100"]}
            ).json()
            path = f"/api/placements/{job['placements'][0]['id']}"
            first = one.get(path).json()["lying"]
            half = {"gesture": {"kind": "scale", "factor": 0.5}, "keep": True}
            one.post(f"{path}/gesture", json=half)  # so that it can be loosened too
            for number in range(rounds):
                before, barrier, answers = one.get(path).json(), threading.Barrier(2), {}

                def ask(
                    client, factor, name=number % 2, before=before, barrier=barrier, answers=answers
                ):
                    body = {"gesture": {"kind": "scale", "factor": factor}, "keep": True}
                    body |= {"step": before["step"]} if name else {}
                    barrier.wait()
                    answers[factor] = client.post(f"{path}/gesture", json=body)

                hands = [
                    threading.Thread(target=ask, args=pair) for pair in ((one, 0.98), (two, 1.01))
                ]
                for hand in hands:
                    hand.start()
                for hand in hands:
                    hand.join()
                codes = sorted(answer.status_code for answer in answers.values())
                kept, refused = kept + codes.count(200), refused + codes.count(409)
                after = one.get(path).json()
                lost += codes.count(200) - (len(after["steps"]) - len(before["steps"]))
                if codes != ([200, 409] if number % 2 else [200, 200]):
                    bad.append(f"round {number}: {codes}")
            while (now := one.get(path).json())["can_undo"]:
                one.post(f"{path}/undo")
            if now["lying"] != first:
                bad.append("undoing all did not give the first state")
    finally:
        server.terminate()
        server.wait()
    print(f"{rounds} rounds: {kept} kept, {refused} told what is newer, {lost} lost")
    print("\n".join(bad) or "as it must be, and undone to the first state")
    return 1 if bad or lost else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 200))
