"""Photos that libvips cannot open itself: HEIC by libheif, camera raw files by LibRaw.

They are decoded whole, into memory; from there on they are pictures like any other.
"""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Any, Literal

import numpy as np
import pyvips

from oak_ledge.core.errors import PhotoError

Kind = Literal["HEIC", "raw"]


# ISO/IEC 23008-12, annex B: brands of HEVC pictures; AVIF's (AV1) are read by libvips
_HEIC_BRANDS = frozenset((b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx"))


_AVIF_BRANDS = frozenset((b"avif", b"avis"))


# Raw files that no TIFF reader would take for a TIFF
_RAW_STARTS = (
    b"FUJIFILMCCD-RAW", b"II\x1a\x00\x00\x00HEAPCCDR", b"IIU\x00", b"IIRO", b"IIRS", b"MMOR",
    b"FOVb", b"\x00MRM", b"ARRI", b"NOKIARAW",
)  # fmt: skip


_TIFF_STARTS = (b"II*\x00", b"MM\x00*")


_SUB_IFDS, _DNG_VERSION, _PHOTOMETRIC = 330, 50706, 262


# TIFF/EP and DNG: PhotometricInterpretation of sensor values.
_CFA, _LINEAR_RAW = 32803, 34892


def kind_of(path: Path) -> Kind | None:
    """Return whether a file is one of these, by its content; None for all others."""
    with path.open("rb") as file:
        head = file.read(64)
        if head[4:8] == b"ftyp":
            brands = {head[at : at + 4] for at in range(8, min(64, 8 + head[3]), 4)}
            if b"crx " in brands:
                return "raw"
            if brands & _AVIF_BRANDS or not brands & _HEIC_BRANDS:
                return None
            return "HEIC"
        if head.startswith(_RAW_STARTS):
            return "raw"
        if head.startswith(_TIFF_STARTS):
            return "raw" if head[8:10] == b"CR" or _holds_sensor_values(file, head) else None
    return None


def _holds_sensor_values(file: Any, head: bytes) -> bool:
    """Look into a TIFF's directories for raw sensor values."""
    order = "<" if head[:2] == b"II" else ">"
    todo, seen = [struct.unpack(order + "I", head[4:8])[0]], 0
    try:
        while todo and seen < 12:
            seen += 1
            file.seek(todo.pop())
            (count,) = struct.unpack(order + "H", file.read(2))
            for entry in [file.read(12) for _ in range(min(count, 400))]:
                tag, kind, many, value = struct.unpack(order + "HHII", entry)
                if kind == 3:  # a short lies at the front of its field
                    (value, _) = struct.unpack(order + "HH", entry[8:])
                if tag == _DNG_VERSION:
                    return True
                if tag == _PHOTOMETRIC and value in (_CFA, _LINEAR_RAW):
                    return True
                if tag == _SUB_IFDS and many == 1:
                    todo.append(value)
                elif tag == _SUB_IFDS and many < 12:
                    here = file.tell()
                    file.seek(value)
                    todo += struct.unpack(f"{order}{many}I", file.read(4 * many))
                    file.seek(here)
    except (struct.error, OSError):
        return False
    return False


def open_header(path: Path, kind: Kind) -> Any:
    """Return an image of the right extent and depth whose pixels are not decoded.

    Raises
    ------
    PhotoError
        If the file cannot be read.
    """
    if kind == "HEIC":
        heif = _heif(path)
        bands = len(heif.mode.split(";", maxsplit=1)[0])
        return _named(_blank(heif.size, bands, deep=False), kind, heif.info.get("icc_profile"))
    import rawpy

    try:
        with rawpy.imread(str(path)) as raw:
            size = (raw.sizes.iwidth, raw.sizes.iheight)
            if raw.sizes.flip in (5, 6):
                size = (size[1], size[0])
    except (rawpy.LibRawError, OSError, ValueError) as exc:
        raise PhotoError(_REASONS[kind]) from exc
    return _named(_blank(size, 3, deep=True), kind, _srgb())


def open_pixels(path: Path, kind: Kind) -> Any:
    """Decode a photo whole: HEIC as it is, raw developed to 16-bit sRGB.

    Raw files are developed with the camera's own white balance and no brightening, so that the
    same file always comes out the same.

    Raises
    ------
    PhotoError
        If the file is damaged.
    """
    if kind == "HEIC":
        heif = _heif(path)
        try:
            pixels = np.asarray(heif)
        except (OSError, ValueError, RuntimeError, EOFError) as exc:
            raise PhotoError(_REASONS[kind]) from exc
        pixels = pixels.reshape(heif.size[1], heif.size[0], -1)
        icc = heif.info.get("icc_profile")
        return _named(_image(pixels), kind, icc)
    import rawpy

    try:
        with rawpy.imread(str(path)) as raw:
            pixels = raw.postprocess(
                use_camera_wb=True, no_auto_bright=True, output_bps=16, gamma=(2.4, 12.92)
            )
    except (rawpy.LibRawError, OSError, ValueError) as exc:
        raise PhotoError(_REASONS[kind]) from exc
    return _named(_image(pixels), kind, _srgb())


_REASONS: dict[Kind, str] = {
    "HEIC": "the HEIC file is damaged or cut short; copy it again from its source",
    "raw": "the raw file is damaged, or from a camera that is not known yet",
}


def _heif(path: Path) -> Any:
    try:
        import pillow_heif  # here: most photos need neither of these
    except ImportError as exc:
        msg = "HEIC photos can't be read here, as the package pillow-heif was left out; save it as JPEG or TIFF"
        raise PhotoError(msg) from exc
    try:
        return pillow_heif.open_heif(str(path), convert_hdr_to_8bit=True)
    except (OSError, ValueError, RuntimeError, SyntaxError, EOFError) as exc:
        raise PhotoError(_REASONS["HEIC"]) from exc


def _blank(size: tuple[int, int], bands: int, *, deep: bool) -> Any:
    image = pyvips.Image.black(*size, bands=bands)
    if deep:
        image = image.cast("ushort")
    return image.copy(interpretation=_space(bands, deep=deep))


def _image(pixels: np.ndarray[Any, Any]) -> Any:
    deep = pixels.dtype == np.uint16
    return pyvips.Image.new_from_array(
        np.ascontiguousarray(pixels), interpretation=_space(pixels.shape[2], deep=deep)
    )


def _space(bands: int, *, deep: bool) -> str:
    if bands <= 2:
        return "grey16" if deep else "b-w"
    return "rgb16" if deep else "srgb"


def _named(image: Any, kind: Kind, icc: bytes | None) -> Any:
    image = image.copy()
    image.set_type(pyvips.GValue.gstr_type, "vips-loader", f"{kind.lower()}load")
    if icc:
        image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
    return image


def _srgb() -> bytes:
    """Return the profile that developed pixels are in."""
    return bytes(pyvips.Operation.call("profile_load", "srgb"))
