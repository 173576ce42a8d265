"""A size as text and as a label."""

from __future__ import annotations

from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.measures.numbers import decimal, plain
from oak_ledge.core.sizes.edges.frame import NO_LENGTH, USUAL_MOULDING, Frame
from oak_ledge.core.sizes.file.file_settings import DEFAULT_PATTERN, USUAL_QUALITY, FileSettings
from oak_ledge.core.sizes.geometry import usual_turn, written_pixels
from oak_ledge.core.sizes.ground import BLACK, CLEAR, WHITE
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.file_words import METHOD_NAMES


def write_size(size: Size) -> str:
    """Write all of a size that one line can say, so that reading gives it back.

    Its name, group, receiver's range and profile file stand in no line, nor does the greatest
    enlargement.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> write_size(read_size("8 1/2 x 11 in @ 300 extend, on blur, at most 300 kB"))
    '8.5x11in@300 extend on blur at most 300kB'
    """
    return " ".join(written_parts(size))


def written_parts(size: Size) -> list[str]:
    """Return the parts of a size's line, its shape first."""
    return [write_shape(size), *_settings(size)]


def what_differs(before: Size, now: Size) -> str:
    """Return how one size's line differs from another's: `bleed 3mm, now bleed 5mm`.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> what_differs(read_size("5x7in@300 bleed 3mm png"), read_size("5x7in@300 bleed 5mm png"))
    'it was bleed 3mm, now it is bleed 5mm'
    """
    old, new = written_parts(before), written_parts(now)
    gone = [part for part in old if part not in new]
    come = [part for part in new if part not in old]
    if gone and come:
        return f"it was {', '.join(gone)}, now it is {', '.join(come)}"
    if come:
        return f"now it says {', '.join(come)}"
    return f"it says {', '.join(gone)} no more" if gone else "its settings differ"


def write_shape(size: Size) -> str:
    """Write shape, unit, resolution, dot, turn, what differs, panels and outline.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> write_shape(read_size("8 1/2 x 11 in @ 300 extend png"))
    '8.5x11in@300 extend'
    """
    text = _without_outline(size)
    return text if size.outline is None else f"{text} {size.outline.text}"


def file_text(size: Size) -> str:
    """Write a size for the names of files: its shape, without the data of a path."""
    text = _without_outline(size)
    return text if size.outline is None else f"{text} {size.outline.short}"


def _settings(size: Size) -> list[str]:
    """Write what else a line says of a size, where it is not as usual."""
    words = (
        [] if size.ground == WHITE else [f"on {'black' if size.ground == BLACK else size.ground}"]
    )
    if size.bleed is not None:
        words.append(f"bleed {size.bleed}")
    if size.border is not None:
        words.append(size.border.text)
    if size.wrap is not None:
        words.append(f"wrap {size.wrap}")
        if size.sides is not None:
            shown = "mirrored" if size.sides.ground == "mirror" else size.sides.ground
            words.append(f"sides {shown}")
    if size.frame is not None:
        words += _frame(size.frame)
    may_be_clear = size.outline is not None or size.ground == CLEAR
    words += _file(size.file, "png" if may_be_clear else "jpeg")
    if size.method != "auto":
        words.append(next(name for name, method in METHOD_NAMES.items() if method == size.method))
    if size.sharpen_for != "off":
        strength = "" if size.sharpen is None else f" {size.sharpen}"
        words.append(f"sharpen {size.sharpen_for}{strength}")
    return words


def border_text(size: Size) -> str:
    """Write a border's one length, or its four; empty without one."""
    return "" if size.border is None else size.border.text.removeprefix("border ")


def _frame(frame: Frame) -> list[str]:
    words = [] if frame.opening is None else [f"opening {frame.opening}"]
    if frame.lip != NO_LENGTH or frame == Frame():
        words.append(f"lip {frame.lip}")
    if frame.moulding != USUAL_MOULDING:
        words.append(f"moulding {frame.moulding}")
    if frame.mat is not None:
        words.append(f"mat {frame.mat.outer} window {frame.mat.window_text}")
    return words


def _file(file: FileSettings, usual: str) -> list[str]:
    words = [] if file.format == usual else [file.format]
    if file.quality != USUAL_QUALITY:
        words.append(f"quality {file.quality}")
    if file.at_most is not None:
        words.append(f"at most {limit_words(file.at_most).replace(' ', '')}")
    if file.bits is not None:
        words.append(f"{file.bits} bit")
    if file.profile not in ("keep", "receiver"):
        words.append(file.profile)
    if file.metadata != "keep":
        words.append(f"metadata {file.metadata}")
    if not file.location:
        words.append("no location")
    if file.pattern != DEFAULT_PATTERN and not set(file.pattern) & set("\"“”'"):
        words.append(f'named "{file.pattern}"')
    return words


def _without_outline(size: Size) -> str:
    text = size.shape.text
    if size.ppi is not None:
        text += f"@{plain(size.ppi)}"
    if size.dot != 1:
        text += f" {_dot(size)}"
    if size.turn != usual_turn(size):
        text += f" {size.turn}"
    if size.differ != "trim":
        text += f" {size.differ}"
    text = text if size.panels is None else f"{text} {size.panels.text}"
    text = text if size.fills is None else f"{text} fills {plain(size.fills)}%"
    text = text if size.head is None else f"{text} {size.head.text}"
    return text if size.eyes is None else f"{text} {size.eyes.text}"


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
    label = label if size.border is None else f"{label}, border"
    label = label if size.head is None else f"{label}, head {size.head.words}"
    return label if size.panels is None else f"{label}, {size.panels.label}"
