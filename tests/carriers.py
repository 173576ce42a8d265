"""Drawn heads of lantern carriers, no one's, each held otherwise: where their points lie is known exactly.

The demo's portraits are these, written once: `python -m tests.carriers FOLDER`.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, replace
from io import BytesIO
from math import cos, radians, sin
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from oak_ledge.core.planes.points import Point

WIDE, HIGH = 1800, 2400

Colour = tuple[int, int, int]

_CLOTH = (168, 178, 184)
_LIP, _MOUTH, _WHITE, _PUPIL = (168, 88, 84), (140, 66, 64), (246, 244, 240), (10, 10, 10)

# Shares of the head's height from its crown and from its middle line: where its points are drawn.
_EYES_DOWN, _EYE_ASIDE = 0.5, 0.165


@dataclass(frozen=True)
class Carrier:
    """A drawn head: its middle and its height from crown to chin in pixels, degrees it leans to the right, its colours."""

    x: float
    y: float
    tall: float
    lean: float
    skin: Colour
    hair: Colour
    coat: Colour

    @property
    def points(self) -> tuple[Point, Point, Point, Point]:
        """Where left eye, right eye, chin and crown are drawn."""
        eyes = _EYES_DOWN - 0.5
        shares = ((-_EYE_ASIDE, eyes), (_EYE_ASIDE, eyes), (0.0, 0.5), (0.0, -0.5))
        c, s = cos(radians(self.lean)), sin(radians(self.lean))
        left, right, chin, crown = (
            (self.x + (c * dx - s * dy) * self.tall, self.y + (s * dx + c * dy) * self.tall)
            for dx, dy in shares
        )
        return left, right, chin, crown


CARRIERS = (
    Carrier(900, 1000, 1000, 0, (222, 172, 140), (74, 50, 38), (44, 72, 80)),
    Carrier(860, 1020, 900, 4, (150, 104, 78), (30, 24, 22), (120, 70, 50)),
    Carrier(980, 960, 1060, -6, (236, 196, 170), (150, 110, 70), (70, 90, 70)),
    Carrier(1420, 980, 940, 5, (118, 80, 60), (24, 20, 20), (60, 70, 110)),
)


def draw_carrier(carrier: Carrier, *, wide: int = WIDE, high: int = HIGH) -> Image.Image:
    """Draw a head and shoulders before a grey cloth, `wide` × `high` pixels."""
    around = (
        round(abs(sin(radians(carrier.lean))) * high) + 2
    )  # that turned corners lie beyond the edges
    upright = Image.new("RGB", (wide + 2 * around, high + 2 * around), _CLOTH)
    placed = replace(carrier, x=carrier.x + around, y=carrier.y + around)
    _Drawn(ImageDraw.Draw(upright), placed).draw()
    soft = upright.filter(ImageFilter.GaussianBlur(0.002 * carrier.tall))
    turned = soft.rotate(
        -carrier.lean, resample=Image.Resampling.BICUBIC, center=(placed.x, placed.y)
    )
    leaning = turned.crop((around, around, around + wide, around + high))
    light = np.linspace(1.05, 0.93, high, dtype=np.float32)[:, None, None]
    return Image.fromarray((np.asarray(leaning, np.float32) * light).clip(0, 255).astype(np.uint8))


def carrier_file(carrier: Carrier) -> bytes:
    """Return a drawn head as a JPEG file."""
    buffer = BytesIO()
    draw_carrier(carrier).save(buffer, "JPEG", quality=92)
    return buffer.getvalue()


@dataclass(frozen=True)
class _Drawn:
    """A head under the pencil; places are shares of its height from the middle of its crown."""

    pencil: ImageDraw.ImageDraw
    of: Carrier

    def draw(self) -> None:
        skin, hair = self.of.skin, self.of.hair
        self.block(0.95, 1.22, 5.0, 0.5, self.of.coat)
        self.block(0.2, 0.8, 1.36, 0.16, _shade(skin, 0.82))
        self.oval(0, 0.42, 0.385, 0.42, hair)
        self.oval(0, 0.56, 0.335, 0.44, skin)
        for side in (-1, 1):
            self.oval(side * 0.34, 0.56, 0.045, 0.085, _shade(skin, 0.88))
        self.pencil.pieslice(self.box(0, 0.31, 0.385, 0.31), 180, 360, fill=hair)
        self.oval(0, 0.37, 0.31, 0.13, skin)
        for side in (-1, 1):
            self.eye(side)
            self.oval(side * 0.22, 0.68, 0.09, 0.07, _shade(skin, 1.04))
        self.nose()
        self.oval(0, 0.8, 0.12, 0.028, _LIP)
        self.oval(0, 0.79, 0.12, 0.014, _MOUTH)
        self.oval(0, 0.93, 0.1, 0.03, _shade(skin, 1.03))

    def eye(self, side: int) -> None:
        x, y, hair = side * _EYE_ASIDE, _EYES_DOWN, self.of.hair
        self.oval(x, y, 0.078, 0.03, _WHITE)
        self.oval(x, y, 0.033, 0.033, _shade(hair, 0.9))
        self.oval(x, y, 0.015, 0.015, _PUPIL)
        self.oval(x - side * 0.008, y - 0.01, 0.006, 0.006, _WHITE)
        self.arc(x, y, 0.085, 0.045, (195, 345), 0.012, _shade(hair, 0.7))
        self.arc(x, y - 0.0475, 0.105, 0.0475, (205, 335), 0.026, _shade(hair, 0.9))

    def nose(self) -> None:
        skin = self.of.skin
        corners = ((-0.03, 0.5), (0.03, 0.5), (0.065, 0.68), (-0.065, 0.68))
        self.pencil.polygon([self.at(*corner) for corner in corners], fill=_shade(skin, 0.95))
        self.oval(0, 0.685, 0.068, 0.024, _shade(skin, 0.86))
        for side in (-1, 1):
            self.oval(side * 0.032, 0.693, 0.014, 0.008, _shade(skin, 0.5))

    def at(self, x: float, y: float) -> Point:
        return self.of.x + x * self.of.tall, self.of.y + (y - 0.5) * self.of.tall

    def box(
        self, x: float, y: float, wide: float, high: float
    ) -> tuple[float, float, float, float]:
        return *self.at(x - wide, y - high), *self.at(x + wide, y + high)

    def oval(self, x: float, y: float, wide: float, high: float, fill: Colour) -> None:
        self.pencil.ellipse(self.box(x, y, wide, high), fill=fill)

    def arc(
        self, x: float, y: float, wide: float, high: float,
        ends: tuple[int, int], width: float, fill: Colour,
    ) -> None:  # fmt: skip
        thick = max(2, int(width * self.of.tall))
        self.pencil.arc(self.box(x, y, wide, high), *ends, fill=fill, width=thick)

    def block(self, wide: float, top: float, foot: float, radius: float, fill: Colour) -> None:
        box = (*self.at(-wide, top), *self.at(wide, foot))
        self.pencil.rounded_rectangle(box, radius=radius * self.of.tall, fill=fill)


def _shade(colour: Colour, times: float) -> Colour:
    red, green, blue = (min(255, max(0, int(band * times))) for band in colour)
    return red, green, blue


if __name__ == "__main__":
    for number, carrier in enumerate(CARRIERS, 1):
        Path(sys.argv[1], f"carrier-{number}.jpg").write_bytes(carrier_file(carrier))
