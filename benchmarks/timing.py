"""Timing: the median of repeated runs, peers and ours by turns so that a busy machine hits both;
and a row of the report."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """A figure: its name, what to print, the ratio that is recorded (less is better) and to what,
    and the limit of that, where there is one."""

    name: str
    shown: str
    ratio: float
    of: str
    limit: float | None = None

    def __str__(self) -> str:
        goal = f"at most {self.limit:g}" if self.limit is not None else ""
        return f"{self.name:<58} {self.shown:>16} {self.ratio:8.2f} x {self.of:<34} {goal}"


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


def beside(
    name: str,
    took: dict[str, float],
    ours: str,
    peer: str,
    of: str,
    limit: float | None = None,
    digits: int = 0,
) -> Row:
    """One entry of `took` beside another."""
    return Row(name, f"{took[ours]:.{digits}f} ms", took[ours] / took[peer], of, limit)
