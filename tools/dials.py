"""Write docs/dials.md: what every step of every dial does, over all scenes: make figures."""

from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np

from tools import asked
from zesty_plum.core import scenes
from zesty_plum.core.bodies import Body, Dial, Value, body, shipped
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.judge.workbench import TRY_AT, Workbench
from zesty_plum.core.seen import FIGURES

PAGE = Path(__file__).parents[1] / "docs" / "dials.md"
GOOD = 0.5  # of what a dial does on the scene where it does most: below, a scene shows it badly
# Those that count in light's own units are as even as these are; others are of the file.
LEFT_OUT = {
    *("exposure", "iso_least", "iso_most", "slowest", "aperture", "kelvin", "guard"),
    *("shift_amber", "shift_green", "shift_red", "shift_blue"),
    *("rate", "bit_rate", "zebra"),
}


@dataclass
class Sweep:
    """A dial on one scene: mean CIEDE2000 of each step, at 100 % where it acts on photosites; and
    of each step the figure that moves most, in just visible changes."""

    scene: str
    apart: list[float] = field(default_factory=list)
    seen: list[tuple[float, str]] = field(default_factory=list)


def standing(camera: Body, dial: Dial) -> dict[str, Value]:
    """The dials as shipped, with what `dial` needs to count."""
    dials = dict(camera.shipped)
    for need in dial.needs:
        if not need.met(dials):
            other = camera.by_id[need.dial]
            dials[other.id] = next(v for v in other.values if need.met_at(v))
    return dials


def swept(asked_: tuple[str, str, str]) -> Sweep:
    """One dial of a body on one scene, from end to end."""
    body_id, dial_id, scene_id = asked_
    camera, scene = body(body_id), scenes.load(scene_id)
    dial, bench = camera.dial(dial_id), Workbench(scene, camera, TRY_AT)
    dials, out = standing(camera, dial), Sweep(scene_id)
    before: Any = None
    for value in dial.values:
        there = {**dials, dial.id: value}
        look = camera.meaning(there)
        picture = develop(scene, look, camera.sensor, TRY_AT, 1, dial.fine).pixels
        now = encoded_to_lab(picture / 255.0), bench.report(there)
        if before is not None:
            out.apart.append(float(ciede2000(before[0], now[0]).mean()))
            sizes = [
                (abs(moved[0]), f.at)
                for f in FIGURES
                if (moved := f.moved(before[1], now[1])) is not None
            ]
            out.seen.append(max(sizes, default=(0.0, "")))
        before = now
    return out


@dataclass(frozen=True)
class Evenness:
    """A dial over the scenes that show it: mean CIEDE2000 of its smallest and largest step, and the
    least of what its steps move where each shows most, in just visible changes."""

    smallest: float
    largest: float
    least_seen: float
    best: str

    @property
    def ratio(self) -> float:
        """Largest step by smallest."""
        return self.largest / max(self.smallest, 1e-3)


def evenness(sweeps: Iterable[Sweep]) -> Evenness:
    """What the sweeps of a dial come to."""
    every = list(sweeps)
    most = max(sum(s.apart) for s in every)
    good = [s for s in every if sum(s.apart) >= GOOD * most]
    steps = np.mean([s.apart for s in good], axis=0)
    seen = np.max([[size for size, _ in s.seen] for s in every], axis=0)
    best = max(every, key=lambda s: sum(s.apart)).scene
    return Evenness(float(steps.min()), float(steps.max()), float(seen.min()), best)


def moves(sweeps: Iterable[Sweep]) -> str:
    """The figure that a dial moves most."""
    told: dict[str, float] = {}
    for sweep in sweeps:
        for size, at in sweep.seen:
            told[at] = told.get(at, 0.0) + size
    return max(told, key=lambda at: told[at], default="")


def scaled(camera: Body) -> list[Dial]:
    """Dials of tone, colour and texture that have a scale."""
    return [d for d in camera.dials if not d.named and d.id not in LEFT_OUT and len(d.values) > 2]


def _rows(camera: Body, pool: ProcessPoolExecutor) -> list[str]:
    rows = []
    for dial in scaled(camera):
        every = list(pool.map(swept, [(camera.id, dial.id, s) for s in scenes.index()]))
        told = evenness(every)
        title = scenes.load(told.best).title
        rows.append(
            f"| {dial.label} | `{moves(every)}` | {len(dial.values)} | {told.smallest:.2f} | "
            f"{told.largest:.2f} | {told.ratio:.2f} | {told.least_seen:.1f} | {title} |"
        )
        print(camera.name, rows[-1], flush=True)
    return rows


HEAD = """# What the dials do

Made by `python -m tools.dials`: every dial that has a scale, from end to end, all others as shipped
(and what it needs), on every scene that ships. A step's size is the mean CIEDE2000 between its two
places, at 100 % for dials that act on photosites, over the scenes that show the dial at least half
as well as the best one. Dials that count in light's own units are left out, those of the file, and
choices. The last figure is the smallest step where it shows most, in just visible changes
(`core/seen.py`): under 1 nobody sees it side by side.
"""
COLUMNS = (
    "| dial | moves most | places | smallest step | largest | ratio | least seen | shows on |",
    "|---|---|---|---|---|---|---|---|",
)


def main() -> None:
    """All bodies, or those that are named."""
    names = asked(__doc__).names or list(shipped())
    parts = [HEAD]
    with ProcessPoolExecutor() as pool:
        for name in names:
            camera = body(name)
            parts += [f"## {camera.name}", "", *COLUMNS, *_rows(camera, pool), ""]
    if set(names) == set(shipped()):
        PAGE.write_text("\n".join(parts))


if __name__ == "__main__":
    main()
