"""Where the subject of a photo probably is, and how sure that is.

What stands out differs from what lies along the border (Wei, Wen, Zhu & Sun, *Geodesic saliency
using background priors*, ECCV 2012), from the picture's average (Achanta, Hemami, Estrada & Süsstrunk,
*Frequency-tuned salient region detection*, CVPR 2009), from its own surroundings at several scales,
or is sharp where the rest is not. A measure counts by how much it is gathered in few places. Of the
regions that stand out the one is taken that holds most and hangs together; what is spread over all of
the picture is no subject.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import pyvips

from oak_ledge.core.pixels.subject.shares import Shares
from oak_ledge.core.values import Value

# Pixels looked at along the longer edge.
SUBJECT_EDGE = 160


# Of the longer edge; tones told apart along it.
BORDER, TONES = 0.04, 6


# Of the longer edge: what is smaller is grain; measures are as smooth.
FINE, GRAIN = 0.006, 0.008


# Of the longer edge: surroundings.
AROUND = (0.03, 0.07, 0.14)


# How far from the middle, as a standard deviation in shares of the edge.
MIDDLE = 0.5


# How much a measure may count.
MOST_GATHERED = 7.0


# Times the mean: what stands out less counts for nothing.
USUAL = 1.25


# Between the usual and the most: where regions are cut off.
LEVELS = (0.3, 0.4, 0.5, 0.62)


# The same, for what hangs on to the region taken.
COMPLETED = (0.22, 0.16)


# Times its area at most, when it is completed.
GROWS = 1.2


# Of the picture.
SMALLEST_SUBJECT, LARGEST_SUBJECT = 0.0012, 0.6


# Less sure than that nothing is said to be found.
SURE = 0.35


# How sure a thing is that is alone vivid, or alone sharp.
ALONE = 0.7


# Of a region's weight a box holds along either axis: stalks and strings end outside.
HELD = 0.985


# Of the longer edge is left around.
SUBJECT_ROOM = 0.012


Floats = npt.NDArray[Any]


class Subject(Value):
    """A subject: a box as shares of the picture's edges, and how sure it is, 0 to 1."""

    left: float
    top: float
    width: float
    height: float
    sure: float


@dataclass(frozen=True)
class _Box:
    """Pixels from x0, y0 up to x1, y1."""

    x0: int
    y0: int
    x1: int
    y1: int

    @property
    def area(self) -> int:
        return (self.x1 - self.x0) * (self.y1 - self.y0)

    def of(self, pixels: Floats) -> Floats:
        part: Floats = pixels[self.y0 : self.y1, self.x0 : self.x1]
        return part


def find_subject(path: Path) -> Subject | None:
    """Find the subject of an upright picture; None where nothing stands out surely enough.

    A small vivid thing beside what stands out is the subject; what alone is sharp is it where nothing
    else is, and completes it where all else is out of focus.
    """
    from oak_ledge.core.pixels.subject.in_focus import FOCUS_EDGE, find_in_focus
    from oak_ledge.core.pixels.subject.vivid import find_vivid

    pixels, larger = (_small(path, edge) for edge in (SUBJECT_EDGE, FOCUS_EDGE))
    if min(pixels.shape[:2]) < 8 or pixels.std() < 1:
        return None
    high, wide = larger.shape[:2]
    found = _standing_out_most(pixels)
    vivid = find_vivid(pixels)
    if vivid is not None and (found is None or not vivid.within(found[0]).area):
        return _as_subject(vivid.grown(SUBJECT_ROOM, wide, high), ALONE)
    sharp = find_in_focus(larger)
    if sharp is None:
        return None if found is None else _as_subject(*found)
    box = sharp.box.grown(SUBJECT_ROOM, wide, high)
    if found is None:
        return _as_subject(box, ALONE) if sharp.clear else None
    if sharp.quite and box.within(found[0]).area > 0.5 * min(box.area, found[0].area):
        return _as_subject(box.about(found[0]), found[1])
    return _as_subject(*found)


def _small(path: Path, edge: int) -> Floats:
    image = pyvips.Image.thumbnail(str(path), edge, height=edge, size="down").colourspace("srgb")
    pixels: Floats = image.numpy().reshape(image.height, image.width, -1)[..., :3]
    return np.ascontiguousarray(pixels)


def _as_subject(box: Shares, sure: float) -> Subject:
    return Subject(
        left=box.left,
        top=box.top,
        width=box.right - box.left,
        height=box.bottom - box.top,
        sure=sure,
    )


def _standing_out_most(pixels: Floats) -> tuple[Shares, float] | None:
    """Return the box of what stands out most, and how sure that is; None where nothing does."""
    out = standing_out(pixels)
    excess = np.clip(out - USUAL * out.mean(), 0, None)
    region = _region(out, excess)
    if region is None or (sure := _sureness(out, excess, region)) < SURE:
        return None
    high, wide = out.shape
    room = round(max(high, wide) * SUBJECT_ROOM)
    left, top = max(0, region.x0 - room), max(0, region.y0 - room)
    right, bottom = min(wide, region.x1 + room), min(high, region.y1 + room)
    return Shares(left / wide, top / high, right / wide, bottom / high), sure


def standing_out(pixels: Floats) -> Floats:
    """Return how much every pixel of a small sRGB picture stands out, as (H, W)."""
    import cv2  # here: it takes its time to load, and most files are made without it

    lab = cv2.cvtColor(pixels.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    high, wide = lab.shape[:2]
    edge = max(high, wide)

    def soft(of: Floats, sigma: float) -> Floats:
        return cv2.GaussianBlur(of, (0, 0), sigma * edge)

    fine, light = soft(lab, FINE), lab[..., 0]
    slope = np.hypot(cv2.Sobel(light, cv2.CV_32F, 1, 0), cv2.Sobel(light, cv2.CV_32F, 0, 1))
    measures = [
        _unlike_border(fine, max(2, round(BORDER * edge))),
        np.linalg.norm(fine - fine.reshape(-1, 3).mean(axis=0), axis=-1),
        *(np.linalg.norm(fine - soft(lab, sigma), axis=-1) for sigma in AROUND),
        soft(slope, 0.02),
    ]
    total = np.zeros((high, wide))
    for measure in measures:  # what is the same everywhere says nothing
        blurred = soft(measure, GRAIN)
        mean = float(blurred.mean()) + 1e-6
        gathered = float(np.quantile(blurred, 0.98)) / mean - 1
        total += blurred / mean * min(MOST_GATHERED, max(0.0, gathered))
    y, x = np.mgrid[0:high, 0:wide]
    away = ((x / wide - 0.5) ** 2 + (y / high - 0.5) ** 2) / MIDDLE**2
    excess: Floats = total * np.exp(-away / 2)
    return excess


def _unlike_border(fine: Floats, deep: int) -> Floats:
    """Return the distance of every pixel from the nearest of the tones along the border."""
    import cv2

    sides = (fine[:deep], fine[-deep:], fine[:, :deep], fine[:, -deep:])
    border = np.concatenate([side.reshape(-1, 3) for side in sides]).astype(np.float32)
    cv2.setRNGSeed(1)  # the same picture always gives the same box
    nearest = np.zeros((len(border), 1), np.int32)
    _, _, tones = cv2.kmeans(border, TONES, nearest, (3, 20, 0.5), 1, cv2.KMEANS_PP_CENTERS)
    distance: Floats = np.linalg.norm(fine[:, :, None] - tones[None, None], axis=-1).min(axis=-1)
    return distance


def _region(out: Floats, excess: Floats) -> _Box | None:
    """Find the region that holds most of what stands out and hangs together, completed."""
    if not excess.any():
        return None
    regions = ((box, _worth(excess, mask, box)) for mask, box in _regions(out, excess))
    best = max(regions, key=lambda region: region[1], default=(None, 0.0))[0]
    return None if best is None else _completed(out, best)


def _regions(out: Floats, excess: Floats) -> Iterator[tuple[Floats, _Box]]:
    """Return every region above each of the levels: where it is, and the box about it."""
    import cv2

    high, wide = out.shape
    usual, most = float(np.median(out)), float(np.quantile(out, 0.995))
    across = 2 * max(1, round(max(high, wide) * 0.012)) + 1
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (across, across))
    for level in LEVELS:
        above: Floats = (out > usual + (most - usual) * level).astype(np.uint8)
        above = cv2.morphologyEx(above, cv2.MORPH_CLOSE, round_)
        count, labels, stats, _ = cv2.connectedComponentsWithStats(above, connectivity=8)
        for n in range(1, count):
            mask = labels == n
            weight = np.where(mask, excess, 0)
            if stats[n, cv2.CC_STAT_AREA] < SMALLEST_SUBJECT * out.size or not weight.any():
                continue
            box = _about(weight)
            if box.area <= LARGEST_SUBJECT * out.size and not _is_band(box, wide, high):
                yield mask, box


def _is_band(box: _Box, wide: int, high: int) -> bool:
    """Whether a box goes from one side to the other, as a horizon does."""
    across, along = box.x1 - box.x0, box.y1 - box.y0
    whole = across > 0.94 * wide or along > 0.94 * high
    return whole or (across > 0.8 * wide and across > 5 * along)


def _worth(excess: Floats, mask: Floats, box: _Box) -> float:
    """Weigh a region: what its box holds, how small and full that is, how little it is cut off."""
    high, wide = excess.shape
    held, area = float(box.of(excess).sum() / excess.sum()), box.area / excess.size
    full = float(box.of(mask).mean())
    sides = ((box.x0 <= 0) + (box.x1 >= wide)) * (box.y1 - box.y0) / high
    ends = ((box.y0 <= 0) + (box.y1 >= high)) * (box.x1 - box.x0) / wide
    cut_off = max(0.2, 1 - 0.8 * float(sides + ends))
    small = float((1 - area) ** 1.5)
    return held * small * min(1.0, 0.45 + full) * cut_off


def _completed(out: Floats, box: _Box) -> _Box:
    """Take in what hangs on to a region and stands out less, unless that is much."""
    import cv2

    usual, most = float(np.median(out)), float(np.quantile(out, 0.995))
    for level in COMPLETED:
        low = usual + (most - usual) * level
        count, labels, _, _ = cv2.connectedComponentsWithStats((out > low).astype(np.uint8))
        within = np.bincount(box.of(labels).ravel(), minlength=count)
        within[0] = 0
        if not within.any():
            continue
        more = _about(np.where(labels == int(within.argmax()), np.clip(out - low, 0, None), 0))
        grown = _Box(
            min(more.x0, box.x0), min(more.y0, box.y0), max(more.x1, box.x1), max(more.y1, box.y1)
        )
        if grown.area <= GROWS * box.area:
            box = grown
    return box


def _about(weight: Floats) -> _Box:
    """Return the box that holds nearly all of a weight along either axis."""
    (x0, x1), (y0, y1) = (_span(weight.sum(axis=axis)) for axis in (0, 1))
    return _Box(x0, y0, x1, y1)


def _span(weights: Floats) -> tuple[int, int]:
    shares = np.cumsum(weights) / weights.sum()
    left_out = (1 - HELD) / 2
    first, last = np.searchsorted(shares, (left_out, 1 - left_out))
    return int(first), min(len(weights), int(last) + 1)


def _sureness(out: Floats, excess: Floats, box: _Box) -> float:
    """Return how sure a subject is: how much of what stands out it holds, and how it stands out."""
    area = box.area / out.size
    held = float(box.of(excess).sum() / excess.sum())
    inside, outside = (
        float(box.of(out).mean()),
        float((out.sum() - box.of(out).sum()) / (out.size - box.area)),
    )
    clear = min(1.0, max(0.0, (inside / max(outside, 1e-9) - 1) / 1.6))
    return float(min(1.0, held * 1.15 * (1 - area) ** 0.5 * clear))
