"""The three networks, read once and run one at a time: a network keeps its place while it looks."""

from __future__ import annotations

import threading
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

# Pixels, points, masks: arrays of any kind.
Grid = NDArray[Any]


MODELS = Path(__file__).parent / "models"

DETECTOR, MESH, PEOPLE = (
    "face_detection_full_range.tflite",
    "face_landmark.tflite",
    "selfie_segmentation.tflite",
)

# Pixels of the square the detector and the mesh look at, and of the one the mask is made in.
LOOK, MASK = 192, 256

_ONE_AT_A_TIME = threading.Lock()


def run(name: str, square: Grid, times: float, less: float = 0.0) -> list[Any]:
    """Run a network on a square RGB picture, its values times `times` less `less`; give its outputs, the smallest first."""
    values = np.ascontiguousarray(
        (square.astype(np.float32) * times - less).transpose(2, 0, 1)[None]
    )
    with _ONE_AT_A_TIME:
        network = _read(name)
        network.setInput(values)
        outputs = network.forward(network.getUnconnectedOutLayersNames())
        return sorted((np.array(output) for output in outputs), key=np.size)


def share(value: Any) -> Any:
    """Return a network's raw sureness as a share of 0…1."""
    return 1 / (1 + np.exp(-np.clip(value, -80, 80)))


@lru_cache(maxsize=3)
def _read(name: str) -> Any:
    import cv2  # here: it takes its time to load

    return cv2.dnn.readNetFromTFLite(str(MODELS / name))
