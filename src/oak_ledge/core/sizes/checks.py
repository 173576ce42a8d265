"""What no size may be, each with what is wrong and what to do."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import (
    Measure,
    length_words,
)
from oak_ledge.core.measures.numbers import decimal, plain
from oak_ledge.core.sizes.fields import SizeFields
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.file.ppi_range import MOST_PPI
from oak_ledge.core.sizes.geometry import (
    MOST_PIXELS_EDGE,
    between_pixels,
    edges_of,
    inches,
    panel_pixels,
    print_pixels,
    seen_inches,
    within_border,
)
from oak_ledge.core.sizes.ground import CLEAR


def check_ppi(ppi: Fraction) -> None:
    """Refuse a resolution that no printer or screen has.

    Raises
    ------
    SizeError
        If it is not above 0, or more than `MOST_PPI`.
    """
    if ppi <= 0:
        msg = f"resolution={decimal(ppi)} ppi must be greater than 0"
        raise SizeError(msg)
    if ppi > MOST_PPI:
        msg = f"{decimal(ppi.limit_denominator(100))} ppi is more than any printer or screen has"
        raise SizeError(msg)


def check(size: SizeFields) -> None:
    """Make sure that a size can be made.

    Raises
    ------
    SizeError
        With what is wrong.
    """
    if size.ppi is not None:
        check_ppi(size.ppi)
    shape = size.shape
    shape.check()
    if shape.whole_pixels and (size.sharpen_for != "off" or size.method != "auto"):
        msg = "a window changes not one value, so it is neither resampled nor sharpened"
        raise SizeError(msg)
    _check_profile(size.file)
    _check_clear(size)
    _check_differ(size)
    _check_frame(size)
    _check_outline(size)
    _check_panels(size)
    _check_border(size)
    _check_fills(size)
    _check_head(size)


def _check_panels(size: SizeFields) -> None:
    panels = size.panels
    if panels is None:
        return
    of_ratio = size.shape.ratio is not None
    if not (size.shape.both_edges or of_ratio) or size.differ == "inside":
        msg = "panels need the exact edges or the ratio of one panel, like 1080x1350px panels 3 or 1:1 panels 3; not “inside”"
        raise SizeError(msg)
    if {size.frame, size.bleed, size.wrap, size.outline} != {None}:
        msg = "panels are bare rectangles: leave out frame, bleed, wrap and outline"
        raise SizeError(msg)
    if of_ratio:
        if panels.overlap is not None or panels.gap is not None:
            msg = "panels of a ratio lie edge to edge; an overlap or a gap needs exact edges"
            raise SizeError(msg)
        return
    for name, shared in (("an overlap", panels.overlap), ("a gap", panels.gap)):
        if shared is not None:
            _check_measure(size, shared, name)
    least, between = min(pixels for _, pixels in edges_of(size)), between_pixels(size)
    if panels.overlap is not None and -2 * between > least:
        msg = f"an overlap of {length_words(panels.overlap)} is more than half a panel"
        raise SizeError(msg)
    whole = max(panels.whole(panel_pixels(size), between))
    if whole > MOST_PIXELS_EDGE:
        msg = f"{panels.count} panels make an edge of {whole} px, more than the {MOST_PIXELS_EDGE} px this program makes"
        raise SizeError(msg)


def _check_fills(size: SizeFields) -> None:
    if size.fills is None:
        return
    if (
        not size.shape.fixes_shape
        or size.shape.whole_pixels
        or size.differ in ("inside", "stretch")
    ):
        msg = "“fills” places a subject on a size that fixes a shape and may be scaled, like 2000x2000px"
        raise SizeError(msg)
    if not 1 <= size.fills <= 100:
        msg = f"a subject fills 1 to 100 % of an edge, not {decimal(size.fills)} %"
        raise SizeError(msg)


def _check_head(size: SizeFields) -> None:
    head = size.head
    if head is None:
        if size.eyes is not None:
            msg = "“eyes” says how high those of a head lie: say how tall it shall be too, like head 32-36mm eyes 50-60%"
            raise SizeError(msg)
        return
    fits = size.shape.both_edges and not size.shape.whole_pixels
    if not fits or size.differ in ("inside", "stretch"):
        msg = "a head is measured on a piece of exact edges that may be scaled, like 35x45mm@600 head 32-36mm"
        raise SizeError(msg)
    if size.panels is not None or size.fills is not None or size.dot != 1:
        msg = "a head decides alone how large a photo is drawn: leave out panels, fills and dot"
        raise SizeError(msg)
    if size.turn != "fixed":
        msg = "a size with a head is never turned by itself, as heads stand upright: say fixed"
        raise SizeError(msg)
    _check_measure(size, head.low, "a head")
    most = edges_of(size)[1][1]
    if head.high.pixels(size.ppi) > most:
        msg = f"a head of {length_words(head.high)} is taller than the piece"
        raise SizeError(msg)


def _check_measure(size: SizeFields, measure: Measure, name: str) -> None:
    """Refuse pixels on a size in lengths, and lengths on one without a resolution."""
    if measure.unit == "px" and size.shape.measured_in != "px":
        msg = f"{name} of {length_words(measure)} goes with a size in pixels; say it as a length here, like 5cm"
        raise SizeError(msg)
    if measure.unit != "px" and size.ppi is None:
        msg = (
            f"{name} is a length, so the size needs a resolution, such as 300 ppi; or say it in px"
        )
        raise SizeError(msg)


def _check_border(size: SizeFields) -> None:
    border = size.border
    if border is None:
        return
    if not size.shape.both_edges or size.differ == "inside":
        msg = "a border lies within the exact edges of a print, like 8x10in@300 border 10mm; not “inside”"
        raise SizeError(msg)
    if {size.wrap, size.outline, size.panels} != {None}:
        msg = "a border goes round a plain print: leave out wrap, outline and panels"
        raise SizeError(msg)
    for side in border.sides:
        _check_measure(size, side, "a border")
    whole = print_pixels(size)
    within_border(size, whole[::-1])  # it may be turned, and its sides stay where they are


def _check_outline(size: SizeFields) -> None:
    outline = size.outline
    if outline is None:
        return
    if size.wrap is not None:
        msg = "a stretched canvas has straight edges: leave out its wrap, or the outline"
        raise SizeError(msg)
    if outline.radius is not None and size.ppi is None:
        msg = "corners rounded by a length need a resolution; say them in % instead"
        raise SizeError(msg)
    if size.file.profile == "receiver" and size.file.icc and size.file.icc.colours == "CMYK":
        msg = "a CMYK file has nothing clear, so it takes no outline; choose another profile"
        raise SizeError(msg)


def _check_profile(file: FileSettings) -> None:
    if file.bits is not None and file.bits not in FORMATS[file.format].depths:
        msg = f"{file.bits} bit goes into PNG and TIFF; {FORMATS[file.format].a_file} holds 8"
        raise SizeError(msg)
    if file.profile == "receiver" and file.icc is None:
        msg = "the receiver's profile is missing: choose its file, which ends in .icc or .icm"
        raise SizeError(msg)
    if file.profile != "receiver" and file.icc is not None:
        msg = f"{file.icc.name} goes with the profile “receiver”, not with “{file.profile}”"
        raise SizeError(msg)
    if file.icc is not None and file.icc.colours == "CMYK" and file.format not in ("jpeg", "tiff"):
        msg = f"{file.icc.name} is a CMYK profile, which only JPEG and TIFF files can carry"
        raise SizeError(msg)


def refuse_open_extend(size: SizeFields) -> None:
    """Refuse to extend as the policy of a size that fixes no shape; one photo may reach beyond on any.

    Raises
    ------
    SizeError
        If it extends and leaves the shape open.
    """
    if size.differ == "extend":
        _check_fixes_shape(size)


def _check_fixes_shape(size: SizeFields) -> None:
    if not size.shape.fixes_shape:
        msg = f"“{size.differ}” needs a size that fixes a shape: exact edges, a ratio or a window"
        raise SizeError(msg)


def _check_clear(size: SizeFields) -> None:
    kind = FORMATS[size.file.format]
    if size.ground != CLEAR:
        return
    if not kind.alpha:
        *most, last = (each.words for each in FORMATS.values() if each.alpha)
        msg = f"{kind.a_file} holds nothing clear: choose {', '.join(most)} or {last} for the file, or a colour for the ground"
        raise SizeError(msg)
    if size.file.icc is not None and size.file.icc.colours == "CMYK":
        msg = "a CMYK file has nothing clear; choose another profile, or a colour for the ground"
        raise SizeError(msg)


def _check_differ(size: SizeFields) -> None:
    shape, differ = size.shape, size.differ
    if differ not in ("trim", "extend"):
        _check_fixes_shape(size)
    if differ in ("inside", "stretch") and not shape.both_edges:
        msg = (
            f"“{differ}” scales the photo, and a {shape.kind} does not; say exact edges, or extend"
        )
        raise SizeError(msg)
    if size.dot == 1:
        return
    if not Fraction(1, 10) <= size.dot <= 10:
        msg = f"dot={plain(size.dot)}:1 must lie between 1:10 and 10:1"
        raise SizeError(msg)
    if shape.measured_in != "px" or shape.whole_pixels:
        msg = "a dot belongs to a screen: exact pixels, one edge in pixels, or within pixels"
        raise SizeError(msg)


def _check_frame(size: SizeFields) -> None:
    if {size.frame, size.bleed, size.wrap, size.sides} == {None}:
        return
    if inches(size) is None or size.differ == "inside":
        msg = "frame, bleed and wrap go with a print: exact edges at a resolution, not “inside”"
        raise SizeError(msg)
    if size.sides is not None and size.wrap is None:
        msg = "sides belong to a wrap: say how far the canvas is turned over, like 4cm"
        raise SizeError(msg)
    frame, seen = size.frame, seen_inches(size)
    if frame is None or seen is None:
        return
    if min(seen) <= 0:
        msg = f"a lip of {frame.lip} leaves nothing of the print to be seen"
        raise SizeError(msg)
    if frame.moulding.inches <= frame.lip.inches:
        msg = f"a moulding of {frame.moulding} is no wider than its lip of {frame.lip}"
        raise SizeError(msg)
    mat = frame.mat
    if mat and any(a >= b for a, b in zip(mat.window.inches, mat.outer.inches, strict=True)):
        msg = f"a mat of {mat.outer} is too small for a window of {mat.window}"
        raise SizeError(msg)
