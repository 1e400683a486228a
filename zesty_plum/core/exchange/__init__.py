"""Many recipes at once: reading what people bring, and writing a zip with a manifest or a table.

Brought can be recipe files, a JSON list of them, our zip or anybody's, cards and pictures that
carry a recipe, and plain text.
"""

import csv
import io
import json
import re
import unicodedata
import zipfile
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from ..base import zips
from ..base.errors import PlumError
from ..bodies import bodies, body, mark
from ..bodies import file as body_file
from ..lists import read_list
from ..paper.code import holds, unpack
from ..paper.scan import scan
from ..pictures import MOST_BYTES, metadata
from ..recipe import INTENT_WORDS, MOST_NAME, Recipe, dumps, from_data, loads
from .carried import ENDING, FOLDER, MOST_FILES, MOST_UNPACKED

FORMAT, VERSION, MANIFEST, TABLE = "zesty-plum-parcel", 1, "manifest.json", "slips.csv"
MOST_TEXT = 64 * 1024
MOST_MANIFEST = 16 * 10**6


@dataclass(frozen=True)
class Brought:
    """A recipe with the file it came from and its tags."""

    recipe: Recipe
    file: str
    tags: tuple[str, ...] = ()


@dataclass
class Reading:
    """What was found; for every file that gave nothing its name and why; and how many files were
    not looked at, because `go_on` said no. `go_on` is asked before each with how many there are to
    look at and how many were looked at."""

    found: list[Brought] = field(default_factory=list)
    faults: list[tuple[str, str]] = field(default_factory=list)
    left: int = 0
    go_on: Callable[[int, int], bool] = lambda many, done: True
    many: int = 0
    done: int = 0

    def goes_on(self) -> bool:
        """Whether the next file is looked at."""
        if self.left or not self.go_on(self.many, self.done):
            self.left += 1
            return False
        self.done += 1
        return True


def read_many(
    files: Iterable[tuple[str, Callable[[], bytes]]],
    go_on: Callable[[int, int], bool] = lambda many, done: True,
) -> Reading:
    """Read files (name, what reads it); a faulty one is told of and does not keep the others out.
    `go_on` as in Reading."""
    given = list(files)
    reading = Reading(go_on=go_on, many=len(given))
    for name, load in given:
        if not reading.goes_on():
            continue
        try:
            reading.found += _read(name, load(), reading)
        except PlumError as error:
            reading.faults.append((name, str(error)))
    return reading


def _read(name: str, data: bytes, reading: Reading) -> list[Brought]:
    if data[:4] == b"PK\x03\x04" or data[:4] == b"PK\x05\x06":
        return _unzipped(name, data, reading)
    found = recipes_in(data, name, reading.faults)
    if not found:
        raise PlumError(
            "No recipe is in it. Recipes come as .plum.json, as our zip, on a card, in a "
            "picture of ours, or as a list in text."
        )
    return found


def recipes_in(data: bytes, name: str, faults: list[tuple[str, str]]) -> list[Brought]:
    """What one file that is no zip holds: nothing where it is a picture or text without a recipe.

    Faulty rows of a list go to `faults` and do not keep the others out.
    """
    if name.endswith(ENDING):
        raise PlumError(
            "It is the file of a body. Bring it in on Kit, and then the recipes that are for it."
        )
    start = data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1]
    if start == b"[":
        return _listed(data, name, faults)
    recipe: Recipe | None = None
    if start == b"{" or name.lower().endswith(".json"):
        recipe = loads(data.removeprefix(b"\xef\xbb\xbf"))
    elif data[:2] == b"\xff\xd8" or data[:8] == b"\x89PNG\r\n\x1a\n":
        recipe = metadata.find(data) or scan(data)
    elif b"\0" not in data[:4096] and len(data) <= MOST_TEXT:
        recipe = recipe_in_text(data.decode("utf-8", "replace"), name)
    return [Brought(recipe, name)] if recipe else []


def recipe_in_text(text: str, name: str = "Pasted list") -> Recipe | None:
    """A recipe code, or a list of settings; what it says that is no setting is kept in the note."""
    if holds(text):
        return unpack(text)
    read = read_list(text)
    if not any(p.counts for p in read.pieces):
        return None
    stem = re.sub(r"\.\w+$", "", name.rsplit("/", 1)[-1])
    return replace(read.recipe, name=(read.name or stem or "Pasted list")[:MOST_NAME])


def _listed(data: bytes, name: str, faults: list[tuple[str, str]]) -> list[Brought]:
    try:
        rows = json.loads(data)
    except (UnicodeDecodeError, RecursionError, ValueError) as error:
        raise PlumError("This is not a list of recipes: it is not valid JSON in UTF-8.") from error
    found = []
    for k, row in enumerate(rows, 1):
        try:
            found.append(Brought(from_data(row), f"{name}, {k}"))
        except PlumError as error:
            faults.append((f"{name}, {k}", str(error)))
    return found


def _unzipped(name: str, data: bytes, reading: Reading) -> list[Brought]:
    found: list[Brought] = []
    try:
        with zips.opened(io.BytesIO(data), MOST_FILES, MOST_UNPACKED) as packed:
            inside = [i.filename for i in packed.infolist() if _of_interest(i) and not _known(i)]
            manifest = {}
            if MANIFEST in packed.namelist():
                manifest = _manifest(zips.bounded(packed, MANIFEST, MOST_MANIFEST))
            reading.many += len(inside)
            for inner in inside:
                if not reading.goes_on():
                    continue
                try:
                    body = zips.bounded(packed, inner, MOST_BYTES)
                    if body[:2] == b"PK":
                        raise PlumError("A zip inside a zip is not opened. Unpack it first.")
                    for each in _read(inner, body, reading):
                        tags = manifest.get(inner, ())
                        found.append(Brought(each.recipe, f"{name}: {each.file}", tags))
                except PlumError as error:
                    reading.faults.append((f"{name}: {inner}", str(error)))
    except zips.DAMAGED as error:
        raise PlumError(f"This zip is damaged or locked ({error}). Pack it again.") from error
    return found


def _of_interest(inside: zipfile.ZipInfo) -> bool:
    """Not what packing programs add, nor what only repeats the files."""
    left_out = inside.is_dir() or inside.filename.startswith(("__MACOSX/", "."))
    return not left_out and inside.filename not in (MANIFEST, TABLE)


def _known(inside: zipfile.ZipInfo) -> bool:
    """Whether it is the file of a body that counts already."""
    name = inside.filename
    return name.startswith(FOLDER) and name[len(FOLDER) :].removesuffix(ENDING) in bodies()


def _manifest(data: bytes) -> dict[str, tuple[str, ...]]:
    """Tags by file name; a manifest that is not ours says nothing."""
    try:
        said = json.loads(data)
        return (
            {row["file"]: tuple(str(t)[:40] for t in row.get("tags", [])) for row in said["slips"]}
            if said.get("format") == FORMAT
            else {}
        )
    except (ValueError, KeyError, TypeError, AttributeError):
        return {}


def stem(name: str) -> str:
    """A recipe's name as a file name without its ending."""
    return re.sub(r"[^\w-]+", "-", name.strip().lower()).strip("-_")[:80] or "recipe"


def packed(recipes: list[tuple[Recipe, list[str]]], made_at: str) -> bytes:
    """A zip of recipe files (recipe, tags) with a manifest; the same recipes give the same
    bytes."""
    used: set[str] = set()
    out, listed = io.BytesIO(), list[dict[str, Any]]()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:

        def put(name: str, text: str) -> None:
            entry = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
            entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, 0o644 << 16
            file.writestr(entry, text)

        for recipe, tags in recipes:
            name = base = stem(recipe.name)
            number = 2
            while name in used:
                name, number = f"{base}-{number}", number + 1
            used.add(name)
            put(f"{name}.plum.json", dumps(recipe))
            listed.append(
                {
                    "file": f"{name}.plum.json",
                    "name": recipe.name,
                    "body": recipe.body,
                    "tags": tags,
                }
            )
        for own in sorted({r.body for r, _ in recipes if mark(r.body)}):
            put(f"{FOLDER}{own}{ENDING}", body_file.dumps(body(own)))
        head = {"format": FORMAT, "version": VERSION, "made_at": made_at, "slips": listed}
        put(MANIFEST, json.dumps(head, ensure_ascii=False, indent=2) + "\n")
        put(TABLE, table(recipes))
    return out.getvalue()


def table(recipes: list[tuple[Recipe, list[str]]]) -> str:
    """CSV (RFC 4180) with a row a recipe and a column for every dial of the bodies in it, values as
    the body prints them."""
    columns = list(dict.fromkeys(d.id for r, _ in recipes for d in r.camera.dials))
    out = io.StringIO()
    write = csv.writer(out, lineterminator="\r\n")
    write.writerow(["name", "body", "intent", "author", "note", "tags", *columns])
    for recipe, tags in recipes:
        printed = [
            recipe.camera.dial(c).choice(recipe.dials[c]).label if c in recipe.dials else ""
            for c in columns
        ]
        texts = [
            recipe.name,
            recipe.camera.name,
            str(recipe.intent),
            recipe.author,
            recipe.note,
            ", ".join(tags),
        ]
        write.writerow([_plain(t) for t in texts] + printed)
    return out.getvalue()


def _plain(text: str) -> str:
    """A cell that no spreadsheet takes for a formula, also behind blanks or in full width."""
    begins = unicodedata.normalize("NFKC", text).lstrip()[:1]
    return f"'{text}" if begins and begins in "=+-@" else text


def written(recipe: Recipe) -> str:
    """A recipe as a list in plain text: what a person would write down, which the reader of lists
    reads back. What stands as shipped comes last, for a body that was used."""
    camera, turned = recipe.camera, recipe.camera.changed(recipe.dials)

    def line(dial_id: str) -> str:
        dial = camera.dial(dial_id)
        return f"{dial.label}: {dial.choice(recipe.dials[dial_id]).label}"

    rest = [
        d.id
        for d in camera.dials
        if d.id not in turned and (camera.counts(d, recipe.dials) or d.id == "white_balance")
    ]
    parts = [
        f"Name: {recipe.name}",
        f"Body: {camera.name}",
        f"For: {INTENT_WORDS[recipe.intent]}",
        *map(line, turned),
        *(["", "As shipped:"] if rest else []),
        *map(line, rest),
        *(
            ["", "Note: " + recipe.note.strip().replace("\n", "\n  ")]
            if recipe.note.strip()
            else []
        ),
        *(["", f"By: {recipe.author}"] if recipe.author else []),
    ]
    return "\n".join(parts) + "\n"
