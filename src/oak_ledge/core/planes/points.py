"""Points and steps, rotated; y down, a positive angle turns clockwise as seen."""

from __future__ import annotations

from math import cos, radians, sin

Point = tuple[float, float]


def turn_of(angle: float) -> tuple[float, float]:
    """Return cosine and sine of an angle in degrees, exact at quarter turns."""
    quarters, rest = divmod(angle, 90)
    c, s = (cos(radians(rest)), sin(radians(rest))) if rest else (1.0, 0.0)
    for _ in range(int(quarters) % 4):
        c, s = -s, c
    return c, s


def rotated(dx: float, dy: float, angle: float) -> Point:
    """Rotate a step by an angle: along a crop's own edges → on the photo."""
    c, s = turn_of(angle)
    return c * dx - s * dy, s * dx + c * dy


def extent_at(angle: float, width: float, height: float) -> tuple[float, float]:
    """Return width and height of the upright box around a rectangle turned by an angle."""
    c, s = (abs(part) for part in turn_of(angle))
    return width * c + height * s, width * s + height * c


def rectangle(width: float, height: float) -> list[Point]:
    """Return the corners of [0, width] × [0, height], clockwise from top left."""
    return [(0.0, 0.0), (float(width), 0.0), (float(width), float(height)), (0.0, float(height))]
