"""Lessons: pairs that were given to teach a camera, what was set for each, and what came of it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from ...archive.pairs import handed_out, hands
from ...core import bodies as core
from ...core.base.arrays import Array
from ...core.base.errors import NotFound, PlumError
from ...core.base.text import shortened
from ...core.bodies import Body
from ...core.learn import pairs, plainly
from ...core.learn.naming import called
from ...core.learn.pairs import LeftOut, Pair
from ...core.learn.teach import Shown, calibrate
from ...core.lists import read_list
from ...core.pictures.read import read
from ...core.pictures.write import preview
from ...store.lessons import Lesson, Lessons, Print
from ..frame.context import now, place, tell, went
from ..frame.values import letters
from ..server.turns import Rank
from ..server.work import Work, long_work
from . import sending, teaching

blueprint = Blueprint("lessons", __name__, template_folder="templates", url_prefix="/kit/lessons")
THUMB = 240  # pixels across
MOST_TURNED, MOST_STYLE = 300, 40  # letters


def _lessons() -> Lessons:
    return place().lessons


@dataclass(frozen=True)
class Row:
    """A pair of the table: its name, style, and the dials that were moved, in words."""

    name: str
    style: str
    turned: str


def found(lesson: Lesson, like: Body) -> tuple[list[Pair], list[LeftOut], bool]:
    """The pairs of a lesson, what makes none, and whether they have raws; PlumError where there is
    nothing to learn from."""
    folder = _lessons().files(lesson.token)
    try:
        there, left = pairs.find(folder)
    except PlumError:
        return pairs.by_folder(plainly.find(folder), like), [], False
    return pairs.by_folder(there, like), left, True


def _rows(lesson: Lesson, given: list[Pair], like: Body) -> list[Row]:
    out = []
    for pair in given:
        guessed = pair.style, ", ".join(_said(like, k, v) for k, v in pair.dials.items())
        out.append(Row(pair.name, *lesson.told.get(pair.name, guessed)))
    return out


def _said(like: Body, dial_id: str, value: core.Value) -> str:
    dial = like.dial(dial_id)
    return f"{dial.label} {dial.choice(value).label}"


def begin() -> ResponseReturnValue:
    """A lesson of what was sent; nothing is kept where it can teach nothing."""
    like = core.body(request.form.get("like", core.FIRST))
    name, _ = called(request.form.get("name", "") or "My camera")
    with long_work("Taking the pairs in", rank=Rank.LONG):
        lesson = _lessons().begin(name, like.id, now())
        try:
            table = sending.laid_out(sending.given(), _lessons().files(lesson.token))
            there, left, _ = found(lesson, like)
            if table is not None:
                there, more = pairs.by_table(there, table, like)
                left = [*left, *more]
        except BaseException:
            _lessons().drop(lesson.token)
            raise
        told = {row.name: (row.style, row.turned) for row in _rows(lesson, there, like)}
        _lessons().put(replace(lesson, told=told))
    _tell_of(left)
    return went(url_for("lessons.page", token=lesson.token))


def _tell_of(left: list[LeftOut]) -> None:
    for one in left[: teaching.MOST_TOLD]:
        tell(f"{one.name}: {one.why}", "fault")
    if len(left) > teaching.MOST_TOLD:
        tell(f"{len(left) - teaching.MOST_TOLD} more were left out.", "fault")


@blueprint.get("/<token>")
def page(token: str) -> str:
    """Its pairs, with what was set for each."""
    lesson = _lessons().get(token)
    like = core.body(lesson.like)
    there, left, raws = found(lesson, like)
    rows = _rows(lesson, there, like)
    return render_template(
        "lesson.html",
        lesson=lesson,
        like=like,
        rows=rows,
        left=left,
        raws=raws,
        megabytes=round(_lessons().megabytes(token)),
        styles=list(dict.fromkeys(row.style for row in rows)),
        dials=[d for d, _, _ in teaching.brackets(like)],
        limits_turned=MOST_TURNED,
        limits_style=MOST_STYLE,
    )


@blueprint.get("/<token>/pairs/<int:number>.jpg")
def picture(token: str, number: int) -> Response:
    """The camera's picture of a pair, small."""
    lesson = _lessons().get(token)
    there, _, _ = found(lesson, core.body(lesson.like))
    if number >= len(there):
        raise NotFound("There is no such pair in this lesson.")
    path = there[number].finished
    shown = read(path.read_bytes(), path.name, "own-taught", longest=THUMB).pixels
    made = Response(preview(_bytes(shown)), mimetype="image/jpeg")
    made.headers["Cache-Control"] = "private, max-age=3600"
    return made


def _bytes(encoded: Array) -> np.ndarray:
    return np.asarray(np.clip(np.rint(encoded * 255), 0, 255), np.uint8)


@blueprint.get("/<token>/shown/<int:number>-<which>.jpg")
def shown(token: str, number: int, which: str) -> Response:
    """A pair as the lesson left it: the camera's picture, or the predicted one."""
    made = Response(_lessons().shown(token, number, which), mimetype="image/jpeg")
    made.headers["Cache-Control"] = "private, max-age=3600"
    return made


def _told(lesson: Lesson, given: list[Pair]) -> dict[str, tuple[str, str]]:
    """What the table's form says of each pair."""
    form, out = request.form, dict(lesson.told)
    for k, pair in enumerate(given):
        if f"style-{k}" in form:
            style = letters("A style", " ".join(form[f"style-{k}"].split()), MOST_STYLE)
            turned = " ".join(form.get(f"turned-{k}", "").split())
            turned = letters("What was turned", turned, MOST_TURNED)
            out[pair.name] = style or pairs.STANDARD, turned
    return out


@blueprint.post("/<token>/add")
def add(token: str) -> ResponseReturnValue:
    """More pairs for it."""
    lesson = _lessons().get(token)
    like = core.body(lesson.like)
    with long_work("Taking the pairs in", rank=Rank.LONG):
        there, _, _ = found(lesson, like)
        lesson = _lessons().put(replace(lesson, told=_told(lesson, there)))
        table = sending.laid_out(sending.given(), _lessons().files(token))
        if table is not None:
            there, _ = pairs.by_table(found(lesson, like)[0], table, like)
            told = {r.name: (r.style, r.turned) for r in _rows(lesson, there, like)}
            _lessons().put(replace(lesson, told={**told, **lesson.told}))
    return went(url_for("lessons.page", token=token))


@blueprint.post("/<token>/teach")
def teach(token: str) -> ResponseReturnValue:
    """Learn from it; what was read stays read where this is stopped."""
    lesson = _lessons().get(token)
    like = core.body(lesson.like)
    there, _, raws = found(lesson, like)
    lesson = _lessons().put(replace(lesson, told=_told(lesson, there)))
    there = _set(lesson.told, there, like)  # a setting that cannot be is told of before all reading
    with long_work("Reading the pairs", rank=Rank.LONG) as work:
        if raws:
            left = _from_raws(lesson, like, len(there), work)
        else:
            work.words = "Comparing the pictures"
            made, left = plainly.steps(there, like, lesson.name)
            _lessons().taught(lesson, made, [])
    _tell_of(left)
    return went(url_for("lessons.taught", token=token))


def _from_raws(lesson: Lesson, like: Body, many: int, work: Work) -> list[LeftOut]:
    def settings(given: list[Pair]) -> tuple[list[Pair], list[LeftOut]]:
        return _set(lesson.told, given, like), []

    def told(what: str, done: int, of: int) -> None:
        work.words, work.done, work.of = what, done, of
        work.pause()

    folder, keep = _lessons().files(lesson.token), _lessons().kept(lesson.token)
    with handed_out(hands(many)) as hand_out:
        made = calibrate(folder, like, lesson.name, settings, told, hand_out, keep)
    _lessons().taught(lesson, made.body, [_print(k, one) for k, one in enumerate(made.shown)])
    return list(made.left_out)


def _print(number: int, one: Shown) -> tuple[Print, bytes, bytes]:
    said = Print(number, one.name, one.style, round(one.mean, 2))
    return said, preview(_bytes(one.camera)), preview(_bytes(one.predicted))


def _set(told: Mapping[str, tuple[str, str]], given: list[Pair], like: Body) -> list[Pair]:
    """The pairs with what was set for each."""
    out = []
    for pair in given:
        style, turned = told.get(pair.name, (pair.style, ""))
        dials = _dials(pair.name, turned, like) if pair.name in told else pair.dials
        out.append(replace(pair, style=style, dials=dials))
    return out


def _dials(name: str, text: str, like: Body) -> Mapping[str, core.Value]:
    """Dials that were moved, from words such as 'Highlights +2'."""
    if not text:
        return {}
    said = read_list(text, like)
    if said.open or not said.dials:
        example = teaching.brackets(like)[:1]
        such = f"{example[0][0].label} {example[0][2]}" if example else "a dial and its place"
        raise PlumError(
            f"{name}: '{shortened(text, 60)}' is no setting of {like.name}. Write it as in its "
            f"menu, as {such}."
        )
    return said.dials


@blueprint.get("/<token>/taught")
def taught(token: str) -> ResponseReturnValue:
    """What came of it, looked at before it counts."""
    return redirect(sending.stage(_lessons().body(token)))


@blueprint.post("/<token>/remove")
def remove(token: str) -> ResponseReturnValue:
    """Remove it with its pictures; that can be taken back for a week."""
    gone = _lessons().remove(token)
    tell(f"The lesson of {gone.name} was removed.", f"undo:{url_for('lessons.back', token=token)}")
    return redirect(url_for("kit.bodies_page"))


@blueprint.post("/<token>/back")
def back(token: str) -> ResponseReturnValue:
    """Undo."""
    tell(f"The lesson of {_lessons().take_back(token).name} is back.", "done")
    return redirect(url_for("kit.bodies_page"))
