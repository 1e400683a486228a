"""Which shots would teach a camera most next."""

from collections.abc import Sequence

import numpy as np

from ..styles.learnt import Sure
from .shot import Shot
from .sure import NAMES, kinds

LAMPS = 240.0  # mired from which a light counts as lamps, 4200 K
ENOUGH = 0.01  # share of what was taught in a light from which a kind of colour is well known
MOST = 3
TWICE = 2.0  # times the mean error more, at which a kind of colour is as good as not shown
LEAST = 0.5  # of need, from which a shot is asked for
# What to look for, and how much it counts in daylight and under lamps: what people photograph most,
# first.
THINGS = {
    "skin and wood": ("a face or a hand", 3.0, 2.9),
    "green": ("leaves or grass", 2.4, 0.8),
    "blue": ("something deep blue", 2.2, 1.5),
    "red": ("something red", 2.0, 1.8),
    "yellow": ("something yellow", 1.8, 1.6),
    "violet": ("something violet", 1.4, 1.2),
    "cyan": ("something turquoise", 1.2, 0.9),
    "pink": ("something pink", 1.1, 1.0),
    "dark grey": ("something black", 1.0, 0.8),
    "white": ("white paper or cloth", 1.0, 1.1),
}


def wanted(shots: Sequence[Shot], sure: Sure) -> tuple[str, ...]:
    """At most three shots in words, what helps most first; each of another kind of colour. It is
    what no pair shows in a light, and what comes out clearly worse than the rest."""
    needs = []
    for place, where in enumerate(("in daylight", "under lamps")):
        here = [s for s in shots if (s.scene.auto_light[0] >= LAMPS) == bool(place)]
        share = _shares(here)
        for name, (thing, *counts) in THINGS.items():
            lacks = max(0.0, 1 - share[name] / ENOUGH)
            needs.append((lacks * counts[place], f"{thing} {where}", name))
    for kind in sure.seen:
        if kind.share and kind.name in THINGS:
            thing, often, _ = THINGS[kind.name]
            worse = min(1.0, (kind.error / max(sure.mean, 0.1) - 1) / TWICE)
            needs.append((worse * often, f"more of {thing}", kind.name))
    out: dict[str, str] = {}
    for need, words, name in sorted(needs, reverse=True):
        if need >= LEAST and name not in out and len(out) < MOST:
            out[name] = words
    return tuple(out.values())


def _shares(shots: Sequence[Shot]) -> dict[str, float]:
    if not shots:
        return dict.fromkeys(NAMES, 0.0)
    of = np.concatenate([kinds(s.cells[s.good]) for s in shots]).astype(int)
    share = np.bincount(of, minlength=len(NAMES)) / len(of)
    return dict(zip(NAMES, map(float, share), strict=True))
