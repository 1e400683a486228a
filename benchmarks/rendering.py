"""The whole look on a picture against the bare minimum any such program does: table, two small
blurs, JPEG."""

import itertools
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import colour
import cv2
import numpy as np
import PyOpenColorIO as ocio

from benchmarks.timing import Row, beside, by_turns
from zesty_plum.allocator import keep_freed
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.develop import point, recorded, reduce_noise
from zesty_plum.core.develop import table as tables
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import make_point
from zesty_plum.core.measure.compare import to_lab
from zesty_plum.core.pictures.write import preview

WIDTH, HEIGHT = 960, 640
HERON = body("heron-m2")
FULL = {
    "style": "linen",
    "guard": 1,
    "shift_amber": 10,
    "shift_green": -2,
    "highlights": -1,
    "shadows": 1,
    "colour": 1,
    "clarity": 2,
    "sharpness": -1,
    "noise_filter": 3,
    "grain": "flour",
}


def peer():
    """OpenColorIO's 33-point table on two threads, two Gaussian blurs of 1.2 pixels, and the same
    JPEG encode."""
    cube = np.random.default_rng(1).random((33, 33, 33, 3), np.float32)
    transform = ocio.Lut3DTransform(gridSize=33)
    transform.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    transform.setData(cube.ravel())
    processor = ocio.Config.CreateRaw().getProcessor(transform).getDefaultCPUProcessor()
    pool = ThreadPoolExecutor(2)
    scene = scenes.load("boatyard").at_width(WIDTH)

    def table():
        pixels = scene.copy()
        list(pool.map(processor.applyRGB, np.array_split(pixels, 2)))
        return pixels

    def whole():
        pixels = cv2.GaussianBlur(cv2.GaussianBlur(table(), (0, 0), 1.2), (0, 0), 1.2)
        return preview(cv2.convertScaleAbs(pixels, alpha=255))

    return table, whole


def ocio_of(made: point.Point, table: tables.Table):
    """The same ramp and a cube of the same size, applied by OpenColorIO."""
    line = ocio.Lut1DTransform(length=len(table.ramp), inputHalfDomain=False)
    line.setData(np.repeat(np.ascontiguousarray(table.ramp[:, 1]), 3))
    grid = ocio.Lut3DTransform(gridSize=table.size)
    grid.setInterpolation(ocio.INTERP_TETRAHEDRAL)
    grid.setData(np.ascontiguousarray(made.table(table.size), np.float32).ravel())
    return (
        ocio.Config.CreateRaw()
        .getProcessor(ocio.GroupTransform([line, grid]))
        .getDefaultCPUProcessor()
    )


def looks(scene_id: str, pool: ThreadPoolExecutor, table, whole, rounds: int) -> Iterator[Row]:
    """A picture, and a strip of nine, of a look that was never seen."""
    scene = scenes.load(scene_id)
    numbers = itertools.count()

    def fresh(dials, width=WIDTH, anew=False):
        # A dial press: a new look, so that its table has to be built; `anew` of a dial that acts
        # on light, so that nothing is kept.
        look, more = HERON.interpret(dials), next(numbers) * 1e-6
        look = replace(look, saturation=look.saturation + more)
        if anew:
            look = replace(look, noise_filter=look.noise_filter + more)
        return preview(develop(scene, look, HERON.sensor, width).pixels)

    def strip():
        # The server answers two requests at a time.
        return list(pool.map(lambda n: fresh({**FULL, "shadows": n - 4}, 192), range(9)))

    took = by_turns(
        {
            "peer": whole,
            "table": table,
            "plain": lambda: fresh({}),
            "full": lambda: fresh(FULL),
            "strip": strip,
        },
        rounds,
    )
    took |= by_turns({"peer": whole, "anew": lambda: fresh(FULL, anew=True)}, rounds)
    peer = "table, two blurs, JPEG"
    yield beside(f"{scene_id}: as shipped to JPEG", took, "plain", "peer", peer, 1.0)
    yield beside(f"{scene_id}: whole look, all stages, to JPEG", took, "full", "peer", peer, 1.4)
    yield beside(f"{scene_id}: the same, nothing kept", took, "anew", "peer", peer, 1.4)
    # Wished for is 0.75: the large one got quicker, and small ones are mostly Python.
    yield beside(f"{scene_id}: strip of nine", took, "strip", "anew", "one large, anew", 1.0)


def parts(pool: ThreadPoolExecutor, rounds: int) -> Iterator[Row]:
    """Table and noise reduction by themselves."""
    scene = scenes.load("workshop")
    made = make_point(scene, HERON.interpret(FULL), HERON.sensor)
    baked, luma = tables.bake(made), np.empty((HEIGHT, WIDTH), np.float32)
    same = ocio_of(made, baked)
    encoded = made.to_shaper(scene.at_width(WIDTH))
    halves, out = np.array_split(np.arange(HEIGHT), 2), np.empty_like(encoded)

    def unknown():
        tables.Table(made, point.FINE).apply(encoded, luma, out)

    def theirs():
        pixels = encoded.copy()
        list(pool.map(lambda rows: same.applyRGB(pixels[rows[0] : rows[-1] + 1]), halves))

    took = by_turns(
        {
            "unknown": unknown,
            "grid": lambda: made.table(point.FINE),
            "ours": lambda: baked.apply(encoded, luma, out),
            "theirs": theirs,
            "noise": lambda: reduce_noise.reduce_noise(encoded, 0.02, 2),
            "bilateral": lambda: cv2.bilateralFilter(encoded, 5, 0.06, 3),
        },
        rounds,
    )
    stages = f"point stages, ramp and cube of {point.FINE}"
    yield beside(stages, took, "ours", "theirs", "OpenColorIO (ramp and cube)", 0.85, 1)
    yield beside("  and a look that was never seen", took, "unknown", "grid", "whole cube", 0.5, 1)
    yield beside("noise reduction", took, "noise", "bilateral", "bilateral", 0.6, 1)


def differences(rounds: int) -> Iterator[Row]:
    """The map of differences between two pictures."""
    scene = scenes.load("workshop")
    labs = [to_lab(develop(scene, HERON.interpret(d), HERON.sensor, WIDTH)) for d in ({}, FULL)]
    took = by_turns(
        {
            "ours": lambda: ciede2000(*labs),
            "theirs": lambda: colour.delta_E(*labs, method="CIE 2000"),
        },
        rounds,
    )
    yield beside("CIEDE2000 map", took, "ours", "theirs", "colour-science", 0.1)


def movement(rounds: int) -> Iterator[Row]:
    """A time in which people blur, never asked for before, against the same scene held still; and
    a clip's frame through its codec, against the codec alone."""
    scene, look = scenes.load("procession"), HERON.interpret(FULL)
    still = replace(scene, moves=(), lens=0.0)
    clip = HERON.interpret({**FULL, "output": "clip_10", "chroma": "4:2:2"})
    encoded = develop(still, clip, HERON.sensor, WIDTH).encoded
    planes, _, _ = recorded.planes_of(encoded, clip, clip.chroma)
    budget = recorded.pixel_bits(clip) * WIDTH * HEIGHT * (clip.frame_size / WIDTH) ** 2

    times = itertools.count(1)

    def at_a_new_time(scene):
        # Another time, which nobody asked for before: nothing of what was sensed is kept.
        new = replace(look, exposure=next(times) * 1e-4)
        return develop(scene, new, HERON.sensor, WIDTH)

    took = by_turns(
        {
            "moving": lambda: develop(scene, look, HERON.sensor, WIDTH),
            "still": lambda: develop(still, look, HERON.sensor, WIDTH),
            "moving anew": lambda: at_a_new_time(scene),
            "still anew": lambda: at_a_new_time(still),
            "file": lambda: recorded.as_file(encoded, clip, WIDTH, HERON.sensor.width),
            "codec": lambda: recorded.there_and_back(planes, clip.bits, clip.chroma, budget),
        },
        rounds,
    )
    yield beside("movement, any other dial", took, "moving", "still", "still", 1.25)
    yield beside("movement, a time that is new", took, "moving anew", "still anew", "still", 1.5)
    yield beside("a clip's file", took, "file", "codec", "its codec alone", 1.5)


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    cv2.setNumThreads(2)
    keep_freed()  # as the server does; the peers run under it too
    pool, (table, whole) = ThreadPoolExecutor(2), peer()
    rounds = 4 if quick else 15
    for scene_id in ("workshop",) if quick else ("boatyard", "workshop"):
        yield from looks(scene_id, pool, table, whole, rounds)
    yield from parts(pool, rounds)
    yield from movement(rounds)
    yield from differences(3 if quick else 7)
