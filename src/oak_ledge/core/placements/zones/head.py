"""The head rule: laying a crop so that a head comes out as tall, and its eyes as high, as a size asks (rules, section 6)."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from itertools import product
from math import atan2, degrees, hypot

from oak_ledge.core.heads.face_points import FacePoints
from oak_ledge.core.heads.head_asked import HeadAsked
from oak_ledge.core.measures.lengths import PER_INCH, Unit
from oak_ledge.core.placements.fit import keep_inside, resized
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.zones.on_surface import in_crop, points_on
from oak_ledge.core.planes.points import Point, rotated
from oak_ledge.core.sizes.size import Size

# Degrees: a head that is tilted further is not turned level, only so far.
MOST_TURN = 45.0

# Of the free height, above the crown, where a size does not say how high the eyes lie.
ABOVE_CROWN = 1 / 3

# Of a range, on either side of its middle, at which a head is tried that its middle leaves no room for.
_TRIES = (0.0, 0.5, -0.5, 1.0, -1.0)

# Photo pixels by which a crop may be moved, and its head be called where it was asked.
_DUST = 1e-6


@dataclass(frozen=True)
class HeadOnPiece:
    """A head as it comes out on its piece.

    `height` is the straight line from crown to chin and `unit` what it is told in, `pixels` that line in output
    pixels; `eye_line` the height of the eyes above the foot as a share of the piece's; `tilt` the degrees by which
    the line of the eyes falls to the right; `aside` how far the eyes' midpoint lies to the right of the middle, as
    a share of the width. `points` are left eye, right eye, chin and crown as shares of the piece from its top left.
    """

    height: float
    unit: Unit
    pixels: float
    eye_line: float
    tilt: float
    aside: float
    points: tuple[Point, Point, Point, Point]


def head_on_piece(lying: Lying, face: FacePoints) -> HeadOnPiece | None:
    """Return a head as it comes out on the piece; None where squared corners put it out of sight."""
    points = face_on(lying, face)
    if points is None:
        return None
    left, right, chin, crown = in_crop(points, lying.crop)
    (wide, high), size = lying.asked, lying.size
    pixels = hypot((crown[0] - chin[0]) * wide, (crown[1] - chin[1]) * high)
    height, unit = head_length(size, pixels)
    across, down = (right[0] - left[0]) * wide, (right[1] - left[1]) * high
    return HeadOnPiece(
        height=height,
        unit=unit,
        pixels=pixels,
        eye_line=1 - (left[1] + right[1]) / 2,
        tilt=_degrees(across, down),
        aside=(left[0] + right[0]) / 2 - 0.5,
        points=(left, right, chin, crown),
    )


def head_length(size: Size, pixels: float) -> tuple[float, Unit]:
    """Return output pixels in the unit a size asks its head in, else in its own; pixels without a resolution."""
    unit = size.head.low.unit if size.head is not None else size.shape.measured_in or "px"
    if unit == "px" or size.ppi is None:
        return pixels, "px"
    return pixels / float(size.ppi) * float(PER_INCH[unit]), unit


def head_pixels(size: Size, amount: float | Fraction, unit: Unit) -> float:
    """Return a head's height in output pixels."""
    if unit == "px" or size.ppi is None:
        return float(amount)
    return float(amount) / float(PER_INCH[unit]) * float(size.ppi)


def laid_by_head(
    lying: Lying,
    face: FacePoints,
    *,
    pixels: float | None = None,
    eye_line: float | None = None,
) -> Lying:
    """Lay a crop by a head: eyes level, their midpoint in the middle, the head in its range.

    The head becomes `pixels` tall on the piece, or the middle of what the size asks, and the eyes lie at the share
    `eye_line` above the foot, or in the middle of what it asks; where it asks nothing, a third of the free height is
    above the crown. The crop slides, then shrinks, to stay inside the photo. Where that would miss what is asked, and
    another head within both ranges would not, that one is taken. Where squared corners put the head out of sight
    nothing moves.
    """
    head = lying.size.head
    wanted = _by_head(
        lying, face, _asked_pixels(lying.size, pixels), _asked_eyes(lying.size, eye_line)
    )
    first = keep_inside(wanted)
    if pixels is not None or eye_line is not None or head is None or is_as_asked(first, face):
        return first
    eyes = lying.size.eyes
    heights = _TRIES if head.low != head.high else _TRIES[:1]
    lifts = _TRIES if eyes is not None and eyes.low != eyes.high else _TRIES[:1]
    for share, lift in sorted(product(heights, lifts), key=lambda at: at[0] ** 2 + at[1] ** 2):
        other = _by_head(
            lying, face, _within(lying.size, head, share), _eyes_within(lying.size, lift)
        )
        if _is_same(other, keep_inside(other)):
            return other
    return first


def is_as_asked(lying: Lying, face: FacePoints) -> bool:
    """Return whether head and eyes come out within what their size allows."""
    head, asked, eyes = head_on_piece(lying, face), lying.size.head, lying.size.eyes
    if head is None or asked is None:
        return False
    low, high = asked.allowed()
    if not low - _DUST <= head.height <= high + _DUST:
        return False
    if eyes is None:
        return True
    low, high = eyes.allowed()
    return low - _DUST <= head.eye_line * 100 <= high + _DUST


def face_on(lying: Lying, face: FacePoints) -> list[Point] | None:
    """Return a face on a crop's surface: the eye that is left there, the right one, chin and crown."""
    points = points_on(lying.surface, face.points)
    if points is None:
        return None
    left, right, *axis = points
    return [right, left, *axis] if lying.surface.mirror else points


def _by_head(lying: Lying, face: FacePoints, pixels: float, eye_line: float | None) -> Lying:
    points = face_on(lying, face)
    if points is None:
        return lying
    left, right, chin, crown = points
    angle = min(max(_degrees(right[0] - left[0], right[1] - left[1]), -MOST_TURN), MOST_TURN)
    tall = hypot(crown[0] - chin[0], crown[1] - chin[1])
    wide = lying.asked[0]
    turned = lying.changed(angle=angle, before_levelling=None, former=None)
    sized = resized(turned, wide * tall / pixels)
    high = sized.crop.height
    eyes = ((left[0] + right[0]) / 2, (left[1] + right[1]) / 2)
    if eye_line is None:
        over, under = (_down(eyes, point, angle) for point in (crown, chin))
        top = ABOVE_CROWN * (high - (under - over))
        below = top - over - high / 2  # of the crop's middle, the eyes
    else:
        below = (0.5 - eye_line) * high
    dx, dy = rotated(0.0, -below, angle)
    return sized.changed(cx=eyes[0] + dx, cy=eyes[1] + dy)


def _down(eyes: Point, point: Point, angle: float) -> float:
    """Return how far a point lies below the eyes along a crop's own edge."""
    return rotated(point[0] - eyes[0], point[1] - eyes[1], -angle)[1]


def _degrees(across: float, down: float) -> float:
    return degrees(atan2(down, across))


def _asked_pixels(size: Size, pixels: float | None) -> float:
    if pixels is not None:
        return pixels
    assert size.head is not None  # or nothing would be asked
    middle = size.head.middle
    return head_pixels(size, middle.amount, middle.unit)


def _asked_eyes(size: Size, eye_line: float | None) -> float | None:
    if eye_line is not None:
        return eye_line
    return None if size.eyes is None else float(size.eyes.middle / 100)


def _within(size: Size, head: HeadAsked, share: float) -> float:
    middle, half = float(head.middle.amount), float(head.high.amount - head.low.amount) / 2
    return head_pixels(size, middle + share * half, head.low.unit)


def _eyes_within(size: Size, share: float) -> float | None:
    if size.eyes is None:
        return None
    half = float(size.eyes.high - size.eyes.low) / 2
    return (float(size.eyes.middle) + share * half) / 100


def _is_same(wanted: Lying, kept: Lying) -> bool:
    before, after = wanted.placement, kept.placement
    return all(
        abs(a - b) <= _DUST
        for a, b in (
            (before.cx, after.cx),
            (before.cy, after.cy),
            (before.width, after.width),
        )
    )
