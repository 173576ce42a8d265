"""Look into a photo: its subject, its colours, its detail, what its files weigh."""

from __future__ import annotations
