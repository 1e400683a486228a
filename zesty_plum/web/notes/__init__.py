"""Notes: what was tried, what was seen, what to try next."""

from collections.abc import Sequence
from dataclasses import asdict, replace

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from ...core.base.errors import PlumError
from ...core.base.text import shortened
from ...core.fields.declared import declared, from_form, to_form
from ...core.notes import moves as moved
from ...core.notes import search as searching
from ...core.notes.recurring import comes_back
from ...core.notes.said import CAME, LINE, Said, tags_of
from ...core.recipe import Recipe, dumps, loads
from ...core.recipe.search import parse
from ...store import cases, notes, shelf, slips
from ...store.database import revision, transaction
from ...store.notes import Trial
from ..frame.context import db, now, pictures, sent_file, tell, went
from ..frame.drawn import drawn_from
from ..frame.screens import Room
from ..frame.values import identity, place
from ..render import address, measured
from ..render.trials import found_of, shown
from ..server.turns import Rank
from ..server.work import long_work
from . import away, singly, which

blueprint = Blueprint("notes", __name__, template_folder="templates", url_prefix="/notes")
MOST_SHOWN, MOST_RECIPE = 60, 40_000


@blueprint.get("/")
def page() -> str:
    """The line of time, open questions, and what keeps coming back."""
    asked = request.args.get("q", "")[:300]
    query = parse(asked, searching.FIELDS)
    every = notes.listed(db())
    found = found_of(every, query)
    first = max(0, identity(request.args.get("from", "")) or 0)
    return render_template(
        "notes.html",
        asked=asked,
        remarks=query.notes,
        every=len(every),
        found=len(found),
        shown=[shown(t) for t in found[first : first + MOST_SHOWN]],
        more=first + MOST_SHOWN if len(found) > first + MOST_SHOWN else 0,
        questions=notes.questions(every),
        back=comes_back([t.tried for t in every if not t.draft]),
        plans=notes.singles(db()),
        came=CAME,
    )


# ---- one trial -----------------------------------------------------------------------------------
@blueprint.get("/new")
def new() -> str:
    """A trial with everything filled in but what was seen: from the Bench, from two recipes, or
    from a slip."""
    args = request.args
    before, after, slip, version = _asked(args)
    scene = args.get("scene", address.FIRST_SCENE)
    words = _words(scene, before, after)
    draft = Trial(
        id=0,
        made_at=now(),
        before=before,
        after=after,
        slip=slip,
        version=version,
        scene=scene,
        place=shortened(args.get("place", ""), LINE.most),
        asked=shortened(args.get("asked", ""), LINE.most),
        words=tuple(words),
    )
    plain = not {"before", "body", "back"} & set(args)
    return _form(draft, args.get("back", ""), shelf.names(db()) if plain else [])


def _asked(args: "MultiDict[str, str]") -> tuple[Recipe, Recipe, int | None, int]:
    if "before" in args and "after" in args:
        before, after = (address.from_code(args[k])[0] for k in ("before", "after"))
        return before, after, _slip_of(args["after"]), 0
    after, slip = address.on_slip(args)
    if slip is None:
        return replace(after, dials=dict(after.camera.shipped)), after, None, 0
    if dict(slip.recipe.dials) != dict(after.dials):
        return slip.recipe, after, slip.id, slip.version
    if slip.version > 1:
        return slips.get(db(), slip.id, slip.version - 1).recipe, after, slip.id, slip.version
    return replace(after, dials=dict(after.camera.shipped)), after, slip.id, slip.version


def _slip_of(code: str) -> int | None:
    return identity(code[5:].split(".")[0]) if code.startswith("slip-") else None


def _words(scene_id: str, before: Recipe, after: Recipe) -> list[str]:
    """What anybody would see of it, by the measures; nothing where a scene is not there."""
    try:
        scene = address.scene_of(scene_id)
    except PlumError:
        return []
    return measured.against(scene, before, after).words if before.key != after.key else []


def _form(trial: Trial, back: str = "", choosing: Sequence[tuple[int, str]] = ()) -> str:
    suggested = moved.suggested(trial.before, trial.after, trial.words)
    return render_template(
        "trial.html",
        one=shown(trial),
        trial=trial,
        tags=list(dict.fromkeys([*trial.tags, *suggested])),
        before=dumps(trial.before, indent=None),
        after=dumps(trial.after, indent=None),
        fields={f.form: f for f in declared(Said)},
        said=to_form(trial),
        choosing=choosing,
        scenes=address.scene_row(),
        cameras=cases.listed(db()),
        back=place(back, ""),
        mine=[p for p in pictures().listed(db()) if p.id not in trial.pictures],
        hanging=[p for p in pictures().listed(db()) if p.id in trial.pictures],
    )


@blueprint.post("/")
def add() -> ResponseReturnValue:
    """Keep a trial; back to where it was made."""
    before, after = _recipes()
    trial = _sent(Trial(id=0, made_at=now(), before=before, after=after))
    made = notes.add(db(), [trial])[0]
    undo = url_for("notes.remove", trial_id=made)
    tell("The note is kept.", f"undo:{undo}")
    return redirect(place(request.form.get("back", ""), url_for("notes.page")))


def _recipes() -> tuple[Recipe, Recipe]:
    texts = [request.form.get(k, "") for k in ("before", "after")]
    if any(not 2 <= len(t) <= MOST_RECIPE for t in texts):
        raise PlumError("This note lost its recipes. Begin it anew from the Bench.")
    return loads(texts[0]), loads(texts[1])


def _sent(trial: Trial) -> Trial:
    form = request.form
    said = asdict(from_form(Said, form))
    scene = form.get("scene", "")[:40]
    made = replace(
        trial,
        **said,
        tags=tags_of([*form.getlist("tag"), form.get("tags", "")]),
        slip=identity(form.get("slip", "")) or trial.slip,
        version=identity(form.get("version", "")) or trial.version,
        scene=scene,
        case=identity(form.get("case", "")),
    )
    if scene != trial.scene or not trial.words:
        made = replace(made, words=tuple(_words(scene, made.before, made.after)))
    return made


@blueprint.get("/<int:trial_id>")
def one(trial_id: int) -> str:
    """A trial to be read and changed."""
    return _form(notes.get(db(), trial_id))


@blueprint.post("/<int:trial_id>")
def change(trial_id: int) -> ResponseReturnValue:
    """A trial, written anew."""
    made = _sent(notes.get(db(), trial_id))  # renders, so before anybody else has to wait
    with transaction(db()):
        now_ = notes.get(db(), trial_id)
        drawn_from(now_.written, "This note", now_)
        notes.change(db(), replace(made, pictures=now_.pictures, answered_at=now_.answered_at))
    tell("The note is kept.", "done")
    return redirect(url_for("notes.page") + f"#n{trial_id}")


@blueprint.post("/<int:trial_id>/remove")
def remove(trial_id: int) -> ResponseReturnValue:
    """Remove a trial."""
    with transaction(db()):
        notes.get(db(), trial_id)
        notes.remove(db(), "trial", trial_id, now())
    tell("The note was removed.", f"undo:{url_for('notes.back', trial_id=trial_id)}")
    return redirect(url_for("notes.page"))


@blueprint.post("/<int:trial_id>/back")
def back(trial_id: int) -> ResponseReturnValue:
    """Take it back."""
    notes.remove(db(), "trial", trial_id, None)
    tell("The note is back.", "done")
    return redirect(url_for("notes.page") + f"#n{trial_id}")


@blueprint.post("/<int:trial_id>/answered")
def answered(trial_id: int) -> ResponseReturnValue:
    """Tick an open question, or open it again."""
    with transaction(db()):
        trial = notes.get(db(), trial_id)
        drawn_from(trial.answered_at, "This question")
        done = trial.answered_at is None
        after = now() if done else None
        notes.change(db(), replace(trial, answered_at=after))
    back = url_for("notes.answered", trial_id=trial_id, revision=revision(after))
    undo = f"undo:{back}"
    tell(f"“{trial.next}” is {'answered' if done else 'open again'}.", undo)
    return redirect(url_for("notes.page"))


@blueprint.post("/<int:trial_id>/hang")
def hang(trial_id: int) -> ResponseReturnValue:
    """Hang a picture of the field on a trial: one that is here, or a file."""
    notes.get(db(), trial_id)
    picture = request.form.get("picture", "")
    if not picture:
        file = sent_file("Choose a picture.")
        with long_work("Taking it in", rank=Rank.LARGE):
            picture = pictures().add(db(), file.read(), str(file.filename), now()).id
    with transaction(db()):
        pictures().get(db(), picture)
        notes.hang(db(), trial_id, picture, off=request.form.get("off") == "1")
    return went(url_for("notes.one", trial_id=trial_id))


ROOM = Room(
    "Notes",
    (blueprint, away.blueprint, which.blueprint, singly.blueprint),
    "notes.page",
    6,
    ticks=("notes.answered",),
)
