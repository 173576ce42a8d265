"""A chain of segments moved onto the edge it follows, and the curve through it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from oak_ledge.core.pixels.lines.rim_line import Curve, Floats
from oak_ledge.core.pixels.lines.segments import Chain, Doubles

# Pixels to either side that the edge is looked for, and the step between.
_ACROSS, _STEP = 4.0, 0.5

# Of the usual gradient along it: where there is less, the edge isn't there.
_LEAST_GRADIENT = 0.35

# Degrees a line may turn beyond the rim.
_MOST_TURN = 22.0


@dataclass(frozen=True)
class Gradients:
    """Slopes of a blurred grey picture, in levels per pixel."""

    across: Floats
    down: Floats

    @classmethod
    def of(cls, light: Floats, sigma: float) -> Gradients:
        """Measure a grey picture, (H, W), blurred by `sigma` pixels."""
        soft = cv2.GaussianBlur(light.astype(np.float32), (0, 0), sigma)
        return cls(
            cv2.Sobel(soft, cv2.CV_32F, 1, 0, ksize=3, scale=1 / 8),
            cv2.Sobel(soft, cv2.CV_32F, 0, 1, ksize=3, scale=1 / 8),
        )

    def along(self, xs: Floats, ys: Floats, normals: tuple[Floats, Floats]) -> Floats:
        """Return slopes in a direction, at places between pixels."""
        at = (xs.astype(np.float32), ys.astype(np.float32))
        across, down = (
            cv2.remap(slope, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
            for slope in (self.across, self.down)
        )
        slopes: Floats = across * normals[0] + down * normals[1]
        return slopes


@dataclass(frozen=True)
class Edge:
    """Points of an edge, (n, 2) as x, y; levels across it, signed; the gradient at each point."""

    points: Doubles
    contrast: float
    gradients: Floats


def on_edge(gradients: Gradients, chain: Chain, wide: int, scale: float = 1) -> Edge | None:
    """Move each point of a chain to the greatest gradient across it, `scale` pixels being one."""
    points, tangents = chain.points()
    normals = np.stack(
        [-tangents[:, 1], tangents[:, 0]], 1
    )  # downwards, for a tangent to the right
    offsets = np.arange(-_ACROSS, _ACROSS + 0.01, _STEP) * scale
    xs = points[:, :1] + normals[:, :1] * offsets
    ys = points[:, 1:] + normals[:, 1:] * offsets
    slopes = gradients.along(xs, ys, (normals[:, :1], normals[:, 1:]))
    middle = len(offsets) // 2
    sign = float(np.sign(np.median(slopes[:, middle]))) or 1.0
    slopes = slopes * sign
    peak = slopes[:, 1:-1].argmax(1) + 1
    rows = np.arange(len(peak))
    before, at, after = slopes[rows, peak - 1], slopes[rows, peak], slopes[rows, peak + 1]
    between = np.clip(
        0.5 * (before - after) / np.minimum(before - 2 * at + after, -1e-3), -0.5, 0.5
    )
    moved = offsets[peak] + between * _STEP * scale
    there = (
        (at > _LEAST_GRADIENT * np.median(at)) & (xs[:, middle] > 2) & (xs[:, middle] < wide - 2)
    )
    if not there.any():
        return None
    edge = points + normals * moved[:, None]
    return Edge(edge[there], sign * float(np.median(at[there])), at[there])


# What bends too much to be followed is as ragged as this.
_UNFOLLOWED = 9.0


def curve_through(points: Doubles, wide: int, beyond: int) -> Curve:
    """Fit a straight or gently bent line, the nearer the rim the heavier, x counted from the rim.

    Bent only where that misses by a quarter less, the bend is four standard errors, and it turns
    little over the `beyond` pixels it goes on.
    """
    x, y = points[:, 0] - wide, points[:, 1]
    reach = max(20.0, -float(x.min()))
    straight, _ = _fit(x, y, reach, 1)
    bent, error = _fit(x, y, reach, 2)
    turn = abs(np.arctan(bent.slope + 2 * bent.bend * beyond) - np.arctan(bent.slope))
    errors = abs(bent.bend) / max(error, 1e-12)
    gentle = turn < np.deg2rad(_MOST_TURN)
    if bent.ragged < 0.75 * straight.ragged and errors > 4 and reach > 0.3 * beyond and gentle:
        return bent
    if errors > 6 and straight.ragged > 1.2 and not gentle:
        return Curve(straight.at, straight.slope, straight.bend, _UNFOLLOWED)
    return straight


def _fit(x: Doubles, y: Doubles, reach: float, degree: int) -> tuple[Curve, float]:
    """Fit by least squares that count stray points little; with the bend's standard error."""
    near = np.exp(x / (0.8 * reach))
    powers = np.stack([(x / reach) ** n for n in range(degree + 1)], 1)

    def solved(weights: Doubles) -> tuple[Doubles, Doubles, Doubles]:
        normal = (powers * weights[:, None]).T @ powers + 1e-9 * np.eye(degree + 1)
        factors = np.asarray(np.linalg.solve(normal, (powers * weights[:, None]).T @ y))
        return normal, factors, y - powers @ factors

    def weighed(miss: Doubles) -> Doubles:
        usual = max(0.25, 1.4826 * float(np.median(np.abs(miss))))
        weights: Doubles = near / (1 + (miss / (2.5 * usual)) ** 2) ** 2
        return weights

    normal, factors, miss = solved(near)
    for _ in range(5):
        normal, factors, miss = solved(weighed(miss))
    weights = weighed(miss)
    ragged = float(np.sqrt((weights * miss * miss).sum() / weights.sum()))
    # neighbours are not independent: four times the variance
    spread = np.linalg.inv(normal) * max(ragged, 0.15) ** 2 * 4
    bend = float(factors[2]) / reach**2 if degree == 2 else 0.0
    error = float(np.sqrt(spread[2, 2])) / reach**2 if degree == 2 else 0.0
    return Curve(float(factors[0]), float(factors[1]) / reach, bend, ragged), error
