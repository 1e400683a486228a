"""Measuring, and moving a recipe to another body, against a large picture and against SciPy's
differential evolution."""

import itertools
import random
import time
from collections.abc import Iterator
from dataclasses import replace

from scipy.optimize import differential_evolution

from benchmarks.rendering import FULL, HERON, WIDTH
from benchmarks.timing import Row, beside, by_turns
from zesty_plum.core import recipe as recipes
from zesty_plum.core import scenes
from zesty_plum.core.bodies import Body, bodies
from zesty_plum.core.develop.appearance import appearance
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


def figures(rounds: int) -> Iterator[Row]:
    """All figures of a picture."""
    scene, look = scenes.load("workshop"), HERON.interpret(FULL)
    picture = develop(scene, look, HERON.sensor, WIDTH)
    plain = develop(scene, HERON.interpret({}), HERON.sensor, WIDTH).overview_lab

    def fresh(look):
        return preview(develop(scene, look, HERON.sensor, WIDTH).pixels)

    more = (k * 1e-6 for k in range(10**6))  # looks that were never seen, as after a dial press
    took = by_turns(
        {
            "large": lambda: fresh(replace(look, noise_filter=look.noise_filter + next(more))),
            "measure": lambda: measure(scene, look, HERON.sensor, picture, plain),
        },
        rounds,
    )
    yield beside("all figures of a picture", took, "measure", "large", "one large, anew", 1.0)


def someones(camera: Body) -> recipes.Recipe:
    """A recipe on a body with some of its dials turned, the same every time."""
    if camera.id == HERON.id:
        return recipes.make("Lamps", HERON.id, FULL)
    dice = random.Random(3)
    turned = [d for d in camera.dials if d.id != "exposure" and dice.random() < 0.4]
    return recipes.make("Lamps", camera.id, {d.id: dice.choice(d.values) for d in turned})


def moved(pairs: list[tuple[Body, Body]]) -> Iterator[Row]:
    """Recipes from body to body: time and cost against differential evolution on the same cost."""
    translate(someones(pairs[0][0]), pairs[0][1])  # loops and curves are at hand for both
    for source, camera in pairs:
        recipe = someones(source)
        appearance.cache_clear()
        begun = time.perf_counter()
        made = translate(recipe, camera)
        ours = time.perf_counter() - begun
        appearance.cache_clear()
        theirs, cost = evolved(recipe, camera)
        name, evolution = f"{source.name} to {camera.name}", "differential evolution"
        yield Row(name, f"{ours:.2f} s", ours / theirs, evolution, 0.25)
        mine = made.mean + made.texture
        shown = f"cost {mine:.2f}, {cost:.2f}"
        yield Row(f"  {name}, what remains", shown, (mine + 0.01) / (cost + 0.01), evolution, 1.0)


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    yield from figures(3 if quick else 15)
    pairs = list(itertools.permutations(bodies().values(), 2))
    few = ("dunlin-4", "sandpiper-p")
    yield from moved([p for p in pairs if not quick or (p[1].id in few and p[0].id == HERON.id)])
