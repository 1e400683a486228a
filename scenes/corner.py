"""Test corner: patches of measured reflectances, grey card, step wedge, slanted edges, cloth and
star; computed, not traced.

Reflectances are the 99 test colours of CIE 224:2017 (measured paints, textiles, leaves, skins and
prints), by number. The arrangement is our own. The drawing is a function of the place in frame
pixels, so that the detail plate is the same wall drawn finer: one of its pixels is a photosite of a
24-megapixel frame.
"""

import warnings

import cv2
import numpy as np

from .kit import files
from .kit.noise import fractal
from .kit.spectra import WAVELENGTHS, daylight

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

TITLE, GROUP, EV100 = "Test corner", "shade", 10.0
STORY = (
    "Known colours, a grey card, a wedge over ten stops, edges, cloth and a star: for measuring."
)
GOOD_FOR = ["exposure", "sharpness", "noise_filter", "grain"]
ORDER = 8
MADE_OF = ["cie224"]
LIGHTS = [{"kind": "daylight", "kelvin": 5600}]
SIZE, SENSOR_WIDTH, PLATE = (1440, 960), 6000, (960, 640)
OVER = 3  # drawn this many times larger, then averaged, so that edges are as a lens would give them
WEDGE_STOPS = np.arange(-6.5, 3.6, 1.0)
SKINS, FOLIAGE = [15, 18, 17, 13], [42, 45, 49, 37]
# Skins and foliage first, then around the hue circle; numbers of CIE 224 test colours.
PATCHES = [
    *SKINS,
    *FOLIAGE,
    12,
    20,
    26,
    31,
    53,
    57,
    64,
    67,
    73,
    76,
    81,
    87,
    90,
    94,
    98,
    5,
    2,
    10,
    79,
    39,
]
PLATE_AT = (1180, 400)  # frame pixel at the plate's middle: slanted edges, cloth and fine lines
REGIONS = ["skin", "foliage", "patches", "neutral", "white", "wedge", "edge", "texture", "flat"]


def reflectances():
    """Measured reflectance of each patch at `WAVELENGTHS`, {number: (41,)}."""
    table = colour.quality.cfi2017.load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).values[::2]
    return {n: table[:, n - 1] for n in PATCHES}


def light_colour(reflectance, kelvin=5600):
    """Linear Rec.2020 of a reflectance under daylight, an 18 percent grey at luminance 0.18."""
    cmfs = (
        colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
        .copy()
        .align(colour.SpectralShape(380, 780, 10))
        .values
    )
    power = daylight(kelvin)[:, None] * cmfs
    xyz = (np.broadcast_to(reflectance, WAVELENGTHS.shape)[:, None] * power).sum(0) / power[
        :, 1
    ].sum()
    return np.maximum(
        np.linalg.inv(colour.RGB_COLOURSPACES["ITU-R BT.2020"].matrix_RGB_to_XYZ) @ xyz, 0
    )


class Sheet:
    """A drawing of linear light with a label mask, seen through a window of frame pixels (left,
    top) at `scale`."""

    def __init__(self, size, corner=(0.0, 0.0), scale=1.0):
        self.w, self.h, self.corner, self.zoom = (
            size[0] * OVER,
            size[1] * OVER,
            np.array(corner),
            scale * OVER,
        )
        self.light = np.zeros((self.h, self.w, 3), np.float32)
        self.mask = np.zeros((self.h, self.w), np.uint8)

    def grid(self):
        """Frame coordinates x, y of the centres of all drawn pixels."""
        y, x = np.mgrid[0 : self.h, 0 : self.w]
        return (x + 0.5) / self.zoom + self.corner[0], (y + 0.5) / self.zoom + self.corner[1]

    def fill(self, inside, value, region=None):
        """Fill where `inside` (a boolean array) holds with one colour or with `value` (h, w, 3)."""
        self.light[inside] = value[inside] if np.ndim(value) == 3 else value
        if region:
            self.mask[inside] = REGIONS.index(region) + 1

    def finished(self):
        """The picture and its mask at the final size; labels keep clear of edges by four frame
        pixels."""
        size = (self.w // OVER, self.h // OVER)
        margin = np.ones((max(3, round(8 * self.zoom)),) * 2, np.uint8)
        clear = np.zeros_like(self.mask)
        for k in range(1, len(REGIONS) + 1):
            clear[cv2.erode((self.mask == k).astype(np.uint8), margin, borderValue=1) > 0] = k
        return cv2.resize(self.light, size, interpolation=cv2.INTER_AREA), cv2.resize(
            clear, size, interpolation=cv2.INTER_NEAREST
        )


def draw(sheet):
    """The whole corner, in frame pixels."""
    grey, known = light_colour(1.0), reflectances()
    x, y = sheet.grid()

    def rect(left, top, w, h):
        return (x >= left) & (x < left + w) & (y >= top) & (y < top + h)

    wall = 0.26 * (1 + 0.05 * fractal(np.stack([x / 100, y / 100], -1), 6, 3))
    sheet.fill(np.ones(x.shape, bool), wall[..., None] * grey)
    sheet.fill(rect(40, 40, 872, 504), 0.035 * grey)
    for k, number in enumerate(PATCHES):
        region = "skin" if k < 4 else "foliage" if k < 8 else "patches"
        sheet.fill(
            rect(56 + (k % 7) * 122, 54 + (k // 7) * 121, 112, 111),
            light_colour(known[number]),
            region,
        )
    sheet.fill(rect(40, 590, 210, 160), 0.18 * grey, "neutral")
    sheet.fill(rect(262, 590, 210, 160), 0.88 * grey, "white")
    sheet.fill(rect(484, 590, 428, 160), 0.10 * grey, "flat")
    for k, stop in enumerate(WEDGE_STOPS):
        sheet.fill(rect(40 + k * 123.6, 790, 123.6, 130), 0.18 * 2.0**stop * grey, "wedge")
    # Two slanted edges, five degrees off the upright and the level, of moderate contrast (4:1), as
    # edge measures ask for.
    lean = np.tan(np.radians(5))
    sheet.fill(rect(950, 40, 220, 330), 0.60 * grey, "edge")
    sheet.fill(rect(950, 40, 220, 330) & (x - 1060 > (y - 205) * lean), 0.15 * grey)
    sheet.fill(rect(1190, 40, 210, 330), 0.60 * grey, "edge")
    sheet.fill(rect(1190, 40, 210, 330) & (y - 205 > (x - 1295) * lean), 0.15 * grey)
    weave = np.sin(2 * np.pi * x / 4.2) * np.sin(2 * np.pi * y / 4.2)
    slub = fractal(np.stack([x / 30, y / 2.2], -1), 4, 5) + fractal(
        np.stack([x / 2.2, y / 30], -1), 4, 6
    )
    cloth = np.clip(1 + 0.16 * weave + 0.28 * slub, 0.1, 2)[..., None] * light_colour(known[39])
    sheet.fill(rect(950, 390, 300, 190), cloth, "texture")
    fine = (
        np.clip(1 + 0.55 * fractal(np.stack([x / 1.6, y / 1.6], -1), 4, 9), 0.2, 2)[..., None]
        * 0.16
        * grey
    )
    sheet.fill(rect(1265, 390, 135, 190), fine, "texture")
    sheet.fill(rect(950, 600, 150, 150), 0.75 * grey)
    spoke = (np.hypot(x - 1025, y - 675) < 70) & (np.sin(36 * np.arctan2(y - 675, x - 1025)) > 0)
    sheet.fill(spoke, 0.05 * grey)
    for k, number in enumerate((98, 76)):
        hue = light_colour(known[number])
        sheet.fill(
            rect(1120, 600 + k * 80, 280, 70),
            np.clip((x - 1120) / 280, 0.02, 1)[..., None] * hue / hue.max(),
        )
    return sheet.finished()


class _Program:
    TITLE, STORY, GROUP, GOOD_FOR, EV100, LIGHTS, ORDER, MADE_OF = (
        TITLE,
        STORY,
        GROUP,
        GOOD_FOR,
        EV100,
        LIGHTS,
        ORDER,
        MADE_OF,
    )
    REGIONS = REGIONS
    NEUTRAL_WITHIN = 1.0


def main():
    scale = SENSOR_WIDTH / SIZE[0]
    corner = np.array(PLATE_AT) - np.array(PLATE) / scale / 2
    sheets = {"frame": Sheet(SIZE), "plate": Sheet(PLATE, corner, scale)}
    pictures = {shot: (*draw(sheet), None) for shot, sheet in sheets.items()}  # nothing moves
    files.write("corner", _Program(), pictures, np.array([0.18 * light_colour(1.0)]))


if __name__ == "__main__":
    main()
