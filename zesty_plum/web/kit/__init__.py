"""Kit: the bodies that recipes are for; one's own brought in, taught, and put in its own words."""

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import FileStorage

from ...core import bodies as core
from ...core.bodies import Body, file
from ...core.exchange.carried import bodies_in, missing
from ...core.pictures.read import read
from ...core.scenes.scene import Scene
from ...core.styles import styles
from ...core.translate.nearest import MOST, UNKNOWN, nearest
from ...store import bodies
from ..frame.context import db, now, place, sent_file, tell, went
from ..frame.screens import Room
from ..render import address
from ..server.turns import Rank
from ..server.work import long_work
from ..ways.take import attached
from . import cases, charts, lessons, listing, sending, settling, teaching

blueprint = Blueprint("kit", __name__, template_folder="templates", url_prefix="/kit")
MOST_WORDS = 200
PRINTS = 24  # pairs that a body's page shows beside what was predicted for them


@blueprint.get("/bodies")
def bodies_page() -> str:
    """All bodies."""
    own = {kept.body.id: kept for kept in bodies.listed(db())}
    every = [b for b in core.bodies().values() if b.id not in own]
    begun = place().lessons.listed()
    return render_template("bodies.html", shipped=every, own=list(own.values()), lessons=begun)


@blueprint.get("/bodies/<body_id>")
def one(body_id: str) -> str:
    """One body: what it has, how it was learnt and how sure that is."""
    return _shown(core.body(body_id))


def _shown(made: Body, staged: str = "", before: int | None = None, **more: object) -> str:
    return render_template(
        "body.html",
        body=made,
        sure=teaching.sure_of(made),
        steps={s.dial: s.moves for s in made.steps},
        own=made.id not in core.shipped(),
        staged=staged,
        before=before,
        circles=teaching.circles(made),
        unsure=teaching.unsure(made),
        lesson=place().lessons.of(file.mark(made)),
        shown_prints=PRINTS,
        **more,
    )


@blueprint.get("/bodies/<body_id>.body.json")
def download(body_id: str) -> Response:
    """A body's file."""
    made = core.body(body_id)
    return attached(f"{made.id}.body.json", file.dumps(made), "application/json")


# ---- bringing in, looked at first ----------------------------------------------------------------
def stage(made: Body) -> str:
    """Put a body where its page shows it before it counts; returns where."""
    return sending.stage(file.dumps(made))


@blueprint.post("/bring")
def bring() -> ResponseReturnValue:
    """Read a body's file, or what carries one, and show what it is."""
    given = sent_file("Choose a body file, as turnstone.body.json.")
    data = given.read()
    return went(stage(bodies.read(next(iter(bodies_in(data)), data))))


def first_needed(given: list[FileStorage]) -> str:
    """Where the first body is looked at that files of recipes carry and that is not here; empty
    where none lacks."""
    for sent in given:
        made = missing(sent.read())
        sent.seek(0)
        if made:
            tell(
                f"These recipes are for {made.name}, which is not here yet. Keep it, then bring "
                "them in again.",
                "note",
            )
            return stage(made)
    return ""


@blueprint.get("/looked-at/<token>")
def looked_at(token: str) -> str:
    """A body that does not count yet."""
    made = bodies.read(sending.staged(token))
    here = core.bodies().get(made.id)
    return _shown(made, token, here.edition if here else None, same=bodies.same(db(), made))


@blueprint.post("/looked-at/<token>")
def keep(token: str) -> ResponseReturnValue:
    """Let it count from now on."""
    made = bodies.keep(db(), bodies.read(sending.staged(token)), now())
    back = url_for("kit.put_away", body_id=made.id)
    tell(f"{made.name} is in your kit.", f"undo:{back}" if made.edition == 1 else "done")
    return redirect(url_for("kit.one", body_id=made.id))


@blueprint.post("/bodies/<body_id>/put-away")
def put_away(body_id: str) -> ResponseReturnValue:
    """Let a body count no more; it can be taken back."""
    name = bodies.put_away(db(), body_id, now())
    tell(f"{name} was removed.", f"undo:{url_for('kit.take_back', body_id=body_id)}")
    return redirect(url_for("kit.bodies_page"))


@blueprint.post("/bodies/<body_id>/take-back")
def take_back(body_id: str) -> ResponseReturnValue:
    """Undo."""
    made = bodies.take_back(db(), body_id)
    tell(f"{made.name} is back.", "done")
    return redirect(url_for("kit.bodies_page"))


# ---- its list ------------------------------------------------------------------------------------
@blueprint.get("/list")
def list_page() -> str:
    """A body's list as a table to be changed: one's own, or the nearest one that ships."""
    asked = request.args.get("like", core.FIRST)
    bare = asked == listing.NOTHING
    like = core.body(core.FIRST if bare else asked)
    own = like.id not in core.shipped()
    said = listing.seems(request.args.get("pasted", ""), like)
    return render_template(
        "list.html",
        like=like,
        bare=bare,
        spare=listing.SPARE,
        styles=[*like.styles, *styles().values()],
        rows=listing.rows(like, said, bare),
        said=said,
        own=own,
        every=core.bodies().values(),
    )


@blueprint.post("/list")
def write_list() -> ResponseReturnValue:
    """Make a body of it, and show it before it counts."""
    like = core.body(request.form.get("like", core.FIRST))
    return redirect(stage(listing.changed(like, request.form)))


# ---- teaching ------------------------------------------------------------------------------------
@blueprint.get("/teach")
def teach_page() -> str:
    """What to give it."""
    return render_template("teach.html", every=core.bodies().values(), first=core.FIRST)


@blueprint.post("/teach")
def teach() -> ResponseReturnValue:
    """Begin a lesson with pairs."""
    return lessons.begin()


@blueprint.get("/shoot")
def shoot_page() -> str:
    """What to shoot to teach a camera, for print and for a phone."""
    like = core.body(request.args.get("like", core.FIRST))
    return render_template(
        "shoot.html",
        like=like,
        brackets=teaching.brackets(like),
        situations=teaching.SITUATIONS,
    )


# ---- from a picture that somebody loves ----------------------------------------------------------
@blueprint.get("/near")
def near_page() -> str:
    """Which picture to come near; and what was found, which stands in the address."""
    codes = request.args.getlist("r")[:MOST]
    found = [(code, address.from_code(code)[0]) for code in codes]
    return render_template(
        "near.html",
        every=core.bodies().values(),
        first=core.FIRST,
        found=[
            (recipe, address.look_query(recipe), address.query(address.dial_args(recipe)))
            for _, recipe in found
        ],
        wall=url_for("wall.page", r=codes, scene=address.FIRST_SCENE) if len(codes) > 1 else "",
        by=request.args.get("by", "")[:MOST_WORDS],
        unknown=UNKNOWN,
        scene_id=address.FIRST_SCENE,
    )


@blueprint.post("/near")
def near() -> ResponseReturnValue:
    """Find recipes that come near finished pictures."""
    camera = core.body(request.form.get("body", core.FIRST))
    given = [f for f in request.files.getlist("file") if f.filename]
    plain = request.files.get("plain")
    with long_work("Looking at the picture", rank=Rank.LARGE) as work:
        loved = [_loved(each) for each in given]
        beside = _loved(plain) if plain and plain.filename else None
        work.words = "Trying recipes"
        answer = nearest(loved, camera, beside, work.pause)
    codes = [address.code(one.recipe) for one in answer.found]
    return went(url_for("kit.near_page", r=codes, by=answer.by))


def _loved(sent: FileStorage) -> Scene:
    return read(sent.read(), str(sent.filename), "own-loved")


ROOM = Room(
    "Kit",
    (blueprint, lessons.blueprint, charts.blueprint, cases.blueprint, settling.blueprint),
    "cases.page",
    4,
    ticks=("settling.ticked",),
)
