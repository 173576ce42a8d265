"""Where a photo lies on a size. What moves it is in `gestures`."""

from __future__ import annotations
