"""A day with the stand-in camera: pairs under many lights, and brackets of its dials.

Run as `python -m zesty_plum.demo.turnstone FOLDER`.
"""

import csv
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ...core import scenes
from ...core.base.arrays import Array
from ...core.base.late import library
from ...core.scenes.scene import Scene
from .camera import Settings, render, sense
from .files import dng, jpeg

cv2 = library("cv2")

SIZE = 960, 640
STANDARD = Settings()
# What is bracketed, and under which scene, beside the pairs at standard settings.
BRACKETS = (
    ("bright", 2, "beach"),
    ("bright", -2, "beach"),
    ("dark", 2, "painters"),
    ("dark", -2, "painters"),
    ("strength", 7, "garden"),
    ("strength", 1, "garden"),
    ("amber_blue", 4, "painters"),
    ("amber_blue", -4, "painters"),
    ("edges", 6, "garden"),
    ("edges", 0, "garden"),
    ("smoothing", 3, "supper"),
    ("smoothing", 0, "supper"),
)
SHOWN = ("beach", "table", "garden", "workshop", "painters", "jetty", "supper", "snow")


@dataclass(frozen=True)
class Frame:
    """One exposure: a scene, the part of it that is framed (left, top, share of the width), stops
    off the meter, and settings."""

    scene: str
    settings: Settings = STANDARD
    part: tuple[float, float, float] = (0.0, 0.0, 1.0)
    stops: float = 0.0
    by_card: bool = False


def framed(scene: Scene, part: tuple[float, float, float]) -> Array:
    """Light of a part of a scene, at the camera's size."""
    left, top, share = part
    light = scene.pixels
    height, width = light.shape[:2]
    x, y = round(left * width), round(top * height)
    cut = light[y : y + round(share * height), x : x + round(share * width)]
    way = cv2.INTER_AREA if cut.shape[1] >= SIZE[0] else cv2.INTER_CUBIC
    drawn = cv2.resize(np.ascontiguousarray(cut), SIZE, interpolation=way)
    return np.asarray(np.maximum(drawn, 0), np.float32)


def expose(frame: Frame, number: int) -> tuple[bytes, bytes]:
    """The raw and the camera's picture of a frame, as files."""
    scene = scenes.load(frame.scene)
    white = scene.card_light if frame.by_card else scene.auto_light
    light = framed(scene, frame.part) * np.float32(2.0**frame.stops)
    samples, neutral = sense(light, white, number)
    time = f"2026:05:{1 + number // 600:02d} {8 + number // 60 % 10:02d}:{number % 60:02d}:00"
    return dng(samples, neutral, time), jpeg(render(samples, white, frame.settings), time)


def standard(many: int, seed: int, settings: Settings = STANDARD) -> Iterator[Frame]:
    """Frames at one setting, over all scenes in turn, near and far."""
    random = np.random.default_rng(seed)
    order: list[str] = []
    while len(order) < many:
        order += [str(s) for s in random.permutation(list(scenes.index()))]
    for name in order[:many]:
        share = 1.0 if random.random() < 0.6 else float(random.uniform(0.5, 0.75))
        left, top = (float(random.uniform(0, 1 - share)) for _ in range(2))
        stops = float(random.uniform(-0.6, 0.5))
        yield Frame(name, settings, (left, top, share), stops, random.random() < 0.4)


def day() -> list[Frame]:
    """What teaches the camera: twelve pairs of its standard under different lights, brackets each
    with the same frame at the standard, and eight of another style."""
    bracketed = [Frame(scene, Settings(dials={dial: v})) for dial, v, scene in BRACKETS]
    at_rest = [Frame(scene) for scene in dict.fromkeys(scene for _, _, scene in BRACKETS)]
    shown = [Frame(scene, Settings("Show")) for scene in SHOWN]  # the second style
    return [*standard(12, 1), *at_rest, *bracketed, *shown]


def write(folder: Path, frames: Sequence[Frame]) -> Path:
    """Write the pairs of some frames, and the table of what was set; returns the table."""
    folder.mkdir(parents=True, exist_ok=True)
    dials = list(dict.fromkeys(d for f in frames for d in f.settings.dials))
    table = folder / "settings.csv"
    with table.open("w", newline="", encoding="utf-8") as file:
        rows = csv.writer(file)
        rows.writerow(["file", "rendering", *dials])
        for number, frame in enumerate(frames, 1):
            name = f"TURN{number:04d}"
            raw, picture = expose(frame, number)
            (folder / f"{name}.dng").write_bytes(raw)
            (folder / f"{name}.jpg").write_bytes(picture)
            own = frame.settings.dials
            rows.writerow([name, frame.settings.style, *[own.get(d, "") for d in dials]])
    return table
