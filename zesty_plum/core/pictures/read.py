"""Reading a person's own picture: finished ones and raws, decoded apart, as scenes."""

from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from ..base.arrays import MID_GREY, Array
from ..base.errors import PlumError
from ..colour.light import DAYLIGHT_MIRED, estimate_light
from ..colour.spaces import REC2020_TO_XYZ
from ..develop import reduce_noise, sense
from ..scenes.frame import Deep
from ..scenes.scene import Scene
from . import MOST_BYTES
from .apart import Samples, apart

LOOKED_AT = 3000  # longer side that is enough for looking at on a screen
_XYZ_TO_REC2020 = np.linalg.inv(REC2020_TO_XYZ)
# Stops from mid grey to where a raw file clips, before the file's own correction; the same on every
# body.
RAW_HEADROOM = 3.0
SMALL = 480  # pixels across on which the light of a raw picture is judged


def read(
    data: bytes, name: str, scene_id: str, longest: int | None = None, folder: Path | None = None
) -> Scene:
    """Turn the bytes of a JPEG, PNG, TIFF, WebP, HEIC or raw file into a scene; PlumError
    says why it cannot be.

    `longest` limits the longer side in pixels, for looking at; None keeps the picture's own size,
    whose samples then lie in a file in `folder`.
    """
    if not data:
        raise PlumError(f"'{name}' is empty. Choose a JPEG, PNG, TIFF, WebP, HEIC or raw picture.")
    if len(data) > MOST_BYTES:
        raise PlumError(
            f"'{name}' has {len(data) / 1e6:.0f} MB; at most 100 MB can be taken in. Export "
            "it smaller."
        )
    title = name.rsplit("/", 1)[-1].rsplit(".", 1)[0][:60] or "Picture"
    samples, about = apart.decode(data, name, longest, folder)
    if about["finished"]:
        return _finished(Deep(samples), title, scene_id, about["across"])
    return _raw(samples, about, title, scene_id)


def _finished(frame: Deep, title: str, scene_id: str, across: int) -> Scene:
    own = (DAYLIGHT_MIRED, 0.0)
    return Scene(
        scene_id,
        title,
        frame,
        own,
        own,
        finished=True,
        story="Your own picture, taken back to light approximately.",
        group="own",
        noise_present=reduce_noise.present(frame.middle(reduce_noise.ENOUGH)),
        photosites=across,
    )


def _light(matrix: Array, samples: Array) -> Array:
    """Linear Rec.2020 of a camera's samples."""
    return np.maximum(samples @ matrix, 0)


def _raw(samples: Samples, about: dict[str, Any], title: str, scene_id: str) -> Scene:
    as_shot = tuple(about["as_shot"]) if about["as_shot"] else None
    headroom = RAW_HEADROOM + about["baseline"]
    matrix = _XYZ_TO_REC2020 @ np.array(about["to_xyz"]) * (MID_GREY * 2.0**headroom)
    frame = Deep(samples, partial(_light, np.ascontiguousarray(matrix.T, np.float32)))
    height, width = frame.shape[:2]
    few = min(SMALL, width)
    auto = as_shot or estimate_light(frame.shrunk(few, max(1, round(height * few / width))))
    return Scene(
        scene_id,
        title,
        frame,
        auto,
        auto,
        story="Your own raw picture, as light.",
        group="own",
        headroom=headroom,
        noise_law=sense.estimated(frame.middle(reduce_noise.ENOUGH), width / about["across"]),
        photosites=about["across"],
    )
