"""Where the time of a whole look goes, stage by stage, on a picture of 960 x 640."""

from dataclasses import replace

import cv2
import numpy as np

from benchmarks.rendering import FULL, HERON, WIDTH
from benchmarks.timing import by_turns
from zesty_plum.allocator import keep_freed
from zesty_plum.core import scenes
from zesty_plum.core.develop import clarity, detail, pipeline
from zesty_plum.core.develop import table as tables
from zesty_plum.core.develop.part import Part
from zesty_plum.core.develop.point import FINE
from zesty_plum.core.pictures.write import preview


def run() -> None:
    """Print each stage's share."""
    cv2.setNumThreads(2)
    keep_freed()
    scene, look, sensor = scenes.load("boatyard"), HERON.interpret(FULL), HERON.sensor
    way = pipeline.Passage(scene, look, sensor, WIDTH)._way
    height = way.light.shape[0]
    quiet = replace(way, look=replace(look, noise_filter=0.0, colour_filter=0.0))
    bare = replace(way, look=replace(look, clarity=0.0, sharpness=0.0))
    part = Part(WIDTH, 0, height)
    encoded, luma = way.encode(0, height), np.empty((height, WIDTH), np.float32)
    key = pipeline.table_key(way.made)
    baked = tables.bake(key)
    done = encoded.copy()
    baked.apply(done, luma)
    picture = pipeline.develop(scene, look, sensor, WIDTH)
    all_rows = slice(0, height)
    into = picture.encoded, picture.pixels, picture.marks
    took = by_turns(
        {
            "meter": lambda: pipeline.metered(scene, replace(look, metering="centre"), sensor),
            "expose, sense, balance": lambda: quiet.encode(0, height),
            "noise filter": lambda: way.encode(0, height),
            "tone and colour": lambda: baked.apply(encoded.copy(), luma),
            "their table": lambda: tables.Table(key, FINE).apply(encoded.copy(), luma),
            "clarity": lambda: clarity.shape(luma.copy(), look, part),
            "sharpness": lambda: detail.shape(luma.copy(), look, part),
            "grain, bytes, marks": lambda: bare.finish(done, luma, part, all_rows, into),
            "JPEG": lambda: preview(picture.pixels),
        }
    )
    took["their table"] -= took["tone and colour"]
    took["noise filter"] -= took["expose, sense, balance"]
    whole = sum(took.values())
    for name, ms in took.items():
        print(f"  {name:30} {ms:.1f} ms, {ms / whole:.0%}")
