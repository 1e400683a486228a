"""Libraries that are loaded when they are first used, so that what does without them starts
without them."""

from importlib import import_module
from types import ModuleType
from typing import Any


class _Library(ModuleType):
    """Stands for a library; what was looked up in it once is found like in any module."""

    def __getattr__(self, name: str) -> Any:
        found = getattr(import_module(self.__name__), name)
        setattr(self, name, found)
        return found


def library(name: str) -> Any:
    """The library or module of that name, loaded at the first look into it."""
    return _Library(name)
