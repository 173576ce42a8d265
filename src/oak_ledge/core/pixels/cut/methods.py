"""Resampling kernels and their taps: which photo pixels make an output pixel, and how much."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

import numpy as np

if TYPE_CHECKING:
    import numpy.typing as npt

Floats: TypeAlias = "npt.NDArray[np.float64]"


Method = Literal["mitchell", "bicubic", "lanczos", "nearest"]


def mitchell(x: Floats) -> Floats:
    """Cubic with B = C = 1/3: a little soft, no rims at edges, support 2.

    Mitchell & Netravali, *Reconstruction filters in computer graphics*, SIGGRAPH 1988.
    """
    x = np.abs(x)
    near = (7 * x - 12) * x * x + 16 / 3
    far = ((-7 / 3 * x + 12) * x - 20) * x + 32 / 3
    return np.where(x < 1, near, np.where(x < 2, far, 0.0)) / 6


def bicubic(x: Floats) -> Floats:
    """Catmull-Rom cubic: interpolating, support 2.

    Catmull & Rom, *A class of local interpolating splines*, 1974 (Keys 1981 with a = −½).
    """
    x = np.abs(x)
    near = (1.5 * x - 2.5) * x * x + 1
    far = ((-0.5 * x + 2.5) * x - 4) * x + 2
    return np.where(x < 1, near, np.where(x < 2, far, 0.0))


def lanczos(x: Floats) -> Floats:
    """Lanczos windowed sinc of three lobes, support 3.

    Duchon, *Lanczos filtering in one and two dimensions*, J. Appl. Meteor. 18, 1979. Of the two sines
    one is worked out: sin 3a = sin a · (3 − 4 sin² a).
    """
    third = np.pi / 3 * np.maximum(np.abs(x), 1e-9)
    squared = np.sin(third)
    squared *= squared
    return np.where(third < np.pi, squared * (3 - 4 * squared) / (3 * third * third), 0.0)


KERNELS: dict[Method, tuple[Callable[[Floats], Floats], float]] = {
    "mitchell": (mitchell, 2.0),
    "bicubic": (bicubic, 2.0),
    "lanczos": (lanczos, 3.0),
}


def choose(step: float) -> Method:
    """Choose by scale: Lanczos keeps fine texture when shrinking, bicubic enlarges calmly.

    `step` is photo pixels per output pixel.
    """
    return "lanczos" if step > 1 else "bicubic"


Block: TypeAlias = "tuple[int, int, npt.NDArray[np.float32]]"


Blocks = Sequence[Block]


@dataclass(frozen=True)
class Taps:
    """The weights of one axis, as (first photo pixel, dense weight block) per run of outputs.

    `blocks` holds `(output start, photo start, weights)`, weights (outputs, photo pixels) in
    float32: dense blocks along a band let one matrix product do the work of many short sums.
    """

    outputs: int
    blocks: tuple[Block, ...]


def reached(blocks: Blocks) -> tuple[int, int]:
    """Return the photo pixels that blocks of taps reach: from the first of them to before the last."""
    return (
        min(start for _, start, _ in blocks),
        max(start + block.shape[1] for _, start, block in blocks),
    )


def taps(
    source: int, start: float, extent: float, outputs: int, method: Method, run: int = 16
) -> Taps:
    """Return the weights that resample [start, start + extent] to `outputs` pixels, phase-exact.

    Parameters
    ----------
    source : photo pixels on this axis; beyond its ends the edge pixel counts as repeated
    start, extent : the crop on this axis, in photo pixels (pixel i covers [i, i+1])
    outputs : output pixels, at least 1
    method : the kernel; it is stretched by the step when shrinking, so nothing aliases
    run : outputs that share a dense block, for speed alone

    Notes
    -----
    Output pixel j is centred on start + (j + ½)·extent/outputs; each row of weights sums to 1.
    The nearest method takes the one photo pixel its centre lies in.
    """
    step = extent / outputs
    centres = start + (np.arange(outputs) + 0.5) * step
    if method == "nearest":
        return _nearest(source, centres)
    kernel, support = KERNELS[method]
    stretch = max(1.0, step)
    reach = support * stretch
    first = np.floor(centres - reach).astype(np.int64)
    offsets = np.arange(int(np.ceil(2 * reach)) + 2)
    index = first[:, None] + offsets
    weights = kernel((index + 0.5 - centres[:, None]) / stretch)
    weights /= weights.sum(axis=1, keepdims=True)
    index = np.clip(index, 0, source - 1)
    # One wide table: every row of weights at its place within its block. Pixels beyond the edge
    # count as the edge pixel: their weights are added to its own.
    begins = np.arange(0, outputs, run)
    low = np.minimum.reduceat(index[:, 0], begins)
    high = np.maximum.reduceat(index[:, -1], begins) + 1
    reach_of = int((high - low).max())
    places = index - np.repeat(low, run)[:outputs, None]
    flat = (np.arange(outputs)[:, None] * reach_of + places).ravel()
    table = np.bincount(flat, weights.ravel(), outputs * reach_of).astype(np.float32)
    table = table.reshape(outputs, reach_of)
    blocks = tuple(
        (int(j), int(start), np.asfortranarray(table[j : j + run, : end - start]))
        for j, start, end in zip(begins, low, high, strict=True)
    )
    return Taps(outputs, blocks)


def _nearest(source: int, centres: npt.NDArray[np.floating[Any]]) -> Taps:
    index = np.clip(np.floor(centres).astype(np.int64), 0, source - 1)
    blocks = []
    for j in range(0, len(index), 64):
        part = index[j : j + 64]
        dense = np.zeros((len(part), int(part[-1] - part[0]) + 1), np.float32)
        dense[np.arange(len(part)), part - part[0]] = 1
        blocks.append((j, int(part[0]), dense))
    return Taps(len(index), tuple(blocks))
