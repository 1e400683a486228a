"""The Wall: recipes side by side on scenes, in words, in figures, as maps, and as they look when
they are graded."""

from dataclasses import replace
from typing import Any

from flask import Blueprint, render_template, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ...core.bodies import Dial, bodies, body
from ...core.develop import balance
from ...core.errors import PlumError
from ...core.judge.grading import bands_after_a_grade
from ...core.nominal import printed_kelvin
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ...core.translate import translate
from ...store import shelf, slips
from .. import address, measured
from ..context import db, tell, went
from ..papers import sent_wall
from ..rendering import exposure_words
from ..screens import Room
from ..values import whole
from ..work import long_work
from . import blind

blueprint = Blueprint("wall", __name__, template_folder="templates")

FEWEST, MOST, MOST_SCENES = 2, 8, 12
MOST_WORDS = 5
BITS = ("8", "10")
ZOOMS = ("1", "2", "4", "100")
Column = tuple[str, Recipe, str]


def _chosen(codes: list[str]) -> list[Column]:
    """Code, recipe and line of each column; begins with the newest slips where none are named."""
    if not codes:
        newest = [k for k, _ in shelf.names(db(), most=3)]
        codes = [f"slip-{slip.id}" for slip in slips.some(db(), newest)]
    if len(codes) > MOST:
        tell(f"The Wall holds {MOST} recipes; the first {MOST} are shown.", "fault")
    return [(c, *address.from_code(c)) for c in codes[:MOST]]


def bracketed(recipe: Recipe, dial: Dial) -> list[Recipe]:
    """A recipe with one dial at the places around where it stands, as people bracket in the field:
    at most seven."""
    at, last = dial.position(recipe.dials[dial.id]), len(dial.values) - 1
    step = 1 if last < 14 else 2
    places = [at + step * k for k in range(-3, 4)] if last > 6 else range(last + 1)
    some = [p for p in places if 0 <= p <= last]
    return [
        replace(
            recipe,
            name=f"{dial.label} {dial.choices[p].label}",
            dials={**recipe.dials, dial.id: dial.values[p]},
        )
        for p in some
    ]


def _told(scene: Scene, columns: list[Column], standard: int) -> list[dict[str, Any]]:
    """Each column with words and figures against the standard, on one scene."""
    made = []
    for k, (code, recipe, line) in enumerate(columns):
        seen, beside = measured.seen(scene, recipe), None
        if k != standard:
            beside = measured.against(scene, columns[standard][1], recipe)
        white = balance.neutral_light(recipe.look, scene.auto_light, scene.card_light)
        made.append(
            {
                "code": code,
                "recipe": recipe,
                "line": line,
                "args": address.look_query(recipe),
                "difference": beside and beside.whole,
                "regions": beside.regions if beside else {},
                "words": beside.words[:MOST_WORDS] if beside else [],
                "clipped": seen.report.frame.clipped,
                "contrast": seen.report.curve.contrast,
                "camera": f"{exposure_words(seen.exposure)}, white {printed_kelvin(white[0])}",
                "dials": recipe.differing(columns[standard][1]) if beside else [],
            }
        )
    return made


def _hung() -> tuple[list[Column], list[tuple[str, Scene]], int]:
    """Columns, rows and the standard's number, as the address says."""
    columns = _chosen(request.args.getlist("r"))
    bracket = request.args.get("bracket", "")
    if bracket and columns:
        recipe = columns[0][1]
        columns = [
            (address.code(r), r, f"{r.camera.name}, bracket")
            for r in bracketed(recipe, recipe.camera.dial(bracket))
        ]
    scene_ids = list(dict.fromkeys(request.args.getlist("scene")))[:MOST_SCENES] or [
        address.FIRST_SCENE
    ]
    asked = whole(request.args.get("standard", "0")) or 0
    standard = max(0, min(asked, len(columns) - 1))
    if bracket and columns and "standard" not in request.args:
        standard = next(k for k, (_, r, _) in enumerate(columns) if r.dials == recipe.dials)
    return columns, [(scene_id, address.scene_of(scene_id)) for scene_id in scene_ids], standard


@blueprint.get("/wall")
def page() -> str:
    """Two to eight recipes across, one to twelve scenes down, or turned; told against the standard
    on the first scene."""
    columns, rows, standard = _hung()
    told = _told(rows[0][1], columns, standard) if columns else []
    bits = request.args.get("graded", "")
    if bits in BITS:
        for column in told:
            column["bands"] = bands_after_a_grade(rows[0][1], column["recipe"])
    flags = {
        "apart": request.args.get("apart") == "1",
        "graded": bits if bits in BITS else "",
        "turned": request.args.get("turned") == "1",
    }
    here = [
        *(("r", c) for c, _, _ in columns),
        *(("scene", s) for s, _ in rows),
        ("standard", str(standard)),
    ]
    here += [(k, "1" if v is True else str(v)) for k, v in flags.items() if v]

    def to(**change: str | None) -> str:
        """This Wall with some arguments changed."""
        kept = MultiDict((k, v) for k, v in here if k not in change)
        kept.update({k: v for k, v in change.items() if v is not None})
        asked: dict[str, Any] = kept.to_dict(flat=False)
        return url_for("wall.page", **asked)

    return render_template(
        "wall.html",
        columns=told,
        standard=standard,
        scene_id=rows[0][0],
        rows=rows,
        scene=rows[0][1],
        scenes=address.scene_row(),
        slips=shelf.names(db()),
        bracket_dials=[d for d in columns[0][1].camera.dials if len(d.values) > 1]
        if columns
        else [],
        bodies=list(bodies().values()),
        here=here,
        to=to,
        most=MOST,
        fewest=FEWEST,
        zooms=ZOOMS,
        **flags,
    )


@blueprint.get("/wall/match")
def match() -> Response:
    """Hang up what another body's nearest recipe to the standard is, with a word on what
    remains."""
    columns, rows, standard = _hung()
    if not columns:
        raise PlumError("Nothing hangs on this Wall that could be matched. Hang up a recipe first.")
    source, camera = columns[standard][1], body(request.args.get("to", ""))
    with long_work(f"Looking for the nearest recipe on {camera.name}") as work:
        found = translate(source, camera, work.pause)
    tell(
        f"{camera.name}, nearest to '{source.name}': {' '.join(found.words)} CIEDE2000 "
        f"{found.mean:.1f} on average remains.",
        "note",
    )
    made = replace(found.recipe, name=f"{source.name[:90]}, on {camera.name}")
    codes = [c for c, _, _ in columns][: MOST - 1]
    hung, below = [*codes, address.code(made)], [s for s, _ in rows]
    return went(url_for("wall.page", r=hung, scene=below, standard=standard))


@blueprint.get("/wall/page.html")
def sent() -> Response:
    """The Wall as a page to send by mail."""
    columns, rows, standard = _hung()
    if not columns:
        raise PlumError("Nothing hangs on this Wall. Hang up recipes first.")
    return sent_wall(_told(rows[0][1], columns, standard), rows, standard)


ROOM = Room(
    "Wall", (blueprint, blind.blueprint), home="wall.page", order=2, ticks=("blind.choose",)
)
