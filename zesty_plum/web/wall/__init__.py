"""The Wall: recipes side by side on scenes, in words, in figures, as maps, and as they look when
they are graded."""

from dataclasses import replace
from typing import Any, NamedTuple

from flask import Blueprint, render_template, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response

from ...core.base.errors import PlumError
from ...core.base.nominal import printed_kelvin
from ...core.bodies import bodies, body
from ...core.develop import balance
from ...core.judge.bracket import WIDTHS, bracket
from ...core.judge.grading import bands_after_a_grade
from ...core.recipe import Recipe
from ...core.scenes.scene import Scene
from ...core.translate import translate
from ...store import shelf, slips
from ..frame.context import db, tell, went
from ..frame.screens import Room
from ..frame.values import whole
from ..papers import sent_wall
from ..render import address, measured
from ..render.rendering import exposure_words
from ..server.turns import Rank, turn
from ..server.work import long_work
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


def _bracket(scene: Scene, columns: list[Column], dial: str) -> tuple[list[Column], int, str]:
    """The first column's recipe with a dial at places around its own; as it was, with a word on
    why, where there is nothing to see."""
    recipe = columns[0][1]
    with turn(Rank.FIGURES):
        try:
            found = bracket(scene, recipe, dial, request.args.get("wide", ""))
        except PlumError as error:
            if dial not in recipe.camera.by_id:
                raise
            tell(str(error), "fault")
            return columns, 0, ""
    made = [(address.code(r), r, f"{r.camera.name}, bracket") for r in found.recipes]
    return made, found.own, found.said


def _told(
    scene: Scene, columns: list[Column], standard: int, bits: str = ""
) -> list[dict[str, Any]]:
    """Each column with words and figures against the standard, on one scene; of the graded pictures
    where `bits` are given."""
    made = []
    for k, (code, recipe, line) in enumerate(columns):
        seen, beside = measured.seen(scene, recipe), None
        if k != standard:
            pair = columns[standard][1], recipe
            beside = (
                measured.against_graded(scene, *pair, int(bits))
                if bits
                else measured.against(scene, *pair)
            )
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


class Hung(NamedTuple):
    """Columns, rows, the standard's number, and a word on the bracket that they are."""

    columns: list[Column]
    rows: list[tuple[str, Scene]]
    standard: int
    said: str


def _hung() -> Hung:
    """What the address says."""
    columns = _chosen(request.args.getlist("r"))
    scene_ids = list(dict.fromkeys(request.args.getlist("scene")))[:MOST_SCENES] or [
        address.FIRST_SCENE
    ]
    rows = [(scene_id, address.scene_of(scene_id)) for scene_id in scene_ids]
    dial, own, said = request.args.get("bracket", ""), 0, ""
    if dial and columns:
        columns, own, said = _bracket(rows[0][1], columns, dial)
    asked = whole(request.args.get("standard", str(own))) or 0
    return Hung(columns, rows, max(0, min(asked, len(columns) - 1)), said)


@blueprint.get("/wall")
def page() -> str:
    """Two to eight recipes across, one to twelve scenes down, or turned; told against the standard
    on the first scene."""
    columns, rows, standard, said = _hung()
    asked = request.args.get("graded", "")
    bits = asked if asked in BITS else ""
    told = _told(rows[0][1], columns, standard, bits) if columns else []
    if bits:
        for column in told:
            column["bands"] = bands_after_a_grade(rows[0][1], column["recipe"])
    flags = {
        "apart": request.args.get("apart") == "1",
        "graded": bits,
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
        here_url=request.full_path,
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
        said=said,
        widths=_widths(),
        most=MOST,
        fewest=FEWEST,
        zooms=ZOOMS,
        **flags,
    )


def _widths() -> list[tuple[str, str, bool]]:
    """Words, address and whether it is the present one, for every width of a bracket."""
    if not request.args.get("bracket"):
        return []
    out = []
    for wide in WIDTHS:
        asked: dict[str, Any] = request.args.to_dict(flat=False) | {"wide": [wide]}
        asked = {k: v for k, v in asked.items() if v != [""] and k != "standard"}
        words = f"{wide} steps" if wide else "steps that are seen"
        now = request.args.get("wide", "") == wide
        out.append((words, url_for("wall.page", **asked), now))
    return out


@blueprint.get("/wall/match")
def match() -> Response:
    """Hang up what another body's nearest recipe to the standard is, with a word on what
    remains."""
    columns, rows, standard, _ = _hung()
    if not columns:
        raise PlumError("Nothing hangs on this Wall that could be matched. Hang up a recipe first.")
    source, camera = columns[standard][1], body(request.args.get("to", ""))
    with long_work(f"Looking for the nearest recipe on {camera.name}") as work:
        found = translate(source, camera, work.pause, rows[0][1])
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
    columns, rows, standard, _ = _hung()
    if not columns:
        raise PlumError("Nothing hangs on this Wall. Hang up recipes first.")
    return sent_wall(_told(rows[0][1], columns, standard), rows, standard)


ROOM = Room(
    "Wall", (blueprint, blind.blueprint), home="wall.page", order=2, ticks=("blind.choose",)
)
