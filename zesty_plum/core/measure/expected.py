"""How much noise there is at a lightness: an even grey with the noise of the sensor, put through
every stage that the picture goes through.

An estimate from the picture itself would take fine texture for noise, and would read the same
whatever the noise filter does.
"""

import numpy as np

from ..colour.lab import encoded_to_lab
from ..develop.pipeline import greys
from ..develop.taking import white_stops
from ..look import Look, Sensor
from ..scenes.scene import Scene

DARKEST, LEVELS = -7.0, 9  # stops from mid grey of the darkest grey that is tried, and how many are


class Noise:
    """Noise of greys in a picture of a look, `width` pixels wide."""

    def __init__(self, scene: Scene, look: Look, sensor: Sensor, width: int) -> None:
        stops = np.linspace(DARKEST, white_stops(scene, look, sensor) - 0.25, LEVELS)
        lab = encoded_to_lab(greys(scene, look, sensor, width, stops)).reshape(LEVELS, -1, 3)
        self._lightness = np.maximum.accumulate(lab[..., 0].mean(1))
        light, a, b = lab.std(1).T
        self._noise = light, np.hypot(a, b)

    def at(self, lightness: float) -> tuple[float, float]:
        """Standard deviation in L*, and in a*, b* together (root of the sum of squares), of a grey
        of this mean L*."""
        light, colour = (float(np.interp(lightness, self._lightness, n)) for n in self._noise)
        return light, colour
