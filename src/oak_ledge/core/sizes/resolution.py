"""Two operations that look alike: relabel keeps the pixels, resample keeps the physical size."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Length, Measure, Pixels, length_words
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.sizes.checks import check_ppi
from oak_ledge.core.sizes.geometry import panel_pixels
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.size import Size, size_from


def relabelled(
    size: Size,
    output: Pixels,
    ppi: Fraction | None = None,
    width: Length | None = None,
    height: Length | None = None,
) -> Size:
    """Return the size of the same pixels at another resolution, or as large as is said.

    Parameters
    ----------
    size : the size at work
    output : the output's pixels, which stay; those of one panel, where it has some
    ppi, width, height : one of them; width or height of the whole output

    Raises
    ------
    SizeError
        If none or several are given, or what is given cannot be.

    Examples
    --------
    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> from oak_ledge.core.sizes.text.write import write_size
    >>> from oak_ledge.core.measures.lengths import read_length
    >>> write_size(relabelled(read_size("8x10in@300"), (2400, 3000), width=read_length("12in")))
    '12x15in@200'
    """
    if [ppi, width, height].count(None) != 2:
        msg = "to relabel, say one of ppi, width and height"
        raise SizeError(msg)
    for length, pixels in ((width, output[0]), (height, output[1])):
        if length is not None:
            if length.inches <= 0:
                msg = f"{length_words(length)} must be greater than 0"
                raise SizeError(msg)
            ppi = pixels / length.inches
    assert ppi is not None
    check_ppi(ppi)
    changes: dict[str, object] = {"ppi": ppi}
    if size.ppi is not None:
        longer = size.ppi / ppi
        changes |= {
            name: Length(length.amount * longer, length.unit)
            for name in ("bleed", "wrap")
            if (length := getattr(size, name)) is not None
        }
        changes["shape"] = size.shape.longer(longer)
        changes |= _edges(size, lambda side: _times(side, longer) if side.unit != "px" else side)
    return _checked(size, changes)


def resampled(size: Size, output: Pixels, ppi: Fraction) -> Size:
    """Return the size of the same physical lengths at another resolution.

    Where a size counts in pixels its lengths are written down in inches first; a percentage
    becomes another one.

    Raises
    ------
    SizeError
        If the size has no resolution, so that it has no physical size to keep.

    Examples
    --------
    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> from oak_ledge.core.sizes.text.write import write_size
    >>> write_size(resampled(read_size("8x10in@300"), (2400, 3000), Fraction(240)))
    '8x10in@240'
    >>> write_size(resampled(read_size("100%@300"), (3600, 2400), Fraction(240)))
    '80%@240'
    """
    if size.ppi is None:
        msg = "this size has no resolution of its own, so there is no print size to keep. Relabel first"
        raise SizeError(msg)
    check_ppi(ppi)
    shape, was = size.shape.at_share(ppi / size.ppi) or size.shape.in_inches(size.ppi), size.ppi

    def as_length(side: Measure) -> Measure:
        return Measure(side.inches(was), "in") if side.unit == "px" else side

    edges = _edges(size, as_length)
    if shape is not None:
        return _checked(size, {"ppi": ppi, "shape": shape, **edges})
    exact = ExactShape(width=output[0] / size.ppi, height=output[1] / size.ppi, unit="in")
    edges = _edges(size, as_length, output)
    return _checked(size, {"ppi": ppi, "shape": exact, "turn": "fixed", **edges})


def as_seen(size: Size, output: Pixels, scale: float | Fraction) -> Size:
    """Return the size that makes `scale` times as many pixels: as many as are seen on a screen.

    A print keeps its lengths and its resolution follows, so that its width comes out to the pixel.

    Raises
    ------
    SizeError
        If the size is a window, which is never scaled.

    Examples
    --------
    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> from oak_ledge.core.sizes.text.write import write_size
    >>> write_size(as_seen(read_size("8x10in@300"), (2400, 3000), 0.2))
    '8x10in@60'
    >>> write_size(as_seen(read_size("40%"), (1440, 960), 0.5))
    '20%'
    >>> write_size(as_seen(read_size("1200x1600px"), (1200, 1600), 0.333))
    '400x533px'
    """
    shape = size.shape
    if shape.whole_pixels:
        msg = "a window is never scaled; lay the photo on a size in pixels instead"
        raise SizeError(msg)
    width, height = (max(1, halves_up(edge * scale)) for edge in output)
    if shape.share is not None:
        times = scale  # exact where it is asked for by number, not seen
        if not isinstance(scale, Fraction):
            percent = (100 * shape.share * Fraction(width, output[0])).limit_denominator(1000)
            times = percent / 100 / shape.share
        return _checked(size, {"shape": shape.at_share(Fraction(times))})
    if shape.measured_in not in (None, "px"):
        assert size.ppi is not None
        return resampled(size, output, size.ppi * Fraction(width, output[0]))
    exact = ExactShape(width=Fraction(width), height=Fraction(height), unit="px")
    fewer = Fraction(width, output[0])
    edges = _edges(size, lambda side: _times(side, fewer) if side.unit == "px" else side, output)
    return _checked(size, {"shape": exact, "turn": "fixed", **edges})


def _edges(
    size: Size, side: Callable[[Measure], Measure], output: Pixels | None = None
) -> dict[str, object]:
    """Return border and panels of a size with their lengths and pixels otherwise.

    Where a size's edges are written anew as `output` lies, its panels are turned as they are.
    """
    changes: dict[str, object] = {}
    if size.border is not None:
        changes["border"] = size.border.changed(side)
    if size.panels is not None:
        between = {name: getattr(size.panels, name) for name in ("overlap", "gap")}
        fixed = output is not None and size.shape.both_edges
        turned = fixed and output != panel_pixels(size)
        panels = size.panels.turned if turned else size.panels
        changes["panels"] = panels.model_copy(
            update={name: None if part is None else side(part) for name, part in between.items()}
        )
    return changes


def _times(side: Measure, factor: Fraction) -> Measure:
    """Return a length, or pixels in whole ones, so many times as long."""
    amount = side.amount * factor
    return Measure(Fraction(halves_up(amount)) if side.unit == "px" else amount, side.unit)


def _checked(size: Size, changes: dict[str, object]) -> Size:
    return size_from(dict(size) | changes)
