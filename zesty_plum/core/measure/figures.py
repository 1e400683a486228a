"""Figures of a developed picture: for the frame and for every region, in one go.

Colour figures are taken on a copy at most `WIDE` pixels across, where noise and grain are averaged
as an eye averages them; clipping on the picture as it is, noise by the sensor's law carried through
all stages to a screen.
"""

from collections.abc import Callable

import numpy as np

from ..base.arrays import MID_GREY, Array, Mask
from ..base.late import library
from ..colour.difference import ciede2000
from ..colour.spaces import linear_srgb_to_lab, srgb_decode, srgb_encode
from ..develop import encode, moving, tone
from ..develop.pipeline import Picture
from ..develop.taking import make_point
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from ..styles.parameters import Tone
from . import expected, tally, texture
from .grey import cast_of, fullness, greys
from .report import SCREEN, Blur, Curve, Detail, Figures, Flags, Report, Skin

cv2 = library("cv2")

PLAIN_CONTRAST = 1.28
SKIN_HUE = 49.0  # preferred skin on displays, degrees of CIELAB hue (Zeng and Luo 2013)
ALIVE = ("people", "children", "a running child", "a dog")  # what is to be sharp, of what moves
LEAST_PIXELS = 24  # of a region on the small copy, below which it is left out
AT_END, FAR_FROM_GREY = 0.012, 35.0
# Stops from mid grey at which shadows and highlights are looked at, and between which bands show.
LOW, HIGH = -3.0, 2.0
BLACK, WHITE = 0.02, 0.98  # encoded values within which a stop counts as held


def _of(
    counted: tally.Tally,
    marks: Array,
    share: float,
    noise: Callable[[float], tuple[float, float]],
    from_plain: bool,
) -> Figures:
    """Figures from a tally, the counts of plain, clipped and crushed pixels (3,), and the noise
    there is by L*."""
    light = [
        max((counted.percentile(tally.LIGHTNESS, p) + 16) / 116, 0.04) ** 3 for p in (5, 95)
    ]  # display light from L*
    pixels = max(int(marks.sum()), 1)
    a, b = counted.mean(1), counted.mean(2)
    grey, coloured = noise(counted.mean(0))
    return Figures(
        share=share,
        clipped=float(marks[1] / pixels),
        crushed=float(marks[2] / pixels),
        lightness=counted.mean(0),
        lights=counted.percentile(tally.LIGHTNESS, 90),
        darks=counted.percentile(tally.LIGHTNESS, 10),
        spread=float(np.log2(light[1] / light[0])),
        chroma=counted.mean(3),
        chroma_high=counted.percentile(tally.CHROMA, 95),
        colour=counted.mean(6),
        a=a,
        b=b,
        hue=float(np.degrees(np.arctan2(b, a)) % 360),
        from_plain=counted.mean(4) if from_plain else None,
        from_plain_high=counted.percentile(tally.APART, 95) if from_plain else None,
        noise=grey,
        colour_noise=coloured,
        full=counted.mean(5),
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
    plain = srgb_encode(tone.display(stops, reference, made.white))
    steps = np.arange(max(np.ceil(held[0]), LOW), min(np.floor(held[-1]), HIGH) + 1)
    written = np.abs(np.diff(np.interp(steps, stops, encoded)))
    # A grade back to Plain spends as many code values as the file has: where it stretches, values
    # are missing.
    wanted = np.abs(np.diff(np.interp(steps, stops, plain)))
    left = np.minimum(written, wanted)
    seen = ((stops >= LOW) & (stops <= HIGH))[1:]
    black, white = encode.levels(look.bits, look.limited)
    codes = white - black
    fewest, graded = (float(x.min()) if len(x) else 0.0 for x in (written, left))
    places = np.array([look.exposure - 1, look.exposure + 1, LOW, HIGH])
    shown = np.interp(places, stops, encoded).astype(np.float32)[:, None] * np.ones(3, np.float32)
    tones = linear_srgb_to_lab(srgb_decode(shown))[:, 0]
    return Curve(
        contrast=contrast,
        stops=float(held[-1] - held[0]),
        grey=float(np.interp(0, stops, encoded)),
        middle=float(tones[1] - tones[0]),
        reach=float(tones[3] - tones[2]),
        codes_8=fewest * 255,
        codes_10=fewest * 1023,
        graded_8=graded * 255,
        graded_10=graded * 1023,
        stretch=float(
            (np.diff(plain) / np.maximum(np.diff(encoded), 1e-9))[seen].max() * 255 / codes
        ),
    )


def measure(
    scene: Scene,
    look: Look,
    sensor: Sensor,
    picture: Picture,
    plain: Array,
    from_plain: bool = True,
) -> Report:
    """Measure `picture`, developed from `scene` by `look`, against `plain`, the L*a*b* overview of
    the same scene as shipped; one size, one seed. Without `from_plain` those two figures are left
    out, which take as long as a quarter of the others."""
    shown, lab = picture.overview, picture.overview_lab
    small = (shown.shape[1], shown.shape[0])
    apart = ciede2000(lab, plain) if from_plain else np.zeros(lab.shape[:2], np.float32)
    r, g, b = cv2.split(shown)
    ends = (cv2.min(cv2.min(r, g), b) < AT_END) | (cv2.max(cv2.max(r, g), b) > 1 - AT_END)
    full = ends & (lab[..., 1] ** 2 + lab[..., 2] ** 2 > FAR_FROM_GREY**2)
    mask = scene.mask if scene.mask is not None else np.zeros((1, 1), np.uint8)
    labels = cv2.resize(mask, small, interpolation=cv2.INTER_NEAREST)
    most = max([*scene.regions.values(), int(mask.max())])
    counted = tally.tally(labels, lab, apart, full, most, greys(scene, look, sensor))
    marks = np.zeros((most + 1, 3), np.int64)
    tally.marked(mask, picture.marks, marks)
    screen = min(SCREEN, scene.photosites or sensor.width)
    noise = expected.Noise(scene, look, sensor, screen).at
    frame = _of(sum(counted[1:], counted[0]), marks.sum(0), 1.0, noise, from_plain)
    found = {
        name: value for name, value in scene.regions.items() if counted[value].count >= LEAST_PIXELS
    }
    regions = {
        name: _of(
            counted[value],
            marks[value],
            counted[value].count / labels.size,
            noise,
            from_plain,
        )
        for name, value in found.items()
    }
    iso = picture.exposure.iso if picture.exposure else None
    return Report(
        frame=frame,
        regions=regions,
        cast=cast_of(
            scene, look, sensor, shown[labels == found["neutral"]] if "neutral" in found else None
        ),
        skin=_skin(
            [labels == value for name, value in found.items() if _is_skin(name)],
            lab,
            plain,
        ),
        curve=curve_of(scene, look, sensor),
        iso=iso,
        blur=_blur(scene, picture, sensor),
        detail=_detail(look, sensor, iso, scene.mask is None or any(map(_is_skin, found))),
        flags=Flags(
            monochrome=float(style(look.style).monochrome),
            vivid=fullness(look),
            bias=look.exposure + picture.metered,
        ),
    )


def _is_skin(name: str) -> bool:
    return name.startswith("skin")


def _detail(look: Look, sensor: Sensor, iso: float | None, skins: bool) -> Detail:
    overshoot, mtf50 = texture.edge(look)
    skin_kept, rest_kept = texture.softened(look) if skins else (1.0, 1.0)
    return Detail(
        overshoot=overshoot,
        mtf50=mtf50,
        kept=texture.kept(look, sensor, iso) if iso else 1.0,
        skin_kept=skin_kept,
        rest_kept=rest_kept,
        grain=look.grain,
        grain_size=look.grain_size if look.grain else 0.0,
    )


def _blur(scene: Scene, picture: Picture, sensor: Sensor) -> Blur | None:
    """What the time that the camera takes does to what moves, and to all by hand."""
    if picture.exposure is None:
        return None
    time = picture.exposure.time
    people = [m.way(time) / m.across for m in scene.moves if m.what in ALIVE]
    return Blur(
        people=SCREEN * max(people, default=0.0),
        hand=SCREEN * moving.shake(scene, time, sensor.steady),
        time=time,
    )


def _skin(masks: list[Mask], lab: Array, plain: Array) -> Skin | None:
    """All skins together, from the picture's and the reference's L*a*b*."""
    if not masks:
        return None
    inside = np.logical_or.reduce(masks)
    lightness, a, b = lab[inside].mean(0)
    light, before = (
        np.clip((x[inside][:, 0].mean() + 16) / 116, 0.04, None) ** 3 for x in (lab, plain)
    )
    return Skin(
        off_line=float(np.degrees(np.arctan2(b, a)) - SKIN_HUE),
        chroma=float(np.hypot(a, b)),
        lightness=float(lightness),
        darker=float(np.log2(before / light)) / PLAIN_CONTRAST,
    )
