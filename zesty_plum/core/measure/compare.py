"""How far two pictures are apart: CIEDE2000 over all pixels and by region."""

from dataclasses import dataclass

import cv2
import numpy as np

from ..arrays import Array
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import Picture
from ..scenes.scene import Scene

LEAST_PIXELS = 24  # of a region, below which nothing is said of it


@dataclass(frozen=True)
class Difference:
    """Mean, 95th percentile and maximum of CIEDE2000 over a frame."""

    mean: float
    p95: float
    most: float


def to_lab(picture: Picture) -> Array:
    """L*a*b* (h, w, 3) of a developed picture."""
    return encoded_to_lab(picture.encoded)


def _of(apart: Array) -> Difference:
    return Difference(float(apart.mean()), float(np.percentile(apart, 95)), float(apart.max()))


def difference(first: Array, second: Array) -> Difference:
    """Compare two L*a*b* pictures of one size."""
    return _of(ciede2000(first, second))


def by_region(
    scene: Scene, first: Array, second: Array
) -> tuple[Difference, dict[str, Difference]]:
    """Compare two L*a*b* pictures of a scene, whole and in each of its regions; those of pictures
    without a mask are none."""
    apart = ciede2000(first, second)
    if scene.mask is None:
        return _of(apart), {}
    height, width = first.shape[:2]
    mask = cv2.resize(scene.mask, (width, height), interpolation=cv2.INTER_NEAREST)
    inside = {name: apart[mask == value] for name, value in scene.regions.items()}
    return _of(apart), {
        name: _of(values) for name, values in inside.items() if values.size >= LEAST_PIXELS
    }
