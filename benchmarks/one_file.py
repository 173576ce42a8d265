"""One 24-megapixel JPEG → an exact 3000 × 2400 JPEG: ours against a plain Pillow script.

Each side runs as a process of its own, turn about, and both open what they wrote again. Printed
are the work itself (median, and the ratio pair by pair), the whole process with its start, and
the peak memory of a process.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from dataclasses import dataclass, replace
from pathlib import Path
from statistics import median

import numpy as np
from PIL import Image

ROUNDS = 7
PLAIN = """
import time
from PIL import Image
begun = time.perf_counter()
with Image.open({photo!r}) as image:
    image.load()
    piece = image.resize((3000, 2400), Image.Resampling.LANCZOS, box=(500, 0, 5500, 4000))
    piece.save({out!r}, quality=92, dpi=(300, 300))
with Image.open({out!r}) as made:
    made.load()
    assert made.size == (3000, 2400)
"""
OURS = """
from oak_ledge.core.pixels.process_setup import settle_process
settle_process()
import time
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import MakeOptions, make_all
begun = time.perf_counter()
told = make_all([Path({photo!r})], [read_size("8x10in@300")],
                MakeOptions(Path({out!r}), Limits()))
assert not told.failed and told.files[0].measured.width == 3000
"""
# VmHWM, not ru_maxrss: that one begins with what the parent held when it forked
PROBE = """
print(time.perf_counter() - begun)
print(open("/proc/self/status").read().split("VmHWM:")[1].split()[0])
"""


@dataclass(frozen=True)
class Ran:
    work: float
    whole: float
    megabytes: float


def photo(path: Path) -> None:
    """A 24-megapixel photo from the demo's pixels, grain and all."""
    demo = Path(__file__).parent.parent / "src/oak_ledge/demo/photos/framed-chart.jpg"
    with Image.open(demo) as image:
        large = np.asarray(image.resize((6000, 4000), Image.Resampling.LANCZOS)).astype(np.int16)
    large += np.random.default_rng(1).integers(-4, 5, large.shape, dtype=np.int16)
    Image.fromarray(large.clip(0, 255).astype(np.uint8)).save(path, quality=92, subsampling=0)


def run(script: str) -> Ran:
    """Run a script in a process of its own."""
    start = time.perf_counter()
    ended = subprocess.run(
        [sys.executable, "-c", script + PROBE], check=True, capture_output=True, text=True
    )
    whole = time.perf_counter() - start
    work, kilobytes = ended.stdout.split()
    return Ran(float(work), whole, int(kilobytes) / 1024)


def command(photo: Path, folder: str) -> float:
    """Give the seconds of the command as people call it, from its start to its end."""
    called = [str(Path(sys.executable).with_name("oak-ledge")), "make", str(photo)]
    start = time.perf_counter()
    subprocess.run(
        [*called, "--size", "8x10in@300", "--out", folder], check=True, capture_output=True
    )
    return time.perf_counter() - start


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "photo.jpg"
        photo(path)
        plain = PLAIN.format(photo=str(path), out=str(Path(folder) / "plain.jpg"))
        ours = OURS.format(photo=str(path), out=folder)
        run(plain), run(ours)
        pairs = [
            (run(plain), replace(run(ours), whole=command(path, folder))) for _ in range(ROUNDS)
        ]
    for name, side in (("plain Pillow script", 0), ("Oak Ledge", 1)):
        ran = [pair[side] for pair in pairs]
        print(f"{name:20} work {median(one.work for one in ran):.2f} s, whole process "
              f"{median(one.whole for one in ran):.2f} s, {max(one.megabytes for one in ran):.0f} MB")  # fmt: skip
    for name in ("work", "whole"):
        ratios = sorted(getattr(mine, name) / getattr(theirs, name) for theirs, mine in pairs)
        print(f"ratio of {name:11} {median(ratios):.2f} ({ratios[0]:.2f}…{ratios[-1]:.2f})")


if __name__ == "__main__":
    main()
