"""Writes docs/speed.md and its plots from docs/speed.csv: how each row of the benchmarks went."""

import re
from pathlib import Path

from benchmarks import recorded
from tools import asked
from tools.plots import curves

DOCS = Path(__file__).parents[1] / "docs"
PLOTS = DOCS / "plots" / "speed"
HEAD = """# How fast it is

Written by `tools/speed.py` (`make figures`) from `docs/speed.csv`, to which every `make bench`
adds what it measured. A row is a ratio to a peer that ran beside it in the same run, so that
machines can be compared; less is better. `make bench-quick` runs all of them in small and says what
is worse than half as much again as its limit.

| row | runs | first | last | |
|---|---|---|---|---|
"""


def plot(row: str, ratios: list[float]) -> str:
    """Write a row's plot; its name."""
    name = re.sub(r"\W+", "-", row.lower()).strip("-")
    # One run alone is a short line.
    runs = list(range(1, len(ratios) + 1)) if len(ratios) > 1 else [0.5, 1.5]
    values = ratios if len(ratios) > 1 else ratios * 2
    top = max([*values, 1.0]) * 1.2
    ticks = sorted({0.0, 1.0, round(max(values), 2)})
    lines = {"ratio": (runs, values)}
    many = max(len(ratios), 2)
    drawn = curves(
        lines, "run", "of its peer", (0, many + 0.5), (0, top), range(1, many + 1), ticks
    )
    (PLOTS / f"{name}.svg").write_text(drawn, encoding="utf-8")
    return name


def main() -> None:
    """Draw every row, in the order in which they were first measured."""
    PLOTS.mkdir(parents=True, exist_ok=True)
    for old in PLOTS.glob("*.svg"):
        old.unlink()
    rows: dict[str, list[float]] = {}
    for record in recorded.read():
        rows.setdefault(record.row, []).append(record.ratio)
    lines = [
        f"| {row} | {len(ratios)} | {ratios[0]:.2f} | {ratios[-1]:.2f} "
        f"| ![{row}](plots/speed/{plot(row, ratios)}.svg) |"
        for row, ratios in rows.items()
    ]
    (DOCS / "speed.md").write_text(HEAD + "\n".join(lines) + "\n", encoding="utf-8")


if __name__ == "__main__":
    asked(__doc__)
    main()
