"""Open photos: formats, orientation, depth, profile, limits. Hostile files are expected here."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from dataclasses import dataclass, replace
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy.typing as npt
import pyvips
from PIL import Image, ImageCms, UnidentifiedImageError

from oak_ledge.core.errors import PhotoError, SizeError
from oak_ledge.core.icc import colours_of
from oak_ledge.core.limits import Limits
from oak_ledge.core.photo_facts import Channels, PhotoFacts, PhotoFormat
from oak_ledge.core.pixels.border import TAKEN, reading_file, reading_pixels
from oak_ledge.core.pixels.containers import refuse_heavy_metadata
from oak_ledge.core.pixels.developing import kind_of, open_header, open_pixels
from oak_ledge.core.units import Pixels

# Only these readers may open a file, whatever its name says; libvips would else take SVG and
# GIF under any name (https://www.libvips.org/API/current/func.operation_block_set.html).
pyvips.operation_block_set("VipsForeignLoad", True)
for _reader in ("Jpeg", "Png", "Tiff", "Webp", "Heif"):
    pyvips.operation_block_set(f"VipsForeignLoad{_reader}", False)
pyvips.cache_set_max(0)  # a cached header would outlive a file of the same name
Image.MAX_IMAGE_PIXELS = None  # limits are checked on the header by `look_at`, in plain words

_LOADERS: dict[str, PhotoFormat] = {
    "jpeg": "JPEG", "png": "PNG", "tiff": "TIFF", "webp": "WebP", "heif": "AVIF", "heic": "HEIC",
    "raw": "raw",
}  # fmt: skip
_PILLOW = {
    "JPEG": ("JPEG", "MPO"), "PNG": ("PNG",), "TIFF": ("TIFF",), "WebP": ("WEBP",), "AVIF": ("AVIF",),
}  # fmt: skip
_EXIF_IFD, _FOCAL_35MM = 0x8769, 41989  # EXIF 2.32, 4.6.5
_CM_UNIT = 3  # TIFF 6.0 and EXIF: ResolutionUnit 2 = inch, 3 = centimetre
MOST_PPI = 1_000_000  # a label of more is damage
_KNOWN_OTHERS = (
    (b"GIF8", "it is a GIF, which holds 256 colours at most and is not taken"),
    (b"%PDF", "it is a PDF document, not a photo"),
    (b"PK\x03\x04", "it is an archive; unpack it first"),
    (b"BM", "it is a BMP bitmap, which is not taken"),
)


@dataclass(frozen=True)
class OpenPhoto:
    """A photo's pixels, not yet decoded: stored as in the file, orientation still to apply.

    `image` streams from top to bottom once; `shrink` tells by how much its edges were divided
    on load. `pixels` are there where the photo is decoded already, as (H, W, C); it is cut by as
    many `cores` then, as all sizes it serves at once share them.
    """

    image: Any
    orientation: int
    shrink: int
    icc: bytes | None
    alpha: bool
    pixels: npt.NDArray[Any] | None = None
    cores: int | None = None


# the photo that `holding` lets be opened without decoding it
_HELD: ContextVar[tuple[Path, OpenPhoto] | None] = ContextVar("held", default=None)


@reading_file()
def look_at(path: Path, *, most_pixels: int, most_whole: int = Limits.whole_pixels) -> PhotoFacts:
    """Read a photo's facts from its header; pixels are not decoded.

    Parameters
    ----------
    path : the file, under any name; its content decides what it is
    most_pixels : more than this is refused before any memory is taken
    most_whole : the same for files that can only be decoded whole, not row by row

    Raises
    ------
    PhotoError
        With a plain reason: not a picture, of a kind not taken, too large, damaged.
    """
    size = path.stat().st_size
    if size == 0:
        msg = "the file is empty"
        raise PhotoError(msg)
    with path.open("rb") as file:
        head = file.read(1024)
    _refuse_others(head)
    refuse_heavy_metadata(path)
    image = _load(path, header=True)
    kind = _LOADERS.get(str(image.get("vips-loader")).removesuffix("load").split("load")[0])
    if kind is None:
        raise PhotoError(_not_a_picture())
    pixels = image.width * image.height
    whole = kind in ("WebP", "AVIF", "HEIC") or _in_passes(image)
    most = min(most_pixels, most_whole) if whole else most_pixels
    if pixels > most:
        why = " of a file that is decoded whole" if whole and pixels <= most_pixels else ""
        msg = (
            f"it has {image.width} × {image.height} px, {pixels / 1e6:.0f} megapixels; "
            f"at most {most / 1e6:.0f}{why} are taken"
        )
        raise PhotoError(msg)
    if image.format not in ("uchar", "ushort") or image.bands > 5:
        msg = f"its pixels are stored as {image.format} in {image.bands} bands; 8 or 16 bits are taken"
        raise PhotoError(msg)
    remarks = []
    ppi, pictures, focal = _labels(path, kind)
    if pictures > 1:
        remarks.append(f"The file holds {pictures} pictures; the first was taken.")
    channels: Channels = _channels(image)
    icc = _icc(image)
    if channels == "CMYK":
        profile = "its profile" if icc else "a usual press profile, since it has none"
        remarks.append(f"CMYK: previews and files are made in sRGB by way of {profile}.")
    tag = orientation_of(image)
    if kind == "raw":
        remarks.append("A raw file: developed with the camera's white balance to 16-bit sRGB.")
    upright = (image.height, image.width) if tag >= 5 else (image.width, image.height)
    return PhotoFacts(
        format=kind,
        width=upright[0],
        height=upright[1],
        orientation=tag,
        channels=channels,
        alpha=bool(image.hasalpha()),
        bits=16 if image.format == "ushort" else 8,
        ppi=ppi,
        profile=None if icc is None else profile_name(icc),
        focal_35mm=focal,
        profile_fits=icc is None or _fits(icc, channels),
        bytes=size,
        remarks=tuple(remarks),
    )


def open_photo(path: Path, *, shrink: int = 1, colours: bool = False) -> OpenPhoto:
    """Open a photo for one pass from top to bottom; CMYK and other spaces come as sRGB.

    `shrink` 2, 4 or 8 lets a JPEG be decoded at that part of its edges; other formats ignore it.
    With `colours` a grey photo comes as sRGB too, so that it can stand on a colour.

    Raises
    ------
    PhotoError
        If the header cannot be read. Damage further on appears when pixels are read.
    """
    held = _HELD.get()
    if held is not None and held[0] == path and not colours:
        return held[1]
    image = _load(path)
    while shrink > min(image.width, image.height):  # nothing would be left of it
        shrink //= 2
    if shrink > 1 and str(image.get("vips-loader")).startswith("jpeg"):
        image = _load(path, shrink=shrink)
    else:
        shrink = 1
    tag = orientation_of(image)
    icc = _icc(image)
    if _channels(image) == "CMYK":
        alpha = image.hasalpha()
        with reading_pixels():
            image = image.icc_transform("srgb", embedded=icc is not None, input_profile="cmyk")
        icc = _icc(image)
        return OpenPhoto(image, tag, shrink, icc, bool(alpha))
    if colours and _channels(image) == "grey":
        with reading_pixels():
            if icc is not None:
                depth = 16 if image.format == "ushort" else 8
                image = image.icc_transform("srgb", embedded=True, depth=depth)
            else:
                image = image.colourspace("rgb16" if image.format == "ushort" else "srgb")
        return OpenPhoto(image, tag, shrink, _icc(image), bool(image.hasalpha()))
    if image.interpretation not in ("srgb", "rgb16", "b-w", "grey16", "rgb"):
        image = image.colourspace("srgb")
    if icc is not None and not _fits(icc, _channels(image)):
        icc = None  # a note says so
    return OpenPhoto(image, tag, shrink, icc, bool(image.hasalpha()))


@contextmanager
def decoded_once(path: Path, *, most_bytes: int) -> Iterator[None]:
    """Let a photo that is opened several times within be decoded a single time, into memory.

    Photos of more than `most_bytes` are decoded anew each time, so that memory stays flat.
    """
    photo = open_photo(path)
    image = photo.image
    depth = 2 if image.format == "ushort" else 1
    if image.width * image.height * image.bands * depth > most_bytes:
        yield
        return
    with holding(path, replace(in_memory(photo), cores=1)):
        yield


def in_memory(photo: OpenPhoto) -> OpenPhoto:
    """Decode a photo whole, so that it can be cut again and again.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    image = photo.image
    with reading_pixels():
        pixels = image.numpy().reshape(image.height, image.width, image.bands)
        kept = pyvips.Image.new_from_array(pixels, interpretation=image.interpretation)
    return replace(photo, image=kept, pixels=pixels)


@contextmanager
def holding(path: Path, photo: OpenPhoto) -> Iterator[None]:
    """Let what opens a path within take a photo that is decoded already."""
    token = _HELD.set((path, photo))
    try:
        yield
    finally:
        _HELD.reset(token)


@reading_file()
def draw_preview(path: Path, edge: int) -> bytes:
    """Draw an upright sRGB JPEG of a photo whose longer edge is at most `edge` pixels.

    The whole file is decoded, so this is also the proof that a photo is whole.

    Raises
    ------
    PhotoError
        If the file is damaged or cut short.
    """
    header = _load(path, header=True)
    shrink = 1
    while shrink < 8 and max(header.width, header.height) / (shrink * 2) >= edge:
        shrink *= 2
    opened = open_photo(path, shrink=shrink)
    with reading_pixels():
        image = opened.image
        scale = min(1.0, edge / max(image.width, image.height))
        image = on_white(image)
        image = image.copy_memory() if scale == 1 else image.resize(scale).copy_memory()
        if opened.icc is not None:
            with suppress(pyvips.Error):  # a broken profile: shown as it is
                image = image.icc_transform("srgb", embedded=True, intent="relative")
        elif image.format == "ushort":
            image = image.cast("uchar", shift=True)
        image = image.autorot()
        return bytes(image.jpegsave_buffer(Q=88, keep="none"))


def draw_turned(path: Path, quarter: int, *, mirror: bool) -> bytes:
    """Turn a preview by quarters clockwise, then mirror it; as a JPEG."""
    image = _load(path).copy_memory().rot(f"d{quarter * 90}")
    image = image.fliphor() if mirror else image
    return bytes(image.jpegsave_buffer(Q=92, keep="none"))


def held_size(path: Path) -> Pixels:
    """Give a picture's width and height upright, from its header."""
    image = _load(path, header=True)
    size = (image.width, image.height)
    return size if orientation_of(image) < 5 else (size[1], size[0])


def on_white(image: Any) -> Any:
    """Lay transparent parts on white; a picture without any stays as it is."""
    if not image.hasalpha():
        return image
    return image.flatten(background=[255 if image.format == "uchar" else 65535])


def orientation_of(image: Any) -> int:
    """Give the orientation tag, 1 where it is missing or nonsense."""
    tag = image.get("orientation") if image.get_typeof("orientation") else 1
    return tag if 1 <= tag <= 8 else 1


def profile_name(icc: bytes) -> str:
    """Give the name a colour profile carries."""
    try:
        return ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(BytesIO(icc))).strip()
    except (ImageCms.PyCMSError, OSError):
        return "an unreadable profile"


def recorded_ppi(image: Image.Image) -> float | None:
    """Give the resolution a file records, in ppi, or None where it records none that can be.

    JFIF density comes before EXIF, unless it only rounds what EXIF says exactly; PNG pHYs; TIFF and
    EXIF tags 282 and 296.
    """
    info = image.info
    if image.format == "PNG":
        return _sound(info["dpi"][0]) if "dpi" in info else None
    tags = getattr(image, "tag_v2", None) or image.getexif()
    value, unit = _sound(tags.get(282)), tags.get(296, 2)
    exact = None
    if value is not None and unit in (2, _CM_UNIT):
        exact = round(value * (2.54 if unit == _CM_UNIT else 1), 4)
    if "jfif_density" not in info or info.get("jfif_unit") not in (1, 2):
        return exact
    step = 2.54 if info["jfif_unit"] == 2 else 1.0
    rounded = _sound(info["jfif_density"][0] * step)
    if rounded is not None and exact is not None and abs(rounded - exact) <= step / 2 + 1e-6:
        return exact
    return rounded


def _sound(ppi: Any) -> float | None:
    """Give a recorded resolution, or None where it is none: nothing, 0, endless, beyond all sense."""
    try:
        value = float(ppi)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return value if 0 < value <= MOST_PPI else None


def _load(path: Path, *, header: bool = False, **options: Any) -> Any:
    developed = kind_of(path)
    if developed is not None:
        return (open_header if header else open_pixels)(path, developed)
    options |= {"access": "sequential", "fail_on": "truncated"}
    try:
        if _is_text(path):
            return pyvips.Image.new_from_file(str(path), **options)
        with path.open("rb") as file:  # the library takes names as text only
            source = pyvips.Source.new_from_descriptor(file.fileno())
        return pyvips.Image.new_from_source(source, "", **options)
    except pyvips.Error as exc:
        raise PhotoError(_not_a_picture()) from exc


def _is_text(path: Path) -> bool:
    try:
        str(path).encode()
    except UnicodeEncodeError:
        return False
    return True


def _not_a_picture() -> str:
    return f"it is not a picture that can be read. {TAKEN}"


def _in_passes(image: Any) -> bool:
    """Say whether rows come in several passes: a progressive JPEG, an interlaced PNG."""
    return any(
        bool(image.get_typeof(name)) and bool(image.get(name))
        for name in ("interlaced", "jpeg-multiscan")
    )


def _refuse_others(head: bytes) -> None:
    for magic, reason in _KNOWN_OTHERS:
        if head.startswith(magic):
            msg = f"{reason}. {TAKEN}"
            raise PhotoError(msg)
    if b"<svg" in head.lower() or head.lstrip().startswith(b"<?xml"):
        msg = f"it is a drawing (SVG), not a photo. {TAKEN}"
        raise PhotoError(msg)


def _channels(image: Any) -> Channels:
    if image.interpretation == "cmyk":
        return "CMYK"
    return "grey" if image.bands - bool(image.hasalpha()) == 1 else "RGB"


def _fits(icc: bytes, channels: Channels) -> bool:
    with suppress(SizeError):
        return colours_of(icc) == channels
    return False


def _icc(image: Any) -> bytes | None:
    return bytes(image.get("icc-profile-data")) if image.get_typeof("icc-profile-data") else None


def _labels(path: Path, kind: PhotoFormat) -> tuple[float | None, int, float | None]:
    """Give resolution label, count of pictures and focal length as on 36 × 24 mm.

    Read by the reader that did not open the pixels.
    """
    if kind not in _PILLOW:
        return None, 1, None
    try:
        with Image.open(path, formats=_PILLOW[kind]) as image:
            focal = image.getexif().get_ifd(_EXIF_IFD).get(_FOCAL_35MM)
            wide = float(focal) if isinstance(focal, int) and focal > 0 else None
            return recorded_ppi(image), int(getattr(image, "n_frames", 1)), wide
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError):
        return None, 1, None
