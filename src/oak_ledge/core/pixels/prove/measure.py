"""Measure a file from disk, by a reader that did not write it: asked = measured."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from importlib import import_module
from pathlib import Path

from PIL import Image
from PIL.ImageFile import ImageFile

from oak_ledge.core.errors import FileError
from oak_ledge.core.files.proof import Measured
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.pixels.open.label import profile_name, recorded_ppi
from oak_ledge.core.sizes.file.formats import FORMATS, FileFormat

# Of PDF to the inch.
POINTS = 72


# EXIF 2.32, 4.6.4.
_ORIENTATION_TAG = 274


# TIFF 6.0, BitsPerSample.
_BITS_TAG = 258


# PNG, 11.2.2: the byte of the bit depth in IHDR.
_PNG_DEPTH_AT = 24


def measure(path: Path, ppi: float | None = None, *, expected: Pixels | None = None) -> Measured:
    """Open a file from disk, decode it, and measure it; a page of PDF at a resolution in `ppi`.

    Where the pixels are `expected`, a file that says others is not decoded: whoever sent it may have
    meant its memory.

    Raises
    ------
    FileError
        If it cannot be opened or is damaged.
    """
    if ppi is not None and _is_pdf(path):
        return measure_pdf(path, ppi)
    with ThreadPoolExecutor(1) as beside:
        digest = beside.submit(file_hash, path)
        return _measured(path, digest.result, expected)


def _measured(path: Path, digest: Callable[[], str], expected: Pixels | None) -> Measured:
    try:
        form, reader = _reader_of(path)
        with reader(path) as image:
            width, height = image.size
            decodes = expected is None or sorted(image.size) == sorted(expected)
            # a relabelled original keeps its tag; a PNG's may stand behind its pixels
            if decodes and image.getexif().get(_ORIENTATION_TAG, 1) >= 5:
                width, height = height, width
            label = recorded_ppi(image)
            icc = image.info.get("icc_profile")
            bits = _bits(image, path)
            if decodes and form == "jpeg":
                image.draft(
                    image.mode, (max(1, width // 8), max(1, height // 8))
                )  # reads every byte, draws less
            if decodes:
                image.load()
    except (OSError, SyntaxError, ValueError, KeyError) as exc:
        msg = f"{path.name} cannot be read back from disk: {exc}"
        raise FileError(msg) from exc
    return Measured(
        width=width,
        height=height,
        ppi=None if label is None else round(label, 4),
        bytes=path.stat().st_size,
        format=form,
        profile=None if icc is None else profile_name(icc),
        bits=bits,
        sha256=digest(),
    )


def _reader_of(path: Path) -> tuple[FileFormat, type[ImageFile]]:
    """Return what a file is and what reads it, by how it begins: its name says nothing yet."""
    with path.open("rb") as file:
        head = file.read(12)
    for kind in FORMATS.values():
        if any(head[at:].startswith(signature) for at, signature in kind.signatures):
            plugin = import_module(
                f"PIL.{kind.reader}ImagePlugin"
            )  # loaded when there is one to read
            return kind.key, getattr(plugin, f"{kind.reader}ImageFile")
    msg = "it is no picture"
    raise ValueError(msg)


def _is_pdf(path: Path) -> bool:
    with path.open("rb") as file:
        return file.read(5) == b"%PDF-"


def measure_pdf(path: Path, ppi: float) -> Measured:
    """Read a PDF back: its pages, all of one size, and the images they show.

    Raises
    ------
    FileError
        If it cannot be read, or its pages differ.
    """
    from pypdf import PdfReader  # here: it takes its time to load
    from pypdf.errors import PyPdfError

    try:
        with path.open("rb") as file:
            reader = PdfReader(file)
            sizes = {
                (float(page.mediabox.width), float(page.mediabox.height)) for page in reader.pages
            }
            images = {
                reference.idnum
                for page in reader.pages
                for reference in page["/Resources"].get_object().get("/XObject", {}).values()  # type: ignore[union-attr]
            }
            pages = len(reader.pages)
    except (PyPdfError, OSError, ValueError, KeyError, AttributeError) as exc:
        msg = f"{path.name} cannot be read back from disk: {exc}"
        raise FileError(msg) from exc
    if len(sizes) != 1:
        msg = f"{path.name} has pages of different sizes"
        raise FileError(msg)
    ((wide, high),) = sizes
    return Measured(
        width=halves_up(wide / POINTS * ppi),
        height=halves_up(high / POINTS * ppi),
        ppi=ppi,
        bytes=path.stat().st_size,
        format="pdf",
        profile=None,
        bits=8,
        sha256=file_hash(path),
        pages=pages,
        images=len(images),
    )


def file_hash(path: Path) -> str:
    """Return the SHA-256 of a whole file, in hexadecimal digits."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _bits(image: Image.Image, path: Path) -> int:
    if image.format == "PNG":
        with path.open("rb") as file:
            return file.read(_PNG_DEPTH_AT + 1)[_PNG_DEPTH_AT]
    tags = getattr(image, "tag_v2", None)
    return int(tags[_BITS_TAG][0]) if tags is not None and _BITS_TAG in tags else 8
