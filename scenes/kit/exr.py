"""Writing the files of a scene."""

import numpy as np
import OpenEXR
from PIL import Image


def write_exr(path, linear):
    """Half-float EXR, linear Rec.2020 (D65 white), DWAB compressed."""
    header = {
        "compression": OpenEXR.DWAB_COMPRESSION,
        "type": OpenEXR.scanlineimage,
        "chromaticities": (0.708, 0.292, 0.170, 0.797, 0.131, 0.046, 0.3127, 0.3290),
    }
    channels = {c: np.ascontiguousarray(linear[..., k], np.float16) for k, c in enumerate("RGB")}
    OpenEXR.File(header, channels).write(str(path))


def write_mask(path, mask):
    Image.fromarray(mask).save(path, optimize=True)
