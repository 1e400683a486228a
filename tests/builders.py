"""Shared builders: recipes, pictures, and files of the kinds that people bring."""

import io
from pathlib import Path

import numpy as np
from pidng.core import RAW2DNG, DNGTags, Tag
from pidng.defs import CalibrationIlluminant, CFAPattern, DNGVersion, PhotometricInterpretation
from PIL import Image

from zesty_plum.core.bodies import body
from zesty_plum.core.develop.pipeline import Picture, develop
from zesty_plum.core.recipe import Recipe, make
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.scenes.scene import Scene

HERON = body("heron-m2")


def recipe(name: str = "Trial", **dials) -> Recipe:
    return make(name, HERON.id, dials)


def rendered(
    scene: Scene, width: int = 480, seed: int = 1, detail: bool = False, **dials
) -> Picture:
    return develop(scene, HERON.interpret(dials), HERON.sensor, width, seed, detail)


def flat_scene(
    level: float = 0.18, size: tuple[int, int] = (320, 480), ev100: float = 5.0
) -> Scene:
    """An even grey field under daylight, dim enough for a high ISO."""
    white = (1e6 / 5300, 0.0)
    from zesty_plum.core.colour.spaces import REC2020_TO_XYZ, xy_to_xyz
    from zesty_plum.core.colour.white import white_xy

    light = np.linalg.inv(REC2020_TO_XYZ) @ xy_to_xyz(white_xy(*white))
    pixels = np.ones((*size, 3), np.float32) * (level * light).astype(np.float32)
    return Scene("flat", "Flat", Held(pixels), white, white, ev100=ev100)


def file_of(pixels: np.ndarray, kind: str = "PNG", **more) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, kind, **more)
    return out.getvalue()


def raw_of(mosaic: np.ndarray, folder: Path, white: int = 65535, **more) -> bytes:
    """A raw file of a mosaic (h, w), red first, written by a DNG library; `more` are tags of it
    that tell something else."""
    height, width = mosaic.shape
    tags = DNGTags()
    identity = [[1, 1], [0, 1], [0, 1], [0, 1], [1, 1], [0, 1], [0, 1], [0, 1], [1, 1]]
    told = (
        (Tag.ImageWidth, width),
        (Tag.ImageLength, height),
        (Tag.TileWidth, width),
        (Tag.TileLength, height),
        (Tag.Orientation, 1),
        (Tag.PhotometricInterpretation, PhotometricInterpretation.Color_Filter_Array),
        (Tag.SamplesPerPixel, 1),
        (Tag.BitsPerSample, 16),
        (Tag.CFARepeatPatternDim, [2, 2]),
        (Tag.CFAPattern, CFAPattern.RGGB),
        (Tag.BlackLevel, 0),
        (Tag.WhiteLevel, white),
        (Tag.ColorMatrix1, identity),
        (Tag.CalibrationIlluminant1, CalibrationIlluminant.D65),
        (Tag.AsShotNeutral, [[1, 1], [1, 1], [1, 1]]),
        (Tag.Make, "Made"),
        (Tag.Model, "Made"),
        (Tag.DNGVersion, DNGVersion.V1_4),
        (Tag.DNGBackwardVersion, DNGVersion.V1_2),
    )
    for tag, value in {**dict(told), **{getattr(Tag, k): v for k, v in more.items()}}.items():
        tags.set(tag, value)
    maker = RAW2DNG()
    maker.options(tags, path=str(folder) + "/", compress=False)
    maker.convert(mosaic.astype(np.uint16), filename="made")
    return (folder / "made.dng").read_bytes()


def named(name: str, body_id: str = HERON.id, note: str = "", author: str = "", **dials) -> Recipe:
    return make(name, body_id, dials, note=note, author=author)
