"""Continued grounds and what is painted over: how they meet the photo, what they cost.

python -m benchmarks.scene [--quick] : figures per photo, then the costs at 24 megapixels.
"""

from __future__ import annotations

import resource
import subprocess
import sys

import cv2
import numpy as np
from tests.known_scenes import KNOWN, continued, ends, leans

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.pixels.ground.continued import draw_ground, grid_of, looked, solve_ground
from oak_ledge.core.pixels.ground.structure import structure_of
from oak_ledge.core.pixels.process_setup import settle_process
from oak_ledge.core.pixels.retouch.paint_over import paint_over
from oak_ledge.core.pixels.scene_maker import Maker
from oak_ledge.core.pixels.tries.ranking import by_way, differ
from oak_ledge.demo.fill import PHOTOS

SIDES = {  # photo: shares of its edges that are continued at the left, top, right and bottom
    "lighthouse": (0.25, 0, 0, 0), "quay-lanterns": (0, 0, 0.25, 0), "harbour-wall": (0, 0.25, 0, 0),
    "lantern-pole": (0.2, 0, 0.2, 0), "paper-boat": (0.2, 0, 0.2, 0), "glass-float": (0.25, 0, 0, 0),
    "market-stall": (0, 0, 0.2, 0), "framed-chart": (0, 0, 0.25, 0),
}  # fmt: skip
HORIZONS = {"lighthouse": (0.7, 0.92), "sea": (0.1, 0.9)}  # between which heights one is looked for
WINDOW = 60  # columns over which an edge is looked for
BESIDE = 48  # photo pixels beside the seam that are compared


def cpu() -> float:
    used = resource.getrusage(resource.RUSAGE_SELF)
    return used.ru_utime + used.ru_stime


def light(pixels: np.ndarray) -> np.ndarray:
    return cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY).astype(np.float32)


def ground_of(photo: np.ndarray, sides: tuple[float, ...], attempt: int = 1) -> Continued:
    high, wide = photo.shape[:2]
    left, top, right, bottom = (round(s * e) for s, e in zip(sides, (wide, high) * 2, strict=True))
    return Continued(box=(-left, -top, wide + right, high + bottom), attempt=attempt)


def canvas_of(photo: np.ndarray, ground: Continued) -> tuple[np.ndarray, float, object]:
    structure = structure_of(photo, ground.box)
    even = structure.even(photo)
    grid = grid_of(even, ground, structure)
    solved = solve_ground(even, ground, grid, structure)
    left, top = ground.box[:2]
    high, wide = photo.shape[:2]
    out = np.zeros((ground.edges[1], ground.edges[0], 3), photo.dtype)
    out[-top : high - top, -left : wide - left] = photo
    for patch in draw_ground(photo, ground, grid, solved, structure):
        rows, columns = patch.pixels.shape[:2]
        at = (patch.top - top, patch.left - left)
        out[at[0] : at[0] + rows, at[1] : at[1] + columns] = patch.pixels
    return out, 0.0, looked(solved, grid)


def from_side(canvas: np.ndarray, ground: Continued, photo: np.ndarray, side: str) -> np.ndarray:
    """Turn a canvas so that its ground lies left of the photo, which begins at column `at`."""
    left, top = ground.box[:2]
    high, wide = photo.shape[:2]
    if side in ("left", "right"):
        part = canvas[-top : high - top]
        return part if side == "left" else part[:, ::-1]
    part = canvas[:, -left : wide - left].swapaxes(0, 1)
    return part if side == "top" else part[:, ::-1]


def measures(turned: np.ndarray, at: int) -> tuple[float, float]:
    """Give the seam's step against the photo's own beside it, and the ground's detail against its."""
    grey = light(np.ascontiguousarray(turned))
    steps = np.abs(np.diff(grey, axis=1)).mean(axis=0)
    seam = steps[at - 1] / max(0.3, steps[at + 2 : at + BESIDE].mean())
    fine = np.abs(grey - cv2.GaussianBlur(grey, (0, 0), 1.2))
    detail = fine[:, max(0, at - BESIDE) : at - 1].mean() / max(
        0.05, fine[:, at + 1 : at + BESIDE].mean()
    )
    return float(seam), float(detail)


def horizon(turned: np.ndarray, at: int, within: tuple[float, float]) -> float:
    """Give how far the strongest edge of the ground lies from where the photo's leads, of the height.

    A horizon that is held aslant goes on aslant: its way in the photo is drawn out.
    """
    grey = cv2.GaussianBlur(light(np.ascontiguousarray(turned)), (0, 0), 6)
    high = grey.shape[0]
    low, up = (round(share * high) for share in within)

    def rows(columns: np.ndarray) -> np.ndarray:
        parts = [grey[low:up, column : column + WINDOW].mean(axis=1) for column in columns]
        return np.array([float(np.argmax(np.abs(np.diff(part)))) for part in parts])

    inside = np.arange(at + 20, at + 20 + 5 * WINDOW, WINDOW)
    beyond = np.arange(0, at - 20 - WINDOW, WINDOW)
    way = np.polyfit(inside, rows(inside), 1)
    return float(np.abs(rows(beyond) - np.polyval(way, beyond)).mean()) / high


def sea(height: float, seed: int) -> np.ndarray:
    """Draw a made-up sea under a sky, its horizon at a share of the height."""
    rng = np.random.default_rng(seed)
    high, wide = 1200, 1800
    down = np.linspace(0, 1, high)[:, None]
    sky = np.stack([150 + 60 * down, 170 + 50 * down, 200 + 20 * down], -1) * np.ones((1, wide, 1))
    waves = cv2.GaussianBlur(rng.normal(0, 90, (high, wide)), (0, 0), 9, sigmaY=2)
    water = np.stack([40 + waves, 70 + waves, 90 + waves], -1)
    picture = np.where((down > height)[..., None], water, sky) + rng.normal(0, 2.5, (high, wide, 1))
    return np.clip(picture, 0, 255).astype(np.uint8)


def figures(quick: bool) -> None:
    print(
        "photo            try    seam  detail  horizon  CPU s   order; least difference of those kept"
    )
    photos = {name: Maker(PHOTOS / f"{name}.jpg").photo for name in SIDES}
    photos |= {f"sea {h:.2f}": sea(h, n) for n, h in enumerate((0.3, 0.5, 0.7))}
    for name, photo in list(photos.items())[: 3 if quick else None]:
        sides = SIDES.get(name, (0.25, 0, 0, 0))
        looks = []
        for attempt in (1, 2, 3, 4):
            ground = ground_of(photo, sides, attempt)
            begun = cpu()
            canvas, _, seen = canvas_of(photo, ground)
            took = cpu() - begun
            looks.append(seen)
            left, top = ground.box[:2]
            inside = canvas[-top : photo.shape[0] - top, -left : photo.shape[1] - left]
            assert np.array_equal(inside, photo)
            side = ("left", "top", "right", "bottom")[int(np.flatnonzero(sides)[0])]
            reach = [-left, -top, ground.box[2] - photo.shape[1], ground.box[3] - photo.shape[0]]
            at = reach[("left", "top", "right", "bottom").index(side)]
            turned = from_side(canvas, ground, photo, side)
            seam, detail = measures(turned, at)
            within = HORIZONS.get(name.split()[0])
            level = f"{100 * horizon(turned, at, within):6.2f} %" if within else "       -"
            print(f"{name:16} {attempt}    {seam:6.2f}  {detail:6.2f} {level}   {took:5.1f}")
        kept = by_way(looks)
        pairs = [differ(looks[a], looks[b]) for a in kept for b in kept if a < b]
        print(f"{'':16} order {[n + 1 for n in kept]}, {min(pairs, default=0):.1f} levels")


def truths() -> None:
    """Continue scenes whose continuation is known, to both sides, and say how far off lines end."""
    print("scene          side   try  lines  worst end  contrast       leans apart")
    for name, scene_of in KNOWN.items():
        for side, attempt in (("right", 1), ("left", 2), ("bottom", 3)):
            scene = scene_of()
            made, _ = continued(scene.photo, side, attempt)
            inside, beyond = leans(made)
            lean = abs((beyond - inside + 90) % 180 - 90)
            found = ends(scene, made) if scene.lines else []
            told = "      -          -               "
            if found:
                contrasts = [contrast for _, contrast, _ in found]
                worst = max(abs(off) for off, _, _ in found)
                told = f"{len(found):7}  {worst:6.2f} px  {min(contrasts):.2f} to {max(contrasts):.2f} x "
            print(f"{name:14} {side:6} {attempt:3} {told}    {lean:6.1f} degrees")


def costs() -> None:
    """Measure in a process of its own: what is beyond the decoded photo is its own."""
    settle_process()
    base = Maker(PHOTOS / "lighthouse.jpg").photo
    photo = cv2.resize(base, (6000, 4000), interpolation=cv2.INTER_CUBIC)
    del base
    import patchmatch  # noqa: F401 - loaded before memory is counted

    peak = lambda: resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024  # noqa: E731
    before = peak()
    whole = first = 0.0
    for attempt in (1, 2, 3, 4):
        ground = ground_of(photo, (0.25, 0, 0, 0), attempt)
        begun = cpu()
        structure = structure_of(photo, ground.box)
        even = structure.even(photo)
        grid = grid_of(even, ground, structure)
        solved = solve_ground(even, ground, grid, structure)
        looked(solved, grid)
        whole += cpu() - begun
        first = first or whole
    print(
        f"24 megapixels, +25 %: four tries at working size {whole:.1f} CPU s, the first {first:.1f}"
    )
    begun = cpu()
    patches = draw_ground(photo, ground, grid, solved, structure)
    print(
        f"one of them at full size {cpu() - begun:.1f} CPU s, {peak() - before:.0f} MB beyond the photo"
    )
    again_solved = solve_ground(even, ground, grid, structure_of(photo, ground.box))
    again = draw_ground(photo, ground, grid, again_solved, structure)
    same = all(np.array_equal(a.pixels, b.pixels) for a, b in zip(patches, again, strict=True))
    print(f"the same call gives the same pixels: {same}")
    begun = cpu()
    circle = {"points": ((3900, 2400),), "radius": (0.02 * 24e6 / np.pi) ** 0.5}
    for attempt in (1, 2, 3, 4):
        begun = cpu()
        paint_over(photo, Retouch(kind="paint_over", strokes=(circle,), attempt=attempt))
        print(f"painting over 2 %, try {attempt}: {cpu() - begun:.1f} CPU s")


if __name__ == "__main__":
    if "--costs" in sys.argv:
        costs()
    else:
        figures("--quick" in sys.argv)
        truths()
        subprocess.run([sys.executable, "-m", "benchmarks.scene", "--costs"], check=True)
