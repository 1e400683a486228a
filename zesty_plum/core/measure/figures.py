"""Figures of a developed picture: for the frame and for every region, in one go.

Colour figures are taken on a copy at most `WIDE` pixels across, where noise and grain are averaged
as an eye averages them; clipping and noise on the picture as it is.
"""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from functools import partial
from typing import Any

import cv2
import numpy as np

from ..arrays import MID_GREY, Array, Flags
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..colour.spaces import SRGB_TO_XYZ, linear_srgb_to_lab, srgb_decode
from ..colour.white import mired_and_duv
from ..develop import tone
from ..develop.pipeline import Picture, make_point
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from ..styles.parameters import Tone
from . import expected, tally, texture

WIDE = 400  # pixels across on which colour is judged
D65_MIRED = 1e6 / 6504
PLAIN_CONTRAST = 1.28
SKIN_HUE = 49.0  # preferred skin on displays, degrees of CIELAB hue (Zeng and Luo 2013)
LEAST_PIXELS = 24  # of a region on the small copy, below which it is left out
AT_END, FAR_FROM_GREY = 0.012, 35.0
BLACK, WHITE = 0.02, 0.98  # encoded values within which a stop counts as held


@dataclass(frozen=True)
class Figures:
    """Of one region or of the frame.

    share : of the frame. clipped, crushed : shares of its pixels. lightness : mean L*. spread :
    stops of display light between its 5th and 95th percentile. chroma, chroma_high : mean and 95th
    percentile of C*ab. a, b : mean a* and b*.
    hue : of the mean colour in degrees. from_plain, from_plain_high : CIEDE2000 from the reference,
    mean and 95th percentile.
    noise, colour_noise : standard deviation of fine noise in L* and in a*, b* (root of the sum of
    squares). full : share where one channel is at an end of its range and the colour far from grey,
    so that chroma has no room left.
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
    """How far grey things are from grey: mean a*, b*, and as light: plus mired is too warm, plus
    Duv too green."""

    a: float
    b: float
    mired: float
    duv: float


@dataclass(frozen=True)
class Curve:
    """Of the look's tone, whatever the picture: contrast at mid grey (log display light per log
    scene light), stops from black to white that it holds, encoded mid grey, and the fewest code
    values of a stop within them at 8 and 10 bits, as written and after a grade that gives Plain's
    contrast back; `graded` is that of the look's own output."""

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
    """Absolute response of each channel (h, w, n) to a mask blind to planes and edges (Immerkaer
    1996), over its gain of 6."""
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32) / 6
    return np.asarray(np.abs(cv2.filter2D(channels, -1, mask, borderType=cv2.BORDER_REFLECT)))


def _of(
    counted: tally.Tally, marks: Array, share: float, most: Callable[[float], float]
) -> Figures:
    """Figures from a tally, the counts of plain, clipped and crushed pixels (3,), and the most
    noise there can be by L*."""
    light = [
        max((counted.percentile(tally.LIGHTNESS, p) + 16) / 116, 0.04) ** 3 for p in (5, 95)
    ]  # display light from L*
    pixels = max(int(marks.sum()), 1)
    a, b = counted.mean(1), counted.mean(2)
    # Noise: the calmer half counts, so that texture does not; for normal noise 0.31864 of a
    # deviation lies at a quarter.
    noise, colour_noise = (
        counted.percentile(kind, 25) / 0.31864 for kind in (tally.NOISE, tally.COLOUR_NOISE)
    )
    noise = min(noise, most(counted.mean(0)))
    return Figures(
        share,
        float(marks[1] / pixels),
        float(marks[2] / pixels),
        counted.mean(0),
        float(np.log2(light[1] / light[0])),
        counted.mean(3),
        counted.percentile(tally.CHROMA, 95),
        a,
        b,
        float(np.degrees(np.arctan2(b, a)) % 360),
        counted.mean(4),
        counted.percentile(tally.APART, 95),
        noise,
        colour_noise,
        counted.mean(5),
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
    reference = Tone(contrast=PLAIN_CONTRAST)
    plain = tone.display(stops, reference, made.white) ** (1 / 2.2)
    steps = np.arange(np.ceil(held[0]), np.floor(held[-1]) + 1)
    written = np.abs(np.diff(np.interp(steps, stops, encoded)))
    # A grade back to Plain spends as many code values as the file has: where it stretches, values
    # are missing.
    wanted = np.abs(np.diff(np.interp(steps, stops, plain)))
    left = np.minimum(written, wanted)
    fewest, graded = (float(x.min()) if len(x) else 0.0 for x in (written, left))
    return Curve(
        contrast,
        float(held[-1] - held[0]),
        float(np.interp(0, stops, encoded)),
        fewest * 255,
        fewest * 1023,
        graded * 255,
        graded * 1023,
        graded * ((1 << look.bits) - 1),
    )


def measure(scene: Scene, look: Look, sensor: Sensor, picture: Picture, plain: Picture) -> Report:
    """Measure `picture`, developed from `scene` by `look`, against `plain`, the same scene as
    shipped; one size, one seed."""
    height, width = picture.pixels.shape[:2]
    small = (min(WIDE, width), max(1, round(height * min(WIDE, width) / width)))
    shown, reference = (
        cv2.resize(p.encoded, small, interpolation=cv2.INTER_AREA) for p in (picture, plain)
    )
    lab, plain_lab = encoded_to_lab(shown), encoded_to_lab(reference)
    apart = ciede2000(lab, plain_lab)
    # Noise at the picture's own scale, sampled on the small grid.
    step = 2 if width >= 2 * WIDE else 1
    own = encoded_to_lab(picture.encoded[::step, ::step])
    response = _fine_noise(own)
    grey = cv2.resize(response[..., 0], small, interpolation=cv2.INTER_NEAREST)
    coloured = cv2.resize(
        cv2.magnitude(response[..., 1], response[..., 2]), small, interpolation=cv2.INTER_NEAREST
    )
    r, g, b = cv2.split(shown)
    ends = (cv2.min(cv2.min(r, g), b) < AT_END) | (cv2.max(cv2.max(r, g), b) > 1 - AT_END)
    full = ends & (lab[..., 1] ** 2 + lab[..., 2] ** 2 > FAR_FROM_GREY**2)
    mask = scene.mask if scene.mask is not None else np.zeros((1, 1), np.uint8)
    labels = cv2.resize(mask, small, interpolation=cv2.INTER_NEAREST)
    most = max([*scene.regions.values(), int(mask.max())])
    counted = tally.tally(labels, lab, apart, (grey, coloured), full, most)
    marks = np.zeros((most + 1, 3), np.int64)
    tally.marked(mask, picture.marks, marks)
    noise_most = partial(expected.noise_most, scene, look, sensor, picture)
    frame = _of(sum(counted[1:], counted[0]), marks.sum(0), 1.0, noise_most)
    found = {
        name: value for name, value in scene.regions.items() if counted[value].count >= LEAST_PIXELS
    }
    regions = {
        name: _of(counted[value], marks[value], counted[value].count / labels.size, noise_most)
        for name, value in found.items()
    }
    iso = picture.exposure.iso if picture.exposure else None
    return Report(
        frame,
        regions,
        _cast(shown[labels == found["neutral"]]) if "neutral" in found else None,
        _skin(
            [labels == value for name, value in found.items() if name.startswith("skin")],
            lab,
            plain_lab,
        ),
        curve_of(scene, look, sensor),
        iso,
        _detail(look, sensor, iso),
        {
            "monochrome": float(style(look.style).colouring.mono is not None),
            "raised": _raised(picture, look, sensor),
        },
    )


def _detail(look: Look, sensor: Sensor, iso: float | None) -> dict[str, float]:
    """What the look does to fine detail: overshoot and MTF50 of an edge, share of a cloth that the
    noise filter keeps, RMS of grain at mid grey as a share of full scale and its size as a share of
    the frame's width."""
    overshoot, mtf50 = texture.edge(look)
    kept = texture.kept(look, sensor, iso) if iso else 1.0
    grain_size = look.grain_size if look.grain else 0.0
    return {
        "overshoot": overshoot,
        "mtf50": mtf50,
        "kept": kept,
        "grain": look.grain,
        "grain_size": grain_size,
    }


def _raised(picture: Picture, look: Look, sensor: Sensor) -> float:
    """Stops by which the guard alone holds the ISO up."""
    if picture.exposure is None or not look.guard:
        return 0.0
    if picture.exposure.iso > picture.exposure.floor * 1.01:
        return 0.0  # the light asks for more anyway
    return float(np.log2(picture.exposure.floor / max(sensor.base_iso, look.iso_least)))


def _cast(encoded: Array) -> Cast:
    """From the encoded pixels (n, 3) of what is grey."""
    light = srgb_decode(np.clip(encoded, 0, 1)).mean(0)
    xyz = SRGB_TO_XYZ @ np.maximum(light.astype(np.float64), 1e-6)
    mired, duv = mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))
    a, b = linear_srgb_to_lab(light[None].astype(np.float32))[0, 1:]
    return Cast(float(a), float(b), float(mired - D65_MIRED), float(duv))


def _skin(masks: list[Flags], lab: Array, plain: Array) -> dict[str, float] | None:
    """All skins together: hue from the skin line in degrees (plus is yellower), chroma, lightness,
    and stops of scene light by which they are darker than as shipped (through Plain's contrast)."""
    if not masks:
        return None
    inside = np.logical_or.reduce(masks)
    lightness, a, b = lab[inside].mean(0)
    light, before = (
        np.clip((x[inside][:, 0].mean() + 16) / 116, 0.04, None) ** 3 for x in (lab, plain)
    )
    return {
        "off_line": float(np.degrees(np.arctan2(b, a)) - SKIN_HUE),
        "chroma": float(np.hypot(a, b)),
        "lightness": float(lightness),
        "darker": float(np.log2(before / light)) / PLAIN_CONTRAST,
    }
