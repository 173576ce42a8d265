"""The arithmetic from photo to file (rules, section 3: what is reported always)."""

from __future__ import annotations

from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.frames import Inches
from oak_ledge.core.geometry import (
    area,
    beyond_line,
    common,
    local_steps,
    rectangle,
)
from oak_ledge.core.placements import (
    Crop,
    Placement,
    asked_pixels,
    crop_of,
    face_of,
    largest_width,
    leaves_hairline,
    proportions,
    squared_up,
)
from oak_ledge.core.planes import Plane, mapped
from oak_ledge.core.size_text import FORMAT_WORDS, extra_words, profile_words
from oak_ledge.core.sizes import (
    ExactShape,
    RatioShape,
    Size,
    inches,
    margin,
    seen_inches,
    unit_of,
    written_pixels,
)
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
    """output pixels per photo pixel, the larger of across and along"""
    real_ppi: float | None
    trimmed: float
    trimmed_sides: Sides
    uncovered: float
    stretch: float
    kept: float
    """crop ÷ largest crop of its shape, by area; squared up, of what the corners go round"""
    shape_cost: float
    """share of the photo that the shape itself trims, at its largest"""
    printed: tuple[float, float] | None
    """inches of the print, bleed and wrap not counted; None without a resolution"""
    seen: tuple[float, float] | None
    """inches of the print that lip or mat leave to be seen; None without a frame"""
    squared: bool
    """True where four corners are squared up; `scale` is then that of what is enlarged most"""
    copied: bool
    """True where pixels are copied, not resampled"""
    unsure: float
    """within what factor `stretch` is known, where four corners were made to fit; 1 elsewhere"""
    sentence: str


def tally(size: Size, held: Pixels, placement: Placement) -> Tally:
    """Compute the whole tally of a placement, from `held` photo pixels to the file."""
    W, H = asked_pixels(size, held, placement)
    crop = crop_of(size, held, placement)
    pw, ph = held
    scale = W / crop.width
    if size.dot != 1 or placement.stretch != 1:
        scale = max(scale, H / crop.height)
    if isinstance(held, Plane):  # seen at an angle: where it is enlarged most
        scale = 1 / float(local_steps(held.onto @ crop.matrix((W, H)), (W, H)).min())
    stretch, unsure = placement.stretch - 1, 1.0
    if isinstance(held, Plane) and placement.fit_corners:
        true = squared_up(placement, held.photo)
        stretch, unsure = placement.stretch * held[0] / held[1] / true.ratio - 1, true.uncertain
    across, along = ratio = proportions(size, held, placement)
    largest = largest_width(held, ratio)
    trimmed, uncovered, sides = _shares(crop, held)
    copied = (
        (crop.width == W and crop.height == H and not crop.angle and placement.corners is None)
        and crop.left.is_integer()
        and crop.top.is_integer()
    )
    return Tally(
        width=W,
        height=H,
        ppi=None if size.ppi is None else float(size.ppi),
        crop=crop.box,
        scale=scale,
        real_ppi=None if size.ppi is None else float(size.ppi) / scale,
        trimmed=trimmed,
        trimmed_sides=sides,
        uncovered=uncovered,
        stretch=_dustless(stretch),
        kept=min(1.0, (crop.width / largest) ** 2),
        shape_cost=(
            0.0
            if size.differ == "extend"
            else _share(1 - largest * (largest * along / across) / (pw * ph))
        ),
        printed=_floats(printed_inches(size, (W, H))),
        seen=_floats(as_turned(seen_inches(size), (W, H))),
        squared=placement.corners is not None,
        copied=copied,
        unsure=unsure,
        sentence=_sentence(size, held, placement, (W, H), scale, copied=copied),
    )


def _shares(crop: Crop, held: Pixels) -> tuple[float, float, Sides]:
    """Give shares: what is trimmed of the photo, uncovered of the crop, beyond each edge's line."""
    plane = held if isinstance(held, Plane) else None
    pw, ph = held if plane is None else plane.photo
    whole, photo = crop.width * crop.height, pw * ph
    if not crop.angle and plane is None:
        inside = _overlap(crop.left, crop.right, pw) * _overlap(crop.top, crop.bottom, ph)
        return (
            _share(1 - inside / photo),
            _share(1 - inside / whole),
            Sides(
                left=_share(crop.left / pw),
                top=_share(crop.top / ph),
                right=_share((pw - crop.right) / pw),
                bottom=_share((ph - crop.bottom) / ph),
            ),
        )
    corners = crop.corners()
    nw, ne, se, sw = corners if plane is None else mapped(plane.onto, corners)
    shared = common(rectangle(pw, ph), [nw, ne, se, sw])
    on_crop = shared if plane is None else mapped(plane.back, shared)
    lines = {"top": (nw, ne), "right": (ne, se), "bottom": (se, sw), "left": (sw, nw)}
    beyond = {
        name: _share(area(beyond_line(rectangle(pw, ph), *line)) / photo)
        for name, line in lines.items()
    }
    return _share(1 - area(shared) / photo), _share(1 - area(on_crop) / whole), Sides(**beyond)


def trimmed_share(crop: Crop, held: Pixels) -> float:
    """Give the share of a photo, 0 to 1, that lies outside a crop."""
    return _shares(crop, held)[0]


def printed_inches(size: Size, asked: Pixels) -> Inches | None:
    """Give the inches of the print, turned as the output is; None without a resolution.

    Where a size fixes lengths these are its own, else what the pixels measure.
    """
    if size.ppi is None:
        return None
    written = None if size.differ == "inside" else inches(size)
    return as_turned(written, asked) or (asked[0] / size.ppi, asked[1] / size.ppi)


def insets(size: Size, asked: Pixels) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Give how far in from the file's edges print and seen part begin, as shares across and along.

    None where the file is the print and all of it will be seen.
    """
    printed, seen = printed_inches(size, asked), as_turned(seen_inches(size), asked)
    if printed is None or (seen is None and not margin(size)):
        return None
    more = margin(size)
    file = [edge + 2 * more for edge in printed]
    seen = seen or printed
    across, along = ((whole - part) / 2 / whole for whole, part in zip(file, seen, strict=True))
    return (float(more / file[0]), float(more / file[1])), (float(across), float(along))


def as_turned(lengths: Inches | None, asked: Pixels) -> Inches | None:
    """Give lengths turned wide or tall as the output is."""
    if lengths is None:
        return None
    turned = (lengths[0] - lengths[1]) * (asked[0] - asked[1]) < 0
    return (lengths[1], lengths[0]) if turned else lengths


def _floats(lengths: Inches | None) -> tuple[float, float] | None:
    return None if lengths is None else (float(lengths[0]), float(lengths[1]))


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
    printed = printed_inches(size, asked)
    if printed is None:
        return (f"{asked[0]} px", f"{asked[1]} px")
    unit = unit_of(size.shape)
    shown: Unit = "in" if unit in (None, "px") else unit
    exact = isinstance(size.shape, ExactShape) and shown == unit and size.differ != "inside"
    lengths = [edge * PER_INCH[shown] for edge in printed]
    told = [plain(edge) if exact else rounded(float(edge), 2) for edge in lengths]
    return (f"{told[0]} {shown}", f"{told[1]} {shown}")


def measured_lengths(width: int, height: int, ppi: float, unit: str, places: int = 3) -> str:
    """Say what pixels measure at a resolution: `20.997 × 29.7 cm`."""
    per = {"cm": CM_PER_INCH, "mm": CM_PER_INCH * 10}.get(unit, Fraction(1))
    edges = " × ".join(rounded(edge / ppi * float(per), places) for edge in (width, height))
    return f"{edges} {unit if unit in ('cm', 'mm') else 'in'}"


def _turned_words(size: Size, asked: Pixels) -> str:
    """Say that the shape lies the other way than it is written."""
    if isinstance(size.shape, RatioShape):
        written: tuple[Fraction, Fraction] | Pixels | None = (size.shape.across, size.shape.along)
    else:
        written = written_pixels(size)
    if written is None or (written[0] - written[1]) * (asked[0] - asked[1]) >= 0:
        return ""
    return f", turned {'wide' if asked[0] > asked[1] else 'tall'}"


def _sentence(
    size: Size, held: Pixels, placement: Placement, asked: Pixels, scale: float, *, copied: bool
) -> str:
    (W, H), crop = asked, crop_of(size, held, placement)
    squared = "four corners squared up to " if placement.corners else ""
    cut = f"cut to {rounded(crop.width)} × {rounded(crop.height)}"
    if (crop.width, crop.height) == held:
        cut = "kept whole"
    elif max(crop.width - held[0], crop.height - held[1]) > 0 and isinstance(held, Plane):
        cut = f"with what is around it, {rounded(crop.width)} × {rounded(crop.height)}"
    elif max(crop.width - held[0], crop.height - held[1]) > 0 and size.differ == "extend":
        cut = f"extended to {rounded(crop.width)} × {rounded(crop.height)}"
    elif size.differ == "extend" and leaves_hairline(
        size, held, proportions(size, held, placement), crop.angle
    ):
        cut += " so that no hairline of ground is left"
    if crop.angle:
        cut = f"turned {rounded(crop.angle, 2)}°, {cut}"
    across, along = W / crop.width, H / crop.height
    step = f"×{rounded(scale, 3)}"
    if copied:
        step = "copied pixel for pixel"
    elif abs(across / along - 1) > 0.001:
        step = f"×{rounded(across, 3)} across and ×{rounded(along, 3)} down"
    lengths = output_lengths(size, asked)
    physical = (
        "" if lengths is None or size.ppi is None else f": {lengths} at {plain(size.ppi)} ppi"
    )
    ratio = shape_words(*face_of(size, asked)) + _turned_words(size, asked)
    extra = "".join(f", {words}" for words in extra_words(size, asked))
    return (
        f"{squared}{held[0]} × {held[1]} px, {cut} ({ratio}), {step}, makes {W} × {H} px{physical}{extra}, "
        f"{'an' if size.file.format == 'avif' else 'a'} {FORMAT_WORDS[size.file.format]}"
        f"{'' if size.file.profile == 'keep' else f' in {profile_words(size.file)}'}."
    )
