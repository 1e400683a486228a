"""Loops over pixels, compiled by numba. It is loaded, and loops become its own, when the first of
them is called: whoever draws no picture does not wait for it."""

import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache, update_wrapper
from importlib import import_module
from typing import Any

# What numba looks for when it begins, to support what none of our loops does: half of its start.
UNUSED = ("scipy", "cffi")
_lock = threading.RLock()
_declared: list["Loop"] = []


class Loop:
    """A function that is compiled when it is called, or when a compiled one calls it."""

    def __init__(self, function: Any, options: dict[str, Any]) -> None:
        update_wrapper(self, function)
        self.function, self.options = function, options
        self._compiled: Any = None
        with _lock:
            _declared.append(self)

    def __call__(self, *given: Any) -> Any:
        if self._compiled is None:
            _wake()
        return self._compiled(*given)

    def wake(self) -> Any:
        """What numba makes of it; it compiles when that is called."""
        if self._compiled is None:
            with _without_unused():
                import numba

            self._compiled = numba.njit(**self.options)(self.function)
            if self.options.get("cache"):
                self._compiled._cache = _kept()(self.function)
        return self._compiled


class Borrowed(Loop):
    """Something of a module that loads numba, for loops to call: known by its name till then."""

    def __init__(self, module: str, name: str) -> None:
        self._module, self._name = module, name

    def wake(self) -> Any:
        """What has that name."""
        return getattr(import_module(self._module), self._name)


_hidden: list[str] = []
_hiding = 0


@contextmanager
def _without_unused() -> Iterator[None]:
    """As if some libraries were not installed, but for those that somebody has loaded already."""
    global _hiding
    known: dict[str, Any] = sys.modules
    with _lock:
        _hiding += 1
        if _hiding == 1:
            _hidden[:] = [name for name in UNUSED if name not in known]
            known.update(dict.fromkeys(_hidden))
    try:
        yield
    finally:
        with _lock:
            _hiding -= 1
            if not _hiding:
                for name in _hidden:
                    known.pop(name, None)


@cache
def _kept() -> Any:
    """Where numba keeps what it compiled. Its own first loads all that it needs for compiling; what
    is there already is taken without, which saves a newly started program half a second."""
    from numba.core.caching import FunctionCache
    from numba.core.runtime import rtsys

    class Kept(FunctionCache):  # type: ignore[misc]
        def load_overload(self, sig: Any, target_context: Any) -> Any:
            rtsys.initialize(target_context)
            with _without_unused():
                with self._guard_against_spurious_io_errors():
                    found = self._load_overload(sig, target_context)
                if found is None:
                    target_context.refresh()
            return found

    return Kept


def _wake() -> None:
    """Put in the place of every declared loop what numba makes of it: a compiled function finds
    those that it calls in its module, and does not know ours."""
    with _lock:
        for each in _declared:
            known = each.function.__globals__
            for name, value in list(known.items()):
                if isinstance(value, Loop):
                    known[name] = value.wake()
            each.wake()
        _declared.clear()


def loop_with(**options: Any) -> Callable[[Callable[..., Any]], Loop]:
    """Compile a function that is called from outside, once for a machine; it holds no lock of the
    interpreter."""
    return lambda function: Loop(function, {"nogil": True, "cache": True, **options})


loop = loop_with()
# Where a last digit may differ: divisions become products, and functions their quick kind.
quick_loop = loop_with(fastmath={"nsz", "arcp", "contract", "afn"}, error_model="numpy")
# And where nothing is ever infinite or no number, as in a picture.
pixel_loop = loop_with(
    fastmath={"nnan", "ninf", "nsz", "arcp", "contract", "afn"}, error_model="numpy"
)


def inlined(function: Callable[..., Any]) -> Loop:
    """Compile a function into those that call it."""
    return Loop(function, {"nogil": True, "inline": "always"})
