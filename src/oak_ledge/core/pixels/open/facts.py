"""Read a photo's facts from its header; hostile files are expected here."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PIL import Image, UnidentifiedImageError

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.photos.facts import Channels, PhotoFacts
from oak_ledge.core.photos.photo_formats import PHOTO_FORMATS, PhotoFormat
from oak_ledge.core.pixels.containers.metadata_weight import refuse_heavy_metadata
from oak_ledge.core.pixels.containers.truncation import refuse_cut_short
from oak_ledge.core.pixels.open.border import TAKEN, reading_file
from oak_ledge.core.pixels.open.header import (
    channels_of,
    fits_pixels,
    icc_of,
    load,
    not_a_picture,
    orientation_of,
)
from oak_ledge.core.pixels.open.label import exif_of, profile_name, recorded_ppi

_LOADERS: dict[str, PhotoFormat] = {
    loader: name for name, kind in PHOTO_FORMATS.items() for loader in kind.loaders
}


# EXIF 2.32, 4.6.5.
_EXIF_IFD, _FOCAL_35MM = 0x8769, 41989


_KNOWN_OTHERS = (
    (b"GIF8", "it is a GIF, which holds 256 colours at most and is not taken"),
    (b"%PDF", "it is a PDF document, not a photo"),
    (b"PK\x03\x04", "it is an archive; unpack it first"),
    (b"BM", "it is a BMP bitmap, which is not taken"),
)


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
    refuse_cut_short(path)
    refuse_heavy_metadata(path)
    image = load(path, header=True)
    kind = _LOADERS.get(str(image.get("vips-loader")).removesuffix("load").split("load")[0])
    if kind is None:
        raise PhotoError(not_a_picture())
    _refuse_too_large(image, kind, most_pixels, most_whole)
    ppi, pictures, focal = _labels(path, kind)
    channels: Channels = channels_of(image)
    icc, tag = icc_of(image), orientation_of(image)
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
        profile_fits=icc is None or fits_pixels(icc, channels),
        bytes=size,
        remarks=_remarks(kind, pictures, channels, profiled=icc is not None),
    )


def _remarks(
    kind: PhotoFormat, pictures: int, channels: Channels, *, profiled: bool
) -> tuple[str, ...]:
    """Return what is said of a photo on taking it in."""
    remarks = []
    if pictures > 1:
        remarks.append(f"The file holds {pictures} pictures; the first was taken.")
    if channels == "CMYK":
        profile = "its profile" if profiled else "a usual press profile, since it has none"
        remarks.append(f"CMYK: previews and files are made in sRGB by way of {profile}.")
    if kind == "raw":
        remarks.append("A raw file: developed with the camera's white balance to 16-bit sRGB.")
    return tuple(remarks)


def _refuse_too_large(image: Any, kind: PhotoFormat, most_pixels: int, most_whole: int) -> None:
    """Refuse a photo of too many pixels, or of pixels that are stored in a way that is not taken."""
    pixels = image.width * image.height
    whole = PHOTO_FORMATS[kind].whole or _in_passes(image)
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


def _in_passes(image: Any) -> bool:
    """Return whether rows come in several passes: a progressive JPEG, an interlaced PNG."""
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


def _labels(path: Path, kind: PhotoFormat) -> tuple[float | None, int, float | None]:
    """Return resolution label, count of pictures and focal length as on 36 × 24 mm.

    Read by the reader that did not open the pixels.
    """
    readers = PHOTO_FORMATS[kind].readers
    if not readers:
        return None, 1, None
    try:
        with Image.open(path, formats=readers) as image:
            focal = exif_of(image, path).get_ifd(_EXIF_IFD).get(_FOCAL_35MM)
            wide = float(focal) if isinstance(focal, int) and focal > 0 else None
            return recorded_ppi(image), int(getattr(image, "n_frames", 1)), wide
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError):
        return None, 1, None
