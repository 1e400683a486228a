"""Teaching a body from what was sent, and saying how well it is known."""

import re
import shutil
import tempfile
from pathlib import Path

from werkzeug.datastructures import FileStorage

from ...core import zips
from ...core.bodies import Body, Dial
from ...core.errors import PlumError
from ...core.learn.pairs import MOST_TABLE, LeftOut
from ...core.learn.sure import SCARCE
from ...core.learn.teach import calibrate
from ...core.look import Stage, about
from ...core.styles.learnt import Seen, Sure
from ...store import faults
from ...store.place import Place
from ..work import Work

MOST_TOLD = 5  # pairs left out that are told of one by one
MOST_FILES, MOST_UNPACKED = 2000, 8 * 2**30
LARGEST = 46  # pixels across of a circle on the page
MOST_OFF = 1.5  # times the mean, from which a kind of colour is less sure
# Situations that tell most, in the order in which they are met on a walk.
SITUATIONS = (
    ("Sun, a face or your hand, sky and grass in one frame", ""),
    ("Open shade, skin and white cloth", ""),
    ("Overcast: stone, wood, rust, leaves", ""),
    ("Something red, something yellow, something violet, side by side in shade", ""),
    ("A deep blue sky from its darkest part to the horizon", ""),
    ("Backlight with a bright edge", ""),
    ("A dim room by the window", ""),
    ("Warm lamps, a face and white paper", ""),
    ("Warm lamps: something blue and something green", ""),
    ("Tubes or panels, skin", ""),
    ("Night street, lamps and dark", ""),
    ("A grey wall, corner to corner, out of focus", "for what the lens does to corners"),
)


def taught(
    given: list[FileStorage], like: Body, name: str, place: Place, work: Work
) -> tuple[Body, list[LeftOut]]:
    """A body from files that were sent: pairs, a zip of them, and a table of settings."""
    if not given:
        raise PlumError("No file was chosen. Choose the raws and the camera's pictures of them.")
    place.scratch.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp(dir=place.scratch, prefix="pairs-"))
    try:
        table = _laid_out(given, folder)

        def told(what: str, done: int, of: int) -> None:
            work.words, work.done, work.of = what, done, of
            work.pause()

        made = calibrate(folder, like, name or "My camera", table, told)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return made.body, list(made.left_out)


def _laid_out(given: list[FileStorage], folder: Path) -> bytes | None:
    """What was sent as files in a folder; returns the table of settings, if one is among them."""
    table = None
    for sent in given:
        name = str(sent.filename)
        if name.lower().endswith(".csv"):
            table = sent.read()
        elif name.lower().endswith(".zip"):
            table = _unzipped(sent, folder) or table
        else:
            sent.save(_place(name, folder))
    return table


def _place(name: str, folder: Path) -> Path:
    """Where a file goes that is called so by whoever sent it: with the folders that it lay in, for
    they may say what was set."""
    parts = [re.sub(r"[^\w .()+-]", "_", p).strip(". ")[-50:] for p in re.split(r"[/\\]", name)]
    at = folder.joinpath(*[p for p in parts if p][-3:] or ["file"])
    at.parent.mkdir(parents=True, exist_ok=True)
    return at


def _unzipped(sent: FileStorage, folder: Path) -> bytes | None:
    table = None
    try:
        with zips.opened(sent.stream, MOST_FILES, MOST_UNPACKED) as packed:
            for inside in packed.infolist():
                name = inside.filename
                if inside.is_dir() or re.search(r"(^|/)(\.|__MACOSX)", name):
                    continue
                if name.lower().endswith(".csv"):
                    table = zips.bounded(packed, name, MOST_TABLE)
                    continue
                with packed.open(inside) as source, _place(name, folder).open("wb") as out:
                    shutil.copyfileobj(source, out)
    except zips.DAMAGED as error:
        if faults.sentence(error):
            raise  # of our own disk
        raise PlumError(f"This zip is damaged or locked ({error}). Pack it again.") from error
    return table


def sure_of(made: Body) -> Sure | None:
    """How sure its main style is; None where nothing was learnt."""
    return next((style.sure for style in made.styles if style.sure), None)


def circles(made: Body) -> list[tuple[Seen, float]]:
    """Kinds of colour that it was taught, with a circle's diameter, area by share."""
    sure = sure_of(made)
    if not sure or not sure.seen:
        return []
    most = max(kind.share for kind in sure.seen)
    return [(k, max(2.0, LARGEST * (k.share / most) ** 0.5) if k.share else 0) for k in sure.seen]


def unsure(made: Body) -> tuple[list[str], list[str]]:
    """Names of kinds of colour that no pair shows, and of those that come out less well."""
    sure = sure_of(made)
    if not sure:
        return [], []
    never = [k.name for k in sure.seen if k.share < SCARCE]
    worse = [k.name for k in sure.seen if k.share >= SCARCE and k.error > MOST_OFF * sure.mean]
    return never, worse


def brackets(like: Body) -> list[tuple[Dial, str, str]]:
    """Dials worth a bracket, with the two places to set them to, away from the standard."""
    out = []
    for dial in like.dials:
        stages = {about()[n].stage for n in dial.touches}
        if dial.named or not any(c.adds for c in dial.choices):
            continue
        if stages & {Stage.TABLE, Stage.NEIGHBOURS} or "shift_mired" in dial.touches:
            at, last = dial.position(dial.default), len(dial.choices) - 1
            low, high = round(at / 3), at + round((last - at) * 2 / 3)
            out.append((dial, dial.choices[low].label, dial.choices[high].label))
    return out
