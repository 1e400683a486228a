"""How well a rendering is known: each pair is predicted by what the others taught."""

import math
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from ..base.arrays import Array, Matrix
from ..base.bands import THREADS
from ..base.late import library
from ..bodies import FIRST, body
from ..colour.difference import ciede2000
from ..colour.lab import encoded_to_lab
from ..colour.spaces import linear_srgb_to_oklab, srgb_decode
from ..develop.taking import make_point
from ..look import Look
from ..styles.learnt import MANY, Seen, Sure
from . import fit
from .fit import Colours
from .shot import Shot, averaged

cv2 = library("cv2")

AGAIN = 5  # rounds of a fit that begins where the fit to all pairs ended
FOLDS = 6  # groups that are left out in turn, at most
SMOOTH = (3.0, 1.0, 0.3, 0.1)  # of the table of what the core leaves, that are tried
FOUR_IN_FIVE = 1.282  # standard deviations either side that hold 80 percent of a normal law
NEW = 24  # pictures whose mean the statement is about
GREY, DARK, LIGHT = 0.03, 0.35, 0.85  # Oklab chroma below which a colour is grey; lightness
# Oklab hues in degrees at which the kinds of colour begin, and what people call them.
KINDS = (
    (5, "red"),
    (40, "skin and wood"),
    (80, "yellow"),
    (118, "green"),
    (170, "cyan"),
    (230, "blue"),
    (285, "violet"),
    (335, "pink"),
)
SCARCE = 0.004  # share of what was taught below which a kind of colour counts as never seen
LOCAL = 0.12  # share of the lightness left over that brightness around a place explains
LOCAL_STEP = 0.8  # L* of it, from which local tone is told


@dataclass(frozen=True)
class Taught:
    """Numbers and table of a style, and how sure they are; `made` are the pairs' cells, encoded, as
    they were predicted while each was left out."""

    numbers: Matrix
    table: Matrix | None
    sure: Sure | None
    made: tuple[Array, ...] = ()


def joined(shots: Sequence[Shot], few: bool) -> Colours:
    """Colours of some pairs."""
    parts = [shot.colours(k, few) for k, shot in enumerate(shots)]
    names = parts[0].__dataclass_fields__
    return Colours(*(np.concatenate([getattr(p, n) for p in parts]) for n in names))


def predicted(shot: Shot, numbers: Matrix, table: Matrix | None) -> Array:
    """A pair's cells (h / 3, w / 3, 3), encoded, as numbers and a table render them."""
    rest = np.zeros((0, 3)) if table is None else table
    made = fit.encoded(fit.entered(shot.whole(), numbers), numbers[:MANY], rest)
    return averaged(made.reshape(shot.light.shape))


def errors(shot: Shot, made: Array) -> Array:
    """CIEDE2000 of the cells that can be compared (n,)."""
    return ciede2000(encoded_to_lab(made), encoded_to_lab(shot.cells))[shot.good]


def plain_error(shot: Shot) -> float:
    """Mean CIEDE2000 of a pair through the reference style."""
    through = make_point(shot.scene, Look(), body(FIRST).sensor)
    return float(errors(shot, averaged(through.develop(np.maximum(shot.light, 0)))).mean())


def teach(
    shots: Sequence[Shot],
    towards: Matrix | None = None,
    done: Callable[[str], None] = lambda what: None,
) -> Taught:
    """Learn one style from its pairs, and find out how well."""
    done("Fitting the rendering")
    numbers = fit.core_of(joined(shots, True), towards)
    if len(shots) < 3:
        return Taught(numbers, fit.tables_of(joined(shots, False), numbers, SMOOTH[:1])[0], None)
    folds = [
        list(range(k, len(shots), min(FOLDS, len(shots)))) for k in range(min(FOLDS, len(shots)))
    ]

    def left_out(fold: list[int]) -> list[list[tuple[int, Array]]]:
        others = [s for k, s in enumerate(shots) if k not in fold]
        core = fit.core_of(joined(others, True), towards, AGAIN, numbers)
        tables = fit.tables_of(joined(others, False), core, SMOOTH)
        return [[(k, predicted(shots[k], core, t)) for k in fold] for t in tables]

    done("Trying it on pairs left out")
    with ThreadPoolExecutor(THREADS) as pool:
        found = list(pool.map(left_out, folds))
    best, least = 0, math.inf
    for k in range(len(SMOOTH)):
        mean = float(np.mean([errors(shots[n], made).mean() for f in found for n, made in f[k]]))
        if mean < least - 0.002:
            best, least = k, mean
    made = {n: picture for f in found for n, picture in f[best]}
    table = fit.tables_of(joined(shots, False), numbers, (SMOOTH[best],))[0]
    return Taught(numbers, table, _sure(shots, made), tuple(made[k] for k in range(len(shots))))


def _sure(shots: Sequence[Shot], made: dict[int, Array]) -> Sure:
    each = [errors(shot, made[k]) for k, shot in enumerate(shots)]
    every, means = np.concatenate(each), np.array([e.mean() for e in each])
    mean = float(every.mean())
    # The mean of other pictures differs from ours by what both samples leave to chance, and pairs
    # left out were taught by fewer than there are.
    spread = float(means.std(ddof=1)) * math.sqrt(1 / len(shots) + 1 / NEW)
    wide = FOUR_IN_FIVE * (spread + 0.04 * mean) * (1 + 2 / len(shots))
    return Sure(
        pairs=len(shots),
        mean=round(mean, 3),
        p95=round(float(np.percentile(every, 95)), 3),
        worst=round(float(every.max()), 2),
        low=round(max(0.0, mean - wide), 3),
        high=round(mean + wide, 3),
        before=round(float(np.mean([plain_error(s) for s in shots])), 2),
        seen=_seen(shots, each),
        notes=tuple(_local(shots, made)),
    )


def kinds(encoded: Array) -> Array:
    """Which kind of colour encoded colours (n, 3) are (n,): numbers of `KINDS`, then grey, and
    tones of grey."""
    light, a, b = linear_srgb_to_oklab(srgb_decode(encoded)).T
    hue = np.degrees(np.arctan2(b, a)) % 360
    found = (np.searchsorted([from_ for from_, _ in KINDS], hue, side="right") - 1) % len(KINDS)
    grey = np.hypot(a, b) < GREY
    return np.asarray(
        np.where(grey, len(KINDS) + (light > DARK).astype(int) + (light > LIGHT), found)
    )


NAMES = (*[name for _, name in KINDS], "dark grey", "grey", "white")


def _seen(shots: Sequence[Shot], each: Sequence[Array]) -> tuple[Seen, ...]:
    of = np.concatenate([kinds(s.cells[s.good]) for s in shots])
    error = np.concatenate(list(each))
    out = []
    for k, name in enumerate(NAMES):
        here = of == k
        share = float(here.mean())
        out.append(
            Seen(name, round(share, 4), round(float(error[here].mean()), 2) if here.any() else 0.0)
        )
    return tuple(out)


def _local(shots: Sequence[Shot], made: dict[int, Array]) -> list[str]:
    """Whether what is left of lightness follows the brightness around a place: local tone."""
    around, left = [], []
    for k, shot in enumerate(shots):
        log = np.log2(np.maximum(averaged(shot.light).mean(-1), 1e-4))
        wide = cv2.GaussianBlur(log, (0, 0), log.shape[1] / 12)
        off = (encoded_to_lab(shot.cells) - encoded_to_lab(made[k]))[..., 0]
        around.append((wide - log)[shot.good] - (wide - log)[shot.good].mean())
        left.append(off[shot.good] - off[shot.good].mean())
    x, y = np.concatenate(around), np.concatenate(left)
    slope = float((x * y).sum() / (x * x).sum())
    explained = slope * slope * float((x * x).sum() / (y * y).sum())
    if explained < LOCAL or abs(slope) * float(x.std()) < LOCAL_STEP:
        return []
    return [
        "This camera changes tone by place, brightening what is dark among dark. That is not "
        "learnt: what is taught is its mean. Switch it off and shoot again, if you can."
    ]
