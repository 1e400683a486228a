"""The square of two dials that belong together: places around the present one, to be looked at and
chosen by looking."""

import math
from collections.abc import Sequence
from typing import Any

from flask import render_template

from ...core.bodies import Dial, Pair
from ...core.recipe import Recipe

SIDE = 5  # patches across and down
MANY = 9  # places of a dial, above which every second one is shown


def spread(count: int, here: int, side: int) -> list[int]:
    """`side` places around the present one, every second one where there are many."""
    step = 2 if count > MANY else 1
    last = count - 1
    first = max(0, min(here - step * (side // 2), last - step * (side - 1)))
    return [p for p in (first + k * step for k in range(side)) if p <= last]


def nearest(places: Sequence[int], here: int) -> int:
    """The place that is shown which is nearest to the present one."""
    return min(places, key=lambda p: abs(p - here))


def drawn(pair: Pair, recipe: Recipe) -> str:
    """The square as a page shows it; the page asks for its pictures, the near ones first."""
    across, down = (recipe.camera.by_id[name] for name in (pair.across, pair.down))
    x, y = (dial.position(recipe.dials[dial.id]) for dial in (across, down))
    columns = spread(len(across.choices), x, SIDE)
    rows = spread(len(down.choices), y, SIDE)[::-1]
    here = nearest(columns, x), nearest(rows, y)

    def named(dial: Dial, place: int) -> str:
        return f"{dial.label} {dial.choices[place].label}"

    cells: list[dict[str, Any]] = [
        {
            "places": {across.id: column, down.id: row},
            "words": f"{named(across, column)}, {named(down, row)}",
            "here": (column, row) == here,
            "far": math.hypot(columns.index(here[0]) - c, rows.index(here[1]) - r),
        }
        for r, row in enumerate(rows)
        for c, column in enumerate(columns)
    ]
    for order, cell in enumerate(sorted(cells, key=lambda cell: float(cell["far"]))):
        cell["order"] = order
    return render_template("gauges/patches.html", cells=cells, pair=pair).strip()
