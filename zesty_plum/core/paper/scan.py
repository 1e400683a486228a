"""Reading the code of a card back from a picture: a screenshot, or a file that lost its metadata on
the way."""

import io

import numpy as np
import zxingcpp
from PIL import Image, UnidentifiedImageError

from ..recipe import Recipe
from .code import holds, unpack

# pixels to which larger pictures are reduced; a code that fills less than a tenth of one is not
# looked for
LONGEST = 2400


def scan(data: bytes) -> Recipe | None:
    """The recipe in the code that a JPEG or PNG shows, or None where there is none of ours."""
    try:
        with Image.open(io.BytesIO(data)) as image:
            image.draft("L", (LONGEST, LONGEST))
            image.thumbnail((LONGEST, LONGEST))
            grey = np.asarray(image.convert("L"))
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError):
        return None
    for scale in (1, 2):  # small ones are found when they are enlarged
        seen = (
            grey
            if scale == 1
            else np.asarray(Image.fromarray(grey).resize((grey.shape[1] * 2, grey.shape[0] * 2)))
        )
        for found in zxingcpp.read_barcodes(
            seen, zxingcpp.BarcodeFormats(zxingcpp.BarcodeFormat.QRCode)
        ):
            if holds(found.text):
                return unpack(found.text)
        if max(grey.shape) > LONGEST // 2:
            break
    return None
