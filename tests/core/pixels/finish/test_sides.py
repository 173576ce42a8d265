"""Sides of a stretched canvas: the face untouched, what lies around it as asked, folds marked outside it."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
from PIL import Image
from pydantic import ValidationError

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.proof import asked_of, differences
from oak_ledge.core.pixels.finish.sides import preview_with_sides, with_fold_marks, with_sides
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.sides import with_continued_sides
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.file_geometry import file_pixels, picture_of, side_shares
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.flows.delivery.making import Work, draw
from tests import samples
from tests.samples import size

WRAP = {"wrap": "1in", "file": {"format": "png"}}


@pytest.fixture
def photo(tmp_path):
    path = samples.photo(tmp_path / "a.jpg", 900, 600)
    return path, look_at(path, most_pixels=10**8)


def drawn(photo, asked):
    path, facts = photo
    work = Work(path, "a.jpg", facts, asked, suggest(asked, facts.upright))
    (data,) = draw(work, Limits())
    return work, data


def values(data):
    with Image.open(BytesIO(data)) as image:
        return np.asarray(image.convert("RGB"))


@pytest.mark.parametrize("ground", ["mirror", "edge", "#c04020"])
def test_the_face_is_the_piece_without_a_wrap_and_the_sides_are_as_asked(photo, ground):
    work, data = drawn(photo, size("6x4in@50", sides={"ground": ground}, **WRAP))
    bare = values(drawn(photo, size("6x4in@50", file={"format": "png"}))[1])
    found = values(data)
    assert found.shape == (300, 400, 3)
    face = found[50:250, 50:350]
    assert np.array_equal(face, bare)
    if ground == "mirror":
        assert np.array_equal(found[:50, 50:350], face[:50][::-1])
        assert np.array_equal(found[50:250, 350:], face[:, -50:][:, ::-1])
    elif ground == "edge":
        assert (found[:50, 50:350] == face[:1]).all()
        assert (found[50:250, :50] == face[:, :1]).all()
    else:
        assert (found[:50] == (0xC0, 0x40, 0x20)).all()
        assert (found[:, 350:] == (0xC0, 0x40, 0x20)).all()
    assert (work.asked.width, work.asked.height) == (400, 300)


def test_continued_sides_are_the_photo_as_far_as_it_goes_and_leave_the_face_where_it_was(photo):
    asked = size("4x3in@50", sides="continued", **WRAP)
    path, facts = photo
    lying = lying_on(
        asked, facts.upright, suggest(asked, facts.upright).model_copy(update={"width": 300.0})
    )
    opened = with_continued_sides(lying)
    assert opened.asked == (300, 250)
    assert (opened.crop.width, opened.crop.height) == (450, 375)
    face, whole = lying.crop, opened.crop
    assert whole.left + whole.width / 2 == pytest.approx(face.left + face.width / 2)
    assert whole.top + whole.height / 2 == pytest.approx(face.top + face.height / 2)
    work = Work(path, "a.jpg", facts, asked, lying.placement)
    (data,) = draw(work, Limits())
    wide = size("6x5in@50", file={"format": "png"})
    flat = lying.placement.model_copy(update={"width": 450.0})
    (other,) = draw(Work(path, "a.jpg", facts, wide, flat), Limits())
    assert np.array_equal(values(data), values(other))


@pytest.mark.parametrize(
    ("text", "changes", "face", "file"),
    [
        ("40x60cm@200", {"wrap": "4cm", "sides": "mirror"}, (4724, 3150), (5354, 3780)),
        (
            "10x10in@100",
            {"wrap": "1/8in", "bleed": "1/8in", "sides": "edge"},
            (1025, 1025),
            (1050, 1050),
        ),
        ("10x10in@100", {"wrap": "1/8in", "bleed": "1/8in"}, (1050, 1050), (1050, 1050)),
        ("5.01x5.01in@50", {"wrap": "0.03in", "sides": "edge"}, (251, 251), (254, 254)),
    ],
)
def test_a_file_is_as_large_as_face_and_sides_rounded_once(text, changes, face, file):
    asked = size(text, **changes)
    lying = lying_on(asked, (9000, 6000), suggest(asked, (9000, 6000)))
    assert lying.asked == face
    assert file_pixels(asked, lying.asked) == file
    assert picture_of(asked, file) == face
    if "sides" in changes:
        assert side_shares(asked, face) == pytest.approx(
            ((file[0] - face[0]) / 2 / face[0], (file[1] - face[1]) / 2 / face[1])
        )


def test_what_is_made_is_proven_with_its_sides(photo, tmp_path):
    asked = size("6x4in@50", wrap="1in", sides={"ground": "mirror", "marks": True})
    work, data = drawn(photo, asked)
    path = tmp_path / "made.jpg"
    path.write_bytes(data)
    assert differences(asked, work.asked, measure(path)) == ()
    assert differences(asked, asked_of(asked, (300, 200)), measure(path)) == ()
    assert (
        "1 in to wrap on every side; sides mirrored, folds marked; 400 × 300 px with its sides"
        in (say_size(asked))
    )


def test_folds_are_marked_at_the_outer_edge_and_never_on_the_face():
    pixels = np.full((300, 400, 3), 128, np.uint8)
    found = with_fold_marks(pixels, (300, 200), 50)
    assert np.array_equal(found[50:250, 50:350], pixels[50:250, 50:350])
    changed = (found != 128).any(axis=2)
    assert changed.any()
    rows, columns = np.nonzero(changed)
    away = np.minimum.reduce([rows, columns, 299 - rows, 399 - columns])
    assert away.max() < 50 * 3 / 25.4 + 1  # 3 mm from the edge
    assert (found[0, 50] == 0).all()
    assert (found[0, 51] == 255).all()
    assert np.array_equal(changed, changed[::-1])
    assert np.array_equal(changed, changed[:, ::-1])


@pytest.mark.parametrize("deep", [False, True])
@pytest.mark.parametrize("bands", [1, 3, 4])
def test_sides_go_around_whatever_bands_and_depth(bands, deep):
    values = samples.grain(20, 10, bands)
    face = values.astype(np.uint16) * 257 if deep else values
    for ground in ("mirror", "edge", "#ffffff"):
        tone = None if ground != "#ffffff" else np.full(bands, np.iinfo(face.dtype).max, float)
        found = with_sides(face, (25, 17), ground, tone)  # an odd pixel goes to the right and below
        assert found.shape == (17, 25, bands)
        assert found.dtype == face.dtype
        assert np.array_equal(found[3:13, 2:22], face)
    tall = with_sides(face, (120, 90), "mirror", None)  # sides wider than the face
    assert np.array_equal(tall[40:50, 50:70], face)


@pytest.mark.parametrize(
    ("changes", "why"),
    [
        ({"sides": "mirror"}, "sides belong to a wrap"),
        ({"wrap": "1in", "sides": "blur"}, "can't be “blur”"),
        ({"wrap": "1in", "sides": "transparent"}, "see-through is written clear"),
        ({"wrap": "1in", "sides": "green"}, "not a colour"),
    ],
)
def test_sides_that_cannot_be_are_refused_in_words(changes, why):
    with pytest.raises(ValidationError, match=why):
        size("6x4in@50", **changes)


def test_a_preview_shows_the_sides(tmp_path):
    path = samples.photo(tmp_path / "face.jpg", 200, 100)
    for ground in ("mirror", "edge", "#102030"):
        with Image.open(BytesIO(preview_with_sides(path, (0.1, 0.2), ground))) as image:
            assert image.size == (240, 140)
