"""A raw (DNG) and a JPEG as the stand-in camera writes them."""

import io
from fractions import Fraction

import numpy as np
import tifffile
from PIL import ExifTags, Image

from ...core.base.arrays import Array, Matrix
from .camera import FROM_XYZ

FULL = 16383  # 14 bits
MAKER, MODEL = "Saltmarsh Instruments", "Turnstone"
QUALITY = 93


def jpeg(shown: Array, time: str) -> bytes:
    """A JPEG of an encoded picture (h, w, 3), taken at a time ("2026:05:01 12:00:00")."""
    image = Image.fromarray(np.round(shown * 255).astype(np.uint8))
    exif = Image.Exif()
    exif[ExifTags.Base.Make], exif[ExifTags.Base.Model] = MAKER, MODEL
    exif[ExifTags.Base.DateTime] = time
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.DateTimeOriginal] = time
    out = io.BytesIO()
    image.save(out, "JPEG", quality=QUALITY, exif=exif)
    return out.getvalue()


def dng(samples: Array, neutral: Matrix, time: str) -> bytes:
    """A DNG (specification 1.4) of samples of red, green and blue (h, w, 3); each photosite keeps
    one of them, red first."""
    height, width = (n // 2 * 2 for n in samples.shape[:2])
    mosaic = np.empty((height, width), np.uint16)
    deep = np.round(samples[:height, :width] * FULL).astype(np.uint16)
    mosaic[0::2, 0::2], mosaic[0::2, 1::2] = deep[0::2, 0::2, 0], deep[0::2, 1::2, 1]
    mosaic[1::2, 0::2], mosaic[1::2, 1::2] = deep[1::2, 0::2, 1], deep[1::2, 1::2, 2]
    text, byte, short, long, ratio, signed = 2, 1, 3, 4, 5, 10
    extra = [
        (271, text, 0, MAKER, True),
        (272, text, 0, MODEL, True),
        (274, short, 1, 1, True),
        (306, text, 0, time, True),
        (33421, short, 2, (2, 2), True),
        (33422, byte, 4, bytes([0, 1, 1, 2]), True),
        (50706, byte, 4, bytes([1, 4, 0, 0]), True),
        (50707, byte, 4, bytes([1, 2, 0, 0]), True),
        (50708, text, 0, f"{MAKER} {MODEL}", True),
        (50714, long, 1, 0, True),
        (50717, long, 1, FULL, True),
        (50721, signed, 9, _ratios(FROM_XYZ.ravel()), True),
        (50728, ratio, 3, _ratios(neutral), True),
        (50778, short, 1, 21, True),  # daylight, D65
    ]
    out = io.BytesIO()
    tifffile.imwrite(out, mosaic, photometric=32803, extratags=extra, metadata=None, software=False)
    return out.getvalue()


def _ratios(numbers: Matrix) -> tuple[int, ...]:
    made = [Fraction(float(v)).limit_denominator(10**6) for v in numbers]
    return tuple(part for one in made for part in (one.numerator, one.denominator))
