"""The stand-in camera: a sensor with colours of its own, and a rendering by density, as dyes have
it. Nothing here is used by the learner."""

from dataclasses import dataclass, field

import numpy as np

from ...core.base.arrays import Array, Matrix
from ...core.base.late import library
from ...core.colour.spaces import REC2020_TO_XYZ, SRGB_TO_XYZ, xy_to_xyz
from ...core.colour.white import white_xy

cv2 = library("cv2")

# CIE XYZ to the sensor's red, green and blue, made up.
FROM_XYZ: Matrix = np.array([[0.84, -0.24, -0.09], [-0.42, 1.22, 0.23], [-0.05, 0.18, 0.64]])
CLIP = 0.18 * 2**3  # light, over a hand-metered mid grey of 0.18, at which it clips
FALLS_OFF = 0.22  # of the light, in the corners
MIRED, CHROMA = 5.2, 0.09  # that a step of amber to blue, and of strength, makes
BRIGHT, DARK, EDGE = 0.022, 0.020, 0.22  # that a step of tones, and of edges, makes
# What each layer takes of the others: rows sum to one over contrast.
COUPLED = np.array([[1.16, -0.10, -0.04], [-0.07, 1.17, -0.08], [-0.03, -0.13, 1.18]])
DISPLAY = np.linalg.inv(SRGB_TO_XYZ)
LUMA = np.array([0.299, 0.587, 0.114], np.float32)  # of ITU-R BT.601, as JPEG has it


@dataclass(frozen=True)
class Style:
    """contrast : of the three layers. lift : of them, in stops. strength : of colour. turn : of
    blue, in radians."""

    contrast: tuple[float, float, float]
    lift: tuple[float, float, float]
    strength: float
    turn: float


STYLES = {
    "House": Style((0.84, 0.88, 0.92), (0.06, 0.0, -0.06), 1.0, 0.10),
    "Show": Style((1.06, 1.08, 1.10), (0.02, 0.0, 0.0), 1.14, 0.16),
    "Faces": Style((0.76, 0.78, 0.79), (0.10, 0.0, -0.08), 0.92, 0.04),
    "Harbour": Style((0.92, 0.90, 0.96), (-0.06, 0.0, 0.08), 0.85, -0.05),
}


@dataclass(frozen=True)
class Settings:
    """What is set on it: a style and its dials, by the ids of its list."""

    style: str = "House"
    dials: dict[str, float] = field(default_factory=dict)

    def __getitem__(self, dial: str) -> float:
        return self.dials.get(dial, {"strength": 4, "edges": 2, "smoothing": 1}.get(dial, 0))


def sense(light: Array, white: tuple[float, float], seed: int) -> tuple[Array, Matrix]:
    """Samples 0 to 1 of red, green and blue light (h, w, 3), linear Rec.2020 with mid grey at 0.18,
    as the sensor has them behind its lens, and its neutral under a light (mired, Duv)."""
    height, width = light.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    far = ((x - width / 2) ** 2 + (y - height / 2) ** 2) / (width**2 + height**2) * 4
    seen = light @ (REC2020_TO_XYZ.T @ FROM_XYZ.T).astype(np.float32)
    neutral = FROM_XYZ @ xy_to_xyz(white_xy(*white))
    samples = seen * np.float32(1 / (CLIP * neutral.max())) * (1 - FALLS_OFF * far)[..., None]
    random = np.random.default_rng(seed)
    noise = random.standard_normal(samples.shape, np.float32)
    samples = samples + noise * np.sqrt(np.maximum(samples, 0) * 8e-6 + 4e-8)
    return np.clip(samples, 0, 1).astype(np.float32), neutral / neutral.max()


def render(samples: Array, white: tuple[float, float], settings: Settings) -> Array:
    """The camera's own picture, encoded 0 to 1 (h, w, 3), of samples of red, green and blue."""
    style = STYLES[settings.style]
    height, width = samples.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    far = ((x - width / 2) ** 2 + (y - height / 2) ** 2) / (width**2 + height**2) * 4
    aimed = FROM_XYZ @ xy_to_xyz(white_xy(white[0] - MIRED * settings["amber_blue"], white[1]))
    gains = aimed.max() / aimed
    light = np.minimum(samples / (1 - FALLS_OFF * far)[..., None] * gains.astype(np.float32), 1)
    mix = DISPLAY @ np.linalg.inv(FROM_XYZ) @ np.diag(FROM_XYZ @ xy_to_xyz((0.3127, 0.329)))
    mix /= mix.sum(1, keepdims=True)
    light = np.maximum(light @ mix.T.astype(np.float32), 0)
    stops = np.log2(light * np.float32(CLIP / 0.18) + np.float32(2**-7.5))
    layers = stops @ COUPLED.T.astype(np.float32) + np.array(style.lift, np.float32)
    shown = _dyed(layers * np.array(style.contrast, np.float32))
    bright = 4 * shown**2 * (1 - shown) * 1.6
    dark = 4 * shown * (1 - shown) ** 2 * 1.6
    shown = shown + BRIGHT * settings["bright"] * bright - DARK * settings["dark"] * dark
    shown = _coloured(shown, style, 1 + CHROMA * (settings["strength"] - 4))
    return _finished(np.clip(shown, 0, 1).astype(np.float32), settings)


def _dyed(density: Array) -> Array:
    """Encoded value of density: an arc tangent, so both ends run out slowly."""
    curve = np.arctan(0.62 * density - 0.05)
    low, high = np.arctan(0.62 * -7.2), np.arctan(0.62 * 3.0)
    return np.asarray(np.clip((curve - low) / (high - low), 0, 1) ** 1.9)


def _coloured(shown: Array, style: Style, strength: float) -> Array:
    luma = (shown @ LUMA)[..., None]
    red, blue = (shown[..., 0:1] - luma), (shown[..., 2:3] - luma)
    turn = style.turn * np.maximum(np.tanh(6 * blue), 0)
    red, blue = red - turn * blue, blue + turn * red
    red, blue = red * style.strength * strength, blue * style.strength * strength
    green = -(LUMA[0] * red + LUMA[2] * blue) / LUMA[1]
    return np.asarray(luma + np.concatenate([red, green, blue], -1))


def _finished(shown: Array, settings: Settings) -> Array:
    """Smoothing, then edges, on brightness."""
    luma = shown @ LUMA
    calm = luma
    if settings["smoothing"]:
        calm = cv2.bilateralFilter(luma, 5, 0.018 * settings["smoothing"], 1.4)
    fine = calm - cv2.GaussianBlur(calm, (0, 0), 1.0)
    better = calm + EDGE * settings["edges"] * fine
    return np.asarray(np.clip(shown + (better - luma)[..., None], 0, 1), np.float32)
