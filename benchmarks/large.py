"""A 24-megapixel picture through the whole look, against the small one by pixel, and the memory it
takes."""

import resource
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import replace
from itertools import count

import cv2
import numpy as np

from benchmarks.rendering import FULL, HERON, WIDTH
from benchmarks.timing import Row, by_turns
from zesty_plum.allocator import keep_freed
from zesty_plum.core import scenes
from zesty_plum.core.develop.pipeline import Passage, develop
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.scenes.scene import Scene

WIDE, TALL = 6000, 4000


def _megabytes() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def measured(rounds: int) -> None:
    """In a process of its own: milliseconds of the small and the large picture, megabytes that the
    large one adds."""
    cv2.setNumThreads(2)
    keep_freed()
    small, look = scenes.load("boatyard"), HERON.interpret(FULL)
    press = (k * 1e-6 for k in count(1))
    pixels = cv2.resize(small.pixels, (WIDE, TALL), interpolation=cv2.INTER_LINEAR)
    large = Scene(
        "large",
        "Large",
        Held(np.ascontiguousarray(pixels)),
        small.auto_light,
        small.card_light,
        small.ev100,
    )

    def whole():
        # As a file of it is written.
        return Passage(large, look, HERON.sensor, WIDE).samples()

    develop(small, look, HERON.sensor, WIDTH)
    before = _megabytes()
    whole()
    more = _megabytes() - before
    took = by_turns(
        {
            # Of the small one nothing is kept either.
            "small": lambda: develop(
                small,
                replace(look, noise_filter=look.noise_filter + next(press)),
                HERON.sensor,
                WIDTH,
            ),
            "large": whole,
        },
        rounds,
    )
    print(took["small"], took["large"], more)


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    code = f"from benchmarks.large import measured; measured({1 if quick else 9})"
    out = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", code], capture_output=True, text=True, check=True
    ).stdout
    small, large, more = map(float, out.split())
    ratio = large / small * (WIDTH * WIDTH / 1.5) / (WIDE * TALL)
    yield Row("24 megapixels, whole look", f"{large / 1000:.2f} s", ratio, "small, by pixel", 1.05)
    yield Row("24 megapixels, memory on top", f"{more:.0f} MB", more / 700, "700 MB", 1.0)
