"""The shortest way from what stands in a camera to what should: presses in the order of its menu.

Each slot that differs is brought about in one go: from what is set now, from a slot that is called,
or from a reset, by turning what is left and saving over it; the pages are walked once for each. In
which order slots are done is found exactly for up to nine of them, by the costs from each to each,
and beyond that by always taking the nearest.
"""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from ..bodies import Body, Dial, Value
from .menu import DOWN, LEFT, MENU, OK, RIGHT, UP, Line, pages, put_back
from .state import State

MOST_RESETS = 3  # that are thought of
EXACT = 9  # slots up to which their order is found exactly
Content = Mapping[str, Value]


@dataclass(frozen=True)
class Press:
    """A line of the list: what to do, in words, and the buttons that do it; `slot` is the key of
    the slot that it is for, empty where it is for none."""

    page: str
    words: str
    buttons: tuple[str, ...]
    slot: str = ""

    @property
    def count(self) -> int:
        """How many presses it is."""
        return len(self.buttons)

    @property
    def path(self) -> str:
        """The buttons in words, the same ones together: menu, right 9, down, OK."""
        said = []
        for button, run in itertools.groupby(self.buttons):
            many = len(list(run))
            name = "OK" if button == OK else button
            said.append(f"{name} {many}" if many > 1 else name)
        return ", ".join(said)


@dataclass(frozen=True)
class _Chain:
    """How a slot is brought about: a slot that is called first, resets before and after what is
    turned, and whether that is done on the first way through the menu."""

    call: str = ""
    before: tuple[int, ...] = ()
    after: tuple[int, ...] = ()
    passing: bool = False


def presses(body: Body, there: State, plan: State) -> tuple[Press, ...]:
    """The presses that bring a camera to a plan; slots and settings that the plan does not name
    stay as they are."""
    return _Way(body, there, plan).found()


def calling(body: Body, key: str) -> Press:
    """The presses that call a slot, from a menu that is closed."""
    every = pages(body)
    lines = every[-1].lines
    at = next(k for k, line in enumerate(lines) if line.act == "call" and line.of == key)
    buttons = (MENU, *(RIGHT,) * (len(every) - 1), *(DOWN,) * at, OK)
    return Press(every[-1].name, lines[at].label, buttons, key)


def total(steps: Sequence[Press]) -> int:
    """How many presses they are."""
    return sum(step.count for step in steps)


def up_down(line: int, to: int) -> int:
    """Presses from a line of a page to another: left and right again leads to the first one."""
    return min(line - to, 2 + to) if to < line else to - line


def back_to(page: int, to: int) -> int:
    """Presses from a page to one before it: closed and opened, a menu shows its first one."""
    return min(page - to, 2 + to)


class _Way:
    def __init__(self, body: Body, there: State, plan: State) -> None:
        self.body, self.there, self.plan = body, there, plan
        self.pages = pages(body)
        self.last = len(self.pages) - 1
        self.at: dict[tuple[str, bool], tuple[int, int]] = {}
        self.lines: dict[tuple[str, str], int] = {}
        for p, page in enumerate(self.pages):
            for k, line in enumerate(page.lines):
                if line.dial:
                    self.at[line.dial, line.beside] = p, k
                else:
                    self.lines[line.act, line.of] = k
        ids = [d.id for d in body.held]
        self.aims = {k: {i: h.dials[i] for i in ids} for k, h in plan.slots.items()}
        self.tasks = [
            k for k, aim in self.aims.items()
            if k not in there.slots or any(there.slots[k].dials.get(i) != aim[i] for i in ids)
        ]  # fmt: skip
        self.now = None if there.now is None else {i: there.now[i] for i in ids}
        self._known: dict[tuple[str, str, bool], tuple[float, _Chain]] = {}
        self.beside = {
            k: v for k, v in plan.beside.items() if k in there.beside and there.beside[k] != v
        }

    # ---- what it costs -----------------------------------------------------------------------
    def visits(self, off: Mapping[tuple[str, bool], tuple[int, int]]) -> int:
        """Presses on the pages of dials that are turned, (dial, beside) to (from, to) as places."""
        deepest: dict[int, int] = {}
        for key in off:
            page, line = self.at[key]
            deepest[page] = max(deepest.get(page, 0), line)
        turns = sum(2 + abs(a - b) for a, b in off.values())
        return turns + sum(deepest.values())

    def off(self, here: Content, aim: Content) -> dict[tuple[str, bool], tuple[int, int]]:
        """What has to be turned."""
        out = {}
        for dial in self.body.held:
            if here[dial.id] != aim[dial.id]:
                places = dial.position(here[dial.id]), dial.position(aim[dial.id])
                out[dial.id, False] = places
        return out

    def turned(
        self, here: Content, aim: Content, after: Sequence[int]
    ) -> dict[tuple[str, bool], tuple[int, int]] | None:
        """What has to be turned where resets follow; None where those would undo the aim."""
        freed: set[str] = set()
        for reset in after:
            freed |= set(self.body.resets[reset].dials or self.body.by_id)
        if any(aim[d.id] != self.body.shipped[d.id] for d in self.body.held if d.id in freed):
            return None
        return {k: v for k, v in self.off(here, aim).items() if k[0] not in freed}

    def cost(self, line: int, here: Content | None, key: str, chain: _Chain) -> float:
        """Presses from a line of the last page, with dials as they are set, to a slot saved, but
        for a call."""
        count = 0
        for reset in chain.before:
            to = self.lines["reset", str(reset)]
            count, line = count + up_down(line, to) + 1, to
        here = self.after(here, chain.before)
        if here is None:
            return math.inf
        off = self.turned(here, self.aims[key], chain.after)
        if off is None:
            return math.inf
        if off:
            first = min(self.at[k][0] for k in off)
            count += back_to(self.last, first) + self.last - first + self.visits(off)
            line = 0
        return count + self._to_save(line, key, chain.after)

    def _to_save(self, line: int, key: str, after: Sequence[int]) -> int:
        count = 0
        for reset in after:
            to = self.lines["reset", str(reset)]
            count, line = count + up_down(line, to) + 1, to
        return count + up_down(line, self.lines["save", key]) + 1

    def after(self, here: Content | None, resets: Sequence[int]) -> Content | None:
        """Dials after some resets; None while nobody knows them."""
        whole: dict[str, Value] | None = None if here is None else dict(here)
        for reset in resets:
            if whole is None and not self.body.resets[reset].dials:
                whole = {d.id: self.body.shipped[d.id] for d in self.body.held}
            elif whole is not None:
                whole = put_back(self.body, whole, reset)
        return whole

    def held_by(self, key: str, done: bool) -> Content | None:
        """What a slot holds before it is done, or after."""
        if done and key in self.aims:
            return self.aims[key]
        there = self.there.slots.get(key)
        return None if there is None else {d.id: there.dials[d.id] for d in self.body.held}

    def passing_cost(self, key: str, after: Sequence[int]) -> float:
        """The same where dials are turned on the first way through the menu."""
        if self.now is None:
            return math.inf
        off = self.turned(self.now, self.aims[key], after)
        if off is None:
            return math.inf
        both = {**off, **self.settings}
        return self.visits(both) - self.visits(self.settings) + self._to_save(0, key, after)

    @cached_property
    def settings(self) -> dict[tuple[str, bool], tuple[int, int]]:
        """Settings beside the look that have to be turned."""
        out = {}
        for name, value in self.beside.items():
            dial = self.body.beside_by_id[name]
            out[name, True] = dial.position(self.there.beside[name]), dial.position(value)
        return out

    # ---- which way ---------------------------------------------------------------------------
    @cached_property
    def resets(self) -> list[tuple[tuple[int, ...], tuple[int, ...]]]:
        """Ways to use resets: those before what is turned, and those after."""
        every = range(min(len(self.body.resets), MOST_RESETS))
        out = []
        for many in range(len(every) + 1):
            for used in itertools.permutations(every, many):
                out += [(used[:k], used[k:]) for k in range(many + 1)]
        return out

    def best(self, last: str, key: str, done: frozenset[str]) -> tuple[float, _Chain]:
        """The cheapest chain from the slot that was saved last, or the first time on the last page,
        to another one saved."""
        line = self.lines["save", last] if last else 0
        cost, chain = self._without_call(last, key)
        for call in self.there.slots:
            from_here = up_down(line, self.lines["call", call])
            if from_here < cost:
                called, way = self._with_call(call, key, call in done)
                if from_here + called < cost:
                    cost, chain = from_here + called, way
        return cost, chain

    def _without_call(self, last: str, key: str) -> tuple[float, _Chain]:
        at = last, key, False
        if at not in self._known:
            line, here = (self.lines["save", last], self.aims[last]) if last else (0, self.now)
            self._known[at] = self._least(line, here, key, "")
        return self._known[at]

    def _with_call(self, call: str, key: str, done: bool) -> tuple[float, _Chain]:
        """The same from the line on which a slot is called, that press included."""
        at = f"call {call}", key, done
        if at not in self._known:
            line = self.lines["call", call]
            cost, chain = self._least(line, self.held_by(call, done), key, call)
            self._known[at] = cost + 1, chain
        return self._known[at]

    def _least(self, line: int, here: Content | None, key: str, call: str) -> tuple[float, _Chain]:
        chains = (_Chain(call, before, after) for before, after in self.resets)
        found = ((self.cost(line, here, key, chain), chain) for chain in chains)
        return min(found, key=lambda pair: pair[0])

    def order(self) -> list[tuple[str, _Chain]]:
        """The slots in the order in which they are done, with how."""
        first = {}
        for key in self.tasks:
            through = min(
                ((self.passing_cost(key, a), _Chain("", (), a, True)) for _, a in self.resets),
                key=lambda pair: pair[0],
            )
            later = self.best("", key, frozenset())
            first[key] = min(through, later, key=lambda pair: pair[0])
        if len(self.tasks) > EXACT:
            return self._nearest(first)
        return self._shortest(first)

    def _shortest(self, first: Mapping[str, tuple[float, _Chain]]) -> list[tuple[str, _Chain]]:
        """By the costs of all orders, put together from the back (Held and Karp, 1962)."""
        known: dict[tuple[str, frozenset[str]], tuple[float, list[tuple[str, _Chain]]]] = {
            (key, frozenset([key])): (cost, [(key, chain)]) for key, (cost, chain) in first.items()
        }
        for _ in self.tasks[1:]:
            grown: dict[tuple[str, frozenset[str]], tuple[float, list[tuple[str, _Chain]]]] = {}
            for (last, done), (cost, way) in known.items():
                for key in self.tasks:
                    if key in done:
                        continue
                    more, chain = self.best(last, key, done)
                    at = key, done | {key}
                    if at not in grown or cost + more < grown[at][0]:
                        grown[at] = cost + more, [*way, (key, chain)]
            known = grown
        return min(known.values(), key=lambda pair: pair[0])[1]

    def _nearest(self, first: Mapping[str, tuple[float, _Chain]]) -> list[tuple[str, _Chain]]:
        key = min(first, key=lambda k: first[k][0])
        way, done = [(key, first[key][1])], frozenset([key])
        while len(done) < len(self.tasks):
            last = key
            left = {k: self.best(last, k, done) for k in self.tasks if k not in done}
            key = min(left, key=lambda k: left[k][0])
            way.append((key, left[key][1]))
            done |= {key}
        return way

    # ---- as presses --------------------------------------------------------------------------
    def found(self) -> tuple[Press, ...]:
        """The list."""
        if not self.tasks and not self.beside:
            return ()
        order = self.order() if self.tasks else []
        writer = _Writer(self)
        passing = order[0] if order and order[0][1].passing else None
        off = dict(self.settings)
        if passing:
            turned = self.turned(self.now or {}, self.aims[passing[0]], passing[1].after)
            off |= turned or {}
        writer.open()
        writer.turn(off, passing[0] if passing else "")
        here: Content | None = self.now
        done: frozenset[str] = frozenset()
        for key, chain in order:
            here = writer.bring(key, chain, here, done)
            done |= {key}
        return tuple(writer.steps)


class _Writer:
    """Writes presses down, and knows where in the menu they lead."""

    def __init__(self, way: _Way) -> None:
        self.way, self.steps = way, list[Press]()
        self.page = self.line = 0
        self.begun: tuple[str, ...] = ()

    def open(self) -> None:
        """The menu is opened by the first press of the list."""
        self.begun = (MENU,)

    def _go(self, page: int, line: int) -> tuple[str, ...]:
        back = self.page - page
        if back > 0 and back_to(self.page, page) < back:
            across = (MENU, MENU, *(RIGHT,) * page)
        elif back:
            across = (RIGHT,) * -back + (LEFT,) * back
        else:
            across = (LEFT, RIGHT) if up_down(self.line, line) < abs(self.line - line) else ()
        top = 0 if across else self.line
        down = (DOWN,) * (line - top) + (UP,) * (top - line)
        self.page, self.line = page, line
        begun, self.begun = self.begun, ()
        return begun + across + down

    def _add(self, words: str, buttons: tuple[str, ...], slot: str) -> None:
        self.steps.append(Press(self.way.pages[self.page].name, words, buttons, slot))

    def turn(self, off: Mapping[tuple[str, bool], tuple[int, int]], slot: str) -> None:
        """Turn dials, in the order of the menu."""
        body = self.way.body
        for key in sorted(off, key=lambda k: self.way.at[k]):
            dial: Dial = body.beside_by_id[key[0]] if key[1] else body.dial(key[0])
            a, b = off[key]
            go = self._go(*self.way.at[key])
            turns = (UP,) * (b - a) + (DOWN,) * (a - b)
            words = f"{dial.label} {dial.choices[a].label} → {dial.choices[b].label}"
            self._add(words, (*go, OK, *turns, OK), "" if key[1] else slot)

    def act(self, act: str, of: str, slot: str) -> None:
        """Do what a line of the last page says."""
        line = self.way.lines[act, of]
        self._go_and(line, self.way.pages[self.way.last].lines[line], slot)

    def _go_and(self, line: int, shown: Line, slot: str) -> None:
        go = self._go(self.way.last, line)
        self._add(shown.label, (*go, OK), slot)

    def bring(self, key: str, chain: _Chain, here: Content | None, done: frozenset[str]) -> Content:
        """A slot brought about and saved."""
        way = self.way
        if not chain.passing:
            if chain.call:
                self.act("call", chain.call, key)
                here = way.held_by(chain.call, chain.call in done)
            for reset in chain.before:
                self.act("reset", str(reset), key)
            here = way.after(here, chain.before)
            self.turn(way.turned(here or {}, way.aims[key], chain.after) or {}, key)
        for reset in chain.after:
            self.act("reset", str(reset), key)
        self.act("save", key, key)
        return way.aims[key]
