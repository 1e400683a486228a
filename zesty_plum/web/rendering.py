"""Pictures as pure functions of their address: strong ETags, kept for ever by browsers."""

import hashlib
import io
import json
import threading
import time
from dataclasses import asdict, dataclass, replace

import cv2
import numpy as np
from flask import Blueprint, request
from PIL import Image
from werkzeug.wrappers import Response

from ..allocator import picture_made
from ..core.cache import BoundedCache
from ..core.develop.pipeline import develop
from ..core.develop.sense import Exposure
from ..core.errors import PlumError
from ..core.measure import views
from ..core.nominal import printed
from ..core.pictures.write import preview
from ..core.recipe import Recipe
from .address import ENGINE, code, from_code, recipe_from, scene_asked
from .context import number, renders
from .scheduling import schedule

blueprint = Blueprint("rendering", __name__)

KEPT_BYTES = 24 * 2**20
LEAST, MOST = 48, 3000
SHELF_WIDTH = 300  # pixels across in the library, whose pictures are kept on disk
# pixels across from which somebody waits for a picture; smaller ones, of strips, let it go first
LARGE = 320
_together = threading.Semaphore(3)  # large pictures in work at once, so that memory stays bounded


@dataclass(frozen=True)
class Rendered:
    """A preview with what is said of it; clipped and crushed places as packed bits, drawn only when
    asked for."""

    jpeg: bytes
    size: tuple[int, int]
    places: tuple[bytes, bytes]
    exposure: str
    clipped: float
    crushed: float
    seconds: float

    @property
    def nbytes(self) -> int:
        """Memory held."""
        return len(self.jpeg) + sum(map(len, self.places))

    def to_bytes(self) -> bytes:
        """As a file: a line of JSON, the JPEG, the places."""
        said = {k: v for k, v in asdict(self).items() if k not in ("jpeg", "places")}
        sizes = [len(self.jpeg), *map(len, self.places)]
        return (
            json.dumps(said | {"sizes": sizes}).encode() + b"\n" + self.jpeg + b"".join(self.places)
        )

    @classmethod
    def from_bytes(cls, data: bytes) -> "Rendered":
        """Read what `to_bytes` wrote."""
        head, rest = data.split(b"\n", 1)
        said = json.loads(head)
        jpeg, first, _ = said.pop("sizes")
        places = (rest[jpeg : jpeg + first], rest[jpeg + first :])
        return cls(rest[:jpeg], places=places, **said | {"size": tuple(said["size"])})


_cache: BoundedCache[Rendered] = BoundedCache(KEPT_BYTES, lambda made: made.nbytes)


def exposure_words(exposure: Exposure | None) -> str:
    """Aperture, time and ISO as a camera prints them."""
    if exposure is None:
        return "exposure as it came"
    return printed(exposure.aperture, exposure.time, exposure.iso)


def _packed(flags: np.ndarray) -> bytes:
    return np.packbits(flags).tobytes()


def stripes(rising: np.ndarray, falling: np.ndarray) -> bytes:
    """Two areas (h, w) as a small transparent PNG: stripes one way in zest, the other way in
    plum."""
    y, x = np.mgrid[0 : rising.shape[0], 0 : rising.shape[1]]
    palette = np.zeros(rising.shape, np.uint8)
    palette[rising & ((x + y) % 8 < 5)] = 1
    palette[falling & ((x - y) % 8 < 5)] = 2
    image = Image.fromarray(palette)
    image.putpalette([0, 0, 0, 240, 164, 0, 190, 60, 150])
    out = io.BytesIO()
    image.save(out, "PNG", transparency=0, compress_level=3)
    return out.getvalue()


@dataclass(frozen=True)
class Asked:
    """What an address asks of a render: `detail` at 100 percent, a `view` of `measure.views`,
    `written` rounded as the look's file would be, metered at `spot`."""

    recipe: Recipe
    width: int = 720
    seed: int = 1
    detail: bool = False
    view: str = ""
    written: bool = False
    spot: str = ""

    def key(self, scene_id: str) -> str:
        """The same for the same pixels."""
        look = code(self.recipe).split("~", 1)[1]
        parts = (
            ENGINE,
            scene_id,
            look,
            self.width,
            self.seed,
            self.detail,
            self.view,
            self.written,
            self.spot,
        )
        return hashlib.sha256("|".join(map(str, parts)).encode()).hexdigest()[:32]


def asked() -> Asked:
    """What this request asks."""
    args = request.args
    recipe = from_code(args["code"])[0] if "code" in args else recipe_from(args)
    view = args.get("view", "")
    if view not in views.VIEWS:
        raise PlumError(
            f"There is no view '{view[:20]}'. It can be {', '.join(v for v in views.VIEWS if v)}."
        )
    width, seed = number("width", 720, LEAST, MOST), number("seed", 1, 0, 2**31)
    return Asked(
        recipe,
        width,
        seed,
        args.get("detail") == "1",
        view,
        args.get("written") == "1",
        args.get("spot", ""),
    )


def render(scene_id: str, ask: Asked) -> tuple[str, Rendered]:
    """Develop a preview, or take it from the cache; returns its key too."""
    key = ask.key(scene_id)
    found = _cache.get(key) or (_on_disk(key) if ask.width == SHELF_WIDTH else None)
    if found:
        return key, found
    if ask.width < LARGE:
        schedule.wait()
    with schedule.picture(ask.width >= LARGE), _together:
        begun = time.perf_counter()
        scene, look, sensor = (
            scene_asked({"spot": ask.spot}, scene_id),
            ask.recipe.look,
            ask.recipe.camera.sensor,
        )
        picture = develop(scene, look, sensor, ask.width, ask.seed, ask.detail, ask.written)
        made = Rendered(
            preview(views.seen(picture.pixels, ask.view)),
            picture.clipped.shape,
            (_packed(picture.clipped), _packed(picture.crushed)),
            exposure_words(picture.exposure),
            float(cv2.mean(picture.clipped.astype(np.uint8))[0]),
            float(cv2.mean(picture.crushed.astype(np.uint8))[0]),
            time.perf_counter() - begun,
        )
    picture_made()
    _cache.put(key, made)
    if ask.width == SHELF_WIDTH:
        renders().put(key, made.to_bytes())
    return key, made


def _on_disk(key: str) -> Rendered | None:
    data = renders().get(key)
    return None if data is None else Rendered.from_bytes(data)


def answer(key: str, body: bytes, kind: str) -> Response:
    """A file that an address always gives."""
    response = Response(body, mimetype=kind)
    response.set_etag(key)
    response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
    return response


@blueprint.get("/render/<scene_id>.jpg")
def picture(scene_id: str) -> Response:
    """A rendered preview."""
    key, made = render(scene_id, asked())
    response = answer(key, made.jpeg, "image/jpeg")
    response.headers["Plum-Exposure"] = made.exposure
    response.headers["Plum-Clipped"] = f"{made.clipped:.5f}"
    response.headers["Plum-Crushed"] = f"{made.crushed:.5f}"
    response.headers["Server-Timing"] = f"render;dur={made.seconds * 1000:.1f}"
    return response.make_conditional(request)


@blueprint.get("/render/<scene_id>.marks.png")
def marks(scene_id: str) -> Response:
    """Where that preview is clipped or crushed."""
    key, made = render(scene_id, replace(asked(), view=""))
    clipped, crushed = (
        np.unpackbits(np.frombuffer(p, np.uint8), count=np.prod(made.size))
        .reshape(made.size)
        .view(bool)
        for p in made.places
    )
    return answer(f"{key}m", stripes(clipped, crushed), "image/png").make_conditional(request)
