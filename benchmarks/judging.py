"""Measuring, and moving a recipe to another body, against a large picture and against SciPy's
differential evolution."""

import time
from dataclasses import replace

from scipy.optimize import differential_evolution

from benchmarks.rendering import FULL, HERON, WIDTH
from benchmarks.timing import against, by_turns, row
from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.bodies import bodies
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.measure.figures import measure
from zesty_plum.core.pictures.write import preview
from zesty_plum.core.translate import _Search, translate

GENERATIONS = 30


def evolved(source: recipes.Recipe, camera) -> tuple[float, float]:
    """Seconds and cost of differential evolution over every dial's places, on the same cost."""
    search, dials = _Search(source.look, source.camera.sensor, camera), camera.dials

    def cost(at):
        return search.cost(
            {d.id: d.values[min(int(x), len(d.values) - 1)] for d, x in zip(dials, at, strict=True)}
        )

    begun = time.perf_counter()
    found = differential_evolution(
        cost,
        [(0, len(d.values) - 1e-6) for d in dials],
        maxiter=GENERATIONS,
        popsize=4,
        seed=1,
        polish=False,
        tol=1e-6,
    )
    return time.perf_counter() - begun, float(found.fun)


def run() -> None:
    """Print the ratios."""
    scene, look = scenes.load("workshop"), HERON.interpret(FULL)
    picture = develop(scene, look, HERON.sensor, WIDTH)
    plain = develop(scene, HERON.interpret({}), HERON.sensor, WIDTH).overview_lab

    def fresh(look):
        return preview(develop(scene, look, HERON.sensor, WIDTH).pixels)

    more = (k * 1e-6 for k in range(10**6))  # looks that were never seen, as after a dial press
    took = by_turns(
        {
            "large": lambda: fresh(replace(look, saturation=look.saturation + next(more))),
            "measure": lambda: measure(scene, look, HERON.sensor, picture, plain),
        }
    )
    row(
        "all figures of a picture",
        against(took, "measure", "large", "large"),
        "at most 1 x",
    )
    source = recipes.make("Lamps", "heron-m2", {k: v for k, v in FULL.items() if k != "exposure"})
    for camera in bodies().values():
        if camera.id == HERON.id:
            continue
        begun = time.perf_counter()
        made = translate(source, camera)
        ours = time.perf_counter() - begun
        theirs, cost = evolved(source, camera)
        row(
            f"Heron M2 to {camera.name}",
            f"{ours:.1f} s, cost {made.mean + made.texture:.2f}",
            "about 3 s",
        )
        row(
            "  by differential evolution",
            f"{theirs:.1f} s, cost {cost:.2f}: {theirs / ours:.1f} x the time",
            "at least 5 x",
        )
