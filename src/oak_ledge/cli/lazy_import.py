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

    def __init__(self, name: str, function: str) -> None:
        super().__init__(name)
        self._function = function
        if function:
            setattr(self, function, partial(self._call, function))

    @override
    def __getattr__(self, name: str) -> Any:
        if name == "__path__" and self._function:
            raise AttributeError(name)
        real = self._real()
        self.__dict__.update(vars(real))
        return getattr(real, name)

    def _real(self) -> ModuleType:
        if sys.modules.get(self.__name__) is self:
            del sys.modules[self.__name__]
        return import_module(self.__name__)

    def _call(self, function: str, *arguments: Any, **named: Any) -> Any:
        return getattr(self._real(), function)(*arguments, **named)


def load_later(*names: str) -> None:
    """Put off loading packages until they are first used, or a part of them is imported.

    Some modules import one function of a package and may never call it. Write that as
    `package:function`: the function is handed out, and the package is loaded when it is called.
    """
    for name in names:
        package, _, function = name.partition(":")
        sys.modules.setdefault(package, _Later(package, function))


def never_load(name: str) -> None:
    """Make imports of a package fail in this process as if it were not installed, unless it is loaded."""
    sys.modules.setdefault(name, None)  # type: ignore[arg-type]  # None is how Python marks that
