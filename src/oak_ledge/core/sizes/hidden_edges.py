"""What of a piece will not be seen: bleed, wrap, lip and mat, as shares of the file."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.edges.frame import Inches
from oak_ledge.core.sizes.geometry import inches, margin, seen_inches
from oak_ledge.core.sizes.size import Size


def printed_inches(size: Size, output: Pixels) -> Inches | None:
    """Return the inches of the print, turned as the output is; None without a resolution.

    Where a size fixes lengths these are its own, else what the pixels measure.
    """
    if size.ppi is None:
        return None
    written = None if size.differ == "inside" else inches(size)
    return as_turned(written, output) or (output[0] / size.ppi, output[1] / size.ppi)


def insets(size: Size, output: Pixels) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return how far in from the file's edges print and seen part begin, as shares across and along.

    None where the file is the print and all of it will be seen.
    """
    printed, seen = printed_inches(size, output), as_turned(seen_inches(size), output)
    if printed is None or (seen is None and not margin(size)):
        return None
    more = margin(size)
    file = [edge + 2 * more for edge in printed]
    seen = seen or printed
    across, along = ((whole - part) / 2 / whole for whole, part in zip(file, seen, strict=True))
    return (float(more / file[0]), float(more / file[1])), (float(across), float(along))


def as_turned(lengths: Inches | None, output: Pixels) -> Inches | None:
    """Return lengths turned wide or tall as the output is."""
    if lengths is None:
        return None
    turned = (lengths[0] - lengths[1]) * (output[0] - output[1]) < 0
    return (lengths[1], lengths[0]) if turned else lengths


def floats_of(lengths: Inches | None) -> tuple[float, float] | None:
    """Return lengths as plain numbers."""
    return None if lengths is None else (float(lengths[0]), float(lengths[1]))
