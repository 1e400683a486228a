"""Loops over pixels, compiled by numba. It is loaded, and loops become its own, when the first of
them is called: whoever draws no picture does not wait for it."""

import threading
from collections.abc import Callable
from functools import update_wrapper
from typing import Any

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
            import numba

            self._compiled = numba.njit(**self.options)(self.function)
        return self._compiled


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


def inlined(function: Callable[..., Any]) -> Loop:
    """Compile a function into those that call it."""
    return Loop(function, {"nogil": True, "inline": "always"})
