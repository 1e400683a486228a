"""Other pictures of a rendered scene: zebra stripes at a level, and a map of how far two recipes
are apart."""

import io
from dataclasses import replace

import cv2
import numpy as np
from flask import Blueprint, request
from PIL import Image
from werkzeug.wrappers import Response

from ..core.colour.difference import ciede2000
from ..core.colour.lab import encoded_to_lab
from ..core.develop.grade import graded, standard_grade
from ..core.develop.pipeline import develop
from ..core.measure.views import difference_map, zebra
from ..core.pictures.write import preview
from . import address
from .address import from_code
from .context import number
from .rendering import LARGE, answer, asked, render, stripes
from .scheduling import schedule

blueprint = Blueprint("overlays", __name__)
MAP_WIDTH = 720  # pixels across at most: a map is read by areas
LEAST_ZEBRA, MOST_ZEBRA = 5, 109


def _decoded(jpeg: bytes) -> np.ndarray:
    return np.asarray(cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR_RGB))


@blueprint.get("/render/<scene_id>.zebra.png")
def zebra_stripes(scene_id: str) -> Response:
    """Stripes where the preview's brightness reaches `level` percent."""
    level = number("level", 95, LEAST_ZEBRA, MOST_ZEBRA)
    key, made = render(scene_id, replace(asked(), view=""))
    bright = zebra(_decoded(made.jpeg), level)
    return answer(
        f"{key}z{level}", stripes(bright, np.zeros_like(bright)), "image/png"
    ).make_conditional(request)


@blueprint.get("/render/<scene_id>.graded.jpg")
def graded_picture(scene_id: str) -> Response:
    """The preview written with `bits` a channel and then graded to stand as Plain would."""
    ask, bits = asked(), number("bits", 8, 8, 10)
    look, sensor, scene = ask.recipe.look, ask.recipe.camera.sensor, address.scene_of(scene_id)
    with schedule.picture(ask.width >= LARGE):
        grade = standard_grade(scene, look, sensor)
        made = develop(scene, look, sensor, ask.width, ask.seed, ask.detail)
        body = preview(graded(made, grade, bits, look.limited))
    return answer(f"{ask.key(scene_id)}g{bits}", body, "image/jpeg").make_conditional(request)


@blueprint.get("/render/<scene_id>.apart.png")
def apart(scene_id: str) -> Response:
    """CIEDE2000 between the recipe and the one that `than` names, as a map; mean and 95th
    percentile in the headers."""
    ask = asked()
    ask = replace(ask, width=min(ask.width, MAP_WIDTH), detail=False, view="")
    other, _ = from_code(request.args.get("than", ""))
    # Noise and grain are the same in both, so that only the looks differ.
    (key, one), (other_key, two) = (
        render(scene_id, replace(ask, recipe=r)) for r in (ask.recipe, other)
    )
    labs = [encoded_to_lab(_decoded(made.jpeg).astype(np.float32) / 255) for made in (one, two)]
    differs = ciede2000(*labs)
    out = io.BytesIO()
    Image.fromarray(difference_map(cv2.blur(differs, (3, 3)))).save(out, "PNG", compress_level=3)
    response = answer(f"{key}{other_key}", out.getvalue(), "image/png")
    response.headers["Plum-Difference"] = f"{differs.mean():.2f} {np.percentile(differs, 95):.2f}"
    return response.make_conditional(request)
