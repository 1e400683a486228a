"""What to say of teaching: how well a body is known, and what to shoot."""

from ...core.bodies import Body, Dial
from ...core.learn.sure import SCARCE
from ...core.look import Stage, about
from ...core.styles.learnt import Seen, Sure

MOST_TOLD = 5  # pairs left out that are told of one by one
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
