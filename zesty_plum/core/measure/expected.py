"""How much noise there can be at a lightness: what the sensor's law says, carried through the
curve, sharpness and grain.

An estimate from the picture alone takes fine texture for noise; what is more than the camera can
have made is texture.
"""

import numpy as np

from ..arrays import MID_GREY
from ..colour.spaces import LUMA_709, srgb_decode, srgb_encode
from ..develop import local, sense
from ..develop.pipeline import Picture, make_point
from ..look import Look, Sensor
from ..scenes.scene import Scene

LEVELS = 480
ROOM = 1.25  # how much above the law an estimate may lie before it is taken for texture


class NoiseMost:
    """How much noise grey can have in one picture: the camera's law through the look's curve,
    worked out once and asked of every region."""

    def __init__(self, scene: Scene, look: Look, sensor: Sensor, picture: Picture) -> None:
        made = make_point(scene, look, sensor)
        self._scene, self._look, self._sensor, self._picture = scene, look, sensor, picture
        self._stops = np.linspace(-9, made.white, LEVELS)
        light = (MID_GREY * np.exp2(self._stops)).astype(np.float32)
        self._grey = made.grey_curve(light).astype(np.float64)
        self._slopes = np.gradient(self._grey, self._stops)

    def at(self, lightness: float) -> float:
        """Standard deviation in L* that grey of this mean L* can have in the picture, with `ROOM`
        and without the noise filter."""
        here = float(srgb_encode(np.array(((lightness + 16) / 116) ** 3)))
        at = float(np.interp(here, self._grey, self._stops))
        exposure, width = self._picture.exposure, self._picture.pixels.shape[1]
        if exposure is None:
            deviation = self._scene.noise_present
        else:
            level = MID_GREY * 2.0**at
            one = np.array([level], np.float32)
            law = float(sense.noise_deviation(one, self._sensor, exposure.iso, width)[0])
            slope = float(np.interp(at, self._stops, self._slopes))
            # Three channels of independent noise, weighed as brightness weighs them.
            deviation = slope * law / (level * np.log(2)) * float(np.linalg.norm(LUMA_709))
        return ROOM * local.noise_after(deviation, self._look, here) * _lightness_slope(here)


def _lightness_slope(encoded: float) -> float:
    """Change of L* by encoded grey."""
    near = np.clip([encoded - 0.005, encoded + 0.005], 0, 1)
    steps = 116 * np.cbrt(srgb_decode(near)) - 16
    return float((steps[1] - steps[0]) / (near[1] - near[0]))
