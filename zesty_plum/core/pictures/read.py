"""Reading a person's own picture: finished ones and raws, decoded apart, as scenes."""

from functools import partial
from pathlib import Path

import numpy as np

from ..arrays import MID_GREY, Array
from ..colour.light import DAYLIGHT_MIRED, estimate_light
from ..colour.spaces import REC2020_TO_XYZ
from ..develop import reduce_noise, sense
from ..develop.balance import balance_matrix
from ..errors import PlumError
from ..scenes.frame import Deep
from ..scenes.scene import Scene
from .apart import Samples, apart

MOST_BYTES = 100 * 10**6
LOOKED_AT = 3000  # longer side that is enough for looking at on a screen
_XYZ_TO_REC2020 = np.linalg.inv(REC2020_TO_XYZ)
_LUMINANCE = np.array([0.2627, 0.6780, 0.0593], np.float32)
SMALL = 480  # pixels across on which the light of a raw picture is judged


def read(
    data: bytes, name: str, scene_id: str, longest: int | None = None, folder: Path | None = None
) -> Scene:
    """Turn the bytes of a JPEG, PNG, TIFF or raw file into a scene; PlumError says why it cannot
    be.

    `longest` limits the longer side in pixels, for looking at; None keeps the picture's own size,
    whose samples then lie in a file in `folder`.
    """
    if not data:
        raise PlumError(f"'{name}' is empty. Choose a JPEG, PNG, TIFF or raw picture.")
    if len(data) > MOST_BYTES:
        raise PlumError(
            f"'{name}' has {len(data) / 1e6:.0f} MB; at most 100 MB can be taken in. Export "
            "it smaller."
        )
    title = name.rsplit("/", 1)[-1].rsplit(".", 1)[0][:60] or "Picture"
    samples, about = apart.decode(data, name, longest, folder)
    if about["finished"]:
        return _finished(Deep(samples), title, scene_id, about["across"])
    as_shot = tuple(about["as_shot"]) if about["as_shot"] else None
    return _raw(samples, as_shot, title, scene_id, about["across"])


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


def _light(matrix: Array, gain: float, xyz: Array) -> Array:
    """Linear Rec.2020 of XYZ samples."""
    light = np.maximum(xyz @ matrix, 0)
    light *= np.float32(gain)
    return light


def _raw(
    samples: Samples, as_shot: tuple[float, float] | None, title: str, scene_id: str, across: int
) -> Scene:
    matrix = _XYZ_TO_REC2020
    if as_shot:
        # It was balanced for the light it was shot in; the cast of that light is put back, for
        # scenes are not balanced.
        matrix = np.linalg.inv(balance_matrix(as_shot)) @ matrix
    turned = np.ascontiguousarray(matrix.T, np.float32)
    plain = Deep(samples, partial(_light, turned, 1.0))
    height, width = plain.shape[:2]
    few = min(SMALL, width)
    small = plain.shrunk(few, max(1, round(height * few / width)))
    # No meter reading is known: the middle of the picture is taken for mid grey.
    middle = float(np.exp(np.mean(np.log(np.clip(small @ _LUMINANCE, 1e-4, None)))))
    gain = float(np.clip(MID_GREY / max(middle, 1e-5), 0.25, 16))
    auto = as_shot or estimate_light(small * np.float32(gain))
    frame = Deep(samples, partial(_light, turned, gain))
    return Scene(
        scene_id,
        title,
        frame,
        auto,
        auto,
        story="Your own raw picture, as light.",
        group="own",
        noise_law=sense.estimated(frame.middle(reduce_noise.ENOUGH), width / across),
        photosites=across,
    )
