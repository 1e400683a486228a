"""Slips that leave the house: zips, tables, sheets, cards, pages to send, LUTs and backups."""

import base64
import tempfile
from pathlib import Path
from typing import Any
from urllib.parse import quote

import numpy as np
from flask import Blueprint, Response, current_app, render_template, request, send_file
from markupsafe import Markup
from werkzeug.datastructures import MultiDict

from ...core.base.arrays import Bytes8
from ...core.base.errors import PlumError
from ...core.base.late import library
from ...core.bodies import file as body_file
from ...core.bodies import mark
from ...core.develop.pipeline import develop
from ...core.exchange import lut, packed, stem, table
from ...core.paper import pdf
from ...core.paper.card import SHAPES
from ...core.paper.code import pack
from ...core.pictures.write import preview
from ...core.recipe import INTENT_WORDS, Recipe
from ...store import backup, shelf, slips
from ..frame.context import db, now, place
from ..frame.screens import Room
from ..frame.values import choice
from ..render import address
from ..server.work import long_work
from ..slips import picked
from ..ways.take import attached, companions, file_name

cv2 = library("cv2")

blueprint = Blueprint("papers", __name__, template_folder="templates")

SHEET_WIDTH = 1200
SENT_WIDTHS = (640, 480, 400, 320, 240, 180)
MOST_SENT = 1_900_000  # bytes of a page to send: mail servers take it, and so do people


def _chosen() -> list[slips.Slip]:
    found = slips.some(
        db(), picked(MultiDict([*request.args.items(multi=True), *request.form.items(multi=True)]))
    )
    if not found:
        raise PlumError("No slip is selected. Select the ones to take away.")
    return found


def _with_tags(found: list[slips.Slip]) -> list[tuple[Recipe, list[str]]]:
    return [(s.recipe, shelf.tags_of(db(), s.id)) for s in found]


def _called(found: list[slips.Slip], ending: str) -> str:
    return (
        file_name(found[0].recipe, ending)
        if len(found) == 1
        else f"{len(found)}-slips-{now()[:10]}{ending}"
    )


@blueprint.route("/slips/slips.zip", methods=["GET", "POST"])
def parcel() -> Response:
    """The chosen slips as recipe files in a zip with a manifest."""
    found = _chosen()
    return attached(_called(found, ".zip"), packed(_with_tags(found), now()), "application/zip")


@blueprint.route("/slips/slips.csv", methods=["GET", "POST"])
def csv_table() -> Response:
    """The chosen slips as a table."""
    found = _chosen()
    return attached(_called(found, ".csv"), "\ufeff" + table(_with_tags(found)), "text/csv")


@blueprint.route("/slips/slips.pdf", methods=["GET", "POST"])
def sheets() -> Response:
    """The chosen slips on paper: one a page with a picture, or pocket cards."""
    found = _chosen()
    name = choice("kind", request.values.get("kind", "page"), pdf.KINDS)
    kind = pdf.KINDS[name]
    if len(found) > kind.most:
        raise PlumError(
            f"A PDF of this kind holds {kind.most} slips; {len(found)} are selected. Select fewer."
        )
    scene = address.scene_asked(request.values)
    with long_work("Printing the slips", len(found) + 1) as work:
        made = [
            pdf.Slip(
                s.recipe,
                s.version,
                develop(scene, s.recipe.look, s.recipe.camera.sensor, SHEET_WIDTH).pixels
                if kind.pictured
                else None,
            )
            for s in work.steps(found)
        ]
        body = pdf.sheets(made, name, request.values.get("paper", "a4"))
    return attached(_called(found, ".pdf"), body, "application/pdf")


@blueprint.get("/slips/<int:slip_id>/card")
def card_page(slip_id: int) -> str:
    """The card of a slip, with the choice of its shape and pictures."""
    slip = slips.get(db(), slip_id)
    scene_id = request.args.get("scene", address.FIRST_SCENE)
    beside = request.args.getlist("with")[:2] or companions(scene_id)
    for each in (scene_id, *beside):
        if each != "none":
            address.scene_of(each)
    shape = choice("shape", request.args.get("shape", "portrait"), SHAPES)
    recipe = slip.recipe
    asked = {
        "name": slip.name,
        "note": recipe.note,
        "author": recipe.author,
        "intent": str(recipe.intent),
        "n": str(slip.version),
        "shape": shape,
        "scene": scene_id,
    } | address.dial_args(recipe)
    query = address.query(asked) + "".join(f"&with={quote(s)}" for s in beside)
    return render_template(
        "card.html",
        slip=slip,
        scene_id=scene_id,
        beside=[*beside, "none"][:2],
        shape=shape,
        shapes=SHAPES,
        query=query,
        scenes=address.scene_row(),
    )


@blueprint.get("/slips/<int:slip_id>/lut")
def lut_page(slip_id: int) -> str:
    """The choices for a LUT of a slip."""
    slip = slips.get(db(), slip_id)
    return render_template(
        "lut.html",
        slip=slip,
        recipe=slip.recipe,
        inputs=lut.INPUTS,
        left_out=lut.LEFT_OUT,
        sizes=lut.SIZES,
        dials=address.dial_args(slip.recipe),
        offsets=lut.OFFSETS,
    )


def picture_of(recipe: Recipe, scene_id: str, width: int) -> Bytes8:
    return develop(address.scene_of(scene_id), recipe.look, recipe.camera.sensor, width).pixels


def inside(pixels: Bytes8, width: int = 0, quality: int = 82) -> str:
    """A picture as part of a page, made smaller where a width is given."""
    if width and width < pixels.shape[1]:
        height = max(1, round(pixels.shape[0] * width / pixels.shape[1]))
        pixels = np.asarray(cv2.resize(pixels, (width, height), interpolation=cv2.INTER_AREA))
    return "data:image/jpeg;base64," + base64.b64encode(preview(pixels, quality)).decode()


def _carried(recipe: Recipe) -> str:
    """The file of a recipe's body as part of a page; empty for one that ships."""
    if not mark(recipe.body):
        return ""
    told = base64.b64encode(body_file.dumps(recipe.camera).encode()).decode()
    return f"data:application/json;base64,{told}"


def sent(name: str, template: str, **shown: Any) -> Response:
    """A page that stands alone: pictures inside, no script, nothing asked from anywhere."""
    style = Path(current_app.static_folder or "", "sent.css").read_text(encoding="utf-8")
    page = render_template(template, made_at=now()[:10], style=Markup(style), **shown)
    return attached(f"{stem(name)}.html", page, "text/html")


@blueprint.get("/slips/<int:slip_id>/page.html")
def shared_slip(slip_id: int) -> Response:
    """A slip as a page to send by mail."""
    slip = slips.get(db(), slip_id)
    recipe, scene_id = slip.recipe, request.args.get("scene", address.FIRST_SCENE)
    others = companions(scene_id, 3)
    camera = recipe.camera
    dials = [
        (d.label, d.choice(recipe.dials[d.id]).label, d.id in camera.changed(recipe.dials))
        for d in camera.dials
        if camera.counts(d, recipe.dials)
    ]
    titles = {s["id"]: s["title"] for s in address.scene_row()}
    with long_work("Making the page", 1 + len(others)) as work:
        asked = [(scene_id, 1080), *((s, 400) for s in others)]
        shown = [
            (titles.get(s, ""), inside(picture_of(recipe, s, width)))
            for s, width in work.steps(asked)
        ]
    return sent(
        slip.name,
        "sent_slip.html",
        slip=slip,
        recipe=recipe,
        dials=dials,
        intent=INTENT_WORDS[recipe.intent],
        large=shown[0],
        small=shown[1:],
        recipe_code=pack(recipe),
        carried=_carried(recipe),
    )


def sent_case(
    name: str, lines: list[dict[str, Any]], beside: list[tuple[str, str]], case: Any
) -> Response:
    """A camera's slots as a page to send; `lines` have label, recipe, scene, why and dials."""
    with long_work("Making the page", len(lines)) as work:
        for line in work.steps(lines):
            line["picture"] = inside(picture_of(line["recipe"], line["scene"], 400))
    return sent(name, "sent_case.html", lines=lines, beside=beside, case=case)


def sent_wall(
    columns: list[dict[str, Any]], rows: list[tuple[str, Any]], standard: int
) -> Response:
    """A Wall as a page to send: pictures as large as two megabytes allow."""
    cells = [(column["recipe"], scene_id) for column in columns for scene_id, _ in rows]
    with long_work("Making the page", len(cells)) as work:
        made = [picture_of(*cell, SENT_WIDTHS[0]) for cell in work.steps(cells)]
        for width in SENT_WIDTHS:
            work.pause()
            prints = [inside(pixels, width) for pixels in made]
            if sum(map(len, prints)) <= MOST_SENT:
                break
    down = [prints[k : k + len(rows)] for k in range(0, len(prints), len(rows))]
    return sent(
        "wall", "sent_wall.html", columns=list(zip(columns, down)), rows=rows, standard=standard
    )


@blueprint.get("/backup.zip")
def everything() -> Response:
    """Everything in one file."""
    # It is closed when it has been sent.
    out = tempfile.TemporaryFile(dir=place().scratch)  # noqa: SIM115
    with long_work("Making the backup"):
        backup.write(db(), place(), out, now())
    out.seek(0)
    return send_file(
        out, "application/zip", as_attachment=True, download_name=f"zesty-plum-{now()[:10]}.zip"
    )


ROOM = Room("Slips", (blueprint,))
