"""Where is it wrong? Places that are clipped, crushed, smeared by the noise filter, or banding
after a grade: marked first, then seen."""

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base.arrays import Array, Bytes8, Mask
from ..base.late import library
from ..colour.spaces import LUMINANCE_2020
from ..develop.pipeline import develop
from ..look import Look, Sensor
from ..measure.purpose import in_the_end
from ..recipe import Intent
from ..scenes.scene import Scene
from .quest import Scale

cv2 = library("cv2")

FAULTS = {
    "clipped": ("clipped", "Nothing is left there but white: look for edges that end in it."),
    "crushed": ("blocked up", "Nothing is left there but black: look where folds and hair end."),
    "smeared": ("smeared by the noise filter",
                "Cloth and hair lose their threads first, edges last."),
    "bands": ("banding", "Slow gradients break into steps: skies, walls, out-of-focus lights."),
}  # fmt: skip
SCALE = Scale(math.log2(0.1), math.log2(16), math.log2(1.5), guesses=(0.02, 0.06, 0.12))
NEAR = 0.02  # of the width, within which a mark counts
LEAST, MOST = 0.001, 0.16  # share of the frame that may be wrong
LUCK = 0.3  # share of the frame on which a mark may count, at most
SPECK = 0.006  # of the width, up to which a place is too small to be meant
RIM = 0.02  # of the width, where filters have no neighbours
# Tried in turn until the share is near what is asked.
STRENGTHS = {
    "clipped": (0.2, 0.4, 0.7, 1.0, 1.4, 1.8, 2.3),
    "crushed": (0.5, 0.8, 1.2, 1.6, 2.0, 2.5, 3.0),
    "smeared": (1.2, 1.8, 2.4, 3.0),
    "bands": (0.0, 0.5, 1.0, 1.5),
}
LOST, TEXTURE = 0.5, 1.2e-5  # share of texture's energy that is left, and what counts as texture
SMOOTH, STEP = 1.2, 1.4  # 8-bit codes: spread of what is smooth, and of a step that shows


@dataclass(frozen=True)
class Spot:
    """A question: a scene, which fault, and how strong it is made."""

    scene: str
    fault: str
    strength: float

    @property
    def fine(self) -> bool:
        """Whether it shows at 100 percent only."""
        return self.fault == "smeared"

    def look(self, base: Look) -> Look:
        """The look that brings it about."""
        s = self.strength
        return {
            "clipped": lambda: replace(base, exposure=base.exposure + s),
            "crushed": lambda: replace(base, exposure=base.exposure - s, shadows=-0.5 * s),
            "smeared": lambda: replace(base, noise_filter=1.5 * s, iso_least=6400, iso_most=6400),
            "bands": lambda: replace(base, style="sounding", exposure=base.exposure - s, bits=8,
                                     clip=True),
        }[self.fault]()  # fmt: skip


@dataclass(frozen=True)
class Seen:
    """What is shown, and where it is wrong: (h, w, 3) and (h, w), with the share of the frame."""

    pixels: Bytes8
    wrong: Mask

    @property
    def share(self) -> float:
        """Of the frame."""
        return float(self.wrong.mean())

    def found(self, x: float, y: float) -> bool:
        """Whether a mark, in shares of width and height, is on a wrong place or close to one."""
        return bool(_near(self.wrong)[_cell(y, self.wrong.shape[0]), _cell(x, self.wrong.shape[1])])

    @property
    def by_chance(self) -> float:
        """Share of the frame on which a mark counts: the chance of finding it blindly."""
        return float(_near(self.wrong).mean())

    @property
    def middle(self) -> tuple[float, float]:
        """The thick of the largest wrong place."""
        framed = cv2.copyMakeBorder(self.wrong.astype(np.uint8), 1, 1, 1, 1, cv2.BORDER_CONSTANT)
        far = cv2.distanceTransform(framed, cv2.DIST_L2, 3)[1:-1, 1:-1]
        y, x = np.unravel_index(int(far.argmax()), far.shape)
        return (float(x + 0.5) / far.shape[1], float(y + 0.5) / far.shape[0])


def _cell(share: float, many: int) -> int:
    return min(max(int(share * many), 0), many - 1)


def _near(wrong: Mask) -> Mask:
    across = max(3, round(2 * NEAR * wrong.shape[1])) | 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (across, across))
    return np.asarray(cv2.dilate(wrong.astype(np.uint8), kernel) > 0)


def seen(spot: Spot, scene: Scene, base: Look, sensor: Sensor, width: int, seed: int = 1) -> Seen:
    """A question's picture, and where it is wrong."""
    look = spot.look(base)
    if spot.fault in ("clipped", "crushed"):
        made = develop(scene, look, sensor, width, seed)
        return Seen(made.pixels, _whole(made.clipped if spot.fault == "clipped" else made.crushed))
    if spot.fault == "smeared":
        made = develop(scene, look, sensor, width, seed, True)
        clean = replace(look, noise_filter=0.0, colour_filter=0.0, iso_least=sensor.base_iso,
                        iso_most=sensor.base_iso, slowest=1 / 125)  # fmt: skip
        there = develop(scene, clean, sensor, width, seed, True)
        return Seen(made.pixels, _whole(_lost(there.encoded, made.encoded)))
    low = in_the_end(scene, look, sensor, Intent.GRADE, width, seed).pixels
    high = in_the_end(scene, replace(look, bits=10), sensor, Intent.GRADE, width, seed).pixels
    return Seen(low, _whole(_stepped(low, high)))


def _whole(wrong: Mask) -> Mask:
    """Without specks."""
    across = max(2, round(SPECK * wrong.shape[1]))
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (across, across))
    return np.asarray(cv2.morphologyEx(wrong.astype(np.uint8), cv2.MORPH_OPEN, kernel) > 0)


def _texture(encoded: Array) -> Array:
    grey = np.ascontiguousarray(encoded @ LUMINANCE_2020.astype(np.float32))
    fine = grey - cv2.GaussianBlur(grey, (0, 0), 2.0)
    return np.asarray(cv2.GaussianBlur(fine * fine, (0, 0), 4.0))


def _lost(clean: Array, filtered: Array) -> Mask:
    """Where texture that was there is gone."""
    was, now = _texture(clean), _texture(filtered)
    wrong = (was > TEXTURE) & (now < LOST * was)
    rim = max(2, round(RIM * wrong.shape[1]))
    inside = np.zeros_like(wrong)
    inside[rim:-rim, rim:-rim] = wrong[rim:-rim, rim:-rim]
    return np.asarray(inside)


def _stepped(low: Bytes8, high: Bytes8) -> Mask:
    """Where what is smooth at 10 bits goes in steps at 8."""
    grey = high.astype(np.float32).mean(-1)
    mean = cv2.blur(grey, (9, 9))
    spread = np.sqrt(np.maximum(cv2.blur(grey * grey, (9, 9)) - mean * mean, 0))
    off = np.abs(low.astype(np.float32) - high.astype(np.float32)).max(-1)
    return np.asarray((spread < SMOOTH * 2) & (cv2.blur(off, (9, 9)) > STEP * 1.4))


def ask(
    seed: int, number: int, scenes: Sequence[str], load: Callable[[str], Scene], base: Look,
    sensor: Sensor, wanted: float, width: int = 400,
) -> Spot | None:  # fmt: skip
    """Question `number`: the scene and fault by the seed, as strong as brings about nearest the
    share of the frame that is `wanted`; None where no scene comes to it."""
    draw = random.Random(f"where-{seed}-{number}")
    faults = list(FAULTS)
    random.Random(f"where-order-{seed}-{number // len(faults)}").shuffle(faults)
    fault = faults[number % len(faults)]
    for name in draw.sample(list(scenes), min(4, len(scenes))):
        scene = load(name)
        best: tuple[float, Spot] | None = None
        for strength in STRENGTHS[fault]:
            spot = Spot(scene.id, fault, strength)
            found = seen(spot, scene, base, sensor, width)
            if LEAST <= found.share <= MOST and found.by_chance <= LUCK:
                off = abs(math.log2(found.share / wanted))
                if best is None or off < best[0]:
                    best = off, spot
        if best is not None:
            return best[1]
    return None
