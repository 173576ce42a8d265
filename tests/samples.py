"""Named sample photos, made fresh for a test; every one is only numbers of our own."""

from __future__ import annotations

import struct
import zlib
from fractions import Fraction
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from typing import TypeVar

import numpy as np
import numpy.typing as npt
import pyvips
from PIL import Image, ImageCms, ImageDraw, ImageFilter

from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.read import read_size

SRGB = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()


def p3() -> bytes:
    """A profile wider than sRGB."""
    plain = pyvips.Image.black(1, 1, bands=3).copy(interpretation="srgb")
    return bytes(plain.icc_export(output_profile="p3").get("icc-profile-data"))


def press() -> bytes:
    """A CMYK profile."""
    plain = pyvips.Image.black(1, 1, bands=3).copy(interpretation="srgb")
    return bytes(plain.icc_transform("cmyk", input_profile="srgb").get("icc-profile-data"))


def grey_gamma() -> bytes:
    """A grey profile of gamma 2.2, put together by hand (ICC.1:2022, 7.2, 9.2.1, 10.6)."""
    white = struct.pack(">4s4xiii", b"XYZ ", 63190, 65536, 54061)
    curve = struct.pack(">4s4xIH2x", b"curv", 1, round(2.2 * 256))
    words = b"grey, gamma 2.2"
    name = struct.pack(">4s4xI", b"desc", len(words) + 1) + words + b"\0" * 80
    parts = [(b"desc", name), (b"wtpt", white), (b"kTRC", curve)]
    at, table, body = 128 + 4 + 12 * len(parts), struct.pack(">I", len(parts)), b""
    for tag, part in parts:
        table += struct.pack(">4sII", tag, at + len(body), len(part))
        body += part + b"\0" * (-len(part) % 4)
    head = bytearray(128)
    head[0:4] = struct.pack(">I", at + len(body))
    head[8:12], head[12:24] = b"\x02\x10\0\0", b"mntrGRAYXYZ "
    head[36:40], head[68:80] = b"acsp", struct.pack(">iii", 63190, 65536, 54061)
    return bytes(head) + table + body


Something = TypeVar("Something")


def there(found: Something | None) -> Something:
    """Give what must be there."""
    assert found is not None
    return found


THREE_HUNDRED = Fraction(300)


def waves(width: int, height: int, x0=0.0, y0=0.0, x1=None, y1=None) -> npt.NDArray[np.float64]:
    """Smooth waves over a photo `width` × `height`, read at the centres of a grid of the same
    number of samples over [x0, x1] × [y0, y1]: an exact picture at any sub-pixel place."""
    return waves_on(width, height, x0, y0, x1 or width, y1 or height, width, height)


@lru_cache(maxsize=64)  # the same few photos are drawn in hundreds of tests
def waves_on(photo_w, photo_h, x0, y0, x1, y1, columns, rows) -> npt.NDArray[np.float64]:
    x = x0 + (np.arange(columns) + 0.5) * (x1 - x0) / columns
    y = y0 + (np.arange(rows) + 0.5) * (y1 - y0) / rows
    found = waves_at(*np.meshgrid(x, y))
    found.flags.writeable = False
    return found


def waves_at(x, y) -> npt.NDArray[np.float64]:
    """The waves at any points of their photo."""
    u, v = x / 37.0, y / 29.0
    planes = [np.sin(u + 0.7 * v), np.sin(1.3 * u - v + 1), np.cos(0.6 * u + 1.1 * v + 2)]
    return 128 + 90 * np.stack(planes, axis=-1)


def grain(width: int, height: int, bands: int = 3, seed: int = 5) -> npt.NDArray[np.uint8]:
    """Noise, so that any change of a value is seen."""
    rng = np.random.default_rng(seed)
    return rng.integers(0, 256, (height, width, bands), dtype=np.uint8)


def image_of(pixels: npt.NDArray[np.uint8]) -> Image.Image:
    return Image.fromarray(pixels[..., 0] if pixels.shape[-1] == 1 else pixels)


def save(path: Path, pixels: npt.NDArray[np.uint8], **options) -> Path:
    """Save 8-bit pixels; the ending says the format."""
    image_of(pixels).save(path, **options)
    return path


def photo(path: Path, width=120, height=80, **options) -> Path:
    """A plain small photo with waves on it."""
    kind = Image.registered_extensions()[path.suffix]
    options = {"quality": 95, "subsampling": 0} | options if kind == "JPEG" else options
    plain = all(isinstance(value, int | str | tuple) for value in options.values())
    waved = _waved if plain else _waved.__wrapped__
    path.write_bytes(waved(kind, width, height, tuple(options.items())))
    return path


@lru_cache(maxsize=64)
def _waved(kind, width, height, options) -> bytes:
    return bytes_of(np.rint(waves(width, height)).astype(np.uint8), kind, **dict(options))


def deep(path: Path, width=60, height=40) -> Path:
    """A 16-bit RGB photo (PNG or TIFF) that uses its depth."""
    rng = np.random.default_rng(3)
    pixels = rng.integers(0, 65536, (height, width, 3), dtype=np.uint16)
    image = pyvips.Image.new_from_array(pixels, interpretation="rgb16")
    image.write_to_file(str(path))
    return path


def face(path: Path, x: int, y: int, radius: int) -> Path:
    """Draw the light and shade of a face, 900 × 600 px, its middle at x, y; no one's."""
    image = Image.new("L", (900, 600), 110)
    draw = ImageDraw.Draw(image)

    def oval(dx: float, dy: float, wide: float, high: float, tone: int) -> None:
        box = [x + (dx - wide) * radius, y + (dy - high) * radius]
        draw.ellipse([*box, x + (dx + wide) * radius, y + (dy + high) * radius], fill=tone)

    oval(0, -0.35, 0.96, 0.91, 60)
    oval(0, 0, 0.78, 1, 150)
    oval(0, -0.25, 0.66, 0.16, 120)
    for side in (-1, 1):
        oval(side * 0.32, -0.22, 0.17, 0.09, 215)
        oval(side * 0.32, -0.22, 0.085, 0.085, 35)
        oval(side * 0.32, -0.42, 0.22, 0.05, 70)
        oval(side * 0.42, 0.22, 0.22, 0.2, 172)
    oval(0, 0.1, 0.1, 0.28, 178)
    oval(0, 0.27, 0.14, 0.05, 110)
    oval(0, 0.55, 0.3, 0.08, 95)
    image.filter(ImageFilter.GaussianBlur(2)).convert("RGB").save(path)
    return path


def oriented(path: Path, upright: npt.NDArray[np.uint8], tag: int) -> Path:
    """Save pixels so that a reader that applies the tag sees `upright` again."""
    turned = {
        1: upright,
        2: upright[:, ::-1],
        3: upright[::-1, ::-1],
        4: upright[::-1],
        5: upright.swapaxes(0, 1),
        6: np.rot90(upright, 1),
        7: upright[::-1, ::-1].swapaxes(0, 1),
        8: np.rot90(upright, -1),
    }[tag]
    exif = Image.Exif()
    exif[274] = tag
    Image.fromarray(np.ascontiguousarray(turned)).save(path, exif=exif)
    return path


def bytes_of(pixels: npt.NDArray[np.uint8], kind: str, **options) -> bytes:
    buffer = BytesIO()
    image_of(pixels).save(buffer, kind, **options)
    return buffer.getvalue()


def damaged(path: Path, pixels: npt.NDArray[np.uint8]) -> Path:
    """A PNG whose parts are all there, and whose last rows can't be read."""
    data = bytearray(bytes_of(pixels, "PNG"))
    data[-9_000:-8_000] = bytes(1000)
    path.write_bytes(data)
    return path


def huge_png() -> bytes:
    """A PNG that says it is 60 000 × 60 000 and holds next to nothing."""
    data = bytearray(bytes_of(grain(8, 8), "PNG"))
    data[16:24] = (60_000).to_bytes(4, "big") * 2
    data[29:33] = zlib.crc32(data[12:29]).to_bytes(4, "big")
    return bytes(data)


def wrong_files() -> dict[str, tuple[bytes, str]]:
    """Files that can't come in, by name: their bytes, and words the refusal must hold."""
    whole = bytes_of(grain(300, 200), "JPEG", quality=90)
    frames = [Image.new("P", (9, 9), i) for i in range(3)]
    moving = BytesIO()
    frames[0].save(moving, "GIF", save_all=True, append_images=frames[1:])
    floats = BytesIO()
    Image.fromarray(np.zeros((4, 4), np.float32)).save(floats, "TIFF")
    return {
        "empty.jpg": (b"", "empty"),
        "words.jpg": (b"not a picture at all", "not a picture"),
        "cut-in-half.jpg": (whole[: len(whole) // 2], "cut short"),
        "cut-at-the-end.jpg": (whole[:-600], "cut short"),
        "moving.png": (moving.getvalue(), "GIF"),
        "bomb.png": (huge_png(), "3600 megapixels"),
        "paper.jpg": (b"%PDF-1.7\n%", "PDF"),
        "drawing.png": (b'<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"/>', "SVG"),
        "bare-drawing.jpg": (b'<svg width="9" height="9"></svg>', "SVG"),
        "film.jpg": (b"\x00\x00\x00\x18ftypheic" + bytes(40), "cut short"),
        "floats.tif": (floats.getvalue(), "stored as float"),
    }


def facts(width=6000, height=4000, **changes) -> PhotoFacts:
    known = {
        "format": "JPEG",
        "width": width,
        "height": height,
        "orientation": 1,
        "channels": "RGB",
        "alpha": False,
        "bits": 8,
        "ppi": 300.0,
        "profile": "sRGB",
        "bytes": 1000,
    }
    return PhotoFacts.model_validate(known | changes)


def size(text: str, **changes) -> Size:
    """Read a size and change some of its fields, checked."""
    return Size.model_validate(read_size(text).model_dump() | changes)


def raw(path: Path, upright: npt.NDArray[np.float64], orientation: int = 1) -> Path:
    """A minimal raw file (DNG 1.4) of a made-up camera: a Bayer mosaic of linear sRGB values 0…1."""
    height, width = upright.shape[:2]
    mosaic = np.empty((height, width), np.uint16)
    for row, column, band in ((0, 0, 0), (0, 1, 1), (1, 0, 1), (1, 1, 2)):
        mosaic[row::2, column::2] = np.rint(upright[row::2, column::2, band] * 60_000)
    # XYZ (D65) → linear sRGB, IEC 61966-2-1, in ten-thousandths: the camera sees as sRGB does
    matrix = (32406, -15372, -4986, -9689, 18758, 415, 557, -2040, 10570)
    entries = [
        (254, 4, [0]), (256, 4, [width]), (257, 4, [height]), (258, 3, [16]), (259, 3, [1]),
        (262, 3, [32803]), (271, 2, b"Quay\0"), (272, 2, b"Ledge One\0"), (273, 4, [0]),
        (274, 3, [orientation]), (277, 3, [1]), (278, 4, [height]), (279, 4, [mosaic.nbytes]),
        (284, 3, [1]), (33421, 3, [2, 2]), (33422, 1, bytes((0, 1, 1, 2))),
        (50706, 1, bytes((1, 4, 0, 0))), (50707, 1, bytes((1, 1, 0, 0))),
        (50708, 2, b"Quay Ledge One\0"), (50714, 3, [0]), (50717, 4, [60_000]),
        (50721, 10, [part for value in matrix for part in (value, 10_000)]),
        (50728, 5, [1, 1, 1, 1, 1, 1]), (50778, 3, [21]),
    ]  # fmt: skip
    codes = {1: "B", 2: "s", 3: "H", 4: "I", 5: "I", 10: "i"}
    below, directory = b"", b""
    start = 8 + 2 + 12 * len(entries) + 4
    total = start + sum(len(v) if isinstance(v, bytes) else 72 for _, _, v in entries) + 400
    for tag, kind, value in entries:
        values = [total] if tag == 273 else value
        body = (
            values
            if isinstance(values, bytes)
            else struct.pack(f"<{len(values)}{codes[kind]}", *values)
        )
        count = len(values) // (2 if kind in (5, 10) else 1)
        if len(body) > 4:
            place = struct.pack("<I", start + len(below))
            below += body + b"\0" * (len(body) % 2)
        else:
            place = body.ljust(4, b"\0")
        directory += struct.pack("<HHI", tag, kind, count) + place
    head = b"II*\0" + struct.pack("<IH", 8, len(entries)) + directory + b"\0\0\0\0" + below
    path.write_bytes(head.ljust(total, b"\0") + mosaic.tobytes())
    return path
