"""Teaching a camera from a dozen pairs of 24 megapixels, beside only decoding them.

In full it takes some five minutes and 700 MB of disk.
"""

import io
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np
import rawpy
from PIL import Image

from benchmarks.timing import Row
from zesty_plum.core import scenes
from zesty_plum.demo.turnstone.camera import render, sense
from zesty_plum.demo.turnstone.files import dng, jpeg
from zesty_plum.demo.turnstone.shoot import STANDARD, framed, standard

WIDE = (6000, 4000)


def pairs(folder: Path, many: int, wide: tuple[int, int]) -> None:
    """So many pairs, enlarged to a size."""
    for number, frame in enumerate(standard(many, 1)):
        scene = scenes.load(frame.scene)
        samples, neutral = sense(framed(scene, frame.part), scene.auto_light, number)
        shown = render(samples, scene.auto_light, STANDARD)
        time_ = f"2026:05:01 12:{number:02d}:00"
        large = [cv2.resize(each, wide, interpolation=cv2.INTER_CUBIC) for each in (samples, shown)]
        samples, shown = (np.clip(each, 0, 1) for each in large)
        (folder / f"P{number:02d}.dng").write_bytes(dng(samples, neutral, time_))
        (folder / f"P{number:02d}.jpg").write_bytes(jpeg(shown, time_))


def decoded(folder: Path) -> float:
    """Seconds to decode all files with the libraries alone."""
    begun = time.perf_counter()
    for path in sorted(folder.iterdir()):
        if path.suffix == ".dng":
            with rawpy.imread(io.BytesIO(path.read_bytes())) as raw:
                raw.postprocess(half_size=True, output_bps=16, no_auto_bright=True)
        elif path.suffix == ".jpg":
            np.asarray(Image.open(path))
    return time.perf_counter() - begun


def run(quick: bool) -> Iterator[Row]:
    """The rows."""
    many, wide = (3, (600, 400)) if quick else (12, WIDE)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "pairs"
        folder.mkdir()
        # In a process of its own, whose memory would else count for the one that is measured.
        asked = f"from benchmarks.teach import *; pairs(Path({str(folder)!r}), {many}, {wide})"
        subprocess.run([sys.executable, "-c", asked], check=True)
        alone = decoded(folder)
        command = [sys.executable, "-m", "zesty_plum", "calibrate", str(folder)]
        command += ["-o", str(Path(name) / "x.body.json"), "--name", "Turnstone"]
        begun = time.perf_counter()
        subprocess.run(command, check=True, capture_output=True)
        took = time.perf_counter() - begun
        most = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    lesson = f"a lesson of {many} pairs of {wide[0] * wide[1] / 1e6:g} megapixels"
    yield Row(lesson, f"{took:.0f} s", took / alone, "decoding them")
    yield Row("  its memory", f"{most:.0f} MB", most / 1500, "1500 MB", 1.0)
