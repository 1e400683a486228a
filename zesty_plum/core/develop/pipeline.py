"""The whole way from a scene and a look to a picture, stage by stage."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np
import PyOpenColorIO as ocio

from .. import bands
from ..arrays import Array, Bytes8, Flags
from ..look import Look, Metering, Sensor
from ..scenes.scene import Scene
from ..styles import style
from . import balance, clarity, detail, encode, grain, kernels, metering, point, reduce_noise, sense

LUMA = np.array([[0.2126, 0.7152, 0.0722]], np.float32)
# Tables are built beside the stages before them, in threads of their own: the bands they wait for must find free hands.
_tables = ThreadPoolExecutor(2, thread_name_prefix="tables")
# Fields of a look that no point table depends on, and those that come before the table; at rest they are one.
_REST = Look()
NEIGHBOURS = {k: getattr(_REST, k) for k in ("clarity", "sharpness", "noise_filter", "colour_filter", "grain", "grain_size",
                                             "clip", "bits", "limited", "iso_least", "iso_most")}  # fmt: skip
BEFORE = {k: getattr(_REST, k) for k in ("metering", "exposure", "guard", "balance", "light_mired", "shift_mired", "shift_duv")}


@dataclass(frozen=True)
class Picture:
    """A developed picture.

    pixels : (h, w, 3) uint8 sRGB. encoded : the same before rounding, float32.
    clipped, crushed : (h, w) bool, all channels at white or at black before grain.
    exposure : what the camera would set, or None for a finished picture. metered : stops that its meter added.
    """

    pixels: Bytes8
    encoded: Array
    clipped: Flags
    crushed: Flags
    exposure: sense.Exposure | None
    metered: float = 0.0


def white_stops(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops from mid grey to the clip point."""
    return (point.FINISHED_WHITE if scene.finished else sensor.headroom) + look.guard


def make_point(scene: Scene, look: Look, sensor: Sensor) -> point.Point:
    """The point stages of `look` in the light of `scene`."""
    light = balance.assumed_light(look, scene.auto_light, scene.card_light)
    matrix = balance.balance_matrix(light, scene.finished)
    return point.Point(look, style(look.style), white_stops(scene, look, sensor), point.as_tuple(matrix), scene.finished)


def metered(scene: Scene, look: Look, sensor: Sensor, spot: tuple[float, float] | None = None) -> float:
    """Stops that the look's metering adds in this scene; `spot` (shares of the frame) lies on the subject by default."""
    if scene.finished or scene.ev100 is None or look.metering is Metering.HAND:
        return 0.0
    return metering.meter(scene.at_width(240), look.metering, white_stops(scene, look, sensor), spot or scene.subject_at)


def exposure_of(scene: Scene, look: Look, sensor: Sensor, gain: float = 0.0) -> sense.Exposure | None:
    """Aperture, time and ISO for this look in this scene with `gain` stops from the meter; None for a finished picture."""
    if scene.ev100 is None:
        return None
    return sense.expose(sensor, scene.ev100, look.guard, look.exposure + gain, (look.iso_least, look.iso_most))


def _apply(encoded: Array, processor: "ocio.CPUProcessor") -> None:
    """Run a table over a picture in place."""
    bands.run(lambda top, end: processor.applyRGB(encoded[top:end]), encoded.shape[0])


def _table_key(made: point.Point) -> point.Point:
    """The point without what its table does not depend on, so that tables are shared."""
    look = replace(made.look, **NEIGHBOURS)
    if made.finished:
        return replace(made, look=look)
    return replace(made, look=replace(look, **BEFORE), matrix=())


def _encode_scene(look: Look, sensor: Sensor, made: point.Point, exposure: sense.Exposure | None, gain: float, light: Array,
                  frame: int, seed: int) -> Array:  # fmt: skip
    """Expose by `gain` stops, sense, balance: scene light to the shaper's scale, noise reduced."""
    low, high = made.log_range
    height, width = light.shape[:2]
    law = sense.noise_law(sensor, exposure.iso, frame) if exposure is not None else (0.0, 0.0)
    unit, encoded, matrix = sense.unit_noise(height, width, seed), np.empty_like(light), np.array(made.matrix)

    def work(top: int, end: int) -> None:
        band = encoded[top:end]
        kernels.sense_and_balance(light[top:end], unit[top:end], band, 2.0**gain, *law, matrix, point.DARKEST)
        flat = band.reshape(-1)
        kernels.to_log(flat, flat.view(np.int32), low, high - low)

    bands.run(work, height)
    if (look.noise_filter or look.colour_filter) and exposure is not None:
        iso = exposure.iso

        def deviation(brightness: Array) -> Array:
            level = np.exp2(low + brightness * np.float32(high - low))
            noise = sense.noise_deviation(level - point.DARKEST, sensor, iso, frame)
            return np.asarray(noise / (level * np.log(2) * (high - low)))

        encoded = reduce_noise.reduce_noise(encoded, deviation, look.noise_filter, look.colour_filter, overwrite=True)
    return encoded


def develop(scene: Scene, look: Look, sensor: Sensor, width: int, seed: int = 1, full_detail: bool = False,
            spot: tuple[float, float] | None = None, as_written: bool = False) -> Picture:  # fmt: skip
    """Develop `scene` at `width` pixels, or with `full_detail` a part of it that is `width` pixels wide, at 100 percent.

    At 100 percent a pixel of the scene stands for one photosite, so noise is not averaged away. `spot` is where spot
    metering looks, as shares of the frame. `as_written` rounds to the code values that the look's file would hold.
    """
    if full_detail:
        pixels, frame = scene.detail(width, scene.height_at(width)), sensor.width
    else:
        pixels, frame = scene.at_width(width), width
    made = make_point(scene, look, sensor)
    # The coarse table would bend a finished picture that should come back unchanged; small scenes do not show it.
    size = point.COARSE if pixels.shape[1] <= 320 and not scene.finished else point.FINE
    # The table is built while the stages before it run.
    table = _tables.submit(point.applier, _table_key(made), size)
    if scene.finished:
        encoded = pixels.copy()
        gain, exposure = 0.0, None
        if look.noise_filter or look.colour_filter:
            encoded = reduce_noise.reduce_noise(encoded, scene.noise_present, look.noise_filter, look.colour_filter)
    else:
        gain = metered(scene, look, sensor, spot)
        exposure = exposure_of(scene, look, sensor, gain)
        encoded = _encode_scene(look, sensor, made, exposure, look.exposure + gain, pixels, frame, seed)
    encoded = np.ascontiguousarray(encoded, np.float32)
    _apply(encoded, table.result())
    made_of = _finish(encoded, look, frame if full_detail else pixels.shape[1], seed)
    if as_written:
        encoded = encode.quantised(encoded, look.bits, look.limited)
        made_of = (cv2.convertScaleAbs(encoded, alpha=255), made_of[1])
    return Picture(
        made_of[0],
        encoded,
        made_of[1] == 1,
        made_of[1] == 2,
        exposure,
        gain,
    )


def _finish(encoded: Array, look: Look, frame: int, seed: int) -> tuple[Bytes8, Bytes8]:
    """Clarity, sharpness and grain, which change brightness only, written into `encoded`; its bytes, and marks of what was
    clipped (1) or crushed (2) before them."""
    luma = cv2.transform(encoded, LUMA)
    if look.clarity:
        clarity.clarify(luma, look.clarity, frame)
    if look.sharpness:
        detail.sharpen(luma, look.sharpness)
    height, width = luma.shape
    field = grain.unit_grain(height, width, grain.blur_pixels(look.grain_size, frame), seed) if look.grain else luma
    pixels, marks = np.empty(encoded.shape, np.uint8), np.empty((height, width), np.uint8)

    def work(top: int, end: int) -> None:
        band = slice(top, end)
        kernels.finish(encoded[band], luma[band], field[band], look.grain, pixels[band], marks[band])

    bands.run(work, height)
    return pixels, marks
