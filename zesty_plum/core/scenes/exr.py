"""OpenEXR: scene light as half or full floats."""

from pathlib import Path

import numpy as np

from ..base.arrays import Array
from ..base.errors import PlumError
from ..base.late import library

OpenEXR = library("OpenEXR")


def read_exr(path: Path) -> Array:
    """Read red, green and blue as (h, w, 3) float32."""
    try:
        with OpenEXR.File(str(path), separate_channels=True) as file:
            channels = file.channels()
            planes = [np.asarray(channels[c].pixels, np.float32) for c in "RGB"]
    except (RuntimeError, KeyError, OSError) as error:
        raise PlumError(
            f"{path.name} is not an EXR picture with red, green and blue channels."
        ) from error
    # Lossy compression rings a little below zero next to black.
    return np.maximum(np.stack(planes, -1), 0)
