"""Taking a recipe away: its file, a LUT, a full-size picture that carries it, and figures."""

import tempfile
from dataclasses import asdict
from urllib.parse import quote

from flask import Blueprint, Response, jsonify, request, send_file

from ...core.base.errors import PlumError
from ...core.develop.pipeline import Passage, develop
from ...core.exchange import lut, stem, written
from ...core.measure.looking import apart
from ...core.paper import card
from ...core.pictures.write import check_kind, file_of, write
from ...core.recipe import Recipe, dumps, schema
from ..frame.context import number, place
from ..render import address
from ..render.asked import MOST_SEED
from ..server.turns import Rank
from ..server.work import long_work

blueprint = Blueprint("take", __name__, url_prefix="/take")
# Scenes that go onto a card beside the telling one.
COMPANIONS = ("painters", "table", "boatyard", "beach", "workshop")
CARD_WIDTH, BESIDE_WIDTH = 1080, 560
USUAL_POINTS, MOST_POINTS = 33, 65  # of a LUT, a side


def companions(scene_id: str, many: int = 2) -> list[str]:
    """Scenes that go well beside one."""
    return [s for s in COMPANIONS if s != scene_id][:many]


def file_name(recipe: Recipe, ending: str) -> str:
    """A sensible file name for a recipe."""
    return stem(recipe.name) + ending


def attached(name: str, body: bytes | str, kind: str) -> Response:
    """A file to be kept, under a name in any language."""
    return named(Response(body, mimetype=kind), name)


def named(response: Response, name: str) -> Response:
    """An answer as a file to be kept."""
    plain = name.encode("ascii", "ignore").decode().lstrip("-.") or "recipe"
    plain = plain if "." in plain else f"recipe.{plain}"
    response.headers["Content-Disposition"] = (
        f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
    )
    return response


def _file(recipe: Recipe, ending: str, body: bytes | str, kind: str) -> Response:
    return attached(file_name(recipe, ending), body, kind)


@blueprint.get("/recipe.plum.json")
def recipe_file() -> Response:
    """The recipe file."""
    recipe = address.recipe_from(request.args)
    return _file(recipe, ".plum.json", dumps(recipe), "application/json")


@blueprint.get("/look.<any(cube, clf):kind>")
def lut_file(kind: str) -> Response:
    """The look as a LUT."""
    recipe = address.recipe_from(request.args)
    size = number("size", USUAL_POINTS, lut.LEAST, MOST_POINTS)
    offset = request.args.get("offset", "0")
    if offset not in lut.OFFSETS:
        raise PlumError(
            f"The exposure offset of a LUT can be {', '.join(lut.OFFSETS)} stops, not "
            f"'{offset[:20]}'."
        )
    write = lut.cube if kind == "cube" else lut.clf
    with long_work("Working out the LUT"):
        text = write(recipe, size, request.args.get("input", "srgb"), float(offset))
    return _file(recipe, f".{kind}", text, "text/plain" if kind == "cube" else "application/xml")


@blueprint.get("/picture.<any(jpg, png, tif):kind>")
def picture_file(kind: str) -> Response:
    """The scene at full size with the recipe inside."""
    recipe, bits = address.recipe_from(request.args), number("bits", 8, 8, 16)
    seed = number("seed", 1, 0, MOST_SEED)
    types = {"jpg": "image/jpeg", "png": "image/png", "tif": "image/tiff"}
    check_kind(f".{kind}", bits)
    with long_work("Developing the picture", rank=Rank.LARGE) as work:
        scene = address.scene_asked(request.args, full=True)
        look, sensor, width = recipe.look, recipe.camera.sensor, scene.size[0]
        samples = Passage(scene, look, sensor, width, seed).samples(bits == 16, work.pause)
        # On the disk until it has been sent, for it may be hundreds of megabytes.
        out = tempfile.NamedTemporaryFile(dir=place().scratch)  # noqa: SIM115
        write(out, samples, recipe, f".{kind}", scratch=place().scratch)
    out.seek(0)
    response = send_file(out, types[kind])
    return named(response, file_name(recipe, f".{kind}"))


@blueprint.get("/slip.txt")
def text_file() -> Response:
    """The recipe as a written list, which can be pasted back."""
    recipe = address.recipe_from(request.args)
    return _file(recipe, ".txt", written(recipe), "text/plain")


@blueprint.get("/card.<any(png, jpg):kind>")
def card_file(kind: str) -> Response:
    """The card: renders of `scene` and of those in `with`, dials, note, code, and the recipe inside
    the file."""
    recipe, args = address.recipe_from(request.args), request.args
    first = args.get("scene", address.FIRST_SCENE)
    beside = [s for s in args.getlist("with") or companions(first) if s != "none"][:2]
    look, sensor = recipe.look, recipe.camera.sensor
    asked = [(first, CARD_WIDTH), *((s, BESIDE_WIDTH) for s in beside)]
    with long_work("Drawing the card", len(asked) + 1) as work:
        renders = [
            develop(address.scene_of(s), look, sensor, width).pixels
            for s, width in work.steps(asked)
        ]
        made = card.draw(recipe, renders, args.get("shape", "portrait"), number("n", 1, 1, 10**6))
    response = _file(
        recipe,
        f".{kind}",
        file_of(made, recipe, f".{kind}"),
        {"png": "image/png", "jpg": "image/jpeg"}[kind],
    )
    if args.get("show") == "1":
        response.headers["Content-Disposition"] = "inline"
    return response


@blueprint.get("/difference.json")
def figures() -> Response:
    """CIEDE2000 between two recipes (arguments `a` and `b`) on a scene."""
    scene = address.scene_asked(request.args)
    pair = [address.from_code(request.args.get(k, ""))[0] for k in "ab"]
    found = apart(scene, pair[0], pair[1])
    dials = [{"dial": d, "a": x, "b": y} for d, x, y in pair[0].differing(pair[1])]
    return jsonify(scene=scene.id, dials=dials, ciede2000=asdict(found.whole))


@blueprint.get("/schema.json")
def schema_file() -> Response:
    """JSON Schema of the recipe file."""
    return jsonify(schema())
