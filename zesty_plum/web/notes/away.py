"""Notes that leave the house: one page, a table, and plain text with marks."""

import csv
import io
import re

from flask import Blueprint, Response, request

from ...core.notes import moves as moved
from ...core.notes import search as searching
from ...core.notes.recurring import comes_back
from ...core.notes.said import CAME
from ...core.recipe.search import parse
from ...store import notes
from ...store.notes import Trial
from ..frame.context import db, now
from ..papers import inside, picture_of, sent
from ..render.trials import found_of
from ..server.work import long_work
from ..ways.take import attached

blueprint = Blueprint("away", __name__, template_folder="templates", url_prefix="/notes")
WIDE, MOST_PICTURES = 320, 120  # pixels across, and trials that come with pictures
COLUMNS = ("day", "slip", "version", "place", "scene", "looked for", "seen", "came", "before",
           "after", "measured", "tags", "next", "answered")  # fmt: skip


def _found() -> list[Trial]:
    return found_of(notes.listed(db()), parse(request.args.get("q", "")[:300], searching.FIELDS))


def _row(trial: Trial) -> list[str]:
    moves = trial.moved
    return [
        trial.made_at[:10],
        trial.after.name,
        str(trial.version or ""),
        trial.place,
        trial.scene,
        trial.asked,
        trial.seen,
        CAME[trial.kept],
        moved.told(trial.before, moves, False),
        moved.told(trial.after, moves, True),
        ", ".join(trial.words),
        ", ".join(trial.tags),
        trial.next,
        (trial.answered_at or "")[:10],
    ]


@blueprint.get("/notes.csv")
def table() -> Response:
    """The trials that are found as a table."""
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(COLUMNS)
    rows.writerows([[_safe(cell) for cell in _row(trial)] for trial in _found()])
    return attached(f"notes-{now()[:10]}.csv", "\ufeff" + out.getvalue(), "text/csv")


def _safe(cell: str) -> str:
    """A cell that no table program takes for a formula."""
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@", "\t") else cell


def _md(words: str) -> str:
    """Words as CommonMark shows them: none of them is a mark, a link or a tag of HTML."""
    inside = re.sub(r"([\\`*_{}\[\]<>#|~!])", r"\\\1", words.replace("&", "&amp;"))
    inside = re.sub(r"(?m)^(\s*\d+)([.)])", r"\1\\\2", inside)  # a list with numbers
    return re.sub(r"(?m)^(\s*)([-+=])", r"\1\\\2", inside)


@blueprint.get("/notes.md")
def text() -> Response:
    """The same as Markdown."""
    lines = ["# Notes", ""]
    day = ""
    for trial in _found():
        if trial.made_at[:10] != day:
            day = trial.made_at[:10]
            lines += [f"## {day}", ""]
        moves = trial.moved
        lines += [f"### {_md(f'{trial.after.name}: {trial.asked}'.rstrip(': '))}", ""]
        lines += [_md(trial.seen), ""] if trial.seen else []
        if moves:
            was, turned = (moved.told(trial.before, moves, after) for after in (False, True))
            lines.append(f"- before: {was}; after: {turned}")
        lines += [f"- measured: {', '.join(trial.words)}"] if trial.words else []
        lines += [f"- at {_md(trial.place)}"] if trial.place else []
        lines += [f"- {CAME[trial.kept]}"]
        lines += [f"- tags: {_md(', '.join(trial.tags))}"] if trial.tags else []
        tick = "x" if trial.answered_at else " "
        lines += [f"- [{tick}] {_md(trial.next)}"] if trial.next else []
        lines.append("")
    return attached(f"notes-{now()[:10]}.md", "\n".join(lines), "text/markdown")


@blueprint.get("/notes.html")
def page() -> Response:
    """The same as a page that stands alone, with pictures."""
    found = _found()
    with long_work("Making the page", len(found)) as work:
        lines = []
        for k, trial in enumerate(work.steps(found)):
            prints = []
            for recipe in (trial.before, trial.after) if k < MOST_PICTURES and trial.scene else ():
                prints.append(inside(picture_of(recipe, trial.scene, WIDE)))
            moves = trial.moved
            lines.append(
                {
                    "trial": trial,
                    "prints": prints,
                    "was": moved.told(trial.before, moves, False),
                    "turned": moved.told(trial.after, moves, True),
                    "came": CAME[trial.kept],
                }
            )
    back = comes_back([t.tried for t in notes.listed(db()) if not t.draft])
    return sent("notes", "sent_notes.html", lines=lines, back=back)
