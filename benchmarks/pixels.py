"""Pixel work against plain scripts, as ratios of one run: python benchmarks/pixels.py [rounds].

Each side runs in a process of its own; a ratio compares runs that stand side by side.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from pathlib import Path
from statistics import median

import numpy as np
from PIL import Image

Image.MAX_IMAGE_PIXELS = None
ROUNDS = int(sys.argv[1]) if len(sys.argv) > 1 else 5
PROBE = """
print(time.perf_counter() - begun, open("/proc/self/status").read().split("VmHWM:")[1].split()[0])
"""
PILLOW = """
import time
from PIL import Image
Image.MAX_IMAGE_PIXELS = None
begun = time.perf_counter()
for n, (w, h) in enumerate({sizes}):
    with Image.open({photo!r}) as image:
        image.load()
        wide = image.height * w / h
        left = (image.width - wide) / 2
        box = (left, 0, left + wide, image.height)
        image.resize((w, h), Image.Resampling.LANCZOS, box=box).save(
            f"{folder}/plain-{{n}}.jpg", quality=92, dpi=(300, 300))
"""
VIPS = """
import time, pyvips
begun = time.perf_counter()
image = pyvips.Image.thumbnail({photo!r}, 3000, height=2400, crop="centre")
image.copy(xres=300 / 25.4, yres=300 / 25.4).jpegsave("{folder}/vips.jpg", Q=92)
"""
SETTLED = """
from oak_ledge.core.pixels.process_setup import settle_process
settle_process()
"""
OURS = (
    SETTLED
    + """
import time
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import MakeOptions, make_all
from oak_ledge.flows.commands.tell import LyingOptions
begun = time.perf_counter()
told = make_all([Path({photo!r})], [read_size(text) for text in {texts}], MakeOptions(
    Path({folder!r}), Limits(), LyingOptions(angle={angle}), allowed=frozenset({{"enlarged"}})))
assert not told.failed, told.failed
"""
)
CORNERS = (
    SETTLED
    + """
import time
from fractions import Fraction
from pathlib import Path
from oak_ledge.core.planes.matrices import onto_quad
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.cut.warp import warp
from oak_ledge.core.sizes.file.file_settings import FileSettings
begun = time.perf_counter()
matrix = onto_quad(3000, 2400, [(600, 200), (5400, 90), (5700, 3900), (350, 3700)])
pixels = warp(open_photo(Path({photo!r})), matrix, (3000, 2400), (6000, 4000))
Path("{folder}/corners.jpg").write_bytes(encode(pixels, FileSettings(), Fraction(300), None))
"""
)
MANY = (
    SETTLED
    + """
import time
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import MakeOptions, make_all
from oak_ledge.flows.commands.tell import LyingOptions
begun = time.perf_counter()
held = []
for n in range(200):
    told = make_all([Path({photo!r})], [read_size("4x5in@100")], MakeOptions(
        Path({folder!r}), Limits(), LyingOptions(angle=3.7 * (n % 3 == 0))))
    assert not told.failed
    held.append(int(open("/proc/self/status").read().split("VmRSS:")[1].split()[0]))
print(held[60], max(held[60:]))
"""
)
FIVE = [(3000, 2400), (1500, 1200), (2400, 2400), (1800, 1200), (900, 600)]


def photo(path: Path, width: int, height: int) -> None:
    """A photo from the demo's pixels, grain and all."""
    demo = Path(__file__).parent.parent / "src/oak_ledge/demo/photos/framed-chart.jpg"
    with Image.open(demo) as image:
        large = np.asarray(image.resize((width, height), Image.Resampling.BICUBIC)).astype(np.int16)
    large += np.random.default_rng(1).integers(-4, 5, large.shape, dtype=np.int16)
    Image.fromarray(large.clip(0, 255).astype(np.uint8)).save(path, quality=92)


def run(script: str) -> tuple[float, float]:
    """Give seconds of the work itself and the peak in MB."""
    ended = subprocess.run(
        [sys.executable, "-c", script + PROBE], check=True, capture_output=True, text=True
    )
    work, kilobytes = ended.stdout.split()[-2:]
    return float(work), int(kilobytes) / 1024


def together(script: str, many: int) -> float:
    """Give the most MB that so many processes hold at once, what they share counted once."""
    at_work = [
        subprocess.Popen([sys.executable, "-c", script], stdout=subprocess.DEVNULL)
        for _ in range(many)
    ]
    most = 0.0
    while any(one.poll() is None for one in at_work):
        held = 0
        for one in at_work:
            with suppress(OSError, IndexError):  # it has just ended
                told = Path(f"/proc/{one.pid}/smaps_rollup").read_text()
                held += int(told.split("Pss:")[1].split()[0])
        most = max(most, held / 1024)
        time.sleep(0.02)
    assert not any(one.returncode for one in at_work)
    return most


def compare(name: str, ours: str, theirs: str) -> None:
    run(ours), run(theirs)
    pairs = [(run(ours), run(theirs)) for _ in range(ROUNDS)]
    ratios = sorted(mine[0] / other[0] for mine, other in pairs)
    print(
        f"{name:46} {median(ratios):.2f} ({ratios[0]:.2f}…{ratios[-1]:.2f}); "
        f"{median(mine[0] for mine, _ in pairs):.2f} s, {max(mine[1] for mine, _ in pairs):.0f} MB"
    )


def main() -> None:
    start = time.perf_counter()
    with tempfile.TemporaryDirectory() as folder:
        path, huge, small = (Path(folder) / name for name in ("24.jpg", "100.jpg", "2.jpg"))
        photo(path, 6000, 4000)
        photo(huge, 12_000, 8400)
        photo(small, 1800, 1200)
        answer = {"photo": str(path), "folder": folder}
        one = OURS.format(**answer, texts=["8x10in@300"], angle=0.0)
        compare("one print ÷ Pillow script", one, PILLOW.format(**answer, sizes=FIVE[:1]))
        compare("one print ÷ shortest libvips script", one, VIPS.format(**answer))
        texts = ["8x10in@300", "4x5in@300", "8x8in@300", "4x6in@300", "900x600px@300"]
        five = OURS.format(**answer, texts=texts, angle=0.0)
        compare("five sizes ÷ five Pillow runs", five, PILLOW.format(**answer, sizes=FIVE))
        compare(
            "turned by 3.7° ÷ upright", OURS.format(**answer, texts=["8x10in@300"], angle=3.7), one
        )
        compare("four corners ÷ upright", CORNERS.format(**answer), one)
        large = {"photo": str(huge), "folder": folder, "texts": ["8x10in@300"]}
        for angle in (0.0, 3.7, 30.0):
            work, peak = run(OURS.format(**large, angle=angle))
            print(f"100 megapixels, {angle}°: {work:.2f} s, peak {peak:.0f} MB")
        held = together(OURS.format(**large, angle=30.0), 4)
        print(f"four such at once, at 30°: {held:.0f} MB")
        script = MANY.format(photo=str(small), folder=folder)
        ended = subprocess.run(
            [sys.executable, "-c", script], check=True, capture_output=True, text=True
        )
        early, late = (int(part) / 1024 for part in ended.stdout.split()[:2])
        print(f"200 files in a row: {early:.0f} MB after 60, at most {late:.0f} MB afterwards")
    print(f"in {time.perf_counter() - start:.0f} s")


if __name__ == "__main__":
    main()
