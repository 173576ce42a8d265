"""Files made: asked for, queued, made, followed."""

from __future__ import annotations
