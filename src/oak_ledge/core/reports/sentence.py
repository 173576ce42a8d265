"""The tally as one readable line, and what is printed in lengths."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.measures.lengths import CM_PER_INCH, PER_INCH, Pixels, Unit
from oak_ledge.core.measures.numbers import decimal, rounded, scale_words
from oak_ledge.core.measures.ratios import shape_words
from oak_ledge.core.placements.crop import face_of
from oak_ledge.core.placements.fit import leaves_hairline
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.sizes.file.formats import FORMATS
from oak_ledge.core.sizes.file_geometry import panels_on, printed_pixels
from oak_ledge.core.sizes.geometry import print_pixels, whole_shape, written_pixels
from oak_ledge.core.sizes.hidden_edges import printed_inches
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import extra_words, profile_words


def output_lengths(size: Size, output: Pixels) -> str | None:
    """Return the physical size of the output in the size's own unit: `10 × 8 in`.

    None where no resolution is given. What the pixels really measure, by rule 1, may differ
    from the nominal length by half a pixel; the proof says that.
    """
    if size.ppi is None:
        return None
    width, height = output_edges(size, output)
    return f"{width.rpartition(' ')[0]} × {height}"


def output_edges(size: Size, output: Pixels) -> tuple[str, str]:
    """Return width and height of the output in the size's own unit: `10 in`, `8 in`."""
    printed = printed_inches(size, output)
    output = printed_pixels(size, output)
    if printed is None:
        return (f"{output[0]} px", f"{output[1]} px")
    unit = size.shape.measured_in
    shown: Unit = "in" if unit in (None, "px") else unit
    exact = size.shape.both_edges and shown == unit and size.differ != "inside"
    lengths = [edge * PER_INCH[shown] for edge in printed]
    numbers = [decimal(edge) if exact else rounded(float(edge), 2) for edge in lengths]
    return (f"{numbers[0]} {shown}", f"{numbers[1]} {shown}")


def measured_lengths(width: int, height: int, ppi: float, unit: str, places: int = 3) -> str:
    """Return what pixels measure at a resolution: `20.997 × 29.7 cm`."""
    per = {"cm": CM_PER_INCH, "mm": CM_PER_INCH * 10}.get(unit, Fraction(1))
    edges = " × ".join(rounded(edge / ppi * float(per), places) for edge in (width, height))
    return f"{edges} {unit if unit in ('cm', 'mm') else 'in'}"


def _turned_words(size: Size, output: Pixels) -> str:
    """Return the words for a shape that lies the other way than it is written."""
    output = printed_pixels(size, output)
    written: tuple[Fraction, Fraction] | Pixels | None = whole_shape(size).ratio or written_pixels(
        size
    )
    if size.border is not None:
        written = print_pixels(size)
    if written is None or (written[0] - written[1]) * (output[0] - output[1]) >= 0:
        return ""
    return f", turned {'wide' if output[0] > output[1] else 'tall'}"


def tally_sentence(lying: Lying, scale: float, *, copied: bool) -> str:
    """Return the arithmetic from photo to file in one line."""
    size, extent, crop = lying.size, lying.extent, lying.crop
    W, H = output = lying.asked
    on_plane = isinstance(lying.surface, Squared)
    squared = "four corners squared up to " if on_plane else ""
    wider = max(crop.width - extent[0], crop.height - extent[1]) > 0
    cut = f"cut to {rounded(crop.width)} × {rounded(crop.height)}"
    if (crop.width, crop.height) == extent:
        cut = "kept whole"
    elif wider and on_plane:
        cut = f"with what is around it, {rounded(crop.width)} × {rounded(crop.height)}"
    elif wider and size.differ == "extend":
        cut = f"extended to {rounded(crop.width)} × {rounded(crop.height)}"
    elif size.differ == "extend" and leaves_hairline(size, extent, lying.proportions, crop.angle):
        cut += " so that no hairline of ground is left"
    if crop.angle:
        cut = f"turned {rounded(crop.angle, 2)}°, {cut}"
    across, along = W / crop.width, H / crop.height
    step = scale_words(scale)
    if copied:
        step = "copied pixel for pixel"
    elif abs(across / along - 1) > 0.001:
        step = f"{scale_words(across)} across and {scale_words(along)} down"
    lengths = output_lengths(size, output)
    physical = (
        "" if lengths is None or size.ppi is None else f": {lengths} at {decimal(size.ppi)} ppi"
    )
    pixels = f"{W} × {H} px"
    if size.border is not None:
        wide, high = printed_pixels(size, output)
        pixels += f", with {size.border.words} it is {wide} × {high} px"
    ratio = shape_words(*face_of(size, output)) + _turned_words(size, output)
    shaped = () if size.outline is None else (size.outline.words,)
    if size.panels is not None:
        panels, (wide, high) = panels_on(size, output)
        shaped = (f"cut in {panels.count} panels of {wide} × {high} px{panels.lie}",)
    extra = "".join(f", {words}" for words in (*shaped, *extra_words(size, output)))
    return (
        f"{squared}{extent[0]} × {extent[1]} px, {cut} ({ratio}), {step}, makes {pixels}{physical}{extra}, "
        f"{FORMATS[size.file.format].a_file}"
        f"{'' if size.file.profile == 'keep' else f' in {profile_words(size.file)}'}."
    )
