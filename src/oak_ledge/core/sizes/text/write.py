"""A size as text and as a label."""

from __future__ import annotations

from oak_ledge.core.measures.numbers import decimal, plain
from oak_ledge.core.sizes.geometry import written_pixels
from oak_ledge.core.sizes.shapes.every import natural_turn
from oak_ledge.core.sizes.size import Size


def write_size(size: Size) -> str:
    """Write shape, unit, resolution, dot, turn and what differs so that reading gives them back.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> write_size(read_size("8 1/2 x 11 in @ 300 extend"))
    '8.5x11in@300 extend'
    """
    text = _without_outline(size)
    return text if size.outline is None else f"{text} {size.outline.text}"


def file_text(size: Size) -> str:
    """Write a size for the names of files: as above, without the data of a path."""
    text = _without_outline(size)
    return text if size.outline is None else f"{text} {size.outline.short}"


def _without_outline(size: Size) -> str:
    text = size.shape.text
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    if size.dot != 1:
        text += f" {_dot(size)}"
    if size.turn != natural_turn(size.shape, size.differ):
        text += f" {size.turn}"
    if size.differ != "trim":
        text += f" {size.differ}"
    return text if size.panels is None else f"{text} {size.panels.text}"


def _dot(size: Size) -> str:
    return f"dot {size.dot.numerator}:{size.dot.denominator}"


def size_name(size: Size) -> str:
    """Name a size: as a person did, else by its shape."""
    return size.name or shape_label(size)


def size_facts(size: Size) -> str:
    """Write the resolution and pixels of a size, which tell apart what is called alike.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> size_facts(read_size("8x10in@300")), size_facts(read_size("3:2"))
    ('300 ppi · 2400 × 3000 px', '')
    """
    ppi = [] if size.ppi is None else [f"{decimal(size.ppi)} ppi"]
    output = written_pixels(size)
    in_pixels = size.shape.measured_in == "px"
    pixels = [] if output is None or in_pixels else [f"{output[0]} × {output[1]} px"]
    return " · ".join(ppi + pixels)


def shape_label(size: Size) -> str:
    """Write what a size measures, for labels: `8 × 10 in`, `5 × 5 in circle`, `4 × 5 in, 3 panels`."""
    label = size.shape.label
    label = label if size.outline is None else f"{label} {size.outline.label}"
    return label if size.panels is None else f"{label}, {size.panels.label}"
