"""One picture through a recipe, in whatever process or machine it is asked for."""

from dataclasses import dataclass
from pathlib import Path

from ..core.base import bands
from ..core.base.errors import PlumError
from ..core.base.late import library
from ..core.base.saving import save
from ..core.bodies import bring
from ..core.develop.pipeline import Passage
from ..core.pictures import MOST_BYTES, metadata
from ..core.pictures.apart import apart
from ..core.pictures.read import read
from ..core.pictures.write import file_of
from ..core.recipe import Recipe, loads

cv2 = library("cv2")

DEVELOPED, THERE, FAILED = "developed", "there", "failed"


@dataclass(frozen=True)
class Keep:
    """What of a picture's own words goes along that is private: where it was taken; and whose it
    is, with serial numbers and comments."""

    place: bool = False
    owner: bool = False


NOTHING = Keep()


def develop_one(
    file: str, out: str, recipe: str, body: str = "", keep: Keep = NOTHING
) -> tuple[str, str]:
    """Develop a file into another by a recipe's text, and by its body's where that does not ship;
    returns what became of it, and why not.

    What is there already and carries the recipe is left; what is there and does not is never
    written over. It takes one thread, for its neighbours have the others.
    """
    bands.alone()
    cv2.setNumThreads(1)
    try:
        if body:
            bring(body)
        return _develop(Path(file), Path(out), loads(recipe), keep), ""
    except PlumError as error:
        return FAILED, str(error)
    except OSError as error:
        return FAILED, f"'{error.filename or file}': {error.strerror}."


def _develop(file: Path, out: Path, recipe: Recipe, keep: Keep) -> str:
    if out.exists() and out.stat().st_size:  # an empty one is what a run that died had begun
        there = metadata.find(out.read_bytes())
        if there is None or (there.key, there.name) != (recipe.key, recipe.name):
            raise PlumError(f"'{out}' is there already and holds something else. Move it away.")
        return THERE
    if file.stat().st_size > MOST_BYTES:
        raise PlumError(f"'{file.name}' is over 100 MB. Export it smaller.")
    data = file.read_bytes()
    scene = read(data, file.name, "own-archive")
    passage = Passage(scene, recipe.look, recipe.camera.sensor, scene.size[0])
    told = apart.taken(data, keep.place, keep.owner)
    made = file_of(passage.samples(), recipe, ".jpg", taken=told)
    out.parent.mkdir(parents=True, exist_ok=True)
    save(out, made, new=not out.exists())
    return DEVELOPED
