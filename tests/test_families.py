"""A new member of a family is one module and one row: toys are added, and a file is made with them."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest

from tests import samples

TOYS = {
    "outline": """
import numpy as np
from oak_ledge.core.sizes.edges.outline import OUTLINES, OutlineKind

def diamond(outline, output, ppi, bleed):
    wide, high = output
    return np.array([(wide / 2, 0), (wide, high / 2), (wide / 2, high), (0, high / 2)])

OUTLINES["diamond"] = OutlineKind(diamond, "cut to a diamond")
""",
    "format": """
from oak_ledge.core.sizes.file.formats import FORMATS, Format

FORMATS["ppm"] = Format("ppm", "PPM", ".ppm", "image/x-portable-pixmap", ((0, b"P6"),), "Ppm",
                        lossless=True, alpha=False)

from oak_ledge.core.pixels.encode.encode import writes

@writes("ppm")
def ppm(image, call):
    return f"P6 {image.width} {image.height} 255\\n".encode() + image.write_to_memory()
""",
    "ground": """
import numpy as np
from oak_ledge.core.pixels.ground.fills import FILLERS, Filler
from oak_ledge.core.sizes.ground import GROUNDS, GroundKind

def striped(pixels, whole):
    out = np.zeros((whole[1], whole[0], pixels.shape[2]), pixels.dtype)
    out[:, ::2] = np.iinfo(pixels.dtype).max
    return out

GROUNDS["stripes"] = GroundKind("stripes")
FILLERS["stripes"] = Filler(canvas=striped)
""",
    "note": """
from oak_ledge.core.notes.every import NOTES, NoteKind
from oak_ledge.core.notes.note import Note

def odd(at):
    if at.lying.asked[0] % 2 == 0:
        return None
    return Note(level="fine", code="odd", text=f"{at.lying.asked[0]} px is odd.")

NOTES["odd"] = NoteKind("odd width", odd)
""",
    "gesture": """
from typing import Literal
from oak_ledge.core.gestures.gesture import BaseGesture
from oak_ledge.core.placements.placement import changed

class Halve(BaseGesture):
    kind: Literal["halve"] = "halve"
    name = property(lambda self: "halved")

    def apply(self, start):
        return changed(start.placement, width=start.placement.width / 2)
""",
}

# The toys first, then what is built of the tables: models, grammar, commands.
MAKE = """
import json, sys
import {toys}
{body}
"""


@pytest.fixture
def with_toys(tmp_path):
    """Run a few lines in a process that knows the toys; return what it prints as JSON."""
    for name, module in TOYS.items():
        (tmp_path / f"toy_{name}.py").write_text(module)
    samples.photo(tmp_path / "photo.jpg", 120, 80)

    def run(body: str):
        toys = ", ".join(f"toy_{name}" for name in TOYS)
        done = subprocess.run(
            [sys.executable, "-c", MAKE.format(toys=toys, body=body)],
            cwd=tmp_path, capture_output=True, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == 0, done.stderr
        return json.loads(done.stdout)

    return run


@pytest.mark.process
def test_toys_of_every_family_are_one_module_each_and_make_a_file(with_toys, tmp_path):
    answer = with_toys(
        """
from pathlib import Path
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.sizes.size import changed_size
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.flows.commands.make import MakeOptions, make_all

size = read_size("91x91px extend")
size = changed_size(size, ground="stripes", file={"format": "ppm"})
outcome = make_all([Path("photo.jpg")], [size], MakeOptions(Path("out"), Limits()))
assert not outcome.failed, outcome.failed
made = outcome.files[0]
first = suggest(size, (120, 80))
cut = read_size("60x60px outline diamond")
print(json.dumps({
    "file": made.file, "format": made.measured.format,
    "notes": [note.code for note in made.notes],
    "sentence": say_size(cut), "label": cut.outline.label,
    "halved": apply(size, (120, 80), first, toy_gesture.Halve()).width / first.width,
}))
"""
    )
    assert answer["format"] == "ppm"
    assert "odd" in answer["notes"]
    assert answer["halved"] == 0.5
    assert "cut to a diamond" in answer["sentence"]
    made = (tmp_path / answer["file"]).read_bytes()
    head, pixels = made[:13], made[13:]
    assert head == b"P6 91 91 255\n"
    assert pixels[:6] == b"\xff\xff\xff\x00\x00\x00"  # ground above the photo: stripes
