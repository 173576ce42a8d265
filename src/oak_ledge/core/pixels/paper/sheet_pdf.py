"""A sheet as PDF (ISO 32000-1): every piece's own JPEG or lossless pixels and its profile, as they were made.

Places are exact to 0.01 mm, trim marks are lines and names are letters. Each piece is put into a
small file of its own first and carried over from there, so that no more than one is held in memory.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pikepdf
import pyvips
from pikepdf import Array, Dictionary, Name, Pdf

from oak_ledge.core.sheets.canvas import Rect
from oak_ledge.core.sheets.trim_marks import TrimMark

# To the inch.
POINTS = 72

# Points: a trim mark's width.
LINE = 0.25

# Points of a name.
LETTERS = 6.5

INK = "0.12 0.23 0.2"


@dataclass(frozen=True)
class OnPage:
    """An image on a page: which file it is of, where its edges lie, in inches, and its name."""

    file: int
    box: Rect
    turned: bool
    name: str = ""


@dataclass(frozen=True)
class Page:
    """What stands on a page."""

    images: Sequence[OnPage]
    marks: Sequence[TrimMark]


def write_sheet(
    path: Path,
    paper: tuple[Fraction, Fraction],
    pages: Sequence[Page],
    files: Iterator[bytes],
    title: str,
) -> None:
    """Write a sheet; `files` are the images' JPEG or PNG files, asked for one after the other."""
    with Pdf.new() as pdf:
        kept: dict[int, Any] = {}
        sources = []
        for n, data in enumerate(files):
            part = path.with_name(f"{path.stem}-{n}.part.pdf")
            _write_image(part, data)
            source = Pdf.open(part)
            sources.append(source)
            kept[n] = pdf.copy_foreign(source.Root.Image)
        for page in pages:
            _add_page(pdf, paper, page, kept)
        pdf.docinfo["/Title"] = title
        pdf.docinfo["/Producer"] = "Oak Ledge"
        pdf.save(path, deterministic_id=True, compress_streams=True)
        for source in sources:
            source.close()


def _write_image(path: Path, data: bytes) -> None:
    with Pdf.new() as pdf:
        pdf.Root.Image = _image(pdf, data)
        pdf.save(path, compress_streams=False, object_stream_mode=pikepdf.ObjectStreamMode.disable)


def _image(pdf: Pdf, data: bytes) -> Any:
    """Return a file's pixels as an image of PDF, their bytes untouched."""
    head = pyvips.Image.new_from_buffer(data, "")
    icc = bytes(head.get("icc-profile-data")) if head.get_typeof("icc-profile-data") else None
    if data[:2] == b"\xff\xd8":
        return _stream(
            pdf, data, (head.width, head.height), head.bands, 8, icc, Filter=Name.DCTDecode
        )
    if not head.hasalpha():
        return _flate(pdf, data, head.bands, icc)
    opaque = head.extract_band(0, n=head.bands - 1)
    image = _flate(pdf, _as_png(opaque), head.bands - 1, icc)
    image.SMask = _flate(pdf, _as_png(head.extract_band(head.bands - 1)), 1, None)
    return image


def _as_png(image: Any) -> bytes:
    deep = image.format == "ushort"
    grey = "grey16" if deep else "b-w"
    kind = grey if image.bands == 1 else ("rgb16" if deep else "srgb")
    return bytes(image.copy(interpretation=kind).pngsave_buffer(compression=6, keep="none"))


def _flate(pdf: Pdf, png: bytes, bands: int, icc: bytes | None) -> Any:
    """Return a PNG's own compressed pixels: PDF reads the same filter and predictors (ISO 32000-1, 7.4.4)."""
    width, height, bits = struct.unpack(">IIB", png[16:25])
    parms = Dictionary(Predictor=15, Colors=bands, BitsPerComponent=bits, Columns=width)
    body = b"".join(_idat(png))
    return _stream(
        pdf, body, (width, height), bands, bits, icc, Filter=Name.FlateDecode, DecodeParms=parms
    )


def _idat(png: bytes) -> Iterator[bytes]:
    at = 8
    while at < len(png):
        length = struct.unpack(">I", png[at : at + 4])[0]
        if png[at + 4 : at + 8] == b"IDAT":
            yield png[at + 8 : at + 8 + length]
        at += 12 + length


def _stream(
    pdf: Pdf, data: bytes, extent: tuple[int, int], bands: int, bits: int, icc: bytes | None, **how: Any
) -> Any:  # fmt: skip
    space: Any = {1: Name.DeviceGray, 3: Name.DeviceRGB, 4: Name.DeviceCMYK}[bands]
    if icc is not None:
        profile = pdf.make_stream(
            zlib.compress(icc), Filter=Name.FlateDecode, N=bands, Alternate=space
        )
        space = Array([Name.ICCBased, profile])
    if bands == 4:  # a JPEG of four inks is written inverted, as its Adobe marker says
        how["Decode"] = Array([1, 0] * 4)
    return pdf.make_stream(
        data,
        Type=Name.XObject,
        Subtype=Name.Image,
        Width=extent[0],
        Height=extent[1],
        BitsPerComponent=bits,
        ColorSpace=space,
        **how,
    )


def _add_page(
    pdf: Pdf, paper: tuple[Fraction, Fraction], page: Page, images: Mapping[int, Any]
) -> None:
    wide, high = (float(edge * POINTS) for edge in paper)
    used = {f"/P{image.file}": images[image.file] for image in page.images}
    font = Dictionary(
        Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding
    )
    content = b"".join(_drawn(page, float(paper[1])))
    pdf.add_blank_page(page_size=(wide, high))
    sheet_page = pdf.pages[-1]
    sheet_page.Contents = pdf.make_stream(content)
    sheet_page.Resources = Dictionary(XObject=Dictionary(used), Font=Dictionary(F1=font))


def _drawn(page: Page, high: float) -> Iterator[bytes]:
    """Return the operators of a page; its corner is at the bottom left, in points."""
    for image in page.images:
        x, y, width, height = (float(edge) for edge in image.box)
        left, foot = x * POINTS, (high - y - height) * POINTS
        across, along = width * POINTS, height * POINTS
        matrix = (across, 0.0, 0.0, along, left, foot)
        if image.turned:  # clockwise: what was up points to the right
            matrix = (0.0, -along, across, 0.0, left, foot + along)
        yield f"q {_numbers(matrix)} cm /P{image.file} Do Q\n".encode()
    if page.marks:
        yield f"q {LINE} w {INK} RG\n".encode()
        for mark in page.marks:
            ends = (mark.x0, high - mark.y0, mark.x1, high - mark.y1)
            x0, y0, x1, y1 = (end * POINTS for end in ends)
            yield f"{_numbers((x0, y0))} m {_numbers((x1, y1))} l S\n".encode()
        yield b"Q\n"
    for image in page.images:
        if image.name:
            x = float(image.box.x) * POINTS + 3  # beside the trim mark at the corner
            y = (high - float(image.box.y + image.box.height)) * POINTS - LETTERS - 1.5
            letters = image.name.encode("cp1252", "replace")[:200]
            shown = letters.replace(b"\\", rb"\\").replace(b"(", rb"\(").replace(b")", rb"\)")
            yield (
                f"BT {INK} rg /F1 {LETTERS} Tf {_numbers((x, y))} Td (".encode()
                + shown
                + b") Tj ET\n"
            )


def _numbers(values: Sequence[float]) -> str:
    return " ".join(f"{np.round(value, 5):.5f}".rstrip("0").rstrip(".") for value in values)
