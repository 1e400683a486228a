"""How far two pictures are apart: CIEDE2000 over all pixels."""

from dataclasses import dataclass

import numpy as np

from ..arrays import Array
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..develop.pipeline import Picture


@dataclass(frozen=True)
class Difference:
    """Mean, 95th percentile and maximum of CIEDE2000 over a frame."""

    mean: float
    p95: float
    most: float


def to_lab(picture: Picture) -> Array:
    """L*a*b* (h, w, 3) of a developed picture."""
    return encoded_to_lab(picture.encoded)


def difference(first: Array, second: Array) -> Difference:
    """Compare two L*a*b* pictures of one size."""
    d = ciede2000(first, second)
    return Difference(float(d.mean()), float(np.percentile(d, 95)), float(d.max()))
