"""Photos that come in over the walls against the same without them: the ratio of the whole upload, in pairs.

python -m benchmarks.walls [PAIRS]
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from dataclasses import replace
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

from tests import samples

from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.flows.walls.readers import Readers
from oak_ledge.flows.workspace import open_workspace

NOW = datetime(2026, 12, 1, tzinfo=UTC)


def main(pairs: int) -> None:
    readers = Readers()
    with tempfile.TemporaryDirectory() as folder:
        plain = open_workspace(Path(folder) / "data", Limits())
        walled = replace(plain, read=readers.read)
        for wide, high in ((1500, 1000), (3600, 2400), (6000, 4000)):
            path = samples.photo(Path(folder) / "photo.jpg", wide, high)
            data = path.read_bytes()

            def taken(workspace, number):
                began = time.perf_counter()
                # a byte behind its end makes it another photo
                stream = BytesIO(data + number.to_bytes(4, "big"))  # noqa: B023
                assert photos.take_in(workspace, [Incoming("a.jpg", stream)], NOW).photos
                return time.perf_counter() - began

            taken(walled, 0)
            taken(plain, 1)
            ratios = [taken(walled, 2 * n + 2) / taken(plain, 2 * n + 3) for n in range(pairs)]
            print(f"{wide} × {high} px: {statistics.median(ratios):.2f} × of {pairs} pairs")
    readers.close()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 15)
