"""Sheets as PDF, read back by another reader: pages, places, every piece's own pixels and profile."""

from __future__ import annotations

import shutil
import subprocess
from fractions import Fraction
from io import BytesIO

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.paper.sheet_pdf import OnPage, Page, write_sheet
from oak_ledge.core.pixels.prove.measure import measure
from oak_ledge.core.sheets.canvas import Rect
from oak_ledge.core.sheets.trim_marks import TrimMark
from tests import samples
from tests.samples import there

PAPER = (Fraction(17), Fraction(22))


def rect(x, y, width, height):
    return Rect(Fraction(x), Fraction(y), Fraction(width), Fraction(height))


def jpeg(pixels, **options):
    out = BytesIO()
    samples.image_of(pixels).save(out, "JPEG", quality=90, **options)
    return out.getvalue()


def png(image, **options):
    out = BytesIO()
    image.save(out, "PNG", **options)
    return out.getvalue()


def written(tmp_path, files, pages, paper=PAPER):
    path = tmp_path / "sheet.pdf"
    write_sheet(path, paper, pages, iter(files), "Sheet")
    return path


def images_of(reader):
    found = {}
    for page in reader.pages:
        for name, reference in page["/Resources"]["/XObject"].items():
            found[name] = reference.get_object()
    return found


def test_a_jpeg_and_its_profile_are_embedded_as_they_were_made(tmp_path):
    pixels = samples.grain(120, 80)
    plain, wide = jpeg(pixels), jpeg(pixels, icc_profile=samples.p3())
    page = Page([OnPage(0, rect(1, 1, 4, 3), False), OnPage(1, rect(6, 1, 4, 3), False)], [])
    reader = PdfReader(written(tmp_path, [plain, wide], [page]))
    first, second = images_of(reader).values()
    assert first._data == plain  # byte for byte
    assert second._data == wide
    assert first["/Filter"] == second["/Filter"] == "/DCTDecode"
    assert first["/ColorSpace"] == "/DeviceRGB"
    space = second["/ColorSpace"]
    assert space[0] == "/ICCBased"
    assert space[1].get_object().get_data() == samples.p3()
    assert (first["/Width"], first["/Height"], first["/BitsPerComponent"]) == (120, 80, 8)


@pytest.mark.parametrize("mode", ["RGB", "L", "RGBA", "LA", "I;16"])
def test_pixels_without_loss_come_back_value_for_value(tmp_path, mode):
    pixels = samples.grain(61, 40, 4)
    deep = (pixels[..., 0].astype(np.uint16) * 257) ^ 0x0FF0
    if mode == "I;16":
        image = Image.fromarray(deep)
    else:
        bands = {"RGB": pixels[..., :3], "L": pixels[..., 0], "RGBA": pixels, "LA": pixels[..., :2]}
        image = Image.fromarray(np.ascontiguousarray(bands[mode]))
    page = Page([OnPage(0, rect(1, 1, 4, 3), False)], [])
    reader = PdfReader(written(tmp_path, [png(image)], [page]))
    (found,) = images_of(reader).values()
    values = np.frombuffer(found.get_data(), np.uint8)
    if mode == "I;16":
        assert found["/BitsPerComponent"] == 16
        assert np.array_equal(values.view(">u2").reshape(40, 61), deep)
        return
    colours = {
        "RGB": pixels[..., :3],
        "L": pixels[..., :1],
        "RGBA": pixels[..., :3],
        "LA": pixels[..., :1],
    }
    assert np.array_equal(values.reshape(40, 61, -1), colours[mode])
    if mode in ("RGBA", "LA"):
        mask = np.frombuffer(found["/SMask"].get_object().get_data(), np.uint8).reshape(40, 61)
        assert np.array_equal(mask, pixels[..., 3 if mode == "RGBA" else 1])


def test_places_are_exact_and_marks_and_names_are_lines_and_letters(tmp_path):
    boxes = [rect("0.4", "0.4", "10", "8"), rect("10.6", "0.4", "330/127", "330/127")]
    images = [OnPage(0, boxes[0], False, "a (1).jpg, 8 × 10 in"), OnPage(0, boxes[1], True, "日本")]
    marks = [TrimMark(0.1, 0.4, 0.3, 0.4)]
    path = written(tmp_path, [jpeg(samples.grain(40, 40))], [Page(images, marks)])
    (page,) = PdfReader(path).pages
    assert (float(page.mediabox.width), float(page.mediabox.height)) == (17 * 72, 22 * 72)
    content = there(page.get_contents()).get_data().decode("cp1252")
    matrices = [line.split()[1:7] for line in content.splitlines() if line.endswith("Do Q")]
    for box, matrix, turned in zip(boxes, matrices, (False, True), strict=True):
        a, b, c, d, e, f = map(float, matrix)
        left, top, wide, high = (float(edge) * 72 for edge in box)
        hundredth = 0.01 / 25.4 * 72
        assert (abs(c), abs(b)) == ((wide, high) if turned else (0, 0)) or turned
        got = (min(e, e + a + c), 22 * 72 - max(f, f + b + d), abs(a + c), abs(b + d))
        assert got == pytest.approx((left, top, wide, high), abs=hundredth / 10)
    assert "7.2 1555.2 m 21.6 1555.2 l S" in content
    assert "Do Q" in content
    assert "a (1).jpg, 8 × 10 in" in page.extract_text()


def test_pages_share_a_piece_that_lies_on_several(tmp_path):
    pages = [Page([OnPage(0, rect(1, n + 1, 2, 2), False)], []) for n in range(3)]
    path = written(tmp_path, [jpeg(samples.grain(40, 40))], pages)
    found = measure(path, 300)
    assert (found.pages, found.images, found.width, found.height) == (3, 1, 5100, 6600)
    assert found.format == "pdf"
    assert sorted(one.name for one in tmp_path.glob("*.pdf")) == ["sheet-0.part.pdf", "sheet.pdf"]


def test_a_damaged_pdf_is_told_in_one_sentence(tmp_path):
    path = tmp_path / "half.pdf"
    path.write_bytes(b"%PDF-1.7\n1 0 obj <<")
    with pytest.raises(FileError, match=r"half\.pdf cannot be read back from disk"):
        measure(path, 300)


@pytest.mark.skipif(shutil.which("pdftoppm") is None, reason="poppler-utils are not here")
def test_it_looks_as_it_is_laid_out(tmp_path):
    half = np.zeros((40, 40, 3), np.uint8)
    half[:20] = (255, 0, 0)  # red above black
    images = [OnPage(0, rect(2, 2, 4, 4), False), OnPage(0, rect(10, 2, 4, 4), True)]
    path = written(tmp_path, [png(samples.image_of(half))], [Page(images, [])])
    subprocess.run(
        ["pdftoppm", "-r", "20", "-png", "-singlefile", path, tmp_path / "seen"], check=True
    )
    with Image.open(tmp_path / "seen.png") as seen:
        assert seen.size == (340, 440)
        page = np.asarray(seen.convert("RGB")).astype(int)

    def tone(x, y):
        return tuple(page[int(y * 20), int(x * 20)])

    assert tone(4, 3) == (255, 0, 0)
    assert tone(4, 5) == (0, 0, 0)
    assert tone(13, 4) == (255, 0, 0)  # turned clockwise: what was above is to the right
    assert tone(11, 4) == (0, 0, 0)
    assert tone(8, 4) == (255, 255, 255)
