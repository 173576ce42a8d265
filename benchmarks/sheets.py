"""Sheets: how close packing comes to what area alone needs; a PDF against the time of making its pieces.

Packing is shown for lots of 200 mixed prints on papers of the trade, with the usual margin and gap.
A 17 × 22 in sheet at 300 ppi is made from six 24-megapixel photos, each side a process of its own,
turn about; the peak memory of a sheet of six pieces stands beside that of twelve.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from fractions import Fraction
from math import ceil
from pathlib import Path
from random import Random
from statistics import median

from one_file import photo

from oak_ledge.core.sheets.packing import packed

ROUNDS = 5
KINDS = ("4x6", "5x7", "8x10", "4x4", "3.5x5", "6x8", "2.6x2.6")
PAPERS = (
    ("13 × 19", "12.2", "18.2"),
    ("17 × 22", "16.2", "21.2"),
    ("24 × 36", "23.2", "35.2"),
    ("44 × 60", "43.2", "59.2"),
)
GAP, STEP = Fraction(1, 5), Fraction(1, 1000)

SIZES = ("8x10in@300", "5x7in@300", "5x7in@300", "5x7in@300", "66x66mm@300", "66x66mm@300")
SHEET = """
import sys, time
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sheets.sheet import layout_from
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.sheets import from_files
photos, sizes, out = {photos!r}, {sizes!r}, Path({out!r})
layout = layout_from(canvas=read_size("17x22in@300"), margin="0.4in", gap="0.2in", kind="pdf")
pairs = iter([(Path(p), read_size(s)) for p, s in zip(photos, sizes)])
begun = time.perf_counter()
told = from_files.make_pairs(list(pairs), layout, LyingOptions(), out / "sheet.pdf", Limits())
assert not told.failed and not told.unplaced
"""
PIECES = """
import sys, time
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import MakeOptions, make_all
photos, sizes, out = {photos!r}, {sizes!r}, Path({out!r})
begun = time.perf_counter()
for p, s in zip(photos, sizes):
    told = make_all([Path(p)], [read_size(s)], MakeOptions(out, Limits()))
    assert not told.failed
"""
PROBE = """
print(time.perf_counter() - begun)
print(open("/proc/self/status").read().split("VmHWM:")[1].split()[0])
"""


def packing() -> None:
    print("200 mixed prints: pages, pages by area alone, their ratio, seconds")
    for name, wide, high in PAPERS:
        room = (Fraction(wide), Fraction(high))
        ratios, times = [], []
        for seed in range(5):
            drawn = [one.split("x") for one in Random(seed).choices(KINDS, k=200)]
            pieces = [(Fraction(w), Fraction(h)) for w, h in drawn]
            begun = time.perf_counter()
            spots = packed(pieces, room, GAP, STEP)
            times.append(time.perf_counter() - begun)
            area = sum((w + GAP) * (h + GAP) for w, h in pieces)
            least = ceil(area / ((room[0] + GAP) * (room[1] + GAP)))
            pages = 1 + max(spot.page for spot in spots if spot is not None)
            ratios.append(pages / least)
        print(f"  {name} in: {min(ratios):.2f} to {max(ratios):.2f} ×, at most {max(times):.2f} s")


def ran(
    script: str, photos: list[str], sizes: tuple[str, ...], folder: Path
) -> tuple[float, float]:
    out = Path(tempfile.mkdtemp(dir=folder))
    code = script.format(photos=photos, sizes=list(sizes), out=str(out)) + PROBE
    told = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    seconds, kilobytes = told.stdout.split()
    return float(seconds), int(kilobytes) / 1000


def pdf() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        photos = []
        for n in range(6):
            path = folder / f"p{n}.jpg"
            photo(path)
            photos.append(str(path))
        pairs = []
        for _ in range(ROUNDS):
            sheet, pieces = ran(SHEET, photos, SIZES, folder), ran(PIECES, photos, SIZES, folder)
            pairs.append((sheet, pieces))
        ratio = median(sheet[0] / pieces[0] for sheet, pieces in pairs)
        each = ", ".join(f"{sheet[0] / pieces[0]:.2f}" for sheet, pieces in pairs)
        print(f"sheet of six as PDF against its pieces: {ratio:.2f} × ({each})")
        twelve = ran(SHEET, photos * 2, SIZES * 2, folder)
        print(
            f"memory: six {median(sheet[1] for sheet, _ in pairs):.0f} MB, twelve {twelve[1]:.0f} MB"
        )


if __name__ == "__main__":
    packing()
    pdf()
