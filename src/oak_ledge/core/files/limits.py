"""How much is taken in, made and held at once; settings that a hostile or too large file meets."""

from __future__ import annotations

from dataclasses import dataclass

from oak_ledge.core.errors import FileError
from oak_ledge.core.measures.lengths import Pixels


@dataclass(frozen=True)
class Limits:
    """The most of a file brought in, of its pixels, of a file made, and of pixels held decoded.

    `whole_pixels` are those of photos that can only be decoded whole. `held_bytes` are kept while a photo is used for several sizes; a larger one is decoded anew.
    `flight_pixels` are those of photos and files that are worked on at once: a quarter of them is
    for photos that come in, the others for workers. `preview_bytes` are kept of pictures for screens,
    `ground_bytes` of grounds and retouches; above `original_bytes` photos that no job uses go, the oldest first.
    """

    upload_bytes: int = 1_000_000_000
    photo_pixels: int = 300_000_000
    whole_pixels: int = 100_000_000
    output_pixels: int = 500_000_000
    held_bytes: int = 200_000_000
    flight_pixels: int = 400_000_000
    preview_bytes: int = 2_000_000_000
    ground_bytes: int = 2_000_000_000
    original_bytes: int | None = None

    @property
    def incoming_pixels(self) -> int:
        """The most pixels of photos that are looked at at once as they come in."""
        return self.flight_pixels // 4

    @property
    def making_pixels(self) -> int:
        """The most pixels of photos and files that workers hold at once."""
        return self.flight_pixels - self.incoming_pixels


def check_output(output: Pixels, limits: Limits) -> None:
    """Refuse an output larger than this program is set to make.

    Raises
    ------
    FileError
        With how large it is and how large it may be.
    """
    if output[0] * output[1] > limits.output_pixels:
        msg = (
            f"{output[0]} × {output[1]} px is {output[0] * output[1] / 1e6:.0f} megapixels; at most "
            f"{limits.output_pixels / 1e6:.0f} are made (OAK_LEDGE_MOST_OUTPUT_MEGAPIXELS). Ask for "
            "fewer ppi"
        )
        raise FileError(msg)
