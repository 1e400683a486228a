"""Going downhill over the dials of a body, one after another: every place that is tried is one that
the body can be set to."""

from collections.abc import Callable, Iterable

from .dial import Dial, Value

Dials = dict[str, Value]
Cost = Callable[[Dials], float]
FEW = 3  # places of a dial up to which all of them are tried
PARTS = 6  # of a dial's range that a first step takes
HELPS = 1e-6  # by which a cost has to be lower


def descend(
    dials: Dials, over: Iterable[Dial], cost: Cost, sweeps: int, least: float
) -> tuple[float, Dials]:
    """Walk each dial downhill in turn, so many times at most, until a sweep gains less than
    `least`; returns the cost and where it came to."""
    best, order = cost(dials), list(over)
    for _ in range(sweeps):
        before = best
        for dial in order:
            best, dials = _walked(dial, cost, best, dials)
        if before - best < least:
            break
    return best, dials


def _walked(dial: Dial, cost: Cost, best: float, dials: Dials) -> tuple[float, Dials]:
    values = dial.values
    if dial.named or len(values) <= FEW:
        for value in values:
            trial = {**dials, dial.id: value}
            now = cost(trial)
            if now < best - HELPS:
                best, dials = now, trial
        return best, dials
    at, step = dial.position(dials[dial.id]), max(1, len(values) // PARTS)
    while step >= 1:
        moved = False
        for place in (at - step, at + step):
            if 0 <= place < len(values):
                trial = {**dials, dial.id: values[place]}
                now = cost(trial)
                if now < best - HELPS:
                    best, dials, at, moved = now, trial, place, True
                    break
        if not moved:
            step //= 2
    return best, dials
