"""What is known and said of a photo, without any of its pixels."""

from __future__ import annotations
