"""python -m benchmarks [--quick] [PART ...]: figures as ratios against a peer in the same run.

In full it prints beside each what `docs/speed.csv` recorded last, and appends. `--quick` runs all
in small, and fails where a row is worse than half as much again as its limit, or as the median of
what was recorded, in both of two tries.
"""

import argparse
import statistics
import subprocess
import sys
from collections.abc import Callable, Iterator
from datetime import UTC, datetime

from benchmarks import recorded
from benchmarks.timing import Row

PARTS = (
    "rendering",
    "stages",
    "baking",
    "large",
    "judging",
    "starting",
    "pressing",
    "library",
    "archive",
    "teach",
)
WORSE = 1.5  # times its limit that a row may be on a noisy machine


def part(name: str) -> Callable[[bool], Iterator[Row]]:
    """The part of a name; it is loaded when it is run."""
    from importlib import import_module

    made: Callable[[bool], Iterator[Row]] = import_module(f"benchmarks.{name}").run
    return made


def full(names: list[str]) -> None:
    """Print every row with those before it, and record it."""
    before = recorded.read()
    commit = subprocess.run(
        ["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True, check=False
    ).stdout.strip()
    for name in names:
        for row in part(name)(False):
            last = " ".join(f"{r:.2f}" for r in recorded.last(before, row.name))
            print(f"{row}  {last and 'before: ' + last}", flush=True)
            recorded.append(commit or "none", datetime.now(UTC).date().isoformat(), row)


def allowed(row: Row, before: list[recorded.Record]) -> float:
    """How high its ratio may be."""
    known = recorded.last(before, row.name)
    limit = row.limit if row.limit is not None else statistics.median(known) if known else None
    return float("inf") if limit is None else WORSE * limit


def quick(names: list[str]) -> int:
    """Run all in small; 1 where a row is too slow twice."""
    before, slow = recorded.read(), []
    for name in names:
        late = []
        for row in part(name)(True):
            print(row, flush=True)
            if row.ratio > allowed(row, before):
                late.append(row.name)
        if late:
            print(f"again, for {', '.join(late)}", flush=True)
            for row in part(name)(True):
                if row.name in late and row.ratio > allowed(row, before):
                    slow.append(f"{row}, not over {allowed(row, before):.2f}")
    print("\n".join(["Too slow twice:", *slow] if slow else ["No row is too slow."]))
    return 1 if slow else 0


if __name__ == "__main__":
    given = argparse.ArgumentParser(description=__doc__)
    given.add_argument("parts", nargs="*", metavar="PART", help=", ".join(PARTS))
    given.add_argument("--quick", action="store_true", help="in small, to see that nothing rots")
    told = given.parse_args()
    if unknown := set(told.parts) - set(PARTS):
        given.error(f"there is no part {', '.join(unknown)}")
    chosen = told.parts or list(PARTS)
    if told.quick:
        sys.exit(quick(chosen))
    full(chosen)
