"""What was measured before: docs/speed.csv with commit, date, row and ratio."""

import csv
from dataclasses import dataclass
from pathlib import Path

from benchmarks.timing import Row

FILE = Path(__file__).parents[1] / "docs" / "speed.csv"
HEAD = ("commit", "date", "row", "ratio")
LAST = 10


@dataclass(frozen=True)
class Record:
    """One ratio as it was."""

    commit: str
    date: str
    row: str
    ratio: float


def read() -> list[Record]:
    """All, oldest first."""
    if not FILE.exists():
        return []
    with FILE.open(newline="", encoding="utf-8") as file:
        return [
            Record(r["commit"], r["date"], r["row"], float(r["ratio"]))
            for r in csv.DictReader(file)
        ]


def last(records: list[Record], row: str) -> list[float]:
    """The last ratios of a row, oldest first."""
    return [r.ratio for r in records if r.row == row.strip()][-LAST:]


def append(commit: str, date: str, row: Row) -> None:
    """Record one more."""
    new = not FILE.exists()
    with FILE.open("a", newline="", encoding="utf-8") as file:
        writer = csv.writer(file, lineterminator="\n")
        if new:
            writer.writerow(HEAD)
        writer.writerow([commit, date, row.name.strip(), f"{row.ratio:.3f}"])
