"""Teaching a body from what was sent, and saying how well it is known."""

import shutil
import tempfile
import zipfile
from pathlib import Path, PurePosixPath

from werkzeug.datastructures import FileStorage

from ...core import zips
from ...core.bodies import Body, Dial
from ...core.errors import PlumError
from ...core.learn.pairs import LeftOut
from ...core.learn.sure import SCARCE
from ...core.learn.teach import calibrate
from ...core.look import Stage, about
from ...core.styles.learnt import Seen, Sure
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
        path = PurePosixPath(str(sent.filename).replace("\\", "/"))
        if path.suffix.lower() == ".csv":
            table = sent.read()
        elif path.suffix.lower() == ".zip":
            table = _unzipped(sent, folder) or table
        else:
            at = folder.joinpath(*[_safe(p) for p in path.parts[-3:]])
            at.parent.mkdir(parents=True, exist_ok=True)
            sent.save(at)
    return table


def _safe(part: str) -> str:
    return part.strip(". /")[-120:] or "file"


def _unzipped(sent: FileStorage, folder: Path) -> bytes | None:
    table = None
    try:
        with zips.opened(sent.stream, MOST_FILES, MOST_UNPACKED) as packed:
            for inside in packed.infolist():
                path = PurePosixPath(inside.filename.replace("\\", "/"))
                if inside.is_dir() or path.name.startswith(".") or "__MACOSX" in path.parts:
                    continue
                if path.suffix.lower() == ".csv":
                    table = packed.read(inside)[: 2 * 2**20]
                    continue
                at = folder.joinpath(*[_safe(p) for p in path.parts[-3:]])
                at.parent.mkdir(parents=True, exist_ok=True)
                with packed.open(inside) as source, at.open("wb") as out:
                    shutil.copyfileobj(source, out)
    except zipfile.BadZipFile as error:
        raise PlumError("This zip is damaged. Pack it again.") from error
    except zips.DAMAGED as error:
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
