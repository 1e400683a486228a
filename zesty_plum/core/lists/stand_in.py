"""Dials of a body in place of those of another, by what they do to the picture."""

from collections.abc import Mapping, Sequence
from itertools import product

from ..bodies import Body, Dial, Value, Values

ALIKE = 0.5  # share of a change that may be missing where another dial stands in for one


def standing_in(
    camera: Body, dials: Sequence[Dial], other: Body, theirs: Values, own: Values
) -> dict[str, Value] | None:
    """Places of `dials` that change the picture most nearly as the dials `theirs` of another body
    do, on top of what is set already (`own`); None where less than half of it can be had."""
    fields = frozenset().union(*(other.dial(k).touches for k in theirs))
    dials = [d for d in dials if d.touches & fields and (not d.named or len(dials) == 1)]
    if not dials:
        return None
    steps = _steps(camera, dials)
    if not steps:
        return None
    target = _fields(other, theirs, steps)
    mine = {k: v for k, v in own.items() if camera.dial(k) in dials}
    set_already, rest = _fields(camera, mine, steps), _fields(camera, {}, steps)
    if mine:
        target = {k: v + set_already[k] - rest[k] for k, v in target.items()}

    def away(places: tuple[Value, ...]) -> float:
        found = _fields(camera, {d.id: v for d, v in zip(dials, places, strict=True)}, steps)
        return sum((found[k] - target[k]) ** 2 for k in target)

    best = min(product(*(d.values for d in dials)), key=away)
    whole = sum((target[k] - rest[k]) ** 2 for k in target)
    if whole and away(best) > ALIKE**2 * whole:
        return None
    return {d.id: v for d, v in zip(dials, best, strict=True)}


def _steps(camera: Body, dials: Sequence[Dial]) -> dict[str, float]:
    """How much one step changes each field of the look."""
    out: dict[str, float] = {}
    for dial in dials:
        a, b = (camera.interpret({dial.id: v}) for v in dial.values[-2:])
        for name in dial.touches:
            if _counted(getattr(a, name)) and _counted(getattr(b, name)):
                out[name] = max(out.get(name, 0.0), abs(getattr(b, name) - getattr(a, name)))
    return {k: v for k, v in out.items() if v}


def _counted(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _fields(camera: Body, dials: Values, steps: Mapping[str, float]) -> dict[str, float]:
    look = camera.interpret(dials)
    return {k: getattr(look, k) / step for k, step in steps.items()}
