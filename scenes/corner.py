"""Test corner: patches of measured reflectances, grey card, step wedge, slanted edge, cloth and star; computed, not traced.

Reflectances are the 99 test colours of CIE 224:2017 (measured paints, textiles, leaves, skins and prints), by number.
The arrangement is our own.
"""

import warnings

import cv2
import numpy as np

from .kit import files
from .kit.noise import fractal, texture_grid
from .kit.spectra import WAVELENGTHS, daylight

with warnings.catch_warnings():
    warnings.simplefilter("ignore")
    import colour

TITLE, GROUP, EV100 = "Test corner", "shade", 10.0
STORY = "Known colours, a grey card, a wedge over ten stops, an edge, cloth and a star: for measuring."
GOOD_FOR = ["exposure", "sharpness", "noise_filter", "grain"]
ORDER = 3
LIGHTS = [{"kind": "daylight", "kelvin": 5600}]
SIZE = (1200, 800)
OVER = 3  # drawn this many times larger, then averaged, so that edges are as a lens would give them
WEDGE_STOPS = np.arange(-6.5, 3.6, 1.0)
# Skins and foliage first, then around the hue circle; numbers of CIE 224 test colours.
PATCHES = [15, 18, 17, 13, 42, 45, 49, 37, 12, 20, 26, 31, 53, 57, 64, 67, 73, 76, 81, 87, 90, 94, 98, 5, 2, 10, 79, 39]


def reflectances():
    """Measured reflectance of each patch at `WAVELENGTHS`, {number: (41,)}."""
    table = colour.quality.cfi2017.load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).values[::2]
    return {n: table[:, n - 1] for n in PATCHES}


def light_colour(reflectance, kelvin=5600):
    """Linear Rec.2020 of a reflectance under daylight, an 18 percent grey at luminance 0.18."""
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(colour.SpectralShape(380, 780, 10)).values
    power = daylight(kelvin)[:, None] * cmfs
    xyz = (np.broadcast_to(reflectance, WAVELENGTHS.shape)[:, None] * power).sum(0) / power[:, 1].sum()
    return np.maximum(np.linalg.inv(colour.RGB_COLOURSPACES["ITU-R BT.2020"].matrix_RGB_to_XYZ) @ xyz, 0)


class Sheet:
    """A drawing of linear light with a label mask."""

    def __init__(self):
        self.h, self.w = SIZE[1] * OVER, SIZE[0] * OVER
        self.light = np.zeros((self.h, self.w, 3), np.float32)
        self.mask = np.zeros((SIZE[1], SIZE[0]), np.uint8)
        self.names = []

    def rect(self, x, y, w, h, value, region=None):
        """Fill in output pixels; `region` names it, shrunk by four pixels."""
        s = OVER
        self.light[int(y * s) : int((y + h) * s), int(x * s) : int((x + w) * s)] = value
        if region:
            if region not in self.names:
                self.names.append(region)
            self.mask[int(y) + 4 : int(y + h) - 4, int(x) + 4 : int(x + w) - 4] = self.names.index(region) + 1

    def fill(self, shape, value):
        """Fill a polygon given in output pixels, or where a boolean array of the drawing's size is set."""
        if shape.dtype == bool:
            self.light[shape] = value
        else:
            area = np.zeros((self.h, self.w), np.uint8)
            cv2.fillPoly(area, [np.round(shape * OVER).astype(np.int32)], 1)
            self.light[area > 0] = value


def make():
    sheet = Sheet()
    grey = light_colour(1.0)
    wall = 0.26 * (1 + 0.05 * fractal(texture_grid(400, 600, 8, 12), 5, 3))
    wall = cv2.resize(wall.astype(np.float32), (sheet.w, sheet.h), interpolation=cv2.INTER_CUBIC)
    sheet.light[:] = wall[..., None] * grey
    sheet.rect(40, 40, 716, 420, 0.035 * grey)
    known = reflectances()
    for k, number in enumerate(PATCHES):
        region = "skin" if k < 4 else "foliage" if k < 8 else "patches"
        sheet.rect(54 + (k % 7) * 99.5, 54 + (k // 7) * 99.5, 91, 91, light_colour(known[number]), region)
    sheet.rect(790, 40, 190, 200, 0.18 * grey, "neutral")
    sheet.rect(790, 260, 190, 200, 0.88 * grey, "white")
    for k, stop in enumerate(WEDGE_STOPS):
        sheet.rect(40 + k * 102, 500, 102, 110, 0.18 * 2.0**stop * grey, "wedge")
    sheet.rect(1010, 40, 150, 420, 0.70 * grey, "edge")
    lean = np.tan(np.radians(5))
    sheet.fill(np.array([[1085 + 210 * lean, 40], [1160, 40], [1160, 460], [1085 - 210 * lean, 460]]), 0.06 * grey)
    rows, columns = slice(640 * OVER, 770 * OVER), slice(40 * OVER, 600 * OVER)
    y, x = np.mgrid[rows, columns] / OVER
    weave = np.sin(2 * np.pi * x / 3.4) * np.sin(2 * np.pi * y / 3.4)
    slub = fractal(np.stack([x / 30, y / 2.2], -1), 3, 5) + fractal(np.stack([x / 2.2, y / 30], -1), 3, 6)
    cloth = np.array(light_colour(known[39]))
    sheet.rect(40, 640, 560, 130, 0, "texture")
    sheet.light[rows, columns] = cloth * np.clip(1 + 0.16 * weave + 0.28 * slub, 0.1, 2)[..., None]
    sheet.rect(640, 640, 130, 130, 0.75 * grey)
    y, x = np.mgrid[0 : sheet.h, 0 : sheet.w] / OVER
    y, x = y - 705, x - 705
    spoke = (np.hypot(x, y) < 60) & (np.sin(36 * np.arctan2(y, x)) > 0)
    sheet.fill(spoke, 0.05 * grey)
    for k, (number, width) in enumerate(((98, 350), (76, 350))):
        ramp = np.linspace(0.02, 1, 350 * OVER)[None, :, None] * light_colour(known[number]) / light_colour(known[number]).max()
        sheet.light[(640 + k * 68) * OVER : (700 + k * 68) * OVER, 810 * OVER : (810 + width) * OVER] = ramp
    return cv2.resize(sheet.light, SIZE, interpolation=cv2.INTER_AREA), sheet.mask, sheet.names, 0.18 * grey


class _Program:
    TITLE, STORY, GROUP, GOOD_FOR, EV100, LIGHTS, ORDER = TITLE, STORY, GROUP, GOOD_FOR, EV100, LIGHTS, ORDER


def main():
    linear, mask, names, card = make()
    program = _Program()
    program.REGIONS = names
    files.write("corner", program, linear, mask, card)


if __name__ == "__main__":
    main()
