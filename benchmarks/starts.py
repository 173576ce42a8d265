"""How long the command takes to start: `--help` and `tally` against an interpreter with numpy and libvips.

Turn about; a ratio compares runs that stand side by side. What is measured are whole processes.
"""

from __future__ import annotations

import compileall
import os
import subprocess
import sys
import time
from pathlib import Path
from statistics import median

ROUNDS = 15
HERE = Path(__file__).parent.parent
COMMAND = str(Path(sys.executable).with_name("oak-ledge"))
PHOTO = str(HERE / "src/oak_ledge/demo/photos/framed-chart.jpg")
CALLS = {
    "an interpreter with numpy and libvips": [sys.executable, "-c", "import numpy, pyvips"],
    "oak-ledge --help": [COMMAND, "--help"],
    "oak-ledge tally": [COMMAND, "tally", PHOTO, "--size", "8x10in@300"],
}


def seconds(call: list[str]) -> float:
    start = time.perf_counter()
    subprocess.run(call, check=True, capture_output=True)
    return time.perf_counter() - start


def main() -> None:
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    compileall.compile_dir(
        HERE / "src", quiet=1
    )  # what was just changed would be compiled each time
    rounds = [[seconds(call) for call in CALLS.values()] for _ in range(ROUNDS + 1)][1:]
    for n, name in enumerate(CALLS):
        ratios = sorted(took[n] / took[0] for took in rounds)
        print(f"{name:38} {median(took[n] for took in rounds):.3f} s, "
              f"{median(ratios):.2f} ({ratios[0]:.2f}…{ratios[-1]:.2f})")  # fmt: skip


if __name__ == "__main__":
    main()
