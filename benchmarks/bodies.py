"""Memory of a server that is sent unreadable and endless bodies: at its start, at its worst, and afterwards.

python -m benchmarks.bodies [CALLS]
"""

from __future__ import annotations

import http.client
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from benchmarks.races import free_port, serve

LARGE = 15_900_000
KINDS = {
    "no JSON": b"[" * LARGE,
    "half a text": b'{"text": "' + b"x" * LARGE,
    "a wrong field": b'{"text": "8x10in@300", "name": "' + b"y" * (LARGE - 60) + b'"}',
    "numbers": b"[" + b"1," * (LARGE // 2),
}


def memory(pid: int) -> int:
    """Resident memory of a process, in MB."""
    lines = Path(f"/proc/{pid}/status").read_text().splitlines()
    return int(next(line for line in lines if line.startswith("VmRSS")).split()[1]) // 1000


def send(port: int, path: str, body: bytes) -> int:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    try:
        connection.request("POST", path, body, {"Content-Type": "application/json"})
        return connection.getresponse().status
    except OSError:  # it was cut off before all was sent, as it should be
        return 0
    finally:
        connection.close()


def main(calls: int) -> None:
    port = free_port()
    with tempfile.TemporaryDirectory() as data:
        server = serve(Path(data), port)
        try:
            for _ in range(20):
                send(port, "/api/sizes/read", b'{"text": "8x10in@300"}')
            start = memory(server.pid)
            print(f"at the start {start} MB")
            for name, body in KINDS.items():
                with ThreadPoolExecutor(6) as pool:
                    answers = pool.map(lambda _: send(port, "/api/sizes/read", body), range(calls))  # noqa: B023
                    told = sorted(set(answers))
                now = memory(server.pid)
                print(f"{calls} × {name}: answered {told}, then {now} MB, {now / start:.2f} ×")
            status = send(port, "/api/work/here", b" " * 200_000_000)
            now = memory(server.pid)
            print(
                f"200 MB to workers' door without a token: {status}, then {now} MB, {now / start:.2f} ×"
            )
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 30)
