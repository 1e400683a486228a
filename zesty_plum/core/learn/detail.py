"""Texture of the middle of a pair at full size: how much there is of it, coarse and fine, in the
camera's picture and in ours."""

import itertools
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..base.late import library
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import develop
from ..look import Look, Sensor
from ..pictures.read import read
from ..scenes.scene import Scene

cv2 = library("cv2")

SIDE = 640  # pixels across that are looked at
WIDTHS = (0.7, 1.4, 2.8)  # of the blurs between which texture is measured
LEAST = 0.01  # L*, that nobody sees
CALM = 90  # percent of places that are looked at
WORTH = np.array([1.0, 0.5, 0.1, 0.15])  # of the four measures


@dataclass
class Detail:
    """A pair's middle: the raw scene at its own size, and the texture of the camera's picture;
    `bias` is how much the standard pictures differ from ours anyway."""

    scene: Scene
    there: Array
    bias: Array | float = 0.0

    def off(self, look: Look, sensor: Sensor) -> float:
        """How far the texture of a look is from the camera's: mean square of log2."""
        return float(WORTH @ (self.more(look, sensor) - self.bias) ** 2)

    def more(self, look: Look, sensor: Sensor) -> Array:
        """log2 of the camera's texture over that of a look (4,), as `texture`."""
        made = develop(self.scene, look, sensor, SIDE, full_detail=True)
        return np.asarray(np.log2(self.there / texture(made.encoded)))


def texture(encoded: Array) -> Array:
    """Usual size of L* between blurs, finest first, and of a* and b* between the first two (4,);
    the steepest tenth is left out, where cameras hold back."""
    lab = encoded_to_lab(encoded)
    blurs = [lab, *[cv2.GaussianBlur(lab, (0, 0), width) for width in WIDTHS]]
    bands = [np.abs(a - b) for a, b in itertools.pairwise(blurs)]
    parts = [*[band[..., 0] for band in bands], bands[1][..., 1:]]
    return np.asarray(
        [max(LEAST, float(part[part <= np.percentile(part, CALM)].mean())) for part in parts]
    )


def load(raw: Path, finished: Path) -> Detail:
    """Read the middle of a pair at full size; PlumError where it cannot be."""
    scene = read(raw.read_bytes(), raw.name, "own-taught")
    made = read(finished.read_bytes(), finished.name, "own-taught")
    if scene.finished or not made.finished:
        raise PlumError(f"'{raw.name}' is not a raw with its picture.")
    scene = replace(scene, place=(0.5, 0.5), whole=None)
    width, height = scene.crop(SIDE, SIDE)[2:]
    columns, rows = made.size
    x, y = round((columns - width) / 2), round((rows - height) / 2)
    if min(x, y) < 0:
        raise PlumError(f"'{finished.name}' is smaller than its raw, so its texture tells nothing.")
    part = made.frame[y : y + height][:, x : x + width]
    return Detail(scene, texture(np.ascontiguousarray(part)))
