"""Pieces cut along an outline: every edge pixel by its true area, clear in PNG, a tone in JPEG."""

from __future__ import annotations

from io import BytesIO

import numpy as np
import pytest
import pyvips
from hypothesis import assume, given, strategies as st
from PIL import Image

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.files.relabelled import is_relabelled
from oak_ledge.core.notes.zones import keep_notes
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.pixels.finish.outline import covered
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.edges.outline import outline_on
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.delivery.making import Work, draw
from tests import samples
from tests.samples import size, there

points = st.lists(st.tuples(st.floats(-3, 15), st.floats(-3, 12)), min_size=3, max_size=3)


@given(points)
def test_a_triangle_covers_its_area_pixel_by_pixel(corners):
    polygon = np.array(corners)
    (x0, y0), (x1, y1), (x2, y2) = corners
    assume(abs((x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)) > 0.1)
    fine = 40
    v, u = (np.mgrid[: 9 * fine, : 12 * fine] + 0.5) / fine
    sides = []
    for (x0, y0), (x1, y1) in zip(polygon, np.roll(polygon, -1, axis=0), strict=True):
        sides.append((x1 - x0) * (v - y0) - (y1 - y0) * (u - x0) > 0)
    inside = np.logical_and.reduce(sides) | ~np.logical_or.reduce(sides)
    exact = inside.reshape(9, fine, 12, fine).mean(axis=(1, 3))
    assert np.abs(covered(polygon, (12, 9)) - exact).max() < 0.06  # what the fine grid tells


def test_what_a_path_goes_round_twice_is_outside_as_it_is_drawn():
    twice = np.array([(0, 0), (8, 0), (8, 8), (0, 8), (0, 0), (2, 0), (2, 8), (0, 8)])
    found = covered(twice.astype(float), (8, 8))
    assert np.array_equal(found[:, :2], np.zeros((8, 2)))
    assert np.array_equal(found[:, 2:], np.ones((8, 6)))


@pytest.mark.parametrize("text", ["outline circle", "outline ellipse", "outline rounded 20%"])
def test_edges_are_true_to_two_levels(text):
    wide, high = 61, 44
    asked = there(read_size(f"{wide}x{high}px {text}").outline)
    found = covered(outline_on(asked, (wide, high), None), (wide, high))
    fine = 64
    v, u = (np.mgrid[: high * fine, : wide * fine] + 0.5) / fine
    across, along = u - wide / 2, v - high / 2
    if text.endswith("circle"):
        inside = np.hypot(across, along) < high / 2
    elif text.endswith("ellipse"):
        inside = np.hypot(across / (wide / 2), along / (high / 2)) < 1
    else:
        radius = 0.2 * high
        beyond = np.hypot(
            np.maximum(abs(across) - (wide / 2 - radius), 0),
            np.maximum(abs(along) - (high / 2 - radius), 0),
        )
        inside = beyond < radius
    exact = inside.reshape(high, fine, wide, fine).mean(axis=(1, 3))
    assert np.abs(found - exact).max() < 2 / 255
    assert found.sum() == pytest.approx(inside.mean() * wide * high, rel=5e-4)


def made(path, asked):
    facts = look_at(path, most_pixels=10**8)
    return Work(path, path.name, facts, asked, suggest(asked, facts.upright))


@pytest.mark.parametrize("kind", ["png", "webp", "tiff", "avif"])
def test_outside_is_clear_and_inside_is_the_piece_without_it(tmp_path, kind):
    path = samples.photo(tmp_path / "photo.png", 120, 120)
    round_ = size("100x100px", outline={"kind": "circle"}, file={"format": kind, "quality": 100})
    square = size("100x100px", file={"format": kind, "quality": 100})
    with (
        Image.open(BytesIO(draw(made(path, round_), Limits())[0])) as cut,
        Image.open(BytesIO(draw(made(path, square), Limits())[0])) as whole,
    ):
        seen, bare = np.asarray(cut.convert("RGBA")), np.asarray(whole.convert("RGB"))
    assert (seen[2, 2, 3], seen[50, 50, 3]) == (0, 255)
    alpha = seen[..., 3] / 255
    assert alpha.sum() == pytest.approx(np.pi * 50**2, rel=2e-3)
    if kind in ("png", "tiff"):
        assert np.array_equal(seen[alpha == 1, :3], bare[alpha == 1])


def test_a_jpeg_has_the_grounds_colour_outside(tmp_path):
    path = samples.photo(tmp_path / "photo.png", 120, 120)
    asked = size(
        "100x100px",
        outline={"kind": "ellipse"},
        ground="#204080",
        file={"format": "jpeg", "quality": 100},
    )
    with Image.open(BytesIO(draw(made(path, asked), Limits())[0])) as cut:
        assert cut.mode == "RGB"
        corner = np.asarray(cut)[2, 2].astype(int)
    assert np.abs(corner - (0x20, 0x40, 0x80)).max() <= 4


def test_a_keep_zone_outside_the_outline_is_noted_with_its_share():
    asked = read_size("1000x1000px outline circle")
    lying = lying_on(asked, (1000, 1000), suggest(asked, (1000, 1000)))
    corner = Keeps(zones=(Zone(left=60, top=60, width=300, height=300),))
    note = next(note for note in keep_notes(lying, corner) if note is not None)
    assert (note.code, note.level) == ("keep-hidden", "look")
    assert "outside the outline" in note.text
    middle = Keeps(zones=(Zone(left=300, top=300, width=400, height=400),))
    assert not any(keep_notes(lying, middle))


def of_kind(folder, kind):
    """A photo of 120 × 120 pixels, every one the same, of some kind of pixels."""
    path = folder / f"{kind}.tif"
    bare = np.full((120, 120, 3), (200, 120, 40), np.uint8)
    match kind:
        case "grey":
            Image.fromarray(bare[..., 1]).save(path)
        case "cmyk":
            Image.fromarray(bare).convert("CMYK").save(path)
        case "clear":
            Image.fromarray(np.dstack([bare, np.full((120, 120), 128, np.uint8)])).save(path)
        case "deep":
            return samples.deep(folder / "deep.png", 120, 120)
        case _:
            Image.fromarray(bare).save(path, icc_profile=samples.p3())
    return path


@pytest.mark.parametrize("kind", ["grey", "cmyk", "clear", "deep", "wide"])
@pytest.mark.parametrize("file", ["png", "tiff", "webp", "jpeg"])
def test_photos_of_every_kind_are_cut_alike(tmp_path, kind, file):
    path = of_kind(tmp_path, kind)
    profile = "srgb" if kind in ("cmyk", "wide") and file != "jpeg" else "keep"
    settings = {"format": file, "quality": 100, "profile": profile}
    asked = size("100x100px", outline={"kind": "rounded", "percent": "30"}, file=settings)
    whole = size("100x100px", file=settings)
    found = pyvips.Image.new_from_buffer(draw(made(path, asked), Limits())[0], "")
    bare = pyvips.Image.new_from_buffer(draw(made(path, whole), Limits())[0], "")
    assert (found.width, found.height) == (100, 100)
    if file == "jpeg":
        assert (found.bands, found.hasalpha()) == (bare.bands, False)
        srgb = (found.icc_transform("srgb") if found.bands == 4 else found).numpy()
        assert (srgb[0, 0] > 240).all()
        return
    assert found.hasalpha()
    assert found.bands == bare.bands + (not bare.hasalpha())
    full = 65535 if found.format == "ushort" else 255
    middle = bare.numpy()[50, 50, -1] if bare.hasalpha() else full
    clear = found[found.bands - 1].numpy()
    assert clear[0, 0] == 0
    assert abs(int(clear[50, 50]) - int(middle)) <= 1
    share = (clear / middle).mean()
    assert share == pytest.approx(1 - (4 - np.pi) * 0.3**2, abs=0.004)
    if file in ("png", "tiff"):
        colours = slice(0, bare.bands - bare.hasalpha())
        row, same = (np.atleast_3d(one.numpy())[50, :, colours] for one in (found, bare))
        assert np.array_equal(row, same)


def test_a_whole_jpeg_on_its_own_size_is_drawn_anew_where_it_is_cut():
    photo = samples.facts(1000, 1000, format="JPEG")
    for text, copied in (
        ("1000x1000px@200", True),
        ("1000x1000px@200 outline ellipse", False),
        ("1100x1100px@200 border 50px", False),
    ):
        asked = read_size(text)
        asked = asked.model_copy(
            update={"file": asked.file.model_copy(update={"format": "jpeg", "location": True})}
        )
        lying = lying_on(asked, (1000, 1000), suggest(asked, (1000, 1000)))
        assert is_relabelled(photo, lying, Retouches()) is copied


@given(st.integers(20, 300), st.integers(20, 300), st.integers(1, 50))
def test_outlines_fill_their_true_area_on_any_piece(wide, high, share):
    short = min(wide, high)
    true = {
        "outline circle": np.pi * (short / 2) ** 2,
        "outline ellipse": np.pi * wide * high / 4,
        f"outline rounded {share}%": wide * high - (4 - np.pi) * (short * share / 100) ** 2,
        'outline path "M0.5 0L1 1L0 1Z"': wide * high / 2,
    }
    for text, area in true.items():
        outline = there(read_size(f"{wide}x{high}px {text}").outline)
        found = covered(outline_on(outline, (wide, high), None), (wide, high))
        assert found.sum(dtype=np.float64) == pytest.approx(area, rel=2e-3)
        assert found.min() >= 0
        assert found.max() <= 1
        if outline.kind != "path":
            assert np.allclose(found, found[::-1, ::-1], atol=1e-5)  # the same turned half round


@pytest.mark.parametrize("kind", ["png", "tiff", "webp", "avif"])
def test_what_was_cut_away_is_in_no_file(tmp_path, kind):
    path = samples.save(tmp_path / "crowd.png", samples.grain(400, 400))
    round_ = size("400x400px outline circle", file={"format": kind, "quality": 60})
    data = draw(made(path, round_), Limits())[0]
    pixels = np.asarray(pyvips.Image.new_from_buffer(data, ""))
    away = np.hypot(*(np.mgrid[:400, :400] - 199.5)) > (201 if kind in ("png", "tiff") else 221)
    assert (pixels[away][:, 3] == 0).all()
    spread = np.ptp(pixels[away][:, :3].astype(int), axis=0)
    assert spread.max() <= (0 if kind in ("png", "tiff") else 2)
