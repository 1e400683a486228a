"""The shortest way: carried out on the camera it leaves no difference, and on small menus no search
of all buttons finds a shorter one."""

import random
from collections import deque
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zesty_plum.core.bodies import Body, Choice, Dial, Reset, body, shipped
from zesty_plum.core.kit.menu import BUTTONS, Camera, pages
from zesty_plum.core.kit.presses import presses, total
from zesty_plum.core.kit.state import Held, State
from zesty_plum.core.kit.state import shipped as as_bought


def carried_out(camera: Camera, steps) -> Camera:
    for step in steps:
        for button in step.buttons:
            camera = camera.press(button)
    return camera


def differs(camera: Camera, plan: State) -> bool:
    there = camera.state
    slots = any(dict(there.slots[k].dials) != dict(h.dials) for k, h in plan.slots.items())
    return slots or any(there.beside[k] != v for k, v in plan.beside.items())


def moved(made: Body, state: State, hand: random.Random, slots: int, dials: int, beside: int):
    for key in hand.sample(sorted(state.slots), slots):
        there = dict(state.slots[key].dials)
        for name in hand.sample(sorted(there), dials):
            there[name] = hand.choice(made.dial(name).values)
        state = state.with_slot(key, Held(there))
    more = dict(state.beside)
    for name in hand.sample(sorted(more), min(beside, len(more))):
        more[name] = hand.choice(made.beside_by_id[name].values)
    return replace(state, beside=more)


@settings(max_examples=40, deadline=None)
@given(st.sampled_from(sorted(shipped())), st.integers(0, 10**6), st.booleans())
def test_the_list_carried_out_leaves_no_difference(name, seed, knows):
    """Whatever somebody changed on a body, and whether what is set now is known or not."""
    made, hand = body(name), random.Random(seed)
    plan = moved(made, as_bought(made), hand, min(3, made.slots), 4, 2)
    there = moved(made, plan, hand, hand.randint(0, min(3, made.slots)), 3, 2)
    camera = Camera(made, there)
    steps = presses(made, there if knows else replace(there, now=None), plan)
    after = carried_out(camera, steps)
    assert not differs(after, plan)
    assert bool(steps) == differs(camera, plan)
    assert all(step.count and step.words for step in steps)
    pages_ = [page.name for page in pages(made)]
    assert {step.page for step in steps} <= set(pages_)


def dial(name: str, group: str, many: int) -> Dial:
    choices = tuple(Choice(k, str(k)) for k in range(many))
    return Dial(name, name, group, "steps", "", "", "", choices, 0)


def small(resets) -> Body:
    """Two pages, three dials, two slots."""
    dials = (dial("a", "One", 3), dial("b", "Two", 3), dial("c", "Two", 2))
    return replace(
        body("dunlin-4"),
        dials=dials,
        pairs=(),
        slots=2,
        resets=resets,
        beside=(dial("quiet", "Beside", 2),),
        outside=(),
    )


def searched(camera: Camera, plan: State) -> int:
    """Presses by breadth-first search over all buttons."""

    def key(c: Camera):
        s = c.state
        slots = tuple(tuple(sorted(h.dials.items())) for _, h in sorted(s.slots.items()))
        return c.screen, tuple(sorted(s.now.items())), slots, tuple(sorted(s.beside.items()))

    seen, queue = {key(camera)}, deque([(camera, 0)])
    while queue:
        here, many = queue.popleft()
        if not differs(here, plan):
            return many
        for button in BUTTONS:
            there = here.press(button)
            name = key(there)
            if name not in seen:
                seen.add(name)
                queue.append((there, many + 1))
    raise AssertionError("no way")


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize(
    "resets", [(), (Reset("All"),), (Reset("All"), Reset("Two", ("b", "c")))], ids=len
)
def test_on_a_small_menu_no_shorter_way_exists(resets, seed):
    made, hand = small(resets), random.Random(seed)
    plan = moved(made, as_bought(made), hand, 2, 2, 1)
    there = moved(made, as_bought(made), hand, 2, 2, 1)
    there = replace(there, now={d.id: hand.choice(d.values) for d in made.dials})
    assert total(presses(made, there, plan)) == searched(Camera(made, there), plan)
