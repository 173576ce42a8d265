"""Packages that are loaded when something of them is first used: a command starts with what it needs."""

from __future__ import annotations

import sys
from importlib import import_module
from types import ModuleType
from typing import Any

from typing_extensions import override


class _Later(ModuleType):
    """Stands for a package until something of it is asked for, which loads it.

    The loader that Python brings for this loads at the second `import` already.
    """

    @override
    def __getattr__(self, name: str) -> Any:
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        real = import_module(self.__name__)
        self.__dict__.update(vars(real))
        return getattr(real, name)


def load_later(*names: str) -> None:
    """Have packages loaded when they are first used, or when a part of them is imported."""
    for name in names:
        sys.modules.setdefault(name, _Later(name))
