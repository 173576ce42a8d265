"""What counts as another recipe: other pixels, never other words."""

from __future__ import annotations

import pytest

from oak_ledge.flows.recipe import code_hash, judgement, recipe

CODE = '''"""Shrinks."""

STEP = 2


def shrunk(width, among={"a", "b"}):
    """Return half a width."""
    kept = width // STEP  # halves are dropped
    return kept if "a" in {"a", "b", "c"} else [edge + 1 for edge in among]
'''


def hash_of(tmp_path, code):
    path = tmp_path / "module.py"
    path.write_text(code)
    return code_hash([path])


@pytest.mark.parametrize(
    ("was", "now"),
    [
        ("Return half a width.", "Give half of it."),
        ("  # halves are dropped", ""),
        ('"""Shrinks."""\n', '"""Shrinks, by halves."""\n\n\n'),
        ("kept", "half"),
    ],
)
def test_words_and_names_of_locals_are_no_other_recipe(tmp_path, was, now):
    assert hash_of(tmp_path, CODE.replace(was, now)) == hash_of(tmp_path, CODE)


@pytest.mark.parametrize(
    ("was", "now"),
    [("STEP = 2", "STEP = 3"), ("width // STEP", "width / STEP"), ("edge + 1", "edge + 2"),
     ('"c"}', '"d"}'), ("def shrunk", "def halved")],
)  # fmt: skip
def test_what_changes_a_value_is_another_recipe(tmp_path, was, now):
    assert hash_of(tmp_path, CODE.replace(was, now)) != hash_of(tmp_path, CODE)


def test_what_draws_and_what_judges_are_told_apart():
    assert recipe() != judgement()
    assert len(recipe()) == len(judgement()) == 64
