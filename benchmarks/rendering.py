"""The whole look on a picture against the bare minimum any such program does: table, two small
blurs, JPEG."""

import itertools
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import colour
import cv2
import numpy as np
import PyOpenColorIO as ocio

from benchmarks.timing import against, by_turns, row
from zesty_plum.allocator import keep_freed
from zesty_plum.core import scenes
from zesty_plum.core.bodies import body
from zesty_plum.core.colour.difference import ciede2000
from zesty_plum.core.develop import point, reduce_noise
from zesty_plum.core.develop import table as tables
from zesty_plum.core.develop.pipeline import develop, make_point
from zesty_plum.core.measure.compare import to_lab
from zesty_plum.core.pictures.write import preview

WIDTH, HEIGHT = 960, 640
HERON = body("heron-m2")
FULL = {
    "style": "linen",
    "guard": 1,
    "shift_red": 2,
    "highlights": -1,
    "shadows": 1,
    "colour": 1,
    "density": 1,
    "clarity": 2,
    "sharpness": -1,
    "noise_filter": 2,
    "grain": 1,
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


def looks(scene_id: str, pool: ThreadPoolExecutor, table, whole) -> None:
    """A picture, and a strip of nine, of a look that was never seen."""
    scene = scenes.load(scene_id)
    numbers = itertools.count()

    def fresh(dials, width=WIDTH):
        # A dial press: a new look, so that its table has to be built.
        look = HERON.interpret(dials)
        look = replace(look, saturation=look.saturation + next(numbers) * 1e-6)
        return preview(develop(scene, look, HERON.sensor, width).pixels)

    def strip():
        # The server answers two requests at a time.
        return list(pool.map(lambda n: fresh({**FULL, "shadows": n / 2 - 2}, 192), range(9)))

    took = by_turns(
        {
            "peer": whole,
            "table": table,
            "plain": lambda: fresh({}),
            "full": lambda: fresh(FULL),
            "strip": strip,
        }
    )
    row(f"{scene_id}: peer (table, two blurs, JPEG)", f"{took['peer']:.0f} ms")
    row(f"{scene_id}: as shipped to JPEG", against(took, "plain", "peer", "peer"))
    row(
        f"{scene_id}: whole look, all stages, to JPEG",
        against(took, "full", "peer", "peer"),
        "at most 2 x",
    )
    row(f"{scene_id}: strip of nine", against(took, "strip", "full", "large"), "at most 1 x")


def parts(pool: ThreadPoolExecutor) -> None:
    """Table and noise reduction by themselves."""
    scene = scenes.load("workshop")
    made = make_point(scene, HERON.interpret(FULL), HERON.sensor)
    baked, luma = tables.bake(made), np.empty((HEIGHT, WIDTH), np.float32)
    same = ocio_of(made, baked)
    encoded = made.to_shaper(scene.at_width(WIDTH))
    halves = np.array_split(np.arange(HEIGHT), 2)

    def unknown():
        tables.Table(made, point.FINE).apply(encoded.copy(), luma)

    def theirs():
        pixels = encoded.copy()
        list(pool.map(lambda rows: same.applyRGB(pixels[rows[0] : rows[-1] + 1]), halves))

    took = by_turns(
        {
            "unknown": unknown,
            "grid": lambda: made.table(point.FINE),
            "ours": lambda: baked.apply(encoded.copy(), luma),
            "theirs": theirs,
            "noise": lambda: reduce_noise.reduce_noise(encoded, 0.02, 2),
            "bilateral": lambda: cv2.bilateralFilter(encoded, 5, 0.06, 3),
        }
    )
    row(
        f"point stages, ramp and cube of {point.FINE}",
        against(took, "ours", "theirs", "OpenColorIO (ramp and cube)", 1),
        "at most 1.15 x",
    )
    row(
        "  and a look that was never seen",
        against(took, "unknown", "grid", "the whole cube", 1),
        "at most 0.5 x",
    )
    row("noise reduction", against(took, "noise", "bilateral", "bilateral"), "at most 1.5 x")


def differences() -> None:
    """The map of differences between two pictures."""
    scene = scenes.load("workshop")
    labs = [to_lab(develop(scene, HERON.interpret(d), HERON.sensor, WIDTH)) for d in ({}, FULL)]
    took = by_turns(
        {
            "ours": lambda: ciede2000(*labs),
            "theirs": lambda: colour.delta_E(*labs, method="CIE 2000"),
        },
        5,
    )
    row("CIEDE2000 map", against(took, "ours", "theirs", "colour-science"), "at most 0.2 x")


def movement() -> None:
    """A time in which people blur, never asked for before, against the same scene held still; and
    a clip's frame through its codec."""
    scene, look = scenes.load("procession"), HERON.interpret(FULL)
    still = replace(scene, moves=(), lens=0.0)
    clip = HERON.interpret({**FULL, "output": "clip_10", "chroma": "4:2:2"})

    def moving():
        return develop(scene, look, HERON.sensor, WIDTH)

    def anew():
        scene._moved.clear()
        return moving()

    took = by_turns(
        {
            "moving": moving,
            "anew": anew,
            "still": lambda: develop(still, look, HERON.sensor, WIDTH),
            "file": lambda: develop(still, clip, HERON.sensor, WIDTH, as_written=True),
        }
    )
    row("movement, any other dial", against(took, "moving", "still", "still"), "at most 1.25 x")
    row("movement, a time that is new", against(took, "anew", "still", "still"))
    row("a clip's file", f"{took['file']:.0f} ms", "at most 300 ms")


def run() -> None:
    """Print the ratios."""
    cv2.setNumThreads(2)
    keep_freed()  # as the server does; the peers run under it too
    pool, (table, whole) = ThreadPoolExecutor(2), peer()
    for scene_id in ("boatyard", "workshop"):
        looks(scene_id, pool, table, whole)
    parts(pool)
    movement()
    differences()
