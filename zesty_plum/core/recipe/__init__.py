"""A recipe: a body and a place for each of its dials; and the open file that carries it.

The file is UTF-8 JSON, `format` and `version` first. Dials left out stand as shipped.
"""

import hashlib
import json
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Any

from ..base.errors import NotFound, PlumError
from ..base.text import shortened, well_formed_data
from ..bodies import Body, Value, bodies, body, first, mark, shipped
from ..look import Look

FORMAT, VERSION = "zesty-plum-recipe", 1
MOST_BYTES = 256 * 1024
EDITION = "body_edition"  # for which edition of its body a recipe was written; without it the first
MOST_NAME, MOST_NOTE, MOST_AUTHOR = 120, 4000, 200  # characters


class Intent(StrEnum):
    """What the files are for."""

    FINISHED = "finished"
    SAFETY_COPY = "safety_copy"
    RAW_ONLY = "raw_only"
    QUICK_EDIT = "quick_edit"
    GRADE = "grade"


INTENT_WORDS = {
    Intent.FINISHED: "finished in camera",
    Intent.SAFETY_COPY: "finished, with a safety copy",
    Intent.RAW_ONLY: "raw only",
    Intent.QUICK_EDIT: "clip for a quick edit",
    Intent.GRADE: "to be graded",
}


@dataclass(frozen=True)
class Recipe:
    """A named set of dial values; `dials` holds every dial of the body, `extra` what other programs
    added, `carried` what became of it where it was read from one of an earlier edition of its body
    (`earlier`)."""

    name: str
    body: str
    dials: dict[str, Value]
    intent: Intent = Intent.FINISHED
    note: str = ""
    author: str = ""
    extra: dict[str, Any] = field(default_factory=dict)
    carried: tuple[str, ...] = field(default=(), compare=False)

    @property
    def camera(self) -> Body:
        """The body it is for."""
        return body(self.body)

    @cached_property
    def look(self) -> Look:
        """What it means."""
        return self.camera.meaning(self.dials)

    @cached_property
    def key(self) -> str:
        """Digest of what it does: its body and the places of its dials, whatever it is called."""
        said = json.dumps([self.body, sorted((k, str(v)) for k, v in self.dials.items())])
        return hashlib.sha256(said.encode()).hexdigest()[:32]

    def differing(self, other: "Recipe") -> list[tuple[str, str, str]]:
        """(label, own value, other's value) of dials that differ; for two recipes of one body."""
        mine, theirs = self.camera, other.camera
        if mine.id != theirs.id:
            return [("Body", mine.name, theirs.name)]
        rows = []
        for dial in mine.dials:
            a, b = self.dials[dial.id], other.dials[dial.id]
            if a != b:
                rows.append((dial.label, dial.choice(a).label, dial.choice(b).label))
        return rows


def schema() -> dict[str, Any]:
    """JSON Schema of the recipe file (draft 2020-12), dials of each known body spelled out."""
    from .shape import RecipeFile

    made = RecipeFile.model_json_schema()
    made["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    made["allOf"] = [_dials_of(b) for b in bodies().values()]
    made["allOf"] += [_dials_of(b, earlier=True) for b in first().values()]
    return made


def _dials_of(camera: Body, earlier: bool = False) -> dict[str, Any]:
    """What a schema says of a body's dials: of one with two editions, those of today where
    `EDITION` says so, else those of the first."""
    when: dict[str, Any] = {"properties": {"body": {"const": camera.id}}, "required": ["body"]}
    if camera.id in first():
        today = {"properties": {EDITION: {"const": body(camera.id).edition}}, "required": [EDITION]}
        when = {"allOf": [when, {"not": today} if earlier else today]}
    dials = {
        "properties": {d.id: {"enum": list(d.values)} for d in camera.dials},
        "additionalProperties": False,
    }
    return {"if": when, "then": {"properties": {"dials": dials}}}


def as_now(
    body_id: str, edition: Any, dials: dict[str, Value]
) -> tuple[dict[str, Value], tuple[str, ...]]:
    """Dials of an edition of a body, the first where nothing says which, as its dials of today, and
    in sentences what moved; PlumError where they are of a later one, or of none."""
    today = body(body_id).edition if body_id in shipped() else 1
    if today == 1 or edition == today:
        return dials, ()
    from . import earlier  # what renders is not loaded for recipes of today

    if not earlier.is_earlier(body_id, edition):
        return dials, ()
    found = earlier.carry(body_id, dials)
    return found.dials, found.words


_TOO_LONG = "This recipe file is over 256 KB; a recipe is a few hundred bytes. Choose another file."


def make(name: str, body_id: str, dials: dict[str, Value], **more: Any) -> Recipe:
    """A recipe with its dials checked and completed."""
    return Recipe(name=name, body=body_id, dials=body(body_id).complete(dials), **more)


def from_data(data: Any) -> Recipe:
    """Check what a file holds and return the recipe; PlumError says what is wrong in one
    sentence."""
    data = well_formed_data(data)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PlumError(
            f"This is not a recipe file: it should be a JSON object with format '{FORMAT}'."
        )
    version = data.get("version")
    if isinstance(version, int) and not isinstance(version, bool) and version > VERSION:
        raise PlumError(
            f"This recipe file is of version {version}; this program reads up to version "
            f"{VERSION}. Update it."
        )
    from .shape import shaped

    file = shaped(data)
    extra, edition = dict(file.model_extra or {}), file.body_edition
    if extra.get("body_mark") and file.body not in bodies():
        told = f", edition {edition}," if edition is not None else ","
        raise NotFound(
            f"This recipe is for the body '{shortened(file.body, 40)}'{told} which is not here. "
            "Bring in its file on Kit; who sent the recipe has it."
        )
    if edition is not None and file.body not in shipped():
        extra = {EDITION: edition} | extra
    dials, words = as_now(file.body, edition, file.dials)
    made = make(
        file.name,
        file.body,
        dials,
        intent=file.intent,
        note=file.note,
        author=file.author,
        extra=extra,
        carried=words,
    )
    if extra and len(dumps(made).encode()) > MOST_BYTES:
        raise PlumError(_TOO_LONG)  # it could be written, but not read again
    return made


def loads(text: str | bytes) -> Recipe:
    """Read a recipe file."""
    if len(text) > MOST_BYTES:
        raise PlumError(_TOO_LONG)
    try:
        data = json.loads(text)
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is not a recipe file: it is not valid JSON in UTF-8.") from error
    return from_data(data)


def to_data(recipe: Recipe) -> dict[str, Any]:
    """What a recipe's file holds; only dials that do not stand as shipped, in the body's order."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "name": recipe.name,
        "body": recipe.body,
        **of_body(recipe.body),
        "intent": str(recipe.intent),
        "dials": recipe.camera.changed(recipe.dials),
        "note": recipe.note,
        "author": recipe.author,
        **recipe.extra,
    }


def of_body(body_id: str) -> dict[str, Any]:
    """Which edition of its body a recipe was made for, and of one that does not ship which file;
    one that says so already keeps saying it."""
    known, edition = mark(body_id), {EDITION: body(body_id).edition}
    return edition | {"body_mark": known} if known else edition


def dumps(recipe: Recipe, indent: int | None = 2) -> str:
    """A recipe's file as text."""
    return json.dumps(to_data(recipe), ensure_ascii=False, indent=indent) + ("\n" if indent else "")
