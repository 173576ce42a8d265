"""The arithmetic from photo to file (rules, section 3: what is reported always)."""

from __future__ import annotations

from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.placements import (
    Crop,
    Placement,
    asked_pixels,
    crop_of,
    largest_width,
)
from oak_ledge.core.sizes import ExactShape, Size, unit_of
from oak_ledge.core.units import CM_PER_INCH, PER_INCH, Pixels, Unit, plain, rounded, shape_words


class Sides(BaseModel):
    """Shares (0…1) of the photo beyond each edge's line of the crop."""

    model_config = ConfigDict(frozen=True)

    left: float
    top: float
    right: float
    bottom: float


class Tally(BaseModel):
    """Every figure between a photo and its file. Shares are 0…1, lengths in pixels."""

    model_config = ConfigDict(frozen=True)

    width: int
    height: int
    ppi: float | None
    crop: tuple[float, float, float, float]
    """left, top, width, height in photo pixels"""
    scale: float
    """output pixels per photo pixel"""
    real_ppi: float | None
    trimmed: float
    trimmed_sides: Sides
    uncovered: float
    stretch: float
    kept: float
    """crop ÷ largest crop of its shape, by area"""
    shape_cost: float
    """share of the photo that the shape itself trims, at its largest"""
    copied: bool
    """True where pixels are copied, not resampled"""
    sentence: str


def tally(size: Size, held: Pixels, placement: Placement) -> Tally:
    """Compute the whole tally of a placement, from `held` photo pixels to the file."""
    W, H = asked_pixels(size, held, placement)
    crop = crop_of(size, held, placement)
    pw, ph = held
    scale = W / crop.width
    largest = largest_width(held, (W, H))
    inside = _overlap(crop.left, crop.right, pw) * _overlap(crop.top, crop.bottom, ph)
    area = crop.width * crop.height
    copied = (
        crop.width == W and crop.height == H and crop.left.is_integer() and crop.top.is_integer()
    )
    return Tally(
        width=W,
        height=H,
        ppi=None if size.ppi is None else float(size.ppi),
        crop=(crop.left, crop.top, crop.width, crop.height),
        scale=scale,
        real_ppi=None if size.ppi is None else float(size.ppi) / scale,
        trimmed=_share(1 - inside / (pw * ph)),
        trimmed_sides=Sides(
            left=_share(crop.left / pw),
            top=_share(crop.top / ph),
            right=_share((pw - crop.right) / pw),
            bottom=_share((ph - crop.bottom) / ph),
        ),
        uncovered=_share(1 - inside / area),
        stretch=_dustless((W / crop.width) / (H / crop.height) - 1),
        kept=min(1.0, (crop.width / largest) ** 2),
        shape_cost=_share(1 - largest * (largest * H / W) / (pw * ph)),
        copied=copied,
        sentence=_sentence(size, held, crop, (W, H), scale, copied=copied),
    )


def _overlap(low: float, high: float, edge: int) -> float:
    return max(0.0, min(high, float(edge)) - max(low, 0.0))


def _dustless(value: float) -> float:
    """Clear float dust below a billionth."""
    return value if abs(value) > 1e-9 else 0.0


def _share(value: float) -> float:
    """Keep a share within 0…1."""
    return min(1.0, max(0.0, _dustless(value)))


def output_lengths(size: Size, asked: Pixels) -> str | None:
    """Say the physical size of the output in the size's own unit: `10 × 8 in`.

    None where no resolution is given. What the pixels really measure, by rule 1, may differ
    from the nominal length by half a pixel; the proof says that.
    """
    if size.ppi is None:
        return None
    width, height = output_edges(size, asked)
    return f"{width.rpartition(' ')[0]} × {height}"


def output_edges(size: Size, asked: Pixels) -> tuple[str, str]:
    """Say width and height of the output apart, in the size's own unit: `10 in`, `8 in`."""
    shape, unit = size.shape, unit_of(size.shape)
    if isinstance(shape, ExactShape) and unit != "px":
        edges = (shape.width, shape.height)
        if (edges[0] - edges[1]) * (asked[0] - asked[1]) < 0:
            edges = (edges[1], edges[0])
        return (f"{plain(edges[0])} {unit}", f"{plain(edges[1])} {unit}")
    if size.ppi is None:
        return (f"{asked[0]} px", f"{asked[1]} px")
    shown: Unit = "in" if unit in (None, "px") else unit
    lengths = [rounded(float(edge / size.ppi * PER_INCH[shown]), 2) for edge in asked]
    return (f"{lengths[0]} {shown}", f"{lengths[1]} {shown}")


def measured_lengths(width: int, height: int, ppi: float, unit: str, places: int = 3) -> str:
    """Say what pixels measure at a resolution: `20.997 × 29.7 cm`."""
    per = {"cm": CM_PER_INCH, "mm": CM_PER_INCH * 10}.get(unit, Fraction(1))
    edges = " × ".join(rounded(edge / ppi * float(per), places) for edge in (width, height))
    return f"{edges} {unit if unit in ('cm', 'mm') else 'in'}"


def _sentence(
    size: Size, held: Pixels, crop: Crop, asked: Pixels, scale: float, *, copied: bool
) -> str:
    W, H = asked
    cut = f"cut to {rounded(crop.width)} × {rounded(crop.height)}"
    if (crop.width, crop.height) == held:
        cut = "kept whole"
    step = "copied pixel for pixel" if copied else f"×{rounded(scale, 3)}"
    lengths = output_lengths(size, asked)
    physical = (
        "" if lengths is None or size.ppi is None else f": {lengths} at {plain(size.ppi)} ppi"
    )
    ratio = shape_words(W, H)
    return (
        f"{held[0]} × {held[1]} px, {cut} ({ratio}), {step}, makes {W} × {H} px{physical}, "
        f"a {size.file.format.upper()}."
    )
