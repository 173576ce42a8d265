"""Retouches of a photo: what one rests on, and steps that are undone without touching others."""

from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import FillError
from oak_ledge.core.photos.retouches import Retouch, checked, needed, undone
from oak_ledge.core.photos.strokes import Stroke


def dab(x, y, number=0, **more):
    stroke = Stroke(points=((x, y),), radius=10)
    return Retouch(kind=more.pop("kind", "paint_over"), strokes=(stroke,), number=number, **more)


lists = st.lists(
    st.builds(dab, st.integers(20, 80), st.integers(20, 80), st.integers(1, 6)),
    max_size=5,
    unique_by=lambda one: one.number,
).map(lambda some: tuple(sorted(some, key=lambda one: one.number)))


@given(lists, lists)
def test_a_step_undone_gives_what_was(before, after):
    step = (
        [one for one in before if one not in after],
        [one for one in after if one not in before],
    )
    assert undone(after, *step) == before


@given(lists, lists, st.integers(7, 9))
def test_what_came_after_a_step_stays_when_it_is_undone(before, after, number):
    later = dab(50, 50, number)
    step = (
        [one for one in before if one not in after],
        [one for one in after if one not in before],
    )
    assert undone((*after, later), *step) == (*before, later)


def test_what_another_step_changed_since_is_left_to_it():
    one, changed = dab(30, 30, 1), dab(30, 30, 1, attempt=3)
    assert undone((changed,), (), (one,)) == (changed,)


def test_a_retouch_rests_on_earlier_ones_under_it_and_under_what_it_copies():
    first, second, far = dab(30, 30, 1), dab(200, 30, 2), dab(100, 100, 3)
    copied = dab(35, 35, 4, kind="copy_texture", offset=(160.0, 0.0))
    every = (first, second, far, copied)
    assert needed(every, copied) == (first, second)
    assert needed(every, far) == ()
    hidden = first.model_copy(update={"shown": False})
    assert needed((hidden, second, far, copied), copied) == (second,)


def test_every_retouch_gets_a_number_of_its_own():
    found = checked((dab(20, 20), dab(30, 30, 4), dab(40, 40, 4), dab(50, 50)), (100, 100))
    assert len({one.number for one in found}) == 4
    assert found[1].number == 4


@pytest.mark.parametrize(
    ("one", "words"),
    [
        (Retouch(kind="paint_over"), "brushes nothing"),
        (dab(500, 50), "beyond the photo"),
        (dab(50, 50, kind="copy_texture"), "no spot to copy from"),
        (dab(50, 50, kind="copy_texture", offset=(0.2, 0.1)), "no spot to copy from"),
    ],
)
def test_a_retouch_that_says_nothing_is_refused(one, words):
    with pytest.raises(FillError, match=words):
        checked((one,), (100, 100))


def test_a_number_beyond_all_others_is_given_anew():
    dot = Retouch(kind="paint_over", polygons=(((1, 1), (5, 1), (5, 5)),))
    numbers = [10**9, 10**9, 7, 0]
    given = checked([dot.model_copy(update={"number": number}) for number in numbers], (90, 60))
    assert [one.number for one in given] == [8, 9, 7, 10]
    assert all(Retouch.model_validate(one.model_dump()) == one for one in given)
