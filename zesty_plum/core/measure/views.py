"""Other ways to look at a picture: without colour, as colour-vision deficiencies see it, level
stripes, a map of differences."""

import numpy as np

from ..base.arrays import MID_GREY, Array, Bytes8, Mask
from ..bodies import Body
from ..colour.spaces import LUMA_709, srgb_decode, srgb_encode
from ..develop.tone import log_encoded
from ..styles import style

# Simulation of the three complete dichromacies on linear sRGB (Machado, Oliveira and Fernandes
# 2009, severity 1).
DEFICIENCIES = {
    "protan": (
        (0.152286, 1.052583, -0.204868),
        (0.114503, 0.786281, 0.099216),
        (-0.003882, -0.048116, 1.051998),
    ),
    "deutan": (
        (0.367322, 0.860646, -0.227968),
        (0.280085, 0.672501, 0.047413),
        (-0.011820, 0.042940, 0.968881),
    ),
    "tritan": (
        (1.255528, -0.076749, -0.178779),
        (-0.078411, 0.930809, 0.147602),
        (0.004733, 0.691367, 0.303900),
    ),
}
# Levels that people set their stripes to, in percent of code values, and what each is good for.
ZEBRAS = (
    (70, "light skin"),
    (80, "bright skin, sand"),
    (95, "paper, just below white"),
    (100, "white of a finished picture"),
)
VIEWS = {
    "": "as it is",
    "grey": "without colour",
    "protan": "without red cones",
    "deutan": "without green cones",
    "tritan": "without blue cones",
}
# Colours of the map at differences of 0, 1, 2, 5 and 10 in CIEDE2000: the mount's grey, then zest,
# then plum.
MAP_AT = (0.0, 1.0, 2.0, 5.0, 10.0)
MAP_RGB = ((214, 214, 214), (240, 226, 190), (240, 164, 0), (168, 62, 88), (74, 18, 56))


def seen(pixels: Bytes8, view: str) -> Bytes8:
    """8-bit sRGB (h, w, 3) in one of `VIEWS`; grey keeps the luminance of each colour."""
    if not view:
        return pixels
    light = _LINEAR[pixels]
    if view == "grey":
        grey = np.asarray(light @ LUMA_709, np.float32)
        return np.repeat(_bytes(grey)[..., None], 3, -1)
    return _bytes(light @ np.array(DEFICIENCIES[view], np.float32).T)


_LINEAR = srgb_decode(np.arange(256) / 255).astype(np.float32)
_ENCODED = (srgb_encode(np.linspace(0, 1, 4096)) * 255 + 0.5).astype(np.uint8)


def _bytes(light: Array) -> Bytes8:
    return np.asarray(_ENCODED[(np.clip(light, 0, 1) * 4095 + 0.5).astype(np.uint16)])


def zebra(pixels: Bytes8, percent: float) -> Mask:
    """Where brightness (BT.709 luma of encoded values) is at `percent` or above, as a camera
    stripes it (h, w)."""
    return np.asarray((pixels @ LUMA_709) >= percent * 2.55 - 0.5)


def difference_map(apart: Array) -> Bytes8:
    """CIEDE2000 (h, w) as colours (h, w, 3) uint8, between the marks of `MAP_AT` in proportion."""
    return np.stack(
        [np.interp(apart, MAP_AT, channel) for channel in np.transpose(MAP_RGB)], -1
    ).astype(np.uint8)


def zebras(camera: Body) -> list[tuple[int, str]]:
    """Levels for stripes on a body, with grey and the clip point of its log curves."""
    own: list[tuple[int, str]] = []
    chosen = camera.style_dial.choices if camera.style_dial else ()
    for made in (style(choice.style) for choice in chosen):
        if made.tone.log_stops:
            clip = MID_GREY * 2.0 ** (camera.sensor.headroom + made.guard)
            grey, top = (
                round(100 * float(log_encoded(np.array(light), made.tone)))
                for light in (MID_GREY, clip)
            )
            own += [(grey, f"grey in {made.name}"), (top, f"where {made.name} clips")]
    return sorted([*ZEBRAS, *own])
