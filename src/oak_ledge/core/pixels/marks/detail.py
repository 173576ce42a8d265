"""How much detail a piece has, place by place: what a mark or words had better not lie on."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
import numpy.typing as npt


def detail(pixels: npt.NDArray[Any]) -> npt.NDArray[np.float32]:
    """Return the gradient of lightness at each of (H, W, C) pixels, as a share of white a pixel."""
    bands = pixels.shape[2] - (pixels.shape[2] % 2 == 0)  # without alpha
    lightness = pixels[..., :bands].astype(np.float32).mean(axis=2) / np.iinfo(pixels.dtype).max
    across = cv2.Sobel(lightness, cv2.CV_32F, 1, 0, scale=1 / 8, borderType=cv2.BORDER_REPLICATE)
    down = cv2.Sobel(lightness, cv2.CV_32F, 0, 1, scale=1 / 8, borderType=cv2.BORDER_REPLICATE)
    gradient: npt.NDArray[np.float32] = np.hypot(across, down)
    return gradient
