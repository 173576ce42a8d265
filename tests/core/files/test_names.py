from __future__ import annotations

import pytest
from hypothesis import given, strategies as st
from pathvalidate import is_valid_filename

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.names import file_stem, safe


@given(st.text(max_size=300))
def test_any_text_becomes_a_name_every_file_system_can_hold(text):
    name = safe(text)
    assert 1 <= len(name.encode()) <= 121
    assert not set(name) & set('/\\:*?"<>|%\0\n\r\t ')
    assert name[0] not in ".-"
    assert name[-1] != "."
    assert name.lower() not in {"con", "nul", "com1"}
    assert safe(name) == name


def test_a_pattern_is_filled_from_photo_size_and_job():
    answer = {
        "photo": "quay-lanterns.jpg",
        "size": "8 × 10 in print",
        "width": 3000,
        "height": 2400,
    }
    pattern = "{number}-{photo}_{size}_{width}x{height}_{ppi}_{job}"
    stem = file_stem(pattern, **answer, ppi=300.0, job="Evening", number=7)
    assert stem == "007-quay-lanterns_8-x-10-in-print_3000x2400_300_Evening"


def test_a_value_that_looks_like_a_field_stays_a_value():
    stem = file_stem("{photo}", photo="{size}.jpg", size="x", width=1, height=1, ppi=None)
    assert stem == "size"


@pytest.mark.parametrize(
    ("pattern", "words"), [("{photo}_{colour}", "{colour}, which is unknown"), ("{photo", "brace")]
)
def test_a_pattern_with_an_unknown_field_is_refused(pattern, words):
    with pytest.raises(FileError, match=words):
        file_stem(pattern, photo="a.jpg", size="x", width=1, height=1, ppi=None)


@pytest.mark.parametrize(
    "name",
    [
        "nul",
        "nul.old",
        "NUL.tar.gz",
        "LPT1.tiff_8x10",
        "com1",
        "com¹",
        "con.",
        "aux .x",
        "CLOCK$",
        "PRN.a.b",
        "\ud800quay",
        "..",
        "~",
        "a" * 300,
    ],
)
def test_no_name_is_one_that_some_system_keeps_for_itself(name):
    made = safe(name)
    assert is_valid_filename(f"{made}.jpg", platform="universal")
    assert is_valid_filename(f"{made}-2.jpg", platform="universal")
    assert made.encode()
    assert not made.startswith((".", "-"))
