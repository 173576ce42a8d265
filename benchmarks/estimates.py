"""How near the bytes that are estimated before a file is made come to those it has.

Every demo photo and, given a folder, every JPEG in it: whole and in parts, copied, reduced and
enlarged, as JPEG, WebP and PNG. Printed: the ratio of estimate to truth, the worst of each photo,
and how many of all lie within a quarter.
"""

from __future__ import annotations

import sys
from pathlib import Path

from oak_ledge.core.pixels.cut.cut import cut
from oak_ledge.core.pixels.encode.encode import encode
from oak_ledge.core.pixels.open.facts import look_at
from oak_ledge.core.pixels.open.photo import open_photo
from oak_ledge.core.pixels.weight.estimate import estimate, weigh
from oak_ledge.core.placements.crop import Crop
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.demo.fill import PHOTOS

PARTS = ((0, 0, 1, 1), (0, 0, 0.5, 0.5), (0.5, 0.4, 1, 1), (0.25, 0.25, 0.75, 0.75))
WAYS = (
    (1.0, FileSettings()),
    (1.0, FileSettings(quality=75)),
    (0.5, FileSettings()),
    (0.2, FileSettings()),
    (1.4, FileSettings()),
    (0.5, FileSettings(format="webp", quality=80)),
    (0.3, FileSettings(format="webp", quality=92)),
    (0.3, FileSettings(format="avif", quality=70)),
    (0.5, FileSettings(format="png")),
)


def main() -> None:
    paths = sorted(PHOTOS.glob("*.jpg"))
    for folder in sys.argv[1:]:
        paths += sorted(Path(folder).glob("*.jpg"))
    every: dict[str, list[float]] = {}
    for path in paths:
        weights, extent = weigh(path), look_at(path, most_pixels=10**9).upright
        found = []
        for left, top, right, bottom in PARTS:
            crop = Crop(
                round(left * extent[0]), round(top * extent[1]),
                round((right - left) * extent[0]), round((bottom - top) * extent[1]),
            )  # fmt: skip
            part = (left, top, right, bottom)
            for scale, settings in WAYS:
                asked = (round(crop.width * scale), round(crop.height * scale))
                opened = open_photo(path)
                pixels = cut(opened, crop, asked, extent)
                true = len(encode(pixels, settings, None, opened.icc))
                found.append(estimate(weights, asked, scale, settings, part) / true)
                every.setdefault(settings.format, []).append(found[-1])
        print(f"{path.stem:20} {min(found):.2f} to {max(found):.2f}")
    for kind, ratios in every.items():
        near = sum(0.75 <= one <= 1.25 for one in ratios)
        low, high = min(ratios), max(ratios)
        print(f"{kind}: {near} of {len(ratios)} within a quarter, {low:.2f} to {high:.2f}")


if __name__ == "__main__":
    main()
