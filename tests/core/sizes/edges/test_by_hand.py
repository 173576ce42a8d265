"""Outlines drawn by hand: smooth, near the hand, of few points, which are found again in the path."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.print.outline import SetOutline
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.edges.by_hand import MOST, points_of, smoothed
from oak_ledge.core.sizes.edges.outline import Outline, outline_on
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.write import write_size
from tests.samples import size

PHOTO = (3000, 2000)


def loop(count=300, wobble=0.0):
    """A closed line around the middle, as a hand draws it: near an ellipse, a little shaky."""
    turns = np.linspace(0, 2 * np.pi, count, endpoint=False)
    far = 1 + 0.15 * np.cos(3 * turns) + wobble * np.sin(41 * turns)
    return [
        (0.5 + 0.35 * f * np.cos(t), 0.5 + 0.3 * f * np.sin(t))
        for t, f in zip(turns, far, strict=True)
    ]


@pytest.mark.parametrize("wobble", [0, 0.004])
def test_few_points_are_kept_and_the_line_stays_near_the_hand(wobble):
    path = smoothed(loop(wobble=wobble))
    assert 8 <= len(points_of(path)) <= 25
    drawn = np.array(loop())
    made = outline_on(Outline(kind="path", path=path), (1000, 1000), None) / 1000
    far = np.sqrt(((drawn[:, None] - made[None]) ** 2).sum(axis=2)).min(axis=1)
    assert far.max() < 0.02


def test_of_the_wildest_line_no_more_is_kept_than_can_be_written():
    path = smoothed(loop(2000, wobble=0.25))
    assert len(points_of(path)) <= MOST
    assert Outline(kind="path", path=path).path == path


@given(
    st.lists(
        st.tuples(st.integers(0, 1000), st.integers(0, 1000)),
        min_size=3,
        max_size=MOST,
        unique=True,
    )
)
def test_points_are_found_again_and_the_size_is_written_and_read(raw):
    points = tuple((x / 1000, y / 1000) for x, y in raw)
    try:
        path = smoothed(points, thin=False)
    except SizeError:
        return  # it encloses nothing
    assert points_of(path) == points
    try:
        outlined = size("4x5in@100").model_copy(update={"outline": Outline(kind="path", path=path)})
    except ValueError:
        return
    assert read_size(write_size(outlined)).outline == outlined.outline


@pytest.mark.parametrize("path", ["", "M0 0L1 0L1 1Z", "M0 0C1 1 1 1 1 0", "M.5 0C1 0Z"])
def test_a_path_that_was_not_drawn_here_has_no_points(path):
    assert points_of(path) == ()


def test_it_is_drawn_dragged_chosen_and_taken_away_as_the_photos_own():
    asked = size("4x5in@100 png")
    first = suggest(asked, PHOTO)
    drawn = apply(asked, PHOTO, first, SetOutline(kind="outline", points=tuple(loop()), drawn=True))
    outline = size_at(asked, drawn).outline
    assert outline is not None
    assert (drawn.cx, drawn.cy, drawn.width) == (first.cx, first.cy, first.width)
    points = [*points_of(outline.path)]
    points[0] = (1.4, 0.5)  # dragged beyond the piece it stops at its edge
    dragged = apply(asked, PHOTO, drawn, SetOutline(kind="outline", points=tuple(points)))
    after = size_at(asked, dragged).outline
    assert after is not None
    assert points_of(after.path) == ((1.0, 0.5), *points[1:])
    heart = apply(asked, PHOTO, dragged, SetOutline(kind="outline", outline="heart"))
    assert size_at(asked, heart).outline == Outline(kind="heart")
    assert apply(asked, PHOTO, heart, SetOutline(kind="outline")) == first


@pytest.mark.parametrize(
    ("text", "gesture", "why"),
    [
        ("4x5in@100", {"points": ((0.1, 0.1), (0.9, 0.9))}, "encloses nothing"),
        ("4x5in@100", {"points": ((0.1, 0.1), (0.9, 0.1), (0.5, 0.1))}, "encloses nothing"),
        ("4x5in@100", {"outline": "blob"}, "blob"),
        ("4x5in@100 panels 2", {"outline": "heart"}, "panel"),
    ],
)
def test_what_can_not_be_an_outline_is_refused_in_words(text, gesture, why):
    asked = size(text)
    with pytest.raises(SizeError, match=why):
        apply(asked, PHOTO, suggest(asked, PHOTO), SetOutline(kind="outline", **gesture))
