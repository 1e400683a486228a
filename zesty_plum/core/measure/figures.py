"""Figures of a developed picture: for the frame and for every region, in one go.

Colour figures are taken on a copy at most `WIDE` pixels across, where noise and grain are averaged as an eye averages them;
clipping and noise on the picture as it is.
"""

from dataclasses import asdict, dataclass
from typing import Any

import cv2
import numpy as np

from ..arrays import MID_GREY, Array, Flags
from ..colour.difference import ciede2000
from ..colour.spaces import SRGB_TO_XYZ, linear_srgb_to_lab, srgb_decode
from ..colour.white import mired_and_duv
from ..develop import tone
from ..develop.pipeline import Picture, make_point
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from . import texture

WIDE = 480  # pixels across on which colour is judged
D65_MIRED = 1e6 / 6504
PLAIN_CONTRAST = 1.28
SKIN_HUE = 49.0  # preferred skin on displays, degrees of CIELAB hue (Zeng and Luo 2013)
LEAST_PIXELS = 24  # of a region on the small copy, below which it is left out
AT_END, FAR_FROM_GREY = 0.012, 35.0
BLACK, WHITE = 0.02, 0.98  # encoded values within which a stop counts as held


@dataclass(frozen=True)
class Figures:
    """Of one region or of the frame.

    share : of the frame. clipped, crushed : shares of its pixels. lightness : mean L*. spread : stops of display light
    between its 5th and 95th percentile. chroma, chroma_high : mean and 95th percentile of C*ab. a, b : mean a* and b*.
    hue : of the mean colour in degrees. from_plain, from_plain_high : CIEDE2000 from the reference, mean and 95th percentile.
    noise, colour_noise : standard deviation of fine noise in L* and in a*, b* (root of the sum of squares). full : share
    where one channel is at an end of its range and the colour far from grey, so that chroma has no room left.
    """

    share: float
    clipped: float
    crushed: float
    lightness: float
    spread: float
    chroma: float
    chroma_high: float
    a: float
    b: float
    hue: float
    from_plain: float
    from_plain_high: float
    noise: float
    colour_noise: float
    full: float


@dataclass(frozen=True)
class Cast:
    """How far grey things are from grey: mean a*, b*, and as light: plus mired is too warm, plus Duv too green."""

    a: float
    b: float
    mired: float
    duv: float


@dataclass(frozen=True)
class Curve:
    """Of the look's tone, whatever the picture: contrast at mid grey (log display light per log scene light), stops from
    black to white that it holds, encoded mid grey, and the fewest code values of a stop within them at 8 and 10 bits,
    as written and after a grade that gives Plain's contrast back; `graded` is that of the look's own output."""

    contrast: float
    stops: float
    grey: float
    codes_8: float
    codes_10: float
    graded_8: float
    graded_10: float
    graded: float


@dataclass(frozen=True)
class Report:
    """All figures of a look in a scene."""

    frame: Figures
    regions: dict[str, Figures]
    cast: Cast | None
    skin: dict[str, float] | None
    curve: Curve
    iso: float | None
    detail: dict[str, float]
    flags: dict[str, float]

    def as_dict(self) -> dict[str, Any]:
        """Plain numbers for JSON."""
        return asdict(self)


def _fine_noise(channels: Array) -> Array:
    """Absolute response of each channel (h, w, n) to a mask blind to planes and edges (Immerkaer 1996), over its gain of 6."""
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32) / 6
    return np.asarray(np.abs(cv2.filter2D(channels, -1, mask, borderType=cv2.BORDER_REFLECT)))


def _noise(response: Array) -> float:
    """Standard deviation from absolute responses (n,): the calmer half counts, so that texture does not."""
    return float(np.percentile(response, 25) / 0.31864) if len(response) else 0.0


def _of(
    lab: Array, plain: Array, clipped: Flags, crushed: Flags, noise: tuple[Array, Array], full: Flags, inside: Flags, share: float
) -> Figures:
    chosen = lab[inside]
    light = np.clip((chosen[:, 0] + 16) / 116, 0.04, None) ** 3  # display light from L*
    low, high = np.percentile(light, [5, 95])
    chroma = np.hypot(chosen[:, 1], chosen[:, 2])
    mean = chosen.mean(0)
    apart = plain[inside]
    grey, coloured = noise
    return Figures(
        share,
        float(clipped.mean()),
        float(crushed.mean()),
        float(mean[0]),
        float(np.log2(high / low)),
        float(chroma.mean()),
        float(np.percentile(chroma, 95)),
        float(mean[1]),
        float(mean[2]),
        float(np.degrees(np.arctan2(mean[2], mean[1])) % 360),
        float(apart.mean()),
        float(np.percentile(apart, 95)),
        _noise(grey[inside]),
        _noise(coloured[inside]),
        float(full[inside].mean()),
    )


def curve_of(scene: Scene, look: Look, sensor: Sensor) -> Curve:
    """Figures of the grey curve alone."""
    made = make_point(scene, look, sensor)
    stops = np.linspace(-10, made.white, 1201)
    encoded = made.grey_curve(MID_GREY * np.exp2(stops))
    held = stops[(encoded > max(BLACK, encoded[0] + BLACK / 2)) & (encoded < WHITE)]
    near = np.interp([-0.02, 0.02], stops, encoded)
    display = srgb_decode(near.astype(np.float64))
    contrast = float(np.log2(display[1] / display[0]) / 0.04)
    reference = tone.Tone(contrast=PLAIN_CONTRAST)
    plain = tone.display(stops, reference, made.white) ** (1 / 2.2)
    steps = np.arange(np.ceil(held[0]), np.floor(held[-1]) + 1)
    written = np.abs(np.diff(np.interp(steps, stops, encoded)))
    # A grade back to Plain spends as many code values as the file has: where it stretches, values are missing.
    wanted = np.abs(np.diff(np.interp(steps, stops, plain)))
    left = np.minimum(written, wanted)
    fewest, graded = (float(x.min()) if len(x) else 0.0 for x in (written, left))
    return Curve(contrast, float(held[-1] - held[0]), float(np.interp(0, stops, encoded)), fewest * 255, fewest * 1023,
                 graded * 255, graded * 1023, graded * ((1 << look.bits) - 1))  # fmt: skip


def measure(scene: Scene, look: Look, sensor: Sensor, picture: Picture, plain: Picture) -> Report:
    """Measure `picture`, developed from `scene` by `look`, against `plain`, the same scene as shipped; one size, one seed."""
    height, width = picture.pixels.shape[:2]
    small = (min(WIDE, width), max(1, round(height * min(WIDE, width) / width)))
    lab, reference = (
        linear_srgb_to_lab(
            srgb_decode(cv2.resize(np.clip(p.encoded, 0, 1), small, interpolation=cv2.INTER_AREA)).astype(np.float32)
        )
        for p in (picture, plain)
    )
    apart = ciede2000(lab, reference)
    # Noise at the picture's own scale, sampled on the small grid.
    own = linear_srgb_to_lab(srgb_decode(np.clip(picture.encoded[::2, ::2], 0, 1)).astype(np.float32)) if width > WIDE else lab
    response = _fine_noise(own)
    at = (small[0], small[1])
    grey = cv2.resize(response[..., 0], at, interpolation=cv2.INTER_NEAREST)
    coloured = cv2.resize(np.hypot(response[..., 1], response[..., 2]), at, interpolation=cv2.INTER_NEAREST)
    channels = cv2.resize(np.clip(picture.encoded, 0, 1), small, interpolation=cv2.INTER_AREA)
    ends = (channels.min(-1) < AT_END) | (channels.max(-1) > 1 - AT_END)
    full = ends & (np.hypot(lab[..., 1], lab[..., 2]) > FAR_FROM_GREY)
    everywhere = np.ones(lab.shape[:2], bool)
    frame = _of(lab, apart, picture.clipped, picture.crushed, (grey, coloured), full, everywhere, 1.0)
    regions: dict[str, Figures] = {}
    masks: dict[str, Flags] = {}
    if scene.mask is not None:
        large = cv2.resize(scene.mask, (width, height), interpolation=cv2.INTER_NEAREST)
        mask = cv2.resize(scene.mask, small, interpolation=cv2.INTER_NEAREST)
        for name, value in scene.regions.items():
            inside = mask == value
            if inside.sum() < LEAST_PIXELS:
                continue
            masks[name] = inside
            fine = large == value
            regions[name] = _of(
                lab, apart, picture.clipped[fine], picture.crushed[fine], (grey, coloured), full, inside, float(inside.mean())
            )
    iso = picture.exposure.iso if picture.exposure else None
    return Report(
        frame,
        regions,
        _cast(picture, scene, small),
        _skin(regions, lab, reference, masks),
        curve_of(scene, look, sensor),
        iso,
        {"overshoot": texture.overshoot(look), "kept": texture.kept(look, sensor, iso) if iso else 1.0},
        {"monochrome": float(style(look.style).colouring.mono is not None), "raised": _raised(picture, look, sensor)},
    )


def _raised(picture: Picture, look: Look, sensor: Sensor) -> float:
    """Stops by which the guard alone holds the ISO up."""
    if picture.exposure is None or not look.guard:
        return 0.0
    if picture.exposure.iso > picture.exposure.floor * 1.01:
        return 0.0  # the light asks for more anyway
    return float(np.log2(picture.exposure.floor / max(sensor.base_iso, look.iso_least)))


def _cast(picture: Picture, scene: Scene, small: tuple[int, int]) -> Cast | None:
    if scene.mask is None or "neutral" not in scene.regions:
        return None
    mask = cv2.resize(scene.mask, small, interpolation=cv2.INTER_NEAREST) == scene.regions["neutral"]
    if mask.sum() < LEAST_PIXELS:
        return None
    light = srgb_decode(cv2.resize(np.clip(picture.encoded, 0, 1), small, interpolation=cv2.INTER_AREA)[mask]).mean(0)
    xyz = SRGB_TO_XYZ @ np.maximum(light.astype(np.float64), 1e-6)
    mired, duv = mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))
    a, b = linear_srgb_to_lab(light[None].astype(np.float32))[0, 1:]
    return Cast(float(a), float(b), float(mired - D65_MIRED), float(duv))


def _skin(regions: dict[str, Figures], lab: Array, plain: Array, masks: dict[str, Flags]) -> dict[str, float] | None:
    """All skins together: hue from the skin line in degrees (plus is yellower), chroma, lightness, and stops of scene light
    by which they are darker than as shipped (through Plain's contrast)."""
    skins = [name for name in regions if name.startswith("skin")]
    if not skins:
        return None
    inside = np.logical_or.reduce([masks[name] for name in skins])
    lightness, a, b = lab[inside].mean(0)
    light, before = (np.clip((x[inside][:, 0].mean() + 16) / 116, 0.04, None) ** 3 for x in (lab, plain))
    return {
        "off_line": float(np.degrees(np.arctan2(b, a)) - SKIN_HUE),
        "chroma": float(np.hypot(a, b)),
        "lightness": float(lightness),
        "darker": float(np.log2(before / light)) / PLAIN_CONTRAST,
    }
