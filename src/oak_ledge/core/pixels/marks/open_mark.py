"""A mark's picture: PNG, WebP or SVG, refused where it could do harm."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pyvips
from lxml import etree

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.marks.laid import MarkFile
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.pixels.containers.truncation import refuse_cut_short
from oak_ledge.core.pixels.cut.cut import Array
from oak_ledge.core.pixels.open.header import icc_of, load

# Bytes of an SVG; pixels of a mark, as it is stored or drawn.
MOST_SVG_BYTES, MOST_PIXELS = 1_000_000, 10_000_000

# What an SVG may refer to: its own parts, and pictures it holds.
_OWN = re.compile(r"\s*(#|data:image/(png|jpeg|webp);)", re.IGNORECASE)
_URL = re.compile(r"url\(\s*+[\"']?+\s*+(?!#)", re.IGNORECASE)
_RUNS = ("script", "foreignObject", "handler", "iframe", "set", "animate", "animateTransform")


def open_mark(path: Path) -> MarkFile:
    """Open a mark; nothing in it is run, and nothing outside it read.

    Raises
    ------
    PhotoError
        With what is wrong: no PNG, WebP or SVG, too large, damaged, or with something that is refused.
    """
    try:
        with path.open("rb") as file:
            head = file.read(1024)
    except OSError as exc:
        msg = f"it cannot be opened: {exc.strerror or exc}"
        raise PhotoError(msg) from exc
    if head.startswith(b"\x89PNG") or (head[:4] == b"RIFF" and head[8:12] == b"WEBP"):
        refuse_cut_short(path)
        image = load(path, header=True)
        if image.width * image.height > MOST_PIXELS:
            msg = f"a mark of {image.width} × {image.height} px is too large; give one of at most 10 megapixels"
            raise PhotoError(msg)
        return MarkFile(path, (image.width, image.height), drawn=False)
    if b"<" in head:
        return MarkFile(path, _shape_of_svg(path), drawn=True)
    msg = "a mark is a PNG, a WebP or an SVG file, and this is none"
    raise PhotoError(msg)


def _shape_of_svg(path: Path) -> Pixels:
    """Look through an SVG, and return the pixels it would have as it says.

    Raises
    ------
    PhotoError
        With what is refused.
    """
    if path.stat().st_size > MOST_SVG_BYTES:
        msg = "the SVG file is larger than 1 MB; save it simpler, or as PNG"
        raise PhotoError(msg)
    data = path.read_bytes()
    parser = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as exc:
        msg = "the file is no SVG that can be read"
        raise PhotoError(msg) from exc
    if root.getroottree().docinfo.doctype:
        msg = "the SVG file declares a document type or entities, which is refused; save it as plain SVG"
        raise PhotoError(msg)
    if etree.QName(root).localname != "svg":
        msg = "the file is no SVG"
        raise PhotoError(msg)
    for element in (*root.itersiblings(preceding=True), *root.iter()):
        _refuse_element(element)
    try:
        image = pyvips.Image.svgload_buffer(data)
    except pyvips.Error as exc:
        msg = "the SVG file can't be drawn; save it as plain SVG, or as PNG"
        raise PhotoError(msg) from exc
    if image.width * image.height > MOST_PIXELS:
        msg = f"the SVG file is {image.width} × {image.height} px large; give one of at most 10 megapixels"
        raise PhotoError(msg)
    return image.width, image.height


def _refuse_element(element: Any) -> None:
    if not isinstance(element.tag, str):
        if element.tag is etree.Entity or element.tag is etree.ProcessingInstruction:
            msg = "the SVG file holds entities or instructions, which are refused; save it as plain SVG"
            raise PhotoError(msg)
        return
    name = etree.QName(element).localname
    if name in _RUNS:
        msg = f"the SVG file holds a <{name}>, which is refused; save it as plain SVG"
        raise PhotoError(msg)
    for key, value in element.attrib.items():
        attribute = etree.QName(key).localname
        refers = attribute in ("href", "src") and not _OWN.match(str(value))
        if refers or attribute.startswith("on") or _URL.search(str(value)):
            msg = f"the SVG file refers to something outside it, or runs something ({attribute}), which is refused"
            raise PhotoError(msg)
    text = element.text or ""
    if name == "style" and (_URL.search(text) or "@import" in text.lower()):
        msg = "the SVG file's styles refer to something outside it, which is refused"
        raise PhotoError(msg)


def drawn_mark(mark: MarkFile, size: Pixels) -> tuple[Array, bytes | None]:
    """Draw a mark exactly so large: (H, W, 4) of 8 bits, sRGB or as its profile says, not premultiplied.

    Raises
    ------
    PhotoError
        If its file is damaged.
    """
    wide, high = size
    try:
        if mark.drawn:
            scale = max(wide / mark.shape[0], high / mark.shape[1])
            image = pyvips.Image.svgload_buffer(mark.path.read_bytes(), scale=scale)
        else:
            image = load(mark.path).copy_memory()
        if image.width * image.height > 4 * MOST_PIXELS:
            msg = f"the mark would be drawn {image.width} × {image.height} px large, which is too much"
            raise PhotoError(msg)
        icc = icc_of(image)
        image = image.colourspace("srgb") if image.interpretation not in ("srgb", "rgb") else image
        image = image.cast("uchar", shift=image.format == "ushort")
        image = image if image.hasalpha() else image.bandjoin(255)
        image = image.premultiply()
        image = image.resize(wide / image.width, vscale=high / image.height)
        image = image.unpremultiply().rint().cast("uchar")
        pixels = image.numpy()
    except pyvips.Error as exc:
        msg = "the mark's file is damaged"
        raise PhotoError(msg) from exc
    out = np.zeros((high, wide, 4), np.uint8)
    out[: pixels.shape[0], : pixels.shape[1]] = pixels[:high, :wide]
    return out, icc
