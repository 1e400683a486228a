"""What an address asks of a render, read once and typed from there on."""

import hashlib
from dataclasses import dataclass, replace

from flask import request

from ...core.develop.pipeline import Picture, develop
from ...core.measure import views
from ...core.measure.purpose import in_the_end
from ...core.recipe import Intent, Recipe
from ...core.scenes.scene import Scene
from ..frame.context import number
from ..frame.values import choice
from .address import engine_of, from_code, recipe_from, scene_of, spot_from

LEAST, MOST, USUAL = 48, 3000, 720  # pixels across
MOST_SEED = 2**31


@dataclass(frozen=True)
class Asked:
    """A recipe on a scene at a width: `detail` at 100 percent, a `view` of `measure.views`,
    `written` as the look's file would hold it, or as a purpose `ends`, metered at `spot`; `place`
    is the middle of what is seen at 100 percent."""

    scene_id: str
    recipe: Recipe
    width: int = USUAL
    seed: int = 1
    detail: bool = False
    view: str = ""
    written: bool = False
    ends: str = ""
    spot: tuple[float, float] | None = None
    place: tuple[float, float] | None = None

    @property
    def key(self) -> str:
        """The same for the same pixels."""
        parts = (
            engine_of(self.recipe),
            self.scene_id,
            self.recipe.key,
            self.width,
            self.seed,
            self.detail,
            self.view,
            self.written,
            self.ends,
            self.spot,
            self.place,
        )
        return hashlib.sha256("|".join(map(str, parts)).encode()).hexdigest()[:32]

    def develop(self) -> Picture:
        """The picture that is asked for."""
        look, sensor = self.recipe.look, self.recipe.camera.sensor
        if self.ends:
            intent = Intent(self.ends)
            return in_the_end(self.scene, look, sensor, intent, self.width, self.seed, self.detail)
        return develop(self.scene, look, sensor, self.width, self.seed, self.detail, self.written)

    @property
    def scene(self) -> Scene:
        """The scene, metered and looked at where it is asked to be."""
        scene = scene_of(self.scene_id)
        if self.spot is None and self.place is None:
            return scene
        return replace(scene, spot=self.spot, place=self.place)


def asked(scene_id: str) -> Asked:
    """What this request asks of a scene."""
    args = request.args
    return Asked(
        scene_id=scene_id,
        recipe=from_code(args["code"])[0] if "code" in args else recipe_from(args),
        width=number("width", USUAL, LEAST, MOST),
        seed=number("seed", 1, 0, MOST_SEED),
        detail=args.get("detail") == "1",
        view=choice("view", args.get("view", ""), views.VIEWS),
        written=args.get("written") == "1",
        ends=choice("ends", args.get("ends", ""), ("", *Intent)),
        spot=spot_from(args["spot"]) if args.get("spot") else None,
        place=spot_from(args["place"]) if args.get("place") else None,
    )
