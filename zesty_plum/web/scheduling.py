"""Who goes first: a picture that somebody waits for before figures that can wait, and the newest
question before older ones."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from ..core.errors import PlumError
from .values import whole

MOST_ASKERS = 200
LONGEST_WAIT = 2.0  # seconds that figures wait for pictures at one step: nothing starves


class Superseded(PlumError):
    """The same window has asked anew meanwhile."""


class Schedule:
    """Counts pictures in work, and remembers the newest question of each window."""

    def __init__(self) -> None:
        self._pictures = self._large = 0
        self._free = threading.Condition()
        self._newest: OrderedDict[str, int] = OrderedDict()

    @contextmanager
    def picture(self, large: bool) -> Iterator[None]:
        """While a picture is made, figures wait; small pictures wait for large ones."""
        with self._free:
            self._pictures += 1
            self._large += large
        try:
            yield
        finally:
            with self._free:
                self._pictures -= 1
                self._large -= large
                self._free.notify_all()

    def wait(self) -> None:
        """Wait until no large picture is in work."""
        with self._free:
            self._free.wait_for(lambda: self._large == 0, LONGEST_WAIT)

    def asked(self, ask: str) -> Callable[[], None]:
        """Note a question 'window.number'; returns what its work calls between steps: it waits for
        pictures, and raises Superseded when the window has asked anew. Questions without a number
        only wait."""
        window, _, number = ask.partition(".")
        mine = whole(number)
        if mine is not None:
            with self._free:
                self._newest[window[:40]] = max(mine, self._newest.pop(window[:40], 0))
                while len(self._newest) > MOST_ASKERS:
                    self._newest.popitem(last=False)

        def pause() -> None:
            with self._free:
                self._free.wait_for(lambda: self._pictures == 0, LONGEST_WAIT)
                if mine is not None and self._newest.get(window[:40], mine) > mine:
                    raise Superseded("The bench has moved on; this answer is no longer wanted.")

        return pause


schedule = Schedule()
