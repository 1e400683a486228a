"""A picture through a body that was learnt, beside one through a body that ships."""

import time
from collections.abc import Iterator
from statistics import median

from benchmarks.timing import Row
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body, bring
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.demo import TAUGHT

ROUNDS = 9


def picture(look, sensor) -> float:
    """Median seconds of a picture through a look, of scenes in turn."""
    found = []
    for k in range(ROUNDS):
        scene = scenes.load(list(scenes.index())[k % 4])
        begun = time.perf_counter()
        develop(scene, look, sensor, 960)
        found.append(time.perf_counter() - begun)
    return median(found)


def run(quick: bool) -> Iterator[Row]:
    """The row."""
    made = bring(TAUGHT.read_text())
    heron = body("heron-m2")
    looks = {
        "learnt": (made.interpret({}), made.sensor),
        "shipped": (heron.interpret({"style": "linen", "noise_filter": 3}), heron.sensor),
    }
    for each in looks.values():
        picture(*each)
    seconds = {name: picture(*each) for name, each in looks.items()}
    ratio, shown = seconds["learnt"] / seconds["shipped"], f"{1000 * seconds['learnt']:.0f} ms"
    yield Row("a picture through a learnt body", shown, ratio, "a shipped one", 1.1)
