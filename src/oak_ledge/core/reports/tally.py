"""The arithmetic from photo to file (rules, section 3: what is reported always)."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.placements.fit import largest_width
from oak_ledge.core.placements.lying import Lying, squared_up
from oak_ledge.core.planes.matrices import local_steps
from oak_ledge.core.planes.points import rectangle
from oak_ledge.core.planes.polygons import area, beyond_line, common
from oak_ledge.core.planes.surface import Squared, Surface
from oak_ledge.core.reports.sentence import tally_sentence
from oak_ledge.core.sizes.geometry import seen_inches
from oak_ledge.core.sizes.hidden_edges import as_printed, floats_of, printed_inches


class TrimmedSides(BaseModel):
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
    trimmed_sides: TrimmedSides
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


def tally(lying: Lying) -> Tally:
    """Compute the whole tally of a placement, from photo pixels to the file."""
    size, surface, placement = lying.size, lying.surface, lying.placement
    (W, H), crop = lying.asked, lying.crop
    pw, ph = surface.extent
    scale = W / crop.width
    if size.dot != 1 or placement.stretch != 1:
        scale = max(scale, H / crop.height)
    if isinstance(surface, Squared):  # seen at an angle: where it is enlarged most
        scale = 1 / float(local_steps(surface.onto @ crop.matrix((W, H)), (W, H)).min())
    stretch, unsure = placement.stretch - 1, 1.0
    if placement.fit_corners and isinstance(surface, Squared):
        true = squared_up(placement, surface.photo)
        stretch, unsure = placement.stretch * pw / ph / true.ratio - 1, true.uncertain
    across, along = ratio = lying.proportions
    largest = largest_width(surface.extent, ratio)
    trimmed, uncovered, sides = _shares(crop, surface)
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
        printed=floats_of(printed_inches(size, (W, H))),
        seen=floats_of(as_printed(size, seen_inches(size), (W, H))),
        squared=placement.corners is not None,
        copied=copied,
        unsure=unsure,
        sentence=tally_sentence(lying, scale, copied=copied),
    )


def _shares(crop: Crop, surface: Surface) -> tuple[float, float, TrimmedSides]:
    """Return shares: what is trimmed of the photo, uncovered of the crop, beyond each edge's line."""
    pw, ph = surface.photo
    whole, photo = crop.width * crop.height, pw * ph
    if not crop.angle and not isinstance(surface, Squared):
        inside = _overlap(crop.left, crop.right, pw) * _overlap(crop.top, crop.bottom, ph)
        return (
            _share(1 - inside / photo),
            _share(1 - inside / whole),
            TrimmedSides(
                left=_share(crop.left / pw),
                top=_share(crop.top / ph),
                right=_share((pw - crop.right) / pw),
                bottom=_share((ph - crop.bottom) / ph),
            ),
        )
    nw, ne, se, sw = surface.to_photo(crop.corners())
    shared = common(rectangle(pw, ph), [nw, ne, se, sw])
    on_crop = surface.from_photo(shared)
    lines = {"top": (nw, ne), "right": (ne, se), "bottom": (se, sw), "left": (sw, nw)}
    beyond = {
        name: _share(area(beyond_line(rectangle(pw, ph), *line)) / photo)
        for name, line in lines.items()
    }
    return (
        _share(1 - area(shared) / photo),
        _share(1 - area(on_crop) / whole),
        TrimmedSides(**beyond),
    )


def trimmed_share(crop: Crop, surface: Surface) -> float:
    """Return the share of a photo, 0 to 1, that lies outside a crop."""
    return _shares(crop, surface)[0]


def _overlap(low: float, high: float, edge: int) -> float:
    return max(0.0, min(high, float(edge)) - max(low, 0.0))


def _dustless(value: float) -> float:
    """Clear float dust below a billionth."""
    return value if abs(value) > 1e-9 else 0.0


def _share(value: float) -> float:
    """Keep a share within 0…1."""
    return min(1.0, max(0.0, _dustless(value)))
