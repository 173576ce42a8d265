"""How well heads are found: one portrait pasted into other pictures, in three sizes, turned, lit and spoilt.

    python benchmarks/heads.py PORTRAIT.png PICTURE…

PORTRAIT is the picture of 512 × 512 px that image packages ship to try things on (`skimage/data/astronaut.png`); its
outline and its points were set by hand, below. PICTUREs are photographs without a face. Errors are per cent of the
head's height.
"""

from __future__ import annotations

import sys
import tempfile
import time
from math import hypot
from pathlib import Path
from statistics import mean

import numpy as np
from PIL import Image, ImageDraw, ImageEnhance, ImageFilter

from oak_ledge.core.heads.face_points import FacePoints, face_at
from oak_ledge.core.pixels.heads.find import find_heads

POINTS = ((203.5, 101.8), (247.0, 103.6), (223.0, 178.0), (233.0, 15.5))
OUTLINE = (
    (153, 72), (158, 57), (172, 45), (189, 34), (200, 24), (215, 18), (232, 15), (248, 17), (266, 24), (284, 37), (295, 54), (301, 76),
    (301, 95), (292, 113), (282, 125), (273, 136), (266, 150), (257, 162), (256, 178), (262, 182), (300, 200), (330, 240), (120, 240),
    (140, 200), (184, 178), (185, 158), (182, 140), (172, 122), (160, 106), (154, 90),
)  # fmt: skip
EDGE, BROW_TO_CHIN = 1000, 88
SIZES, TURNS = (0.25, 0.12, 0.07), (-12, 12)
MIDDLE = (226, 100)


def cut(portrait: Image.Image) -> Image.Image:
    mask = Image.new("L", portrait.size)
    ImageDraw.Draw(mask).polygon(OUTLINE, fill=255)
    freed = portrait.convert("RGBA")
    freed.putalpha(mask.filter(ImageFilter.GaussianBlur(0.8)))
    return freed


def scene(
    head: Image.Image, ground: Image.Image, share: float, n: int, turn: float
) -> tuple[Image.Image, FacePoints]:
    """Paste the head into a picture; give it, and where its points lie there."""
    larger = EDGE / max(ground.size)
    extent = (round(ground.width * larger), round(ground.height * larger))
    picture = ground.convert("RGB").resize(extent, Image.Resampling.LANCZOS)
    by = share * EDGE / BROW_TO_CHIN
    light = 0.65 + 0.5 * (n * 7 % 16) / 15
    small = ImageEnhance.Brightness(head).enhance(light)
    small = small.resize((round(512 * by), round(512 * by)), Image.Resampling.LANCZOS)
    points = np.array(POINTS) * by
    middle = np.array(MIDDLE) * by
    small = small.rotate(-turn, Image.Resampling.BICUBIC, center=tuple(middle))
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    points = (points - middle) @ np.array([[c, s], [-s, c]]) + middle
    if n % 2:
        small = small.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
        points[:, 0] = small.width - points[:, 0]
        middle[0] = small.width - middle[0]
        points[[0, 1]] = points[[1, 0]]
    at = np.array(picture.size) * (0.35 + 0.3 * ((n * 5) % 7) / 6, 0.5) - middle
    picture.paste(small, tuple(int(edge) for edge in at), small)
    return picture, face_at(tuple(map(tuple, points + at.astype(int))))


def errors(found: FacePoints, truth: FacePoints) -> tuple[float, float, float, float, float]:
    """Eye, chin and crown in per cent of the head, tilt in degrees, and the crown against its ±."""
    tall = truth.height
    eye, other, chin = (
        hypot(a[0] - b[0], a[1] - b[1]) / tall * 100
        for a, b in zip(found.points[:3], truth.points[:3], strict=True)
    )
    down = np.subtract(truth.chin, truth.crown) / tall
    crown = abs(float(np.subtract(found.crown, truth.crown) @ down))
    within = found.found.crown_within if found.found else 0.0
    return (
        (eye + other) / 2,
        chin,
        crown / tall * 100,
        abs(found.tilt - truth.tilt),
        crown / max(within, 1e-6),
    )


def spoilt(head: Image.Image, ground: Image.Image) -> list[tuple[str, Image.Image]]:
    """One face turned and spoilt in 22 ways."""
    plain, truth = scene(head, ground, 0.25, 4, 0)
    cases = [
        (f"turned {turn}°", scene(head, ground, 0.25, 4, turn)[0])
        for turn in (-45, -35, -25, -15, 15, 25, 35, 45)
    ]
    cases += [
        (f"dark ×{light}", ImageEnhance.Brightness(plain).enhance(light))
        for light in (0.5, 0.3, 0.2, 0.1)
    ]
    cases += [
        (f"blur σ {sigma}", plain.filter(ImageFilter.GaussianBlur(sigma))) for sigma in (2, 4, 6)
    ]
    rng = np.random.default_rng(1)
    for sigma in (10, 20, 40):
        noisy = np.asarray(plain, float) + rng.normal(0, sigma, (*plain.size[::-1], 3))
        cases.append((f"noise σ {sigma}", Image.fromarray(noisy.clip(0, 255).astype(np.uint8))))
    (x0, y0), (x1, y1) = truth.left_eye, truth.right_eye
    wide = x1 - x0
    for name, box in (
        ("bar over the eyes", (x0 - wide / 2, y0 - wide / 5, x1 + wide / 2, y1 + wide / 5)),
        ("mouth covered", (x0, y0 + wide, x1, y0 + 1.7 * wide)),
        ("one eye covered", (x0 - wide / 3, y0 - wide / 4, x0 + wide / 3, y0 + wide / 4)),
        ("chin covered", (x0, y0 + 1.6 * wide, x1, y0 + 2.4 * wide)),
    ):
        covered = plain.copy()
        ImageDraw.Draw(covered).rectangle(box, fill=(30, 30, 30))
        cases.append((name, covered))
    return cases


def main(portrait: Path, pictures: list[Path]) -> None:
    head = cut(Image.open(portrait))
    grounds = [Image.open(path) for path in pictures]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "scene.png")

        def found_in(picture: Image.Image) -> tuple[FacePoints, ...]:
            picture.save(path)
            return find_heads(path, picture.size)

        for share in SIZES:
            rows, missed = [], 0
            for n, ground in enumerate(grounds):
                for turn in TURNS:
                    picture, truth = scene(head, ground, share, n, turn)
                    heads = [
                        one
                        for one in found_in(picture)
                        if hypot(*np.subtract(one.eyes, truth.eyes)) < truth.height / 4
                    ]
                    if heads:
                        rows.append(errors(heads[0], truth))
                    else:
                        missed += 1
            eye, chin, crown, tilt, within = (
                np.array(column) for column in zip(*rows, strict=True)
            )
            print(
                f"brow to chin {share:.0%}: found {len(rows)} of {len(rows) + missed}; eye {eye.mean():.2f} (worst {eye.max():.2f}), "
                f"chin {chin.mean():.2f} ({chin.max():.2f}), crown {np.median(crown):.2f} ({crown.max():.2f}), "
                f"tilt {tilt.mean():.2f}° ({tilt.max():.2f}°); crown within its ± {int((within <= 1).sum())} of {len(rows)}"
            )
        cases = spoilt(head, grounds[0])
        lost = [name for name, picture in cases if not found_in(picture)]
        print(
            f"turned or spoilt: {len(cases) - len(lost)} of {len(cases)}; missed: {', '.join(lost) or 'none'}"
        )
        wrong = [
            path_.name
            for path_, picture in zip(pictures, grounds, strict=True)
            if found_in(picture.convert("RGB"))
        ]
        print(
            f"without a face: {len(grounds) - len(wrong)} of {len(grounds)} rightly; {', '.join(wrong)}"
        )
        picture, _ = scene(head, grounds[0], 0.25, 4, 0)
        path = Path(folder, "scene.jpg")
        picture.save(path, quality=88)
        find_heads(path, picture.size)
        times = []
        for _ in range(20):
            begun = time.process_time()
            find_heads(path, picture.size)
            times.append(time.process_time() - begun)
        print(f"one portrait: {mean(times):.2f} s of processor")


if __name__ == "__main__":
    main(Path(sys.argv[1]), [Path(name) for name in sys.argv[2:]])
