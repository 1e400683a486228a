"""Pictures as pure functions of their address: strong ETags, kept for ever by browsers."""

import json
import time
from dataclasses import asdict, dataclass, replace

import numpy as np
from flask import Blueprint, request
from werkzeug.wrappers import Response

from ...allocator import picture_made
from ...core.base.arrays import Bytes8, Mask
from ...core.base.cache import BoundedCache
from ...core.base.late import library
from ...core.base.nominal import printed
from ...core.develop.sense import Exposure
from ...core.measure import views
from ...core.measure.purpose import in_the_end
from ...core.pictures.write import preview
from ...core.recipe import Intent
from ...core.scenes.scene import Scene
from ..frame.context import number, renders
from ..server.turns import Rank, turn
from .asked import Asked, asked

cv2 = library("cv2")

blueprint = Blueprint("rendering", __name__)

KEPT_BYTES, KEPT_PIXELS = 10 * 2**20, 8 * 2**20
# Pixels across in the row of scenes and in the library, whose pictures are kept on disk.
ROW_WIDTH, SHELF_WIDTH = 132, 300
KEPT_ON_DISK = (ROW_WIDTH, SHELF_WIDTH)
# pixels across from which somebody waits for a picture; smaller ones, of strips, let it go first
LARGE = 320


@dataclass(frozen=True)
class Rendered:
    """A preview with what is said of it; clipped and crushed places as packed bits, drawn only when
    asked for; at 100 percent left, top, width and height of the part and size of the whole."""

    jpeg: bytes
    size: tuple[int, int]
    places: tuple[bytes, bytes]
    crop: tuple[int, ...]
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
        said |= {name: tuple(said[name]) for name in ("size", "crop")}
        return cls(rest[:jpeg], places=places, **said)


_cache: BoundedCache[Rendered] = BoundedCache(KEPT_BYTES, lambda made: made.nbytes)
_pixels: BoundedCache[Bytes8] = BoundedCache(KEPT_PIXELS, lambda made: made.nbytes)


def exposure_words(exposure: Exposure | None) -> str:
    """Aperture, time and ISO as a camera prints them."""
    if exposure is None:
        return "exposure as it came"
    words = printed(exposure.aperture, exposure.time, exposure.iso, exposure.filter)
    return f"{words}, then as long again" if exposure.dark else words


def _rank(ask: Asked) -> Rank:
    return Rank.PICTURE if ask.width >= LARGE else Rank.SMALL


def _crop(scene: Scene, width: int) -> tuple[int, ...]:
    whole = scene.size if scene.plate is None else scene.plate.shape[1::-1]
    return (*scene.crop(width, scene.height_at(width)), *whole)


def _packed(mask: Mask) -> bytes:
    return np.packbits(mask).tobytes()


def render(ask: Asked) -> Rendered:
    """Develop a preview, or take it from the cache."""
    key = ask.key
    found = _cache.get(key) or (_on_disk(key) if ask.width in KEPT_ON_DISK else None)
    if found:
        return found
    # A picture of one's own is decoded at its own size first, which takes a while and no hand.
    scene = ask.scene.at_full() if ask.detail else ask.scene
    with turn(_rank(ask)):
        begun = time.perf_counter()
        picture = ask.develop()
        made = Rendered(
            jpeg=preview(views.seen(picture.pixels, ask.view)),
            size=picture.clipped.shape,
            places=(_packed(picture.clipped), _packed(picture.crushed)),
            crop=_crop(scene, ask.width) if ask.detail else (),
            exposure=exposure_words(picture.exposure),
            clipped=float(cv2.mean(picture.clipped.astype(np.uint8))[0]),
            crushed=float(cv2.mean(picture.crushed.astype(np.uint8))[0]),
            seconds=time.perf_counter() - begun,
        )
    picture_made()
    _cache.put(key, made)
    if ask.width >= LARGE:
        _pixels.put(replace(ask, view="").key, picture.pixels)
    if ask.width in KEPT_ON_DISK:
        renders().put(key, made.to_bytes())
    return made


def pixels_of(ask: Asked) -> Bytes8:
    """The pixels (h, w, 3) behind a preview, for what is drawn over it; at hand right after it."""
    ask = replace(ask, view="")

    def make() -> Bytes8:
        with turn(_rank(ask)):
            return ask.develop().pixels

    return _pixels.make(ask.key, make)


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
    ask = asked(scene_id)
    made = render(ask)
    response = answer(ask.key, made.jpeg, "image/jpeg")
    response.headers["Plum-Exposure"] = made.exposure
    response.headers["Plum-Clipped"] = f"{made.clipped:.5f}"
    response.headers["Plum-Crushed"] = f"{made.crushed:.5f}"
    if made.crop:
        response.headers["Plum-Crop"] = ",".join(map(str, made.crop))
    response.headers["Server-Timing"] = f"render;dur={made.seconds * 1000:.1f}"
    return response.make_conditional(request)


@blueprint.get("/render/<scene_id>.graded.jpg")
def graded_picture(scene_id: str) -> Response:
    """The preview written with `bits` a channel and then graded to stand as Plain would."""
    ask, bits = asked(scene_id), number("bits", 8, 8, 10)
    held = replace(ask.recipe.look, bits=bits)
    seen = ask.width, ask.seed, ask.detail
    with turn(_rank(ask)):
        made = in_the_end(ask.scene, held, ask.recipe.camera.sensor, Intent.GRADE, *seen)
        body = preview(made.pixels)
    return answer(f"{ask.key}g{bits}", body, "image/jpeg").make_conditional(request)
