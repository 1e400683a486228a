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
    "learnt",
    "teach",
)
BESIDE = ("teach", "baking", "library")  # may run side by side in small
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


def tried(name: str) -> tuple[list[Row], str]:
    """The rows of a part in small, and why it ended early, if it did."""
    rows: list[Row] = []
    try:
        for row in part(name)(True):
            rows.append(row)
            print(row, flush=True)
    except Exception as error:  # of every kind: what rots fails in ways of its own
        return rows, f"{name} cannot run: {error!r}"
    return rows, ""


def wrong(name: str, first: tuple[list[Row], str], before: list[recorded.Record]) -> list[str]:
    """What is wrong with a part that was tried once, after a second try where rows were slow."""
    rows, ended = first
    late = [row.name for row in rows if row.ratio > allowed(row, before)]
    if late:
        print(f"again, for {', '.join(late)}", flush=True)
        rows, ended = tried(name)
    slow = [r for r in rows if r.name in late and r.ratio > allowed(r, before)]
    return [*(f"{r}, not over {allowed(r, before):.2f}" for r in slow), *([ended] if ended else [])]


def quick(names: list[str]) -> int:
    """Run all in small; 1 where a row cannot run, or is too slow twice."""
    before, found = recorded.read(), list[str]()
    beside = [name for name in names if name in BESIDE and len(names) > 1]
    command = [sys.executable, "-W", "ignore", "-m", "benchmarks", "--quick"]
    # What is timed against nothing, or needs one core, goes on side by side.
    started = [
        subprocess.Popen([*command, name], stdout=subprocess.PIPE, text=True) for name in beside
    ]
    for name, process in zip(beside, started, strict=True):
        said = process.communicate()[0]
        print(said, end="", flush=True)
        found += [f"{name}, as told above"] if process.returncode else []
    for name in names:
        if name not in beside:
            found += wrong(name, tried(name), before)
    print("\n".join(["What is wrong:", *found] if found else ["All rows run, none is too slow."]))
    return 1 if found else 0


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
