"""Things cut out of made-up tables whose true edge is known: python benchmarks/cut_out.py.

Prints for each how far the edge lies from the truth, in photo pixels: what nine tenths of it are
within, and what 95 in 100 are; then the time of one at 24 megapixels against decoding it.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from time import perf_counter

import cv2
import numpy as np

from oak_ledge.core.photos.retouches import Retouch
from oak_ledge.core.pixels.cut_out.cut_out import cut_out

W, H = 3000, 2000
Y, X = np.mgrid[0:H, 0:W].astype(np.float32)
LIGHT, GREY, DARK = (238, 238, 236), (170, 172, 175), (70, 68, 66)


def cloudy(sigma, amount, seed):
    noise = np.random.default_rng(seed).normal(0, 1, (H // 4, W // 4)).astype(np.float32)
    noise = cv2.GaussianBlur(noise, (0, 0), sigma / 4)
    return cv2.resize(noise / noise.std(), (W, H), interpolation=cv2.INTER_CUBIC) * amount


def plain(colour, seed):
    lit = 1 + 0.15 * ((X / W - 0.5) * np.cos(seed) + (Y / H - 0.5) * np.sin(seed))
    return np.array(colour, np.float32) * lit[..., None] + cloudy(60, 2, seed)[..., None]


def wood(colour, seed):
    bend = cloudy(200, 40, seed)
    grain = np.sin((Y + bend * 3) / 23) + 0.6 * np.sin((Y + bend * 5) / 7.3)
    return np.array(colour, np.float32) + (grain * 14)[..., None] * np.array(
        [1, 0.8, 0.6], np.float32
    )


def stones(seed):
    rng = np.random.default_rng(seed)
    points = np.ones((H, W), np.uint8)
    points[rng.integers(0, H, 9000), rng.integers(0, W, 9000)] = 0
    far, labels = cv2.distanceTransformWithLabels(
        points, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    tones = rng.uniform(60, 190, labels.max() + 1).astype(np.float32)
    return np.repeat((tones[labels] - far * 2)[..., None], 3, axis=2)


def blades(seed):
    rng, out = np.random.default_rng(seed), np.full((H, W), 70, np.uint8)
    for _ in range(30_000):
        x, y, turn = rng.integers(0, W), rng.integers(0, H), rng.uniform(0, 6.3)
        end = (int(x + 60 * np.cos(turn)), int(y + 60 * np.sin(turn)))
        cv2.line(out, (int(x), int(y)), end, int(rng.integers(50, 200)), 3, cv2.LINE_AA)
    return np.repeat(out.astype(np.float32)[..., None], 3, axis=2)


def lamps(seed):
    rng, out = np.random.default_rng(seed), np.full((H, W, 3), (60, 55, 75), np.float32)
    for _ in range(60):
        colour = np.array([255, rng.uniform(150, 230), rng.uniform(80, 160)]) * rng.uniform(0.4, 1)
        at = (int(rng.integers(0, W)), int(rng.integers(0, H)))
        cv2.circle(out, at, int(rng.integers(30, 110)), tuple(colour), -1)
    return cv2.GaussianBlur(out, (0, 0), 25)


def filled(*polygons, without=()):
    drawn = np.zeros((2 * H, 2 * W), np.uint8)
    for polygon, tone in [*((one, 255) for one in polygons), *((one, 0) for one in without)]:
        cv2.fillPoly(drawn, [np.rint(np.array(polygon) * 32).astype(np.int32)], tone, cv2.LINE_8, 4)
    return cv2.resize(drawn, (W, H), interpolation=cv2.INTER_AREA).astype(np.float32) / 255


def round_(cx, cy, a, b):
    turns = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    return np.stack([cx + a * np.cos(turns), cy + b * np.sin(turns)], axis=1)


def ball(colour):
    u, v = (X - 1500) / 520, (Y - 1050) / 520
    lit = 0.25 + 0.8 * np.clip(
        0.7 * np.sqrt(np.clip(1 - u * u - v * v, 0, 1)) - 0.4 * u - 0.6 * v, 0, None
    )
    glint = 200 * np.exp(-((u + 0.35) ** 2 + (v + 0.4) ** 2) / 0.02)
    return filled(round_(1500, 1050, 520, 520)), np.array(colour, np.float32) * lit[
        ..., None
    ] + glint[..., None]


def vase(colour, stripes=0):
    t = np.linspace(0, 1, 200)
    r = 420 * (
        0.45
        + 0.55 * np.sin(np.pi * (t * 0.85 + 0.08)) ** 1.3
        - 0.25 * np.exp(-(((t - 0.12) / 0.06) ** 2))
    )
    y = 380 + 1250 * t
    shares = filled(
        np.concatenate([np.stack([1500 + r, y], 1), np.stack([1500 - r[::-1], y[::-1]], 1)])
    )
    down = np.clip((Y - 380) / 1250, 0, 1)
    u = np.clip((X - 1500) / np.interp(down, t, r), -1, 1)
    tones = (
        np.array(colour, np.float32)
        * (0.35 + 0.75 * np.clip(0.8 * np.sqrt(1 - u * u) - 0.5 * u, 0, None))[..., None]
    )
    return shares, tones * (1 - 0.35 * (np.sin(down * stripes) > 0.6))[..., None]


def mug(colour):
    body = [[1030, 570], [1870, 570], [1840, 1482], [1786, 1530], [1114, 1530], [1060, 1482]]
    handle, gap = round_(1891, 1050, 231, 298), round_(1891, 1050, 151, 202)
    shares = np.maximum(filled(body, round_(1450, 570, 420, 92)), filled(handle, without=[gap]))
    u = np.clip((X - 1450) / 420, -1, 1.7)
    lit = 0.4 + 0.6 * np.clip(np.sqrt(np.clip(1 - u * u, 0, 1)) - 0.3 * u, 0.1, 1)
    inside = filled(round_(1450, 570, 378, 71))[..., None]
    return shares, np.array(colour, np.float32) * lit[..., None] * (1 - inside) + np.array(
        [70, 45, 30]
    ) * inside


def star(colour, count):
    turns, far = (
        np.arange(2 * count) * np.pi / count - np.pi / 2,
        np.where(np.arange(2 * count) % 2, 270, 640),
    )
    shares = filled(np.stack([1500 + far * np.cos(turns), 1000 + far * np.sin(turns)], 1))
    return shares, np.array(colour, np.float32) * (
        0.75 + 0.25 * np.cos(np.arctan2(Y - 1000, X - 1500) * count)
    )[..., None]


def box(colour):
    lines = 1 + 0.5 * ((X % 90 < 8) | (Y % 60 < 8))
    shares = filled([[900, 600], [2000, 500], [2150, 1500], [1000, 1450]])
    return shares, np.array(colour, np.float32) * lines[..., None]


def scenes() -> Iterator[tuple[str, np.ndarray, np.ndarray]]:
    soft, hard, none = (60, 70, 50, 0.45), (20, 25, 25, 0.5), None
    for n, (name, ground, (shares, tones), shade) in enumerate([
        ("ball, white table", plain(LIGHT, 1), ball((70, 150, 110)), soft),
        ("vase, white table", plain(LIGHT, 2), vase((60, 90, 160)), soft),
        ("mug, grey table", plain(GREY, 3), mug((190, 60, 50)), soft),
        ("white mug, pale table", plain((205, 206, 208), 4), mug((245, 243, 240)), soft),
        ("star, grey table", plain(GREY, 5), star((215, 170, 60), 5), soft),
        ("box, white table", plain(LIGHT, 6), box((95, 92, 90)), soft),
        ("brown vase, dark table", plain(DARK, 7), vase((95, 60, 45)), soft),
        ("ball, wood", wood((150, 105, 65), 8), ball((70, 150, 170)), soft),
        ("mug, wood", wood((150, 105, 65), 9), mug((230, 228, 220)), soft),
        ("striped vase, wood", wood((120, 80, 50), 10), vase((200, 200, 190), 60), soft),
        ("star, wood", wood((120, 80, 50), 11), star((225, 222, 210), 6), hard),
        ("pale star, blades", blades(12), star((230, 225, 215), 6), hard),
        ("vase, blades", blades(13), vase((170, 60, 140)), hard),
        ("ball, blades", blades(14), ball((190, 160, 60)), soft),
        ("ball, stones", stones(15), ball((190, 70, 60)), soft),
        ("mug, stones", stones(16), mug((60, 110, 160)), soft),
        ("green box, stones", stones(17), box((60, 120, 60)), soft),
        ("mug, lamps out of focus", lamps(18), mug((60, 110, 160)), none),
        ("vase, lamps out of focus", lamps(19), vase((225, 215, 195), 40), none),
        ("star, lamps out of focus", lamps(20), star((200, 60, 70), 7), none),
    ]):  # fmt: skip
        photo = ground
        if shade:
            dx, dy, sigma, much = shade
            photo = (
                photo
                * (1 - much * cv2.GaussianBlur(np.roll(shares, (dy, dx), (0, 1)), (0, 0), sigma))[
                    ..., None
                ]
            )
        photo = photo * (1 - shares[..., None]) + tones * shares[..., None]
        photo = cv2.GaussianBlur(photo, (0, 0), 0.9) + np.random.default_rng(n).normal(
            0, 2.5, photo.shape
        )
        yield name, np.clip(photo, 0, 255).astype(np.uint8), cv2.GaussianBlur(shares, (0, 0), 0.9)


def around(true):
    ys, xs = np.nonzero(true)
    left, top, right, bottom = (float(v) for v in (xs.min(), ys.min(), xs.max(), ys.max()))
    return Retouch(
        kind="cut_out", polygons=(((left, top), (right, top), (right, bottom), (left, bottom)),)
    )


def edge_of(mask):
    return mask & (cv2.erode(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) == 0)


def away(made, true):
    far = []
    for one, other in ((made, true), (true, made)):
        far.append(
            cv2.distanceTransform((~edge_of(one)).astype(np.uint8), cv2.DIST_L2, 5)[edge_of(other)]
        )
    return np.percentile(np.concatenate(far), (90, 95))


def main() -> None:
    within = np.zeros(2, int)
    for name, photo, shares in scenes():
        true = shares > 0.5
        patch = cut_out(photo, around(true)).patch
        made = np.zeros(true.shape, np.bool_)
        there = patch.pixels[..., -1] > 127
        made[patch.top : patch.top + there.shape[0], patch.left : patch.left + there.shape[1]] = (
            there
        )
        far = away(made, true)
        within += far <= 2
        print(f"{name:26s} nine tenths within {far[0]:6.1f} px, 95 % within {far[1]:6.1f} px")
    print(f"within 2 px: nine tenths of the edge of {within[0]} of 20, 95 % of it of {within[1]}")
    large = cv2.resize(photo, (6000, 4000), interpolation=cv2.INTER_CUBIC)
    written = cv2.imencode(".jpg", large)[1]
    times = []
    for do in (
        lambda: cv2.imdecode(written, cv2.IMREAD_COLOR),
        lambda: cut_out(large, around(cv2.resize(shares, (6000, 4000)) > 0.5)),
    ):
        begun = perf_counter()
        do()
        times.append(perf_counter() - begun)
    print(f"24 megapixels: {times[1]:.1f} s, {times[1] / times[0]:.0f} × its decoding")


if __name__ == "__main__":
    sys.exit(main())
