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
from zesty_plum.core.styles import styles

PAGE = Path(__file__).parents[1] / "docs" / "dials.md"
STYLES_AT = 320  # wide, for sweeps over styles
SOMETHING = 0.5  # mean CIEDE2000 from end to end below which a dial does nothing in a style
TEXTURE = ("Style and texture", "Detail")
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
    of each step the figure that moves most, in just visible changes, where a report was asked."""

    scene: str
    apart: list[float] = field(default_factory=list)
    seen: list[tuple[float, str]] = field(default_factory=list)


def standing(camera: Body, dial: Dial) -> dict[str, Value]:
    """The dials as shipped, with what `dial` needs to count, at its strongest."""
    dials = dict(camera.shipped)
    for need in dial.needs:
        if not need.met(dials):
            other = camera.by_id[need.dial]
            dials[other.id] = [v for v in other.values if need.met_at(v)][-1]
    return dials


def swept(asked_: tuple[str, str, str, str]) -> Sweep:
    """One dial of a body on one scene, from end to end, in a style or as shipped with a report."""
    body_id, dial_id, scene_id, style = asked_
    camera, scene = body(body_id), scenes.load(scene_id)
    dial, dials, out = camera.dial(dial_id), standing(camera, camera.dial(dial_id)), Sweep(scene_id)
    wide = TRY_AT if dial.fine or not style else STYLES_AT
    bench = None if style else Workbench(scene, camera, TRY_AT)
    if style:
        dials[camera.style_dial.id] = style
    before: Any = None
    for value in dial.values:
        there = {**dials, dial.id: value}
        picture = develop(scene, camera.meaning(there), camera.sensor, wide, 1, dial.fine).pixels
        now = encoded_to_lab(picture / 255.0), bench.report(there) if bench else None
        if before is not None:
            out.apart.append(float(ciede2000(before[0], now[0]).mean()))
        if before is not None and bench:
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
    """A dial over the scenes that show it: mean CIEDE2000 of its smallest and largest step, and
    from end to end on the scene that shows it best."""

    smallest: float
    largest: float
    most: float
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
    best = max(every, key=lambda s: sum(s.apart)).scene
    return Evenness(float(steps.min()), float(steps.max()), most, best)


def least_seen(sweeps: Iterable[Sweep]) -> float:
    """The least of what the steps move where each shows most, in just visible changes."""
    return float(np.max([[size for size, _ in s.seen] for s in sweeps], axis=0).min())


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


def textures(camera: Body) -> list[Dial]:
    """Dials of texture whose steps have names."""
    return [d for d in camera.dials if d.named and d.fine and d.group in TEXTURE]


def worst_style(camera: Body, dial: Dial, pool: ProcessPoolExecutor) -> tuple[float, str]:
    """The largest ratio of the dial's steps in any style, and that style's id; styles in which the
    dial does nothing have none."""
    told = []
    for style in camera.style_dial.values:
        jobs = [(camera.id, dial.id, s, str(style)) for s in scenes.index()]
        found = evenness(pool.map(swept, jobs))
        if found.most >= SOMETHING:
            told.append((found.ratio, str(style)))
    return max(told)


def _row(camera: Body, dial: Dial, pool: ProcessPoolExecutor) -> str:
    every = list(pool.map(swept, [(camera.id, dial.id, s, "") for s in scenes.index()]))
    told = evenness(every)
    cells = [dial.label, f"`{moves(every)}`", str(len(dial.values))]
    cells += [f"{told.smallest:.2f}", f"{told.largest:.2f}"]
    if not dial.named:
        ratio, style = worst_style(camera, dial, pool)
        cells += [f"{told.ratio:.2f}", f"{ratio:.2f}", styles()[style].name]
    row = "| {} |".format(
        " | ".join([*cells, f"{least_seen(every):.1f}", scenes.load(told.best).title])
    )
    print(camera.name, row, flush=True)
    return row


def _part(camera: Body, pool: ProcessPoolExecutor) -> list[str]:
    part = [f"## {camera.name}", ""]
    if dials := scaled(camera):
        part += [*SCALED, *(_row(camera, d, pool) for d in dials), ""]
    else:
        part += ["Every dial of tone, colour and texture has named steps.", ""]
    if dials := textures(camera):
        part += [*NAMED, *(_row(camera, d, pool) for d in dials), ""]
    return part


HEAD = """# What the dials do

Made by `python -m tools.dials`: every dial that has a scale, from end to end, all others as shipped
(and what it needs), on every scene that ships. A step's size is the mean CIEDE2000 between its two
places, at 100 % for dials that act on photosites, over the scenes that show the dial at least half
as well as the best one. The ratio is the largest step by the smallest in the style as shipped, then
in the style where it is worst. Tone and colour are held to 1.4 in every style, texture in the style
as shipped: a style shows more or less of each step of it (black and white hides noise of colour, a
deep toe hides noise of shadows). Dials that count in light's own units are left out, those of the
file, and choices. Steps of texture that have names follow below, in their order. The least seen is
the smallest step where it shows most, in just visible changes (`core/seen.py`): under 1 nobody
sees it side by side.
"""
SCALED = (
    "| dial | moves most | places | smallest step | largest | ratio | worst ratio | in | least "
    "seen | shows on |",
    "|---|---|---|---|---|---|---|---|---|---|",
)
NAMED = (
    "| named steps | moves most | places | smallest step | largest | least seen | shows on |",
    "|---|---|---|---|---|---|---|",
)


def main() -> None:
    """All bodies, or those that are named."""
    names = asked(__doc__).names or list(shipped())
    parts = [HEAD]
    with ProcessPoolExecutor() as pool:
        for name in names:
            parts += _part(body(name), pool)
    if set(names) == set(shipped()):
        PAGE.write_text("\n".join(parts))


if __name__ == "__main__":
    main()
