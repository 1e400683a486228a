"""Which part of a picture goes beyond what its learnt style was taught."""

from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array, Mask
from ..develop.pipeline import develop
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from .sure import NAMES, SCARCE, kinds

ACROSS = 240
TOLD = 0.01  # share of a picture from which it is told


@dataclass(frozen=True)
class Untaught:
    """Places (h, w) of colours that hardly any pair showed, their share, and a sentence; no share
    and no words where there is nothing to tell."""

    places: Mask
    share: float = 0.0
    words: str = ""


def places(encoded: Array, style_id: str) -> Untaught:
    """The same of a picture (h, w, 3), encoded sRGB from 0 to 1, in a style."""
    sure = style(style_id).sure
    nowhere = np.zeros(encoded.shape[:2], bool)
    if sure is None:
        return Untaught(nowhere)
    shown = kinds(encoded.reshape(-1, 3)).astype(int).reshape(nowhere.shape)
    here = np.bincount(shown.ravel(), minlength=len(NAMES)) / shown.size
    scarce = {k.name for k in sure.seen if k.share < SCARCE}
    never = [k for k, name in enumerate(NAMES) if name in scarce and here[k] >= TOLD]
    if not never:
        return Untaught(nowhere)
    share = float(here[never].sum())
    names = " or ".join(NAMES[k] for k in never)
    words = f"Hardly any pair showed {names}: {100 * share:.0f} % of this picture is a guess."
    return Untaught(np.isin(shown, never), share, words)


def untaught(scene: Scene, look: Look, sensor: Sensor) -> Untaught:
    """What of a scene's picture is a guess."""
    return places(develop(scene, look, sensor, ACROSS).overview, look.style)
