"""Sizes that go together, as they rest."""

from __future__ import annotations

from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value


class Several(Value):
    """Sizes in the order they were asked for."""

    sizes: tuple[Size, ...]
