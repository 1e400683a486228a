"""Finding the pairs in a folder, and what was set for each."""

import csv
import io
import re
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path

from ..base.errors import PlumError
from ..base.text import shortened
from ..bodies import Body, Value
from ..fields.number import number
from ..lists import read_list
from ..pictures import MOST_BYTES
from ..pictures.apart import apart

FINISHED = (".jpg", ".jpeg", ".jpe", ".heic", ".heif", ".hif", ".tif", ".tiff", ".png", ".webp")
BESIDE = (".csv", ".txt", ".md", ".json", ".xmp", ".ini", ".db", ".pdf", ".zip", ".html", ".log")
MOST_PAIRS, MOST_FILES = 240, 4000
MOST_TABLE = 2**20
STANDARD = "Standard"
NAME_COLUMNS = ("file", "name", "picture", "shot", "stem", "raw", "jpeg", "filename")
STYLE_COLUMNS = ("style", "rendering", "picture style", "look")
HEAD = 256 * 1024  # of a raw that tells when it was taken


@dataclass(frozen=True)
class Pair:
    """A raw and the picture that the camera made of it, with the style and the dials that were
    set; `name` is what people see."""

    name: str
    raw: Path
    finished: Path
    style: str = STANDARD
    dials: Mapping[str, Value] = field(default_factory=dict)


@dataclass(frozen=True)
class LeftOut:
    """A file or pair that teaches nothing, and why."""

    name: str
    why: str


# Says what was set for the pairs that were found, and which of what it knows are not there.
Settings = Callable[[list[Pair]], tuple[list[Pair], list[LeftOut]]]


def find(folder: Path) -> tuple[list[Pair], list[LeftOut]]:
    """The pairs of a folder and those inside it: by name, and what is left by the time that both
    tell; PlumError where there is none."""
    if not folder.is_dir():
        raise PlumError(f"There is no folder '{folder}'. Give the one that holds the pairs.")
    files = sorted(p for p in folder.rglob("*") if _counts(p, folder))
    if len(files) > MOST_FILES:
        raise PlumError(
            f"'{folder.name}' holds {len(files):,} pictures; a dozen pairs teach a camera. Give a "
            "folder with fewer."
        )
    groups: dict[str, list[Path]] = defaultdict(list)
    for file in files:
        groups[file.stem.casefold()].append(file)
    found, single = [], []
    for group in groups.values():
        pairs, rest = _matched(group, folder)
        found += pairs
        single += rest
    timed, single = _timed(single, folder)
    found = sorted([*found, *timed], key=lambda pair: pair.name)
    if not found:
        raise PlumError(
            f"There is no pair in '{folder.name}': a raw and the picture that the camera made of "
            "it, with one name, as P1.dng and P1.jpg."
        )
    if len(found) > MOST_PAIRS:
        raise PlumError(
            f"There are {len(found)} pairs; at most {MOST_PAIRS} are taken, and a dozen under "
            "different lights teach nearly as much. Take some out."
        )
    what = {True: "The raw of it is missing.", False: "The camera's picture of it is missing."}
    left = [LeftOut(_said(p, folder), what[p.suffix.lower() in FINISHED]) for p in single]
    return found, left


def _counts(path: Path, folder: Path) -> bool:
    inside = path.relative_to(folder)
    hidden = any(part.startswith((".", "__MACOSX")) for part in inside.parts)
    return not hidden and path.is_file() and path.suffix.lower() not in BESIDE


def _said(path: Path, folder: Path) -> str:
    return path.relative_to(folder).as_posix()


def _matched(group: list[Path], folder: Path) -> tuple[list[Pair], list[Path]]:
    """Pairs among files of one stem: each finished picture with the raw beside it, or with the only
    one there is."""
    raws = [p for p in group if p.suffix.lower() not in FINISHED]
    made = [p for p in group if p not in raws]
    found, used = [], set()
    for picture in made:
        near = [r for r in raws if r.parent == picture.parent] or raws
        if len(near) == 1:
            used |= {near[0], picture}
            found.append(Pair(_said(picture.with_suffix(""), folder), near[0], picture))
    return found, [p for p in group if p not in used]


def _timed(single: list[Path], folder: Path) -> tuple[list[Pair], list[Path]]:
    """Pairs among what is left, where just one raw and one picture tell the same time."""
    when: dict[str, list[Path]] = defaultdict(list)
    for path in single:
        if path.stat().st_size <= MOST_BYTES:
            time = apart.shot_by(path.read_bytes()).get("time")
            if time:
                when[time].append(path)
    found, used = [], set()
    for group in when.values():
        made = [p for p in group if p.suffix.lower() in FINISHED]
        raws = [p for p in group if p not in made]
        if len(made) == len(raws) == 1:
            used |= {made[0], raws[0]}
            found.append(Pair(_said(made[0].with_suffix(""), folder), raws[0], made[0]))
    return found, [p for p in single if p not in used]


def one_camera(pairs: list[Pair]) -> tuple[list[Pair], list[LeftOut]]:
    """The pairs of the camera that took most of them, by what their files tell."""
    told = {p.name: _camera(p) for p in pairs}
    known = Counter(c for c in told.values() if c)
    if len(known) < 2:
        return pairs, []
    main = known.most_common(1)[0][0]
    left = [
        LeftOut(p.name, f"It was taken with {told[p.name]}, most of the others with {main}.")
        for p in pairs
        if told[p.name] not in ("", main)
    ]
    gone = {one.name for one in left}
    return [p for p in pairs if p.name not in gone], left


def _camera(pair: Pair) -> str:
    for path in (pair.finished, pair.raw):
        if path.stat().st_size <= MOST_BYTES:
            told = apart.shot_by(path.read_bytes())
            if told.get("model"):
                return " ".join(dict.fromkeys(f"{told.get('maker', '')} {told['model']}".split()))
    return ""


# ---- what was set --------------------------------------------------------------------------------
def by_folder(pairs: list[Pair], like: Body) -> list[Pair]:
    """What was set, guessed from the names of the folders that pairs lie in: a list of settings
    that the body knows, or else the name of a style."""
    return [_guessed(pair, like) for pair in pairs]


def _guessed(pair: Pair, like: Body) -> Pair:
    for part in reversed(pair.name.split("/")[:-1]):
        words = part.replace("_", " ").strip()
        if re.search(r"[-+]\s*\d", words):
            read = read_list(words, like)
            if read.dials and not read.open:
                return replace(pair, dials=read.dials)
        elif words:
            return replace(pair, style=words[:40])
    return pair


def by_table(pairs: list[Pair], text: str | bytes, like: Body) -> tuple[list[Pair], list[LeftOut]]:
    """What was set, by a table (CSV): a column with the pairs' names, one with their style, and one
    for each dial, by its id or label. Rows of files that are not there are left out; PlumError says
    what else is wrong."""
    rows, columns = _rows(text, like)
    by_stem: dict[str, list[Pair]] = defaultdict(list)
    for pair in pairs:
        by_stem[Path(pair.name).stem.casefold()].append(pair)
        by_stem[pair.name.casefold()].append(pair)
    told: dict[str, Pair] = {}
    missing = []
    for line, row in enumerate(rows, 2):
        name = row[0].strip()
        key = name.replace("\\", "/").casefold()
        found = by_stem.get(key) or by_stem.get(key.rsplit(".", 1)[0]) or []
        if not found:
            missing.append(name)
        for pair in found:
            told[pair.name] = _set(pair, row, columns, like, line)
    left = []
    if missing:
        more = f" and {len(missing) - 1} more" if len(missing) > 1 else ""
        left.append(LeftOut(f"{missing[0]}{more}", "The table names it, and it is not there."))
    return [told.get(pair.name, pair) for pair in pairs], left


def _rows(text: str | bytes, like: Body) -> tuple[list[list[str]], list[str]]:
    if len(text) > MOST_TABLE:
        raise PlumError("This table of settings is over 1 MB. Give one with a row for each pair.")
    if isinstance(text, bytes):
        try:
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise PlumError("The table of settings is not a CSV text in UTF-8.") from error
    first = text.split("\n", 1)[0]
    mark = max(",;\t", key=first.count)
    try:
        every = [r for r in csv.reader(io.StringIO(text), delimiter=mark) if any(map(str.strip, r))]
    except csv.Error as error:
        raise PlumError("The table of settings is not a CSV text that can be read.") from error
    if len(every) < 2:
        raise PlumError(
            "The table of settings is empty. Its first row names the columns: file, style, and "
            "dials; then comes a row for each pair."
        )
    heads = [h.strip() for h in every[0]]
    at = next((k for k, h in enumerate(heads) if h.casefold() in NAME_COLUMNS), 0)
    order = [at, *[k for k in range(len(heads)) if k != at]]
    columns = [_column(heads[k], like) for k in order[1:] if heads[k]]
    used = [k for k in order if k == at or heads[k]]
    rows = [[row[k] if k < len(row) else "" for k in used] for row in every[1:]]
    return rows, columns


def _column(head: str, like: Body) -> str:
    """The dial that a column is for, or "" for the style."""
    low = head.casefold().replace("_", " ")
    for dial in like.dials:
        if low in (dial.id.replace("_", " "), dial.label.casefold()):
            return "" if "style" in dial.touches else dial.id
    if low in STYLE_COLUMNS:
        return ""
    raise PlumError(
        f"The table of settings has a column '{shortened(head, 40)}', which is no dial of "
        f"{like.name}. It can have file, style, {', '.join(like.by_id)}."
    )


def _set(pair: Pair, row: list[str], columns: list[str], like: Body, line: int) -> Pair:
    style, dials = pair.style, dict(pair.dials)
    for dial_id, cell in zip(columns, row[1:], strict=True):
        text = cell.strip()
        if not text:
            continue
        if not dial_id:
            style = text[:40]
            continue
        dial = like.dial(dial_id)
        try:
            dials[dial_id] = dial.choice(_value(text, dial.named)).value
        except PlumError as error:
            labels = [c for c in dial.choices if c.label.casefold() == text.casefold()]
            if not labels:
                raise PlumError(f"Row {line} of the table of settings: {error}") from error
            dials[dial_id] = labels[0].value
    return replace(pair, style=style, dials=dials)


def _value(text: str, named: bool) -> Value:
    if named:
        return text
    value = number(text)
    return text if value is None else int(value) if value.is_integer() else value
