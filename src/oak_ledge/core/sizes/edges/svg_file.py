"""An outline taken from an SVG file with one closed path (SVG 2); nothing in the file is ever run or fetched."""

from __future__ import annotations

import re

from lxml import etree
from pydantic import ValidationError

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.sizes.edges.outline import LONGEST_PATH, Outline

MOST_BYTES = 200_000

SPACE = "{http://www.w3.org/2000/svg}"

SHAPES = ("rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "image", "use")

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")


def outline_in(data: bytes) -> Outline:
    """Read the one path of an SVG file as an outline, its view box being the piece.

    Raises
    ------
    SizeError
        With what is wrong with the file, or with its path.
    """
    root = _root(data)
    paths = [element for element in root.iter() if element.tag in (f"{SPACE}path", "path")]
    others = {
        etree.QName(element).localname for element in root.iter() if isinstance(element.tag, str)
    }
    others_there = sorted(others & set(SHAPES))
    if len(paths) != 1 or others_there:
        what = f"{len(paths)} paths" if not others_there else f"a <{others_there[0]}>"
        msg = f"the SVG file has {what}; an outline is one closed path, and nothing else"
        raise SizeError(msg)
    for iterancestor in (paths[0], *paths[0].iterancestors()):
        if iterancestor.get("transform"):
            msg = (
                "the SVG file's path is moved by a transform; save it with the path itself in place"
            )
            raise SizeError(msg)
    path = _in_unit_square(paths[0].get("d") or "", _view(root))
    try:
        return Outline(kind="path", path=path or "M")
    except ValidationError as exc:
        raise SizeError(exc.errors()[0]["msg"].removeprefix("Value error, ")) from exc


def _root(data: bytes) -> etree._Element:
    if len(data) > MOST_BYTES:
        msg = f"the SVG file has more than {MOST_BYTES // 1000} kB; an outline needs far less"
        raise SizeError(msg)
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as exc:
        msg = "the file is no SVG that can be read"
        raise SizeError(msg) from exc
    if root.getroottree().docinfo.doctype or any(
        element.tag is etree.Entity for element in root.iter()
    ):
        msg = "the SVG file declares a document type or entities, which is refused; save it as plain SVG"
        raise SizeError(msg)
    if etree.QName(root).localname != "svg":
        msg = f"the file is a <{clipped(etree.QName(root).localname)}>, no SVG"
        raise SizeError(msg)
    return root


def _view(root: etree._Element) -> tuple[float, float, float, float]:
    numbers = [float(number) for number in _NUMBER.findall(root.get("viewBox") or "")]
    if not numbers:
        sizes = [_NUMBER.match(root.get(name) or "") for name in ("width", "height")]
        numbers = [0.0, 0.0, *(float(size[0]) for size in sizes if size)]
    if len(numbers) != 4 or min(numbers[2:]) <= 0:
        msg = "the SVG file says no view box, and no width and height, that its path lies in"
        raise SizeError(msg)
    left, top, width, height = numbers
    return left, top, width, height


def _in_unit_square(data: str, view: tuple[float, float, float, float]) -> str:
    """Write path data again, its view box drawn out to the unit square."""
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.svgLib.path import parse_path

    pen = RecordingPen()
    try:
        parse_path(data[:MOST_BYTES], pen)
    except Exception as exc:  # whatever it stumbles over, it is no path
        msg = "the SVG file's path can't be read"
        raise SizeError(msg) from exc
    left, top, width, height = view
    letters = {"moveTo": "M", "lineTo": "L", "curveTo": "C", "qCurveTo": "Q", "closePath": "Z"}
    parts = []
    for name, points in pen.value:
        figures = (
            f"{round((x - left) / width, 4):g} {round((y - top) / height, 4):g}" for x, y in points
        )
        parts.append(letters.get(name, "") + " ".join(figures))
    path = "".join(parts)
    if len(path) > LONGEST_PATH:
        msg = f"the SVG file's path has more than {LONGEST_PATH} letters; make it simpler"
        raise SizeError(msg)
    return path
