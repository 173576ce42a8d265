"""The demo: a made-up harbour town holds an evening of paper lanterns."""

from __future__ import annotations
