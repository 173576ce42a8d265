"""A size: what must come out, all it knows without a photo. How it is read and said is in `text`."""

from __future__ import annotations
