"""A body brought in line with the dials and places that a changed list still has."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from .body import Body
from .dial import Dial, Need, Value


def with_dials(body: Body, dials: Sequence[Dial]) -> Body:
    """A body with other dials; what it says of dials that are gone goes with them."""
    left = trimmed(dials)
    ids = {d.id for d in left}
    resets = (replace(r, dials=tuple(d for d in r.dials if d in ids)) for r in body.resets)
    was_whole = [not r.dials for r in body.resets]
    return replace(
        body,
        dials=left,
        pairs=tuple(p for p in body.pairs if {p.across, p.down} <= ids),
        outside=tuple(d for d in body.outside if d in ids),
        # A reset that names no dial is of all; one whose dials are gone is gone.
        resets=tuple(r for r, whole in zip(resets, was_whole, strict=True) if r.dials or whole),
        steps=tuple(s for s in body.steps if s.dial in ids),
    )


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
