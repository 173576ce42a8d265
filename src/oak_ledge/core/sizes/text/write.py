"""A size as text and as a label."""

from __future__ import annotations

from oak_ledge.core.measures.numbers import plain
from oak_ledge.core.sizes.shapes import (
    EdgeShape,
    ExactShape,
    OwnShape,
    PercentShape,
    RatioShape,
    Shape,
    WindowShape,
    WithinShape,
    natural_turn,
)
from oak_ledge.core.sizes.size import Size


def write_size(size: Size) -> str:
    """Write shape, unit, resolution, dot, turn and what differs so that reading gives them back.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> write_size(read_size("8 1/2 x 11 in @ 300 extend"))
    '8.5x11in@300 extend'
    """
    text = shape_text(size.shape)
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    if size.dot != 1:
        text += f" {_dot(size)}"
    if size.turn != natural_turn(size.shape, size.differ):
        text += f" {size.turn}"
    return text if size.differ == "trim" else f"{text} {size.differ}"


def _dot(size: Size) -> str:
    return f"dot {size.dot.numerator}:{size.dot.denominator}"


def shape_text(shape: Shape) -> str:
    """Write the shape of a size."""
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)}%"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{shape.edge} {plain(shape.length)}{shape.unit}"
        case WithinShape():
            box = f"within {plain(shape.width)}x{plain(shape.height)}{shape.unit}"
            return f"{box} enlarge" if shape.enlarge else box
        case WindowShape():
            return f"window {shape.width}x{shape.height}px"
        case OwnShape():
            return "photo"
        case ExactShape():
            return f"{plain(shape.width)}x{plain(shape.height)}{shape.unit}"


def size_name(size: Size) -> str:
    """Name a size: as a person did, else by its shape."""
    return size.name or shape_label(size)


def shape_label(size: Size) -> str:
    """Write what a size measures, for labels: `8 × 10 in`, `long edge 2000 px`, `3:1`."""
    shape = size.shape
    match shape:
        case PercentShape():
            return f"{plain(shape.percent)} %"
        case RatioShape():
            return f"{plain(shape.across)}:{plain(shape.along)}"
        case EdgeShape():
            return f"{edge_words(shape)} {plain(shape.length)} {shape.unit}"
        case WithinShape():
            return f"within {plain(shape.width)} × {plain(shape.height)} {shape.unit}"
        case WindowShape():
            return f"window {shape.width} × {shape.height} px"
        case OwnShape():
            return "the photo's own shape"
        case ExactShape():
            return f"{plain(shape.width)} × {plain(shape.height)} {shape.unit}"


def edge_words(shape: EdgeShape) -> str:
    """Name the edge a size fixes."""
    return shape.edge if shape.edge in ("width", "height") else f"{shape.edge} edge"
