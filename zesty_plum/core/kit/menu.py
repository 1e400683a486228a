"""The menu of an invented body, and what its buttons do: pages are the groups of its dials and of
its settings beside the look in their order, then Slots, with resets, calls and saves.

Opened, it shows its first page, on the first line. Left and right go from page to page and land on
the first line, up and down from line to line; neither goes round. OK opens a dial for up and down
to turn, and OK again keeps it; on the last page OK does what the line says at once.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..bodies import Body, Dial, Value
from .state import Held, State, held, slots

SLOTS = "Slots"
MENU, LEFT, RIGHT, UP, DOWN, OK = "menu", "left", "right", "up", "down", "ok"
BUTTONS = (MENU, LEFT, RIGHT, UP, DOWN, OK)


@dataclass(frozen=True)
class Line:
    """A line of the menu: a dial or setting, or something it does: `act` is reset, call or save,
    `of` the reset's number or the slot's key."""

    label: str
    dial: str = ""
    beside: bool = False
    act: str = ""
    of: str = ""


@dataclass(frozen=True)
class Page:
    """A page of the menu with its lines."""

    name: str
    lines: tuple[Line, ...]


def pages(body: Body) -> tuple[Page, ...]:
    """All pages, Slots last. A group that comes again further down is a page of its own."""
    out: list[tuple[str, list[Line]]] = []
    for beside, dials in ((False, body.dials), (True, body.beside)):
        for dial in dials:
            if not out or out[-1][0] != dial.group:
                out.append((dial.group, []))
            out[-1][1].append(Line(dial.label, dial.id, beside))
    last = [Line(f"Reset: {r.label}", act="reset", of=str(k)) for k, r in enumerate(body.resets)]
    for word, act in (("Call", "call"), ("Save over", "save")):
        last += [Line(f"{word} {s.label}", act=act, of=s.key) for s in slots(body)]
    return (*(Page(name, tuple(lines)) for name, lines in out), Page(SLOTS, tuple(last)))


@dataclass(frozen=True)
class Screen:
    """What the camera shows: whether its menu is open, at which page and line, and the place of the
    dial that is open, or None."""

    is_open: bool = False
    page: int = 0
    line: int = 0
    place: int | None = None


@dataclass(frozen=True)
class Camera:
    """An invented camera: its body, what is in it, and what it shows."""

    body: Body
    state: State
    screen: Screen = Screen()
    menu: tuple[Page, ...] = ()

    def __post_init__(self) -> None:
        object.__setattr__(self, "menu", self.menu or pages(self.body))

    @property
    def line(self) -> Line:
        """The line that it stands on."""
        return self.menu[self.screen.page].lines[self.screen.line]

    def press(self, button: str) -> "Camera":
        """The camera after a button; one that does nothing there leaves it as it is."""
        if button == MENU:
            return replace(self, screen=Screen(not self.screen.is_open))
        if not self.screen.is_open:
            return self
        if self.screen.place is not None:
            return self._turned(button)
        return self._acted() if button == OK else self._moved(button)

    def _moved(self, button: str) -> "Camera":
        screen, every = self.screen, self.menu
        if button in (LEFT, RIGHT):
            page = screen.page + (1 if button == RIGHT else -1)
            if not 0 <= page < len(every):
                return self
            return replace(self, screen=replace(screen, page=page, line=0))
        line = screen.line + (1 if button == DOWN else -1)
        if not 0 <= line < len(every[screen.page].lines):
            return self
        return replace(self, screen=replace(screen, line=line))

    def _dial(self) -> tuple[Dial, Value]:
        line = self.line
        if line.beside:
            return self.body.beside_by_id[line.dial], self.state.beside[line.dial]
        return self.body.dial(line.dial), (self.state.now or {})[line.dial]

    def _acted(self) -> "Camera":
        line = self.line
        if line.dial:
            dial, value = self._dial()
            return replace(self, screen=replace(self.screen, place=dial.position(value)))
        return replace(self, state=acted(self.body, self.state, line))

    def _turned(self, button: str) -> "Camera":
        dial, _ = self._dial()
        place = self.screen.place or 0
        if button == OK:
            value, line, state = dial.values[place], self.line, self.state
            if line.beside:
                state = replace(state, beside={**state.beside, line.dial: value})
            else:
                state = replace(state, now={**(state.now or {}), line.dial: value})
            return replace(self, state=state, screen=replace(self.screen, place=None))
        step = {UP: 1, DOWN: -1}.get(button, 0)
        inside = min(max(place + step, 0), len(dial.values) - 1)
        return replace(self, screen=replace(self.screen, place=inside))


def acted(body: Body, state: State, line: Line) -> State:
    """What a line of the last page does."""
    now = dict(state.now or {})
    if line.act == "reset":
        return replace(state, now=put_back(body, now, int(line.of)))
    if line.act == "call":
        return replace(state, now={**now, **state.slots[line.of].dials})
    name = state.slots[line.of].name if line.of in state.slots else ""
    return state.with_slot(line.of, Held(held(body, now), name))


def put_back(body: Body, now: Mapping[str, Value], reset: int) -> dict[str, Value]:
    """Dials after a reset."""
    dials = body.resets[reset].dials or tuple(body.by_id)
    return {k: body.shipped[k] if k in dials else v for k, v in now.items()}
