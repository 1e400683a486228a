"""Timing: the median of repeated runs, peers and ours by turns so that a busy machine hits both."""

import statistics
import time
from collections.abc import Callable


def by_turns(works: dict[str, Callable[[], object]], rounds: int = 15) -> dict[str, float]:
    """Median milliseconds of each work, run alternately after two warm-ups."""
    for work in works.values():
        work()
        work()
    took: dict[str, list[float]] = {name: [] for name in works}
    for _ in range(rounds):
        for name, work in works.items():
            begun = time.perf_counter()
            work()
            took[name].append((time.perf_counter() - begun) * 1000)
    return {name: statistics.median(values) for name, values in took.items()}


def row(name: str, value: str, goal: str = "") -> None:
    """One line of the report."""
    print(f"{name:<58} {value:>24}   {goal}", flush=True)


def against(took: dict[str, float], ours: str, peer: str, called: str, digits: int = 0) -> str:
    """What one entry of `took` lasted, and how often it holds another."""
    return f"{took[ours]:.{digits}f} ms, {took[ours] / took[peer]:.2f} x {called}"
