"""Notes on a size itself: a slipped unit, a saved size that changed."""

from __future__ import annotations

from contextlib import suppress
from fractions import Fraction

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import PER_INCH, Unit, in_inches
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.note import Note, Way
from oak_ledge.core.sizes.edges.frame import Inches
from oak_ledge.core.sizes.geometry import edges_of, inches
from oak_ledge.core.sizes.shapes.every import natural_turn
from oak_ledge.core.sizes.size import Size, size_from
from oak_ledge.core.sizes.text.write import shape_label, what_differs, write_size

LEAST_INCHES, MOST_INCHES = Fraction(1, 2), Fraction(120)

# The way that leaves a job its own copy of a size, and asks no more.
KEEP_OLD = "keep-old"


LEAST_PIXELS, LEAST_PIXELS_SCREEN, MOST_PIXELS = 64, 12, 30_000


def unit_slip(size: Size) -> Note | None:
    """Stop a size that is absurdly small or large for its kind, with the unit likely meant."""
    unit, edges = size.shape.measured_in, edges_of(size)
    if unit is None:
        return None
    if unit == "px":
        least = LEAST_PIXELS_SCREEN if size.group == "screen" else LEAST_PIXELS
        edge_pixels = [pixels for _, pixels in edges]
        small, large = min(edge_pixels) < least, max(edge_pixels) > MOST_PIXELS
        limit = f"under {least} px" if small else f"over {MOST_PIXELS} px"
    else:
        lengths = [in_inches(amount, unit) for amount, _ in edges]
        small, large = min(lengths) < LEAST_INCHES, max(lengths) > MOST_INCHES
        limit = "under 0.5 in" if small else "over 120 in"
    if not small and not large:
        return None
    meant = likely_meant(size, small=small)
    label = shape_label(size)
    ask = "" if meant is None else f" Did you mean {_unit_word(meant)}: {shape_label(meant)}?"
    return Note(
        level="stop",
        code="unit-slip",
        text=f"{label}: an edge {limit} is too {'small' if small else 'large'} for a picture.{ask}",
        fix=None if meant is None else write_size(meant),
        way=None if meant is None else f"Make it {shape_label(meant)}",
    )


def size_changed(size: Size, saved: Size | None) -> Note | None:
    """Note that the saved size was edited after a job took it; the job's copy stays as it was."""
    if saved is None or saved == size:
        return None
    return Note(
        level="look",
        code="size-changed",
        text=f"The saved size was changed after this job took it: {what_differs(size, saved)}.",
        fix=write_size(saved),
        way="Take the new one for this job",
        ways=(Way(key=KEEP_OLD, words="Keep the old one"),),
    )


def falls_through(size: Size) -> Note | None:
    """Look where a print, or its mat, is no larger than what it shall lie behind."""
    frame, printed = size.frame, inches(size)
    if frame is None or printed is None:
        return None
    what, held, by, behind = "print", printed, "the frame's opening less its lip", None
    mat = frame.mat
    opening = frame.opening
    if mat is not None and _no_larger(printed, mat.window.inches):
        by, behind = "the mat's window", mat.window.inches
    elif opening is not None and frame.lip.inches > 0:
        if mat is not None:
            what, held = "mat", mat.outer.inches
        width, height = (edge - 2 * frame.lip.inches for edge in opening.inches)
        if _no_larger(held, (width, height)):
            behind = (width, height)
    if behind is None:
        return None
    unit = size.shape.measured_in
    unit = "in" if unit in (None, "px") else unit
    text = (
        f"The {what}, {_box_words(held, unit)}, is no larger than {by}, "
        f"{_box_words(behind, unit)}: it falls through. Make it larger, or that smaller."
    )
    return Note(level="look", code="falls-through", text=text)


def _no_larger(held: Inches, behind: Inches) -> bool:
    return any(edge <= room for edge, room in zip(held, behind, strict=True))


def _box_words(lengths: Inches, unit: Unit) -> str:
    width, height = (rounded(float(edge * PER_INCH[unit]), 2) for edge in lengths)
    return f"{width} × {height} {unit}"


def likely_meant(size: Size, *, small: bool) -> Size | None:
    """Find the unit that makes a slipped size plausible: a print of 2 to 60 in, or pixels."""
    shape = size.shape
    if shape.measured_in is None:
        return None
    order: tuple[Unit, ...] = ("in", "cm", "mm") if small else ("mm", "cm", "px")
    edges = [amount for amount, _ in edges_of(size)]
    for unit in order:
        if unit == shape.measured_in:
            continue
        if unit == "px":
            sound = all(e.denominator == 1 and 300 <= e <= MOST_PIXELS for e in edges)
        else:
            sound = all(2 <= in_inches(e, unit) <= 60 for e in edges)
        if sound:
            meant = shape.model_copy(update={"unit": unit})
            ppi = None if unit == "px" else size.ppi or Fraction(300)
            usual = natural_turn(meant, head=size.head is not None)
            changes = {"shape": meant, "ppi": ppi, "turn": usual, "name": ""}
            with suppress(SizeError):  # such as a dot, which only pixels have
                return size_from(dict(size) | changes)
    return None


def _unit_word(size: Size) -> str:
    words = {"in": "inches", "cm": "centimetres", "mm": "millimetres", "px": "pixels"}
    return words[size.shape.measured_in or "px"]
