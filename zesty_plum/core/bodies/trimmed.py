"""Conditions of dials brought in line with the dials and places that a changed list still has."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from .dial import Dial, Need, Value


def trimmed(dials: Sequence[Dial]) -> tuple[Dial, ...]:
    """Dials whose conditions speak only of what is there. A condition on a dial that is gone falls
    away; one that nothing left can meet takes its place of a dial with it, or the whole dial, as
    does a standard that is gone."""
    left = tuple(dials)
    while True:
        there = {d.id: d.values for d in left}
        made = tuple(d for d in (_trimmed(d, there) for d in left) if d is not None)
        if made == left:
            return made
        left = made


def _trimmed(dial: Dial, there: Mapping[str, Sequence[Value]]) -> Dial | None:
    needs = _kept(dial.needs, there)
    places = [(c, _kept(c.needs, there)) for c in dial.choices]
    choices = tuple(replace(c, needs=n) for c, n in places if n is not None)
    if needs is None or dial.default not in {c.value for c in choices}:
        return None
    return replace(dial, needs=needs, choices=choices)


def _kept(needs: Sequence[Need], there: Mapping[str, Sequence[Value]]) -> tuple[Need, ...] | None:
    """Conditions that can still be met; None where one cannot."""
    out = []
    for need in needs:
        if need.dial not in there:
            continue
        only, never = (
            tuple(v for v in values if v in there[need.dial]) for values in (need.only, need.never)
        )
        if need.only and not only:
            return None
        if only or never or need.least is not None:
            out.append(replace(need, only=only, never=never))
    return tuple(out)
