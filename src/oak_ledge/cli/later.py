"""Packages that are loaded when something of them is first used: a command starts with what it needs."""

from __future__ import annotations

import sys
from functools import partial
from importlib import import_module
from types import ModuleType
from typing import Any

from typing_extensions import override


class _Later(ModuleType):
    """Stands for a package until something of it is asked for, which loads it.

    The loader that Python brings for this loads at the second `import` already.
    """

    _function = ""

    @override
    def __getattr__(self, name: str) -> Any:
        if name == "__path__" and self._function:
            raise AttributeError(name)
        self.__dict__.update(vars(self._real()))
        return getattr(self._real(), name)

    def _real(self) -> ModuleType:
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        return import_module(self.__name__)

    def call(self, function: str, *arguments: Any, **named: Any) -> Any:
        """Load the package and call a function of it."""
        return getattr(self._real(), function)(*arguments, **named)


def load_later(*names: str) -> None:
    """Have packages loaded when they are first used, or when a part of them is imported.

    A function that others take out of a package as they are loaded, but may never call, is named behind
    it: `package:function`.
    """
    for name in names:
        package, _, function = name.partition(":")
        later = _Later(package)
        if function:
            later._function = function
            setattr(later, function, partial(later.call, function))
        sys.modules.setdefault(package, later)
