"""What was made lately, kept within a bound: the least recently used goes first."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Made = TypeVar("Made")


class BoundedCache(Generic[Made]):
    """A store for threads to share. `most` bounds the sum of `cost`, which is one a piece or for
    instance bytes.

    The newest is kept whatever it costs. Costs may grow after something was put in; they are summed
    at every look.
    """

    def __init__(self, most: float, cost: Callable[[Made], float] = lambda _: 1) -> None:
        self._most, self._cost = most, cost
        self._made: OrderedDict[Hashable, Made] = OrderedDict()
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return len(self._made)

    def get(self, key: Hashable) -> Made | None:
        """What is kept under a key, now the newest; or None."""
        with self._lock:
            if key in self._made:
                self._made.move_to_end(key)
            return self._made.get(key)

    def put(self, key: Hashable, made: Made) -> Made:
        """Keep something as the newest; returns it."""
        with self._lock:
            self._made[key] = made
            self._made.move_to_end(key)
            spent = sum(map(self._cost, self._made.values()))
            while spent > self._most and len(self._made) > 1:
                spent -= self._cost(self._made.popitem(last=False)[1])
        return made

    def make(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """What is kept under a key, or what `make` makes; two that ask at once may both make it."""
        found = self.get(key)
        return found if found is not None else self.put(key, make())
