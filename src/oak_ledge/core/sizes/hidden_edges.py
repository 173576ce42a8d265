"""What of a piece will not be seen: bleed, wrap, lip and mat, as shares of the file."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.edges.frame import Inches
from oak_ledge.core.sizes.file_geometry import printed_pixels
from oak_ledge.core.sizes.geometry import inches, margin, seen_inches
from oak_ledge.core.sizes.size import Size


def printed_inches(size: Size, output: Pixels) -> Inches | None:
    """Return the inches of the print, turned as the output is; None without a resolution.

    Where a size fixes lengths these are its own, else what the pixels measure.
    """
    if size.ppi is None:
        return None
    written = None if size.differ == "inside" else inches(size)
    return as_printed(size, written, output) or (output[0] / size.ppi, output[1] / size.ppi)


def insets(size: Size, output: Pixels) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return how far in from the file's edges print and seen part begin, as shares across and along.

    None where the file is the print and all of it will be seen.
    """
    printed = printed_inches(size, output)
    seen = as_printed(size, seen_inches(size), output)
    if printed is None or (seen is None and not margin(size)):
        return None
    if size.border is not None and seen is not None:
        return (0.0, 0.0), _hidden_of_picture(size, output, printed, seen)
    more = margin(size)
    file = [edge + 2 * more for edge in printed]
    seen = seen or printed
    across, along = ((whole - part) / 2 / whole for whole, part in zip(file, seen, strict=True))
    return (float(more / file[0]), float(more / file[1])), (float(across), float(along))


def _hidden_of_picture(
    size: Size, output: Pixels, printed: Inches, seen: Inches
) -> tuple[float, float]:
    """Return what lip or mat hide of a picture inside a border, of the side where that is most."""
    assert size.border is not None
    assert size.ppi is not None
    left, top, right, bottom = (side / size.ppi for side in size.border.pixels(size.ppi))
    behind = [(whole - part) / 2 for whole, part in zip(printed, seen, strict=True)]
    most = (behind[0] - min(left, right), behind[1] - min(top, bottom))
    return (
        max(0.0, float(most[0] * size.ppi / output[0])),
        max(0.0, float(most[1] * size.ppi / output[1])),
    )


def as_printed(size: Size, lengths: Inches | None, output: Pixels) -> Inches | None:
    """Return lengths of a size turned as its print is: a picture in a border may be turned otherwise."""
    return as_turned(lengths, printed_pixels(size, output))


def as_turned(lengths: Inches | None, output: Pixels) -> Inches | None:
    """Return lengths turned wide or tall as the output is."""
    if lengths is None:
        return None
    turned = (lengths[0] - lengths[1]) * (output[0] - output[1]) < 0
    return (lengths[1], lengths[0]) if turned else lengths


def floats_of(lengths: Inches | None) -> tuple[float, float] | None:
    """Return lengths as plain numbers."""
    return None if lengths is None else (float(lengths[0]), float(lengths[1]))
