"""Taking a recipe away: its file, a LUT, a full-size picture that carries it, and figures."""

import re
import threading
from dataclasses import asdict
from urllib.parse import quote

from flask import Blueprint, Response, jsonify, request

from ..core import lut
from ..core.develop.pipeline import develop
from ..core.measure.compare import difference, to_lab
from ..core.pictures.write import encode
from ..core.recipe import Recipe, dumps, schema
from . import address
from .rendering import number

blueprint = Blueprint("take", __name__, url_prefix="/take")
_one_at_a_time = threading.Lock()  # a picture of 60 megapixels takes a few GB while it is developed


def file_name(recipe: Recipe, ending: str) -> str:
    """A sensible file name for a recipe."""
    stem = re.sub(r"[^\w-]+", "-", recipe.name.strip().lower()).strip("-_")[:80]
    return f"{stem or 'recipe'}{ending}"


def _file(recipe: Recipe, ending: str, body: bytes | str, kind: str) -> Response:
    response = Response(body, mimetype=kind)
    name = file_name(recipe, ending)
    plain = name.encode("ascii", "ignore").decode().lstrip("-.") or f"recipe{ending}"
    response.headers["Content-Disposition"] = f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    return response


@blueprint.get("/recipe.plum.json")
def recipe_file() -> Response:
    """The recipe file."""
    recipe = address.recipe_from(request.args)
    return _file(recipe, ".plum.json", dumps(recipe), "application/json")


@blueprint.get("/look.<any(cube, clf):kind>")
def lut_file(kind: str) -> Response:
    """The look as a LUT."""
    recipe = address.recipe_from(request.args)
    size = number("size", 33, lut.LEAST, 65)
    text = (lut.cube if kind == "cube" else lut.clf)(recipe, size, request.args.get("input", "srgb"))
    return _file(recipe, f".{kind}", text, "text/plain" if kind == "cube" else "application/xml")


@blueprint.get("/picture.<any(jpg, png, tif):kind>")
def picture_file(kind: str) -> Response:
    """The scene at full size with the recipe inside."""
    recipe = address.recipe_from(request.args)
    types = {"jpg": "image/jpeg", "png": "image/png", "tif": "image/tiff"}
    with _one_at_a_time:
        scene = address.scene_asked(request.args, full=True)
        picture = develop(scene, recipe.look, recipe.camera.sensor, scene.size[0], number("seed", 1, 0, 2**31))
        body = encode(picture, recipe, f".{kind}", number("bits", 8, 8, 16))
    return _file(recipe, f".{kind}", body, types[kind])


@blueprint.get("/difference.json")
def figures() -> Response:
    """CIEDE2000 between two recipes (arguments `a` and `b`) on a scene."""
    scene = address.scene_asked(request.args)
    pair = [address.from_code(request.args.get(k, ""))[0] for k in "ab"]
    labs = [to_lab(develop(scene, r.look, r.camera.sensor, 480)) for r in pair]
    dials = [{"dial": d, "a": x, "b": y} for d, x, y in pair[0].differing(pair[1])]
    return jsonify(scene=scene.id, dials=dials, ciede2000=asdict(difference(*labs)))


@blueprint.get("/schema.json")
def schema_file() -> Response:
    """JSON Schema of the recipe file."""
    return jsonify(schema())
