"""Where the milliseconds of one picture of 960 x 640 go, stage by stage, and how near each is to
what bounds it: the memory that it has to move, at the bandwidth of this run."""

from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np

from benchmarks.rendering import FULL, HERON, WIDTH
from benchmarks.timing import Row, by_turns
from zesty_plum.allocator import keep_freed
from zesty_plum.core import scenes
from zesty_plum.core.develop import clarity, detail, pipeline
from zesty_plum.core.develop import table as tables
from zesty_plum.core.develop.part import alone
from zesty_plum.core.develop.point import FINE
from zesty_plum.core.pictures.write import preview

COLOURS, GREY, BYTES = 12, 4, 3  # bytes of a pixel: floats, one float, what is shown


@dataclass(frozen=True)
class Stage:
    """One stage: what it does, the bytes a pixel that it has to read and to write, and how many
    times as long as moving those alone it may take."""

    work: Callable[[], object]
    moves: float
    most: float


def stages() -> dict[str, Stage]:
    """All of them, on a picture that uses all."""
    scene, look, sensor = scenes.load("boatyard"), HERON.interpret(FULL), HERON.sensor
    way = pipeline.Passage(scene, look, sensor, WIDTH)._way
    height = way.light.shape[0]
    quiet = replace(way, look=replace(look, noise_filter=0.0, colour_filter=0.0))
    bare = replace(way, look=replace(look, clarity=0.0, sharpness=0.0))
    part = alone((height, WIDTH), WIDTH)
    encoded, luma = way.encode(0, height), np.empty((height, WIDTH), np.float32)
    key, out = pipeline.table_key(way.made), np.empty_like(encoded)
    baked = tables.bake(key)
    baked.apply(encoded, luma, out)
    done, brightness = out.copy(), luma.copy()
    picture = pipeline.develop(scene, look, sensor, WIDTH)
    into = out, picture.pixels, picture.marks
    return {
        "expose, sense, balance": Stage(lambda: quiet.encode(0, height), 3 * COLOURS, 7),
        "noise filter": Stage(lambda: way.encode(0, height), 4 * COLOURS, 5),
        "tone and colour": Stage(lambda: baked.apply(encoded, luma, out), 2 * COLOURS + GREY, 16),
        "a table that is new": Stage(
            lambda: tables.Table(key, FINE).apply(encoded, luma, out), COLOURS / 8, 250
        ),
        "clarity": Stage(lambda: clarity.shape(brightness, look, part), 3 * GREY, 13),
        "sharpness": Stage(lambda: detail.shape(brightness, look, part), 5 * GREY, 5),
        "grain, bytes, marks": Stage(
            lambda: bare.finish(done, luma, part, slice(0, height), into),
            2 * COLOURS + 2 * GREY + BYTES + 1,
            4,
        ),
        "JPEG": Stage(lambda: preview(picture.pixels), 3 * BYTES, 30),
    }


def bandwidth() -> float:
    """Bytes a millisecond that two threads read and write, of what is too large for a cache."""
    here = np.zeros((2, 12 * 2**20), np.float32)
    there = np.empty_like(here)
    pool = ThreadPoolExecutor(2)

    def copied() -> None:
        list(pool.map(lambda k: np.copyto(there[k], here[k]), (0, 1)))

    return 2 * here.nbytes / by_turns({"copied": copied}, 9)["copied"]


def run(quick: bool) -> Iterator[Row]:
    """Each stage: its time, its share of the whole, and how many times as long as memory alone."""
    cv2.setNumThreads(2)
    keep_freed()
    every, most = stages(), bandwidth()
    took = by_turns({name: stage.work for name, stage in every.items()}, 5 if quick else 15)
    took["a table that is new"] -= took["tone and colour"]
    took["noise filter"] -= took["expose, sense, balance"]
    whole = sum(took.values())
    pixels = WIDTH * WIDTH / 1.5
    for name, ms in took.items():
        bound = every[name].moves * pixels / most
        shown = f"{ms:.1f} ms, {ms / whole:.0%}"
        of = f"{every[name].moves * pixels / 1e6:.0f} MB at {most / 1e6:.0f} GB/s"
        yield Row(f"stage: {name}", shown, max(ms, 0.01) / bound, of, every[name].most)
