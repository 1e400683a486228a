"""Which part of a picture goes beyond what its learnt style was taught."""

import numpy as np

from ..develop.pipeline import develop
from ..look import Look, Sensor
from ..scenes.scene import Scene
from ..styles import style
from .sure import NAMES, SCARCE, kinds

ACROSS = 240
TOLD = 0.01  # share of a picture from which it is told


def untaught(scene: Scene, look: Look, sensor: Sensor) -> str:
    """A sentence on colours of a scene's picture that hardly any pair showed, or nothing."""
    sure = style(look.style).sure
    if sure is None:
        return ""
    shown = kinds(develop(scene, look, sensor, ACROSS).overview.reshape(-1, 3))
    here = np.bincount(shown.astype(int), minlength=len(NAMES)) / len(shown)
    share = dict(zip(NAMES, here, strict=True))
    never = [k.name for k in sure.seen if k.share < SCARCE and share.get(k.name, 0) >= TOLD]
    if not never:
        return ""
    part = sum(share[name] for name in never)
    names = " or ".join(never)
    return f"Hardly any pair showed {names}: {100 * part:.0f} % of this picture is a guess."
