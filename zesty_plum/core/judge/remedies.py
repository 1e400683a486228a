"""Remedies, found by trying: every dial that bears on a fault is moved a step, two, three, and the
look is rendered and measured again; the smallest move that mends the fault wins, and what it costs
elsewhere is said with it."""

from dataclasses import dataclass

from ..bodies import Dial, Value
from ..measure.report import Report
from ..recipe import Recipe
from ..seen import amount
from .beside import price
from .faults import Eye, Fault
from .rules import Rule
from .workbench import Workbench, moves

WORTH = 0.15  # of the limit: a remedy that moves the figure by less is none
MOST_LEFT = 0.6  # share of the fault that may be left


@dataclass(frozen=True)
class Remedy:
    """A dial change that mends a fault: where it goes, what the figure becomes, and what it costs,
    in words."""

    dial: str
    label: str
    value: Value
    printed: str
    before: float
    after: float
    mended: bool
    sentence: str


@dataclass(frozen=True)
class _Try:
    """A move that helps: its price, the lower the better, what it is, and what comes of it."""

    price: float
    dial: Dial
    value: Value
    figure: float
    report: Report


@dataclass(frozen=True)
class _Move:
    """A move that can be tried, and the least that its price can be."""

    least: float
    dial: Dial
    value: Value


def _back(rule: Rule, recipe: Recipe, figure: float) -> list[_Move]:
    """The one move that takes a figure back to nothing, by a dial that counts in its unit."""
    for dial in recipe.camera.dials:
        now = recipe.dials[dial.id]
        places = [v for v in dial.values if not isinstance(v, str)]
        if dial.touches == set(rule.fields) and not isinstance(now, str) and places:
            return [_Move(0.0, dial, min(places, key=lambda v: abs(v - (now - figure))))]
    return []


def _moves(rule: Rule, recipe: Recipe, figure: float) -> list[_Move]:
    """What bears on the rule, the cheapest first: few steps, then the order of the rule; another
    style is another picture."""
    if rule.undo:
        return _back(rule, recipe, figure)
    camera, dials = recipe.camera, recipe.dials
    found = []
    for dial in camera.dials:
        touched = dial.touches & set(rule.fields)
        if not touched or not camera.counts(dial, dials):
            continue
        if "style" in dial.touches - touched:
            continue  # nobody changes the style for what it brings along
        rank = min(rule.fields.index(f) for f in touched)
        anew = 4.0 if "style" in touched else 0.0
        for steps, value in moves(camera, dial, dials):
            found.append(_Move(steps + 0.6 * rank + anew, dial, value))
    return sorted(found, key=lambda move: move.least)


def _best(rule: Rule, region: str, recipe: Recipe, bench: Workbench, eye: Eye) -> _Try | None:
    """The move with the lowest price. What is left of the fault counts most, then `least`, then a
    small change of the picture; what cannot be cheaper than the best so far is not rendered."""
    now = bench.report(recipe.dials)
    start = dict(now.values(rule.figure))[region]
    before = eye.faults(recipe.look, now)
    best: _Try | None = None
    for move in _moves(rule, recipe, start):
        if best is not None and move.least >= best.price:
            break
        dials = {**recipe.dials, move.dial.id: move.value}
        then = bench.report(dials)
        figure = dict(then.values(rule.figure)).get(region)
        if figure is None or not _helps(rule, start, figure):
            continue
        if _harms(rule, before, eye.faults(recipe.camera.meaning(dials), then)):
            continue
        left = max(0.0, rule.excess(figure)) / rule.excess(start)
        change = abs(then.frame.lightness - now.frame.lightness)
        price = 10 * left + move.least + 0.15 * change
        if best is None or price < best.price:
            best = _Try(price, move.dial, move.value, figure, then)
    return best


def _helps(rule: Rule, start: float, figure: float) -> bool:
    """Whether a move takes enough of the fault away, and does not turn it round."""
    turned = figure * start < 0 and abs(figure) > abs(start) / 2
    left = max(0.0, rule.excess(figure)) / rule.excess(start)
    return left <= MOST_LEFT and not turned and abs(figure - start) >= WORTH * abs(rule.limit)


def _harms(rule: Rule, before: list[Fault], after: list[Fault]) -> bool:
    """Whether a move brings a fault that was not there and weighs as much as the one it mends, or
    the picture after it would not be judged better overall."""
    there = {(f.rule.id, f.region) for f in before}
    for fault in after:
        other = fault.rule
        new = (other.id, fault.region) not in there and other.id not in rule.hides
        if new and other is not rule and other.weight >= rule.weight:
            return True
    return sum(f.importance for f in after) >= sum(f.importance for f in before)


def remedy(
    rule: Rule, region: str, told: float, recipe: Recipe, bench: Workbench, eye: Eye
) -> Remedy | None:
    """The nearest change of a dial that mends what a rule says of a region, or takes it part of the
    way; None where there is none. `told` is the figure that the verdict tells: tries are smaller,
    and what they measure may be a little off."""
    now = bench.report(recipe.dials)
    start = dict(now.values(rule.figure)).get(region)
    if start is None or rule.excess(start) <= 0:
        return None
    best = _best(rule, region, recipe, bench, eye)
    if best is None:
        return None
    mended = rule.excess(best.figure) <= 0
    printed = best.dial.choice(best.value).label
    cost = price(now, best.report, rule.meant)
    sentence = (
        f"{best.dial.label} {printed} {'brings it' if mended else 'takes it part of the way'} "
        f"from {amount(told, rule.unit)} to {amount(best.figure, rule.unit)}"
        f"{'; ' + cost if cost else ''}."
    )
    return Remedy(
        dial=best.dial.id,
        label=best.dial.label,
        value=best.value,
        printed=printed,
        before=told,
        after=best.figure,
        mended=mended,
        sentence=sentence,
    )
