"""Notes: what moved, which settings made a picture, one change at a time, what comes back."""

import itertools
import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body
from zesty_plum.core.develop.sense import Programme, expose
from zesty_plum.core.look import Balance
from zesty_plum.core.notes import recurring, search, singly, which
from zesty_plum.core.notes.moves import moves, suggested, told
from zesty_plum.core.recipe import make
from zesty_plum.core.recipe.search import parse
from zesty_plum.core.styles import style

HERON, WADER = body("heron-m2"), body("wader-v1")


def recipe(**dials):
    return make("x", "heron-m2", dials)


def test_what_moved_is_told_as_printed_and_suggests_tags():
    one, two = recipe(shift_amber=20, shift_green=1), recipe(shift_green=1, style="ink")
    two = replace(two, dials={**two.dials, "shift_amber": 10})
    found = moves(one, two)
    assert {(m.dial, m.up) for m in found} == {("shift_amber", -1), ("style", 0)}
    assert told(one, moves(one, recipe(shift_amber=10)), False) == (
        "blue to amber +20 mired, pink to green +0.001 Duv"
    )
    assert set(suggested(one, two, ["skin much warmer"])) == {"white balance", "style", "skin"}
    assert moves(one, make("y", "wader-v1", {})) == ()


# ---- what keeps coming back ----------------------------------------------------------------------
@given(of=st.integers(1, 200), share=st.floats(0, 1))
def test_intervals_of_shares_are_wilsons(of, share):
    many = round(of * share)
    other = stats.binomtest(many, of).proportion_ci(0.95, "wilson")
    assert recurring.wilson(many, of) == pytest.approx((other.low, other.high), abs=1e-5)


def test_the_interval_of_a_difference_holds_what_it_says():
    """Over all outcomes of two shares, by their own chances, the true difference lies within in
    about 95 of 100."""
    for p, q in ((0.8, 0.45), (0.5, 0.5), (0.9, 0.6), (0.3, 0.7)):
        held = sum(
            stats.binom.pmf(a, 18, p) * stats.binom.pmf(b, 15, q)
            for a in range(19)
            for b in range(16)
            if recurring.apart(a, 18, b, 15)[0] <= p - q <= recurring.apart(a, 18, b, 15)[1]
        )
        assert 0.925 <= held <= 0.985
    assert recurring.apart(9, 10, 3, 10)[0] > 0 > recurring.apart(3, 10, 5, 10)[0]


def tried(kept, words=(), **then):
    return recurring.Tried(recipe(), recipe(**then), kept, tuple(words))


def test_nothing_is_said_of_a_handful_and_counts_are_told():
    few = [tried(True, ["skin warmer"], noise_filter=1)] * 4
    assert recurring.comes_back(few) == []
    many = [
        *[tried(True, [f"skin warmer by {n} mired"], shift_green=-2) for n in (8, 9, 12, 14)],
        tried(False, [], shift_green=-3),
        *[tried(True, [], noise_filter=1)] * 5,
    ]
    said = recurring.comes_back(many)
    assert "Skin warmer: 4 of 10 trials, all with Pink to green lowered." in said
    assert "Pink to green lowered: kept 4 of 5 times (38 to 96 %)." in said
    assert "Noise filter raised: kept 5 of 5 times (57 to 100 %)." in said


def test_single_changes_are_compared_only_where_that_can_be_told():
    one = [tried(True, noise_filter=1)] * 12 + [tried(False, noise_filter=2)]
    two = [tried(False, noise_filter=1, clarity=1)] * 9 + [tried(True, noise_filter=1, clarity=1)]
    said = recurring.comes_back([*one, *two])[-1]
    assert said == "Trials with one change were kept more often: 12 of 13, with several 1 of 10."
    even = [tried(k, noise_filter=1, clarity=1) for k in (True, True, True, False, True)]
    assert not any("one change" in s for s in recurring.comes_back([*one, *even]))


# ---- which settings ------------------------------------------------------------------------------
def contents(draw):
    """A slot's content that differs in what files tell, or does not."""
    return dict(recipe(
        guard=draw.choice([0, 1, 2]),
        white_balance=draw.choice(["auto", "keep_warm", "daylight", "lamps"]),
        style=draw.choice(["linen", "plain", "ink", "bunting"]),
        grain=draw.choice(["none", "flour"]),
    ).dials)  # fmt: skip


def made_up(seed):
    """A camera's life: slots, readings at random, changes between them, and pictures taken with a
    slot each, with what their files tell; and what stood in every slot at each of them."""
    draw = random.Random(seed)
    slots = {str(k): contents(draw) for k in range(1, draw.choice([1, 2, 3, 4]) + 1)}
    readings, pictures, clock = [], [], 0.0
    for _ in range(draw.randint(4, 14)):
        clock += draw.uniform(50, 900)
        event = draw.choice(["read", "read", "change", "picture", "picture", "picture"])
        if event == "read":
            readings.append(which.Read(clock, {k: dict(v) for k, v in slots.items()}))
        elif event == "change":
            slots = {**slots, draw.choice(list(slots)): contents(draw)}
        else:
            key = draw.choice(list(slots))
            look = HERON.interpret(slots[key])
            asked = Programme(look.guard, 0.0, look.iso_least, look.iso_most)
            exposed = expose(HERON.sensor, draw.uniform(0, 15), asked)
            pictures.append((key, dict(slots[key]), which.Evidence(
                clock, False, exposed.iso * draw.uniform(0.95, 1.05), exposed.aperture,
                exposed.time, draw.choice([0.0, -1.0]), look.balance is Balance.FIXED,
                style(look.style).monochrome if draw.random() < 0.8 else None,
            )))  # fmt: skip
    return which.History(1, HERON, readings, "A"), pictures


def ideal(history, told):
    """All contents that a slot can have had and that the file does not speak against, found by
    trying; None where a slot changed unseen."""
    before = [r for r in history.readings if r.when <= told.when]
    after = [r for r in history.readings if r.when > told.when]
    if not before:
        return None
    left = []
    for key, content in before[-1].slots.items():
        if after and after[0].slots[key] != content:
            return None
        look = HERON.interpret(content)
        floor = max(HERON.sensor.base_iso * 2**look.guard, look.iso_least)
        fits = (
            told.iso >= floor * 0.9
            and told.by_hand == (look.balance is Balance.FIXED)
            and told.mono in (None, style(look.style).monochrome)
        )
        if fits and content not in left:
            left.append(content)
    return left


def test_which_settings_is_never_wrong_and_answers_where_one_fits():
    answered = one_fits = known = unsure = 0
    for seed in range(500):
        history, pictures = made_up(seed)
        for key, content, told_ in pictures:
            found = which.which([history], told_, "A0001.JPG")
            left = ideal(history, told_)
            if found.how == which.KNOWN:
                known += 1
                assert all(dict(h.content) == content for h in found.held), (seed, key)
            if left is not None and len(left) > 1:
                unsure += 1
                assert found.how == which.CANNOT
            if left is not None and len(left) == 1:
                one_fits += 1
                answered += found.how in (which.KNOWN, which.LIKELY)
    assert known > 150
    assert unsure > 30
    assert answered >= 0.95 * one_fits > 200


def test_a_name_tells_the_camera_and_the_longest_letter_wins():
    a, b = (which.History(k, WADER, [which.Read(0, {"1": make("x", "wader-v1", {}).dials})], x)
            for k, x in ((1, "A"), (2, "AB")))  # fmt: skip
    told_ = which.Evidence(5, bias=0.0)  # which slots of a Wader hold, and those of a Heron do not
    assert which.which([a, b], told_, "AB_1.JPG").held[0].case == 2
    assert which.which([a, b], told_, "a_1.JPG").held[0].case == 1
    assert which.which([a, b], told_, "X_1.JPG").how == which.CANNOT
    assert which.which([a], replace(told_, bias=2.0), "A1").how == which.NOTHING
    assert which.which([a], replace(told_, when=-5), "A1").how == which.CANNOT


# ---- one change at a time ------------------------------------------------------------------------
def test_a_plan_is_one_dial_and_says_what_came_of_it():
    made = singly.plan(
        recipe(noise_filter=1), "noise_filter", (2, 0, 1), ["loft", " the hall ", "loft"]
    )
    assert (made.places, made.lights) == ((0, 1, 2), ("loft", "the hall"))
    assert [r.dials["noise_filter"] for r in made.recipes.values()] == [0, 1, 2]
    assert singly.result(made, {}) == "Nothing has been looked at yet."
    one = {("loft", 1): "best", ("loft", 0): "bad"}
    assert singly.result(made, one) == (
        "Noise filter 1 was best under loft. One light is still to be looked at."
    )
    both = {**one, ("the hall", 1): "best"}
    assert singly.result(made, both).startswith(
        "Noise filter 1 was best under all 2 lights; so few say"
    )
    torn = {**one, ("loft", 2): "best"}
    assert "more than one is marked best" in singly.result(made, torn)
    split = {**one, ("the hall", 2): "best"}
    assert singly.result(made, split) == (
        "Noise filter 1 was best under loft. Noise filter 2 was best under the hall."
    )


def test_two_dials_at_once_are_said():
    made = singly.plan(recipe(), "noise_filter", (0, 1), ["loft"])
    assert singly.confounded(made, recipe(noise_filter=1)) == ""
    assert singly.confounded(made, recipe(noise_filter=1, clarity=1)) == (
        "Two dials moved, Noise filter, Clarity: you cannot tell which."
    )
    assert "Another body" in singly.confounded(made, make("x", "wader-v1", {}))
    for places, lights, says in (((0,), ["x"], "2 to 9 places"), ((0, 1), [" "], "1 to 12 lights")):
        with pytest.raises(PlumError, match=says):
            singly.plan(recipe(), "noise_filter", places, lights)


# ---- finding -------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("asked", "holds"),
    [
        ("skin kept:kept", True), ("-kept:kept", False), ("grain>0", True), ("grain=0", False),
        ("moved:grain", True), ("moved:clarity", False), ("open:yes", True), ("day:2026-11", True),
        ('tag:"my own"', True), ("style:ink", False), ("kelvin<4000", False),
    ],
)  # fmt: skip
def test_notes_are_found_by_the_librarys_grammar(asked, holds):
    texts = {"kept": "kept", "moved": "Grain grain", "open": "yes", "day": "2026-11-07",
             "seen": "the skin is better", "tag": "my own", "style": "Linen"}  # fmt: skip
    query = parse(asked, search.FIELDS)
    assert not query.notes
    assert search.holds(query, texts, recipe(grain="flour")) == holds


def test_no_two_ways_of_the_grammar_contradict():
    """A condition and its opposite split all trials in two."""
    texts = {"kept": "kept", "moved": "", "seen": "x"}
    for field, value in itertools.product(("kept", "moved", "seen"), ("kept", "x", "zz")):
        yes = search.holds(parse(f"{field}:{value}", search.FIELDS), texts, recipe())
        no = search.holds(parse(f"-{field}:{value}", search.FIELDS), texts, recipe())
        assert yes != no
