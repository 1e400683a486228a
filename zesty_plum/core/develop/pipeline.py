"""The whole way from a scene and a look to a picture, stage by stage."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np
import PyOpenColorIO as ocio

from ..arrays import Array, Bytes8, Flags
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from . import balance, detail, grain, point, reduce_noise, sense

THREADS = 2
SMALL = 60_000  # pixels below which a second thread costs more than it saves
LUMA = np.array([[0.2126, 0.7152, 0.0722]], np.float32)
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="develop")


@dataclass(frozen=True)
class Picture:
    """A developed picture.

    pixels : (h, w, 3) uint8 sRGB. encoded : the same before rounding, float32.
    clipped, crushed : (h, w) bool, all channels at white or at black before grain.
    exposure : what the camera would set, or None for a finished picture.
    """

    pixels: Bytes8
    encoded: Array
    clipped: Flags
    crushed: Flags
    exposure: sense.Exposure | None


def white_stops(scene: Scene, look: Look, sensor: Sensor) -> float:
    """Stops from mid grey to the clip point."""
    return (point.FINISHED_WHITE if scene.finished else sensor.headroom) + look.guard


def make_point(scene: Scene, look: Look, sensor: Sensor) -> point.Point:
    """The point stages of `look` in the light of `scene`."""
    light = balance.assumed_light(look, scene.auto_light, scene.card_light)
    matrix = balance.balance_matrix(light, scene.finished)
    return point.Point(look, style(look.style), white_stops(scene, look, sensor), point.as_tuple(matrix), scene.finished)


def exposure_of(scene: Scene, look: Look, sensor: Sensor) -> sense.Exposure | None:
    """Aperture, time and ISO for this look in this scene; None where the picture came in finished."""
    if scene.ev100 is None:
        return None
    return sense.expose(sensor, scene.ev100, look.guard, look.exposure)


def _apply(encoded: Array, processor: "ocio.CPUProcessor") -> Array:
    """Run a table over a picture in place, its halves side by side."""
    if encoded.shape[0] * encoded.shape[1] < SMALL:
        processor.applyRGB(encoded)
    else:
        list(_pool.map(processor.applyRGB, np.array_split(encoded, THREADS)))
    return encoded


def _table_key(made: point.Point) -> point.Point:
    """The point without what its table does not depend on, so that tables are shared."""
    look = replace(made.look, sharpness=0.0, noise_filter=0.0, grain=0.0, grain_size=1.0)
    if made.finished:
        return replace(made, look=look)
    bare = Look(style=look.style, highlights=look.highlights, shadows=look.shadows, saturation=look.saturation)
    return replace(made, look=bare, matrix=())


def _encode_scene(scene: Scene, look: Look, sensor: Sensor, made: point.Point, light: Array, frame: int, seed: int) -> Array:
    """Expose, sense, balance: scene light to the shaper's scale, noise reduced."""
    exposure = exposure_of(scene, look, sensor)
    if look.exposure:
        light = cv2.multiply(light, (2.0**look.exposure,) * 4)
    if exposure is not None:
        light = sense.add_noise(light, sensor, exposure.iso, seed, frame)
    low, high = made.log_range
    # `light_to_shaper`, written with cv2 because it runs on whole pictures; log2(x) = ln(x) / ln 2. The upper end, where
    # the sensor clips, is the end of the tone ramp.
    balanced = np.concatenate([np.array(made.matrix), np.full((3, 1), point.DARKEST)], 1).astype(np.float32)
    encoded = cv2.transform(light, balanced)
    cv2.max(encoded, (point.DARKEST,) * 4, dst=encoded)
    cv2.log(encoded, dst=encoded)
    cv2.addWeighted(encoded, 1 / (np.log(2) * (high - low)), encoded, 0, -low / (high - low), dst=encoded)
    if look.noise_filter and exposure is not None:
        # How strong the noise is varies slowly, so a quarter of the size is enough to know it.
        small = cv2.resize(encoded, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
        level = np.exp2(low + small.mean(-1) * np.float32(high - low))
        deviation = sense.noise_deviation(level - point.DARKEST, sensor, exposure.iso, frame)
        deviation = deviation / (level * np.log(2) * (high - low))
        encoded = reduce_noise.reduce_noise(encoded, deviation, look.noise_filter)
    return np.asarray(encoded, np.float32)


def develop(scene: Scene, look: Look, sensor: Sensor, width: int, seed: int = 1, full_detail: bool = False) -> Picture:
    """Develop `scene` at `width` pixels, or with `full_detail` a part of it that is `width` pixels wide, at 100 percent.

    At 100 percent a pixel of the scene stands for one photosite, so noise is not averaged away.
    """
    if full_detail:
        pixels, frame = scene.detail(width, scene.height_at(width)), sensor.width
    else:
        pixels, frame = scene.at_width(width), width
    made = make_point(scene, look, sensor)
    # The coarse table would bend a finished picture that should come back unchanged; small scenes do not show it.
    size = point.COARSE if pixels.shape[1] <= 320 and not scene.finished else point.FINE
    # The table is built while the stages before it run.
    table = _pool.submit(point.applier, _table_key(made), size)
    if scene.finished:
        encoded = pixels.copy()
        if look.noise_filter:
            encoded = reduce_noise.reduce_noise(encoded, scene.noise_present, look.noise_filter)
    else:
        encoded = _encode_scene(scene, look, sensor, made, pixels, frame, seed)
    encoded = _apply(np.ascontiguousarray(encoded, np.float32), table.result())
    toned = cv2.convertScaleAbs(encoded, alpha=255)
    encoded = _texture(encoded, look, frame if full_detail else pixels.shape[1], seed)
    return Picture(
        cv2.convertScaleAbs(cv2.max(encoded, (0.0,) * 4), alpha=255),
        encoded,
        cv2.inRange(toned, (254,) * 3, (255,) * 3).view(np.bool_),
        cv2.inRange(toned, (0,) * 3, (1,) * 3).view(np.bool_),
        exposure_of(scene, look, sensor),
    )


def _texture(encoded: Array, look: Look, frame: int, seed: int) -> Array:
    """Sharpness and grain, which change brightness only; `encoded` is written over."""
    if not look.sharpness and not look.grain:
        return encoded
    luma = cv2.transform(encoded, LUMA)
    change = np.zeros_like(luma)
    if look.sharpness:
        change = detail.sharpening(luma, look.sharpness)
        luma = cv2.add(luma, change)
    if look.grain:
        change = cv2.add(change, grain.graining(luma, look.grain, look.grain_size, seed, frame))
    return np.asarray(cv2.add(encoded, cv2.merge([change] * 3), dst=encoded), np.float32)
