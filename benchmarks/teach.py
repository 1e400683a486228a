"""Teaching a camera from a dozen pairs of 24 megapixels, beside only decoding them; and a picture
through the learnt body beside one through a body that ships.

Run as `python -m benchmarks.teach`; it takes some five minutes and 700 MB of disk.
"""

import io
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from statistics import median

import cv2
import numpy as np
import rawpy
from PIL import Image

from zesty_plum.core import scenes
from zesty_plum.core.bodies import body, bring
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.demo import TAUGHT
from zesty_plum.demo.turnstone.camera import render, sense
from zesty_plum.demo.turnstone.files import dng, jpeg
from zesty_plum.demo.turnstone.shoot import STANDARD, framed, standard

MANY, WIDE, ROUNDS = 12, (6000, 4000), 9


def pairs(folder: Path) -> None:
    """A dozen pairs, enlarged to 24 megapixels."""
    for number, frame in enumerate(standard(MANY, 1)):
        scene = scenes.load(frame.scene)
        samples, neutral = sense(framed(scene, frame.part), scene.auto_light, number)
        shown = render(samples, scene.auto_light, STANDARD)
        time_ = f"2026:05:01 12:{number:02d}:00"
        large = [cv2.resize(each, WIDE, interpolation=cv2.INTER_CUBIC) for each in (samples, shown)]
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


def picture(look, sensor) -> float:
    """Median seconds of a picture through a look, of scenes in turn."""
    found = []
    for k in range(ROUNDS):
        scene = scenes.load(list(scenes.index())[k % 4])
        begun = time.perf_counter()
        develop(scene, look, sensor, 960)
        found.append(time.perf_counter() - begun)
    return median(found)


def main() -> None:
    made = bring(TAUGHT.read_text())
    heron = body("heron-m2")
    looks = {
        "learnt": (made.interpret({}), made.sensor),
        "shipped": (heron.interpret({"style": "linen", "noise_filter": 2}), heron.sensor),
    }
    for each in looks.values():
        picture(*each)
    seconds = {name: picture(*each) for name, each in looks.items()}
    print(
        f"a picture through a learnt body: {1000 * seconds['learnt']:.0f} ms, "
        f"{seconds['learnt'] / seconds['shipped']:.2f} times one through a shipped body "
        "(at most 1.1)"
    )
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "pairs"
        folder.mkdir()
        # In a process of its own, whose memory would else count for the one that is measured.
        asked = f"from benchmarks.teach import *; pairs(Path({str(folder)!r}))"
        subprocess.run([sys.executable, "-c", asked], check=True)
        alone = decoded(folder)
        command = [sys.executable, "-m", "zesty_plum", "calibrate", str(folder)]
        command += ["-o", str(Path(name) / "x.body.json"), "--name", "Turnstone"]
        begun = time.perf_counter()
        subprocess.run(command, check=True, capture_output=True)
        took = time.perf_counter() - begun
        most = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(
        f"{MANY} pairs of 24 megapixels: {took:.0f} s (under 120), {took / alone:.1f} times "
        f"decoding them; at most {most:.0f} MB in one process (1500)"
    )


if __name__ == "__main__":
    main()
