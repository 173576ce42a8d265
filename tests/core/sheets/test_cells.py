"""Cells add up to their face exactly; trim marks stand off the corners and touch nothing."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sheets.canvas import Rect
from oak_ledge.core.sheets.cells import Cells, cell_boxes, cell_size, read_cells
from oak_ledge.core.sheets.trim_marks import LONG, OFF, trim_marks
from oak_ledge.core.sizes.edges.panels import PanelBox
from tests.samples import size

SIGN = size("384x160px", group="screen")


@pytest.mark.parametrize(
    ("face", "cells", "margin", "gap", "boxes"),
    [
        ("384x160px", "2x1", "0", "0", [(0, 0, 192, 160), (192, 0, 192, 160)]),
        ("384x160px", "1x2", "0", "4px", [(0, 0, 384, 78), (0, 82, 384, 78)]),
        ("1000x100px", "3x1", "0", "0", [(0, 0, 333, 100), (333, 0, 334, 100), (667, 0, 333, 100)]),
        ("100x100px", "2x2", "10px", "10px", [(10, 10, 35, 35), (55, 10, 35, 35), (10, 55, 35, 35), (55, 55, 35, 35)]),
        ("10x5in@100", "2x1", "0", "0.2in", [(0, 0, 490, 500), (510, 0, 490, 500)]),
    ],
)  # fmt: skip
def test_cells_of_a_face(face, cells, margin, gap, boxes):
    found = cell_boxes(size(face), read_cells(cells), margin, gap)
    assert [tuple(box) for box in found] == boxes


@given(
    st.integers(8, 4000),
    st.integers(8, 3000),
    st.integers(1, 6),
    st.integers(1, 6),
    st.integers(0, 1),
    st.integers(0, 1),
)
def test_cells_and_gaps_add_up_to_the_face(wide, high, columns, rows, gap, margin):
    cells = Cells(columns=columns, rows=rows)
    if (
        wide - 2 * margin - (columns - 1) * gap < columns
        or high - 2 * margin - (rows - 1) * gap < rows
    ):
        return
    found = cell_boxes(size(f"{wide}x{high}px"), cells, f"{margin}px", f"{gap}px")
    assert sum(box.width for box in found[:columns]) + (columns - 1) * gap + 2 * margin == wide
    assert sum(box.height for box in found[::columns]) + (rows - 1) * gap + 2 * margin == high
    for row in range(rows):
        for column in range(columns - 1):
            one, after = found[row * columns + column], found[row * columns + column + 1]
            assert after.left - one.left - one.width == gap
    widths = {box.width for box in found}
    assert max(widths) - min(widths) <= 1


@pytest.mark.parametrize(
    "text", ["", "2", "0x1", "2x0", "11x10", "2x1x1", "ax1", "9" * 50 + "x1", "-2x1"]
)
def test_what_are_no_cells_is_refused(text):
    with pytest.raises(SizeError, match="Write columns × rows"):
        read_cells(text)


@pytest.mark.parametrize(("cells", "gap"), [("50x1", "10px"), ("2x1", "400px"), ("2x2", "200px")])
def test_cells_without_a_pixel_are_refused_in_one_sentence(cells, gap):
    with pytest.raises(SizeError, match="leave no pixel for a cell"):
        cell_boxes(SIGN, read_cells(cells), "0", gap)


def test_a_cell_is_a_size_of_its_own_with_all_its_face_says():
    made = cell_size(SIGN, PanelBox(192, 0, 192, 160), "Sign, cell 2 of 2")
    assert (made.shape.text, made.group, made.file, made.name) == (
        "192x160px", "screen", SIGN.file, "Sign, cell 2 of 2",
    )  # fmt: skip


def rect(x, y, width, height):
    return Rect(Fraction(x), Fraction(y), Fraction(width), Fraction(height))


def test_eight_marks_stand_off_the_corners_of_a_piece():
    piece = rect(2, 3, 4, 6)
    marks = trim_marks([piece], [piece], (Fraction(17), Fraction(22)))
    assert len(marks) == 8
    off, far = float(OFF), float(OFF + LONG)
    assert (2 - far, 3, 2 - off, 3) in [tuple(map(float, mark)) for mark in marks]
    for mark in marks:
        assert abs(mark.x1 - mark.x0) + abs(mark.y1 - mark.y0) == pytest.approx(float(LONG))


@pytest.mark.parametrize(
    ("pieces", "count"),
    [
        ([rect(2, 3, 4, 6), rect(6, 3, 4, 6)], 10),  # two that touch share their edge's marks
        ([rect(0, 0, 4, 6)], 4),  # those that would leave the paper
        ([rect(2, 3, 4, 6), rect(2, 9, 4, 6)], 10),
        ([rect(2, 3, 4, 6), rect(12, 14, 4, 6)], 16),
    ],
)
def test_a_mark_that_would_touch_a_piece_or_leave_the_paper_is_left_out(pieces, count):
    marks = trim_marks(pieces, pieces, (Fraction(17), Fraction(22)))
    assert len(marks) == count
    for mark in marks:
        assert min(mark) >= 0
        for one in pieces:
            inside_x = mark.x0 < one.x + one.width and mark.x1 > one.x
            inside_y = mark.y0 < one.y + one.height and mark.y1 > one.y
            assert not (inside_x and inside_y)


def test_marks_begin_beyond_the_bleed():
    whole, bleed = rect(2, 3, 4, 6), Fraction(1, 8)
    trimmed = Rect(
        whole.x + bleed, whole.y + bleed, whole.width - 2 * bleed, whole.height - 2 * bleed
    )
    marks = trim_marks([trimmed], [whole], (Fraction(17), Fraction(22)))
    assert len(marks) == 8
    nearest = max(mark.x1 for mark in marks if mark.x1 < 2)
    assert nearest == pytest.approx(2 - float(OFF))
    assert trim_marks([], [], (Fraction(1), Fraction(1))) == []
