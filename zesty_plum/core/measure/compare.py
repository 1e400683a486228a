"""How far two pictures are apart: CIEDE2000 over all pixels, by region, and as a map."""

from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array
from ..base.late import library
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import Picture
from ..scenes.scene import Scene

cv2 = library("cv2")

LEAST_PIXELS = 24  # of a region, below which nothing is said of it


@dataclass(frozen=True)
class Difference:
    """Mean, 95th percentile and maximum of CIEDE2000 over a frame."""

    mean: float
    p95: float
    most: float


@dataclass(frozen=True, eq=False)
class Comparison:
    """Two pictures of a scene: CIEDE2000 by place (h, w), over the whole, and in each region of the
    scene that is large enough; none where no regions are known."""

    places: Array
    whole: Difference
    regions: dict[str, Difference]


def to_lab(picture: Picture) -> Array:
    """L*a*b* (h, w, 3) of a developed picture."""
    return encoded_to_lab(picture.encoded)


def _of(places: Array) -> Difference:
    return Difference(
        mean=float(places.mean()), p95=float(np.percentile(places, 95)), most=float(places.max())
    )


def difference(first: Array, second: Array) -> Difference:
    """Compare two L*a*b* pictures of one size."""
    return _of(ciede2000(first, second))


def compare(scene: Scene, first: Array, second: Array) -> Comparison:
    """Compare two L*a*b* pictures of a scene, of one size."""
    places = ciede2000(first, second)
    if scene.mask is None:
        return Comparison(places, _of(places), {})
    height, width = first.shape[:2]
    mask = cv2.resize(scene.mask, (width, height), interpolation=cv2.INTER_NEAREST)
    inside = {name: places[mask == value] for name, value in scene.regions.items()}
    regions = {name: _of(values) for name, values in inside.items() if values.size >= LEAST_PIXELS}
    return Comparison(places, _of(places), regions)
