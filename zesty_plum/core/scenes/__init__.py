"""Scenes: the shipped ones by id, loaded when first asked for and kept within a bound of memory."""

import threading
import tomllib
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from ..base.arrays import Bytes8
from ..base.cache import BoundedCache
from ..base.errors import NotFound
from ..base.late import library
from ..colour.light import estimate_light
from ..colour.spaces import REC2020_TO_XYZ
from ..colour.white import mired_and_duv
from .exr import read_exr
from .frame import Drawn
from .scene import Close, Light, Move, Scene

cv2 = library("cv2")

DATA = Path(__file__).parent / "data"
# What is shown where nobody chose: the first is one in which a body as shipped leaves nothing to
# say.
SHOWN = ("garden", "painters", "table")
# Of smaller copies and plates of scenes, 8 to 16 MB each: most of them stay side by side at the
# sizes that the Bench asks for.
MOST_BYTES = 74 * 2**20


@dataclass(frozen=True)
class Entry:
    """What the index says of a shipped scene without loading it."""

    id: str
    title: str
    story: str
    group: str
    kelvin: float
    duv: float
    ev100: float
    stops: float
    good_for: tuple[str, ...]
    lights: tuple[Light, ...]
    moves: tuple[Move, ...]
    regions: tuple[str, ...]
    grey_card: tuple[float, float, float]
    credits: tuple[str, ...]
    neutral_within: float
    lens: float = 0.0
    celsius: float = 20.0


@cache
def index() -> dict[str, Entry]:
    """All shipped scenes by id, in the order in which they are shown."""
    entries = []
    for path in DATA.glob("*/scene.toml"):
        data = tomllib.loads(path.read_text(encoding="utf-8"))
        lights = tuple(Light(**light) for light in data.pop("lights"))
        moves = tuple(Move(**move) for move in data.pop("moves", []))
        order = data.pop("order")
        listed: dict[str, Any] = {
            k: tuple(data.pop(k)) for k in ("good_for", "regions", "grey_card", "credits")
        }
        entries.append(
            (order, Entry(id=path.parent.name, lights=lights, moves=moves, **listed, **data))
        )
    return {e.id: e for _, e in sorted(entries, key=lambda pair: pair[0])}


def entry(scene_id: str) -> Entry:
    """Index entry of a shipped scene."""
    if scene_id not in index():
        raise NotFound(f"There is no scene '{scene_id}'. The scenes are {', '.join(index())}.")
    return index()[scene_id]


def light_of(rec2020: np.ndarray) -> tuple[float, float]:
    """(mired, Duv) of the light that a grey card sends back as linear Rec.2020 (3,)."""
    xyz = REC2020_TO_XYZ @ np.asarray(rec2020, np.float64)
    return mired_and_duv((xyz[0] / xyz.sum(), xyz[1] / xyz.sum()))


_loaded: BoundedCache[Scene] = BoundedCache(MOST_BYTES, lambda scene: scene.nbytes)
_lock = threading.Lock()  # so that two who ask for a scene do not both decode it


def load(scene_id: str) -> Scene:
    """Load a shipped scene; the least recently used are let go above `MOST_BYTES`."""
    with _lock:
        # Smaller copies have been made since the last look, so what is found is put back, which
        # keeps the bound.
        return _loaded.put(scene_id, _loaded.get(scene_id) or _read(entry(scene_id)))


def _read(about: Entry) -> Scene:
    folder = DATA / about.id
    frame = Drawn(lambda: read_exr(folder / "frame.exr"))

    def drawn(name: str) -> Bytes8:
        return np.asarray(cv2.imread(str(folder / f"{name}.png"), cv2.IMREAD_GRAYSCALE))

    small = frame.shrunk(240, 160)
    return Scene(
        id=about.id,
        title=about.title,
        frame=frame,
        auto_light=estimate_light(small),
        card_light=light_of(np.array(about.grey_card)),
        ev100=about.ev100,
        story=about.story,
        group=about.group,
        good_for=about.good_for,
        lights=about.lights,
        moves=about.moves,
        moving=drawn("frame-moves") if about.moves else None,
        lens=about.lens,
        celsius=about.celsius,
        regions={name: k for k, name in enumerate(about.regions, 1)},
        mask=drawn("frame"),
        close=Close(
            lambda: read_exr(folder / "plate.exr"),
            lambda: drawn("plate"),
            lambda: drawn("plate-moves"),
        ),
        stops=about.stops,
    )
