"""What is laid over a rendered scene: clipped and crushed places, zebra stripes at a level, what a
learnt style was never taught, and a map of how far two recipes are apart."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from flask import Blueprint, request
from werkzeug.wrappers import Response

from ...core.base.arrays import Mask
from ...core.base.late import library
from ...core.learn.untaught import places
from ...core.measure.compare import compare
from ...core.measure.views import difference_map, zebra
from ..frame.context import number
from . import measured
from .address import from_code
from .asked import asked
from .rendering import answer, pixels_of, render

if TYPE_CHECKING:
    from PIL import Image
else:  # a picture is drawn seldom
    Image = library("PIL.Image")


cv2 = library("cv2")

blueprint = Blueprint("overlays", __name__)
LEAST_ZEBRA, MOST_ZEBRA = 5, 109
CLEAR, ZEST, PLUM = (0, 0, 0), (240, 164, 0), (190, 60, 150)
MAP_LARGER = 2  # times that the map is drawn larger than it is measured, smoothly


def _png(image: Image.Image, **options: int) -> bytes:
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3, **options)
    return out.getvalue()


def stripes(rising: Mask, falling: Mask) -> bytes:
    """Two areas (h, w) as a small transparent PNG: stripes one way in zest, the other way in
    plum."""
    y, x = np.mgrid[0 : rising.shape[0], 0 : rising.shape[1]]
    palette = np.zeros(rising.shape, np.uint8)
    palette[rising & ((x + y) % 8 < 5)] = 1
    palette[falling & ((x - y) % 8 < 5)] = 2
    image = Image.fromarray(palette)
    image.putpalette([*CLEAR, *ZEST, *PLUM])
    return _png(image, transparency=0)


@blueprint.get("/render/<scene_id>.marks.png")
def marks(scene_id: str) -> Response:
    """Where a preview is clipped or crushed."""
    ask = replace(asked(scene_id), view="")
    made = render(ask)
    clipped, crushed = (
        np.unpackbits(np.frombuffer(p, np.uint8), count=np.prod(made.size))
        .reshape(made.size)
        .view(bool)
        for p in made.places
    )
    body = stripes(clipped, crushed)
    return answer(f"{ask.key}m", body, "image/png").make_conditional(request)


@blueprint.get("/render/<scene_id>.zebra.png")
def zebra_stripes(scene_id: str) -> Response:
    """Stripes where a preview's brightness reaches `level` percent."""
    level = number("level", 95, LEAST_ZEBRA, MOST_ZEBRA)
    ask = replace(asked(scene_id), view="")
    bright = zebra(pixels_of(ask), level)
    body = stripes(bright, np.zeros_like(bright))
    return answer(f"{ask.key}z{level}", body, "image/png").make_conditional(request)


@blueprint.get("/render/<scene_id>.guess.png")
def guessed(scene_id: str) -> Response:
    """Where a preview shows colours that its learnt style was hardly taught."""
    ask = replace(asked(scene_id), view="")
    there = places(pixels_of(ask).astype(np.float32) / 255, ask.recipe.look.style).places
    body = stripes(np.zeros_like(there), there)
    return answer(f"{ask.key}g", body, "image/png").make_conditional(request)


@blueprint.get("/render/<scene_id>.apart.png")
def apart(scene_id: str) -> Response:
    """CIEDE2000 between the recipe and the one that `than` names, as a map; mean and 95th
    percentile in the headers, the same as on the Wall and from a shell."""
    ask = asked(scene_id)
    other, _ = from_code(request.args.get("than", ""))
    scene = ask.scene
    found = compare(scene, *(measured.seen(scene, r).lab for r in (ask.recipe, other)))
    smooth = cv2.blur(found.places, (3, 3))
    large = cv2.resize(smooth, None, fx=MAP_LARGER, fy=MAP_LARGER, interpolation=cv2.INTER_CUBIC)
    body = _png(Image.fromarray(difference_map(np.maximum(large, 0))))
    response = answer(f"{ask.key}{other.key}", body, "image/png")
    response.headers["Plum-Difference"] = f"{found.whole.mean:.2f} {found.whole.p95:.2f}"
    return response.make_conditional(request)
