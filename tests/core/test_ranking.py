"""Blind rounds and flat pictures: rankings against SciPy and simulated people, grades against what
they promise."""

import itertools
import random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import optimize, stats

from tests.builders import HERON, flat_scene, rendered
from zesty_plum.core import scenes
from zesty_plum.core.colour.lab import encoded_to_lab
from zesty_plum.core.develop.grade import graded, standard_grade
from zesty_plum.core.judge import liked, ranking
from zesty_plum.core.judge.ranking import Choice
from zesty_plum.core.measure.compare import compare, difference, to_lab
from zesty_plum.core.measure.looking import look_at
from zesty_plum.core.recipe import make


def answers(strengths, seed, count=None, scenes_=2):
    """A round answered by a person whose choices follow Bradley and Terry's law."""
    dice, choices = np.random.default_rng(seed), []
    for _ in range(count or ranking.length(len(strengths))):
        left, right, scene = ranking.ask(len(strengths), scenes_, choices, seed)
        p = 1 / (1 + np.exp(-(strengths[left] - strengths[right])))
        choices.append(Choice(left, right, scene, float(dice.random() < p)))
    return choices


@settings(max_examples=20)
@given(st.lists(st.floats(-2, 2), min_size=2, max_size=7), st.integers(0, 1000))
def test_strengths_and_intervals_are_those_of_scipy(strengths, seed):
    """The top of the posterior by another optimiser, and its curvature by finite differences."""
    choices, n = answers(np.array(strengths), seed), len(strengths)

    left, right, won = (
        np.array([getattr(c, k) for c in choices]) for k in ("left", "right", "won")
    )

    def loss(a):
        ahead = a[left] - a[right]
        lost = won * stats.logistic.logcdf(ahead) + (1 - won) * stats.logistic.logcdf(-ahead)
        return sum(a**2) / (2 * ranking.PRIOR**2) - lost.sum()

    best = optimize.minimize(loss, np.zeros(n), method="BFGS", options={"gtol": 1e-7}).x
    step = 1e-4 * np.eye(n)
    curve = np.array(
        [
            [
                (loss(best + i + j) - loss(best + i - j) - loss(best - i + j) + loss(best - i - j))
                / 4e-8
                for j in step
            ]
            for i in step
        ]
    )
    middle = np.eye(n) - 1 / n
    spread = np.sqrt(np.diag(middle @ np.linalg.inv(curve) @ middle))
    places = {p.look: p for p in ranking.rank(n, choices).places}
    for k in range(n):
        assert places[k].strength == pytest.approx((best - best.mean())[k], abs=1e-3)
        assert (places[k].high - places[k].low) / 2 == pytest.approx(
            stats.norm.ppf(0.95) * spread[k], rel=0.01, abs=1e-4
        )


def test_a_known_order_is_found_within_the_stated_confidence():
    """Two hundred simulated people: intervals hold the truth about as often as they say, and a sure
    first is the first."""
    truth = np.array([1.5, 0.6, 0.0, -0.7, -1.4])
    held, first, said = 0, 0, 0.0
    for seed in range(200):
        found = ranking.rank(5, answers(truth, seed, 28))
        held += sum(p.low <= truth[p.look] <= p.high for p in found.places)
        first += found.places[0].look == 0
        said += found.places[0].best
    assert 0.85 <= held / 1000 <= 0.99  # said: 0.90
    assert first / 200 > 0.75
    assert abs(first - said) / 200 < 0.12  # the chance that is stated is the share that is right
    sure = [
        r
        for seed in range(200)
        if (r := ranking.rank(5, answers(truth, 1000 + seed, 40))).sure > 0.95
    ]
    assert len(sure) > 30
    assert sum(r.places[0].look == 0 for r in sure) / len(sure) > 0.9


def test_adaptive_pairs_tell_more_than_random_ones():
    truth = np.linspace(2, -2, 8)
    adaptive, random_ = [], []
    for seed in range(60):
        asked = answers(truth, seed, 36)
        dice, plain = np.random.default_rng(seed), []
        for _ in range(36):
            i, j = dice.choice(8, 2, replace=False)
            plain.append(
                Choice(
                    int(i), int(j), 0, float(dice.random() < 1 / (1 + np.exp(truth[j] - truth[i])))
                )
            )
        for kept, choices in ((adaptive, asked), (random_, plain)):
            kept.append(
                stats.kendalltau(
                    [p.look for p in ranking.rank(8, choices).places], range(8)
                ).statistic
            )
    assert np.mean(adaptive) > np.mean(random_) - 0.02
    shown = {k for c in answers(truth, 3, 5) for k in (c.left, c.right)}
    assert len(shown) >= 8  # everybody is seen before anybody is seen twice


def test_questions_are_the_same_for_the_same_answers_sides_are_even_and_repeats_are_told():
    choices = answers(np.zeros(6), 11, 120)
    assert [ranking.ask(6, 2, choices[:k], 11) for k in range(120)] == [
        (c.left, c.right, c.scene) for c in choices
    ]
    assert all(c.left != c.right for c in choices)
    assert 0.35 < np.mean([c.left < c.right for c in choices]) < 0.65
    agreed, repeated = ranking.steady(
        [Choice(0, 1, 0, 1.0), Choice(1, 0, 0, 0.0), Choice(1, 0, 0, 1.0), Choice(0, 1, 1, 1.0)]
    )
    assert (agreed, repeated) == (1, 2)
    assert ranking.steady(choices)[1] >= 120 // ranking.REPEAT_EVERY - 1


@given(st.permutations(range(6)), st.permutations(range(6)))
def test_agreement_is_kendalls(one, two):
    first, second = (
        ranking.Ranking([ranking.Place(k, 0, 0, 0, 0) for k in order], 1.0) for order in (one, two)
    )
    at = [[order.index(k) for k in range(6)] for order in (one, two)]
    assert ranking.alike(first, second) == pytest.approx(stats.kendalltau(*at).statistic)


def test_what_is_preferred_is_said_and_nothing_else():
    kelvins = [3500, 4000, 4300, 5500, 6000, 7200]
    values = [min(HERON.dial("kelvin").values, key=lambda v, k=k: abs(v - k)) for k in kelvins]
    recipes = [
        make(
            f"K{v}",
            HERON.id,
            {"white_balance": "kelvin", "kelvin": v, "clarity": 1 if v > 5000 else 0},
        )
        for v in values
    ]
    scene = scenes.load("corner")
    measured = [look_at(scene, r, 240).report for r in recipes]
    choices = [Choice(i, j, 0, float(i > j)) for i, j in itertools.permutations(range(6), 2)]
    said = liked.in_common(
        ranking.rank(6, choices), recipes, choices, lambda look, scene: measured[look]
    )
    assert said[0].startswith("You preferred the warmer of two, by ")
    assert "All of those you preferred have Clarity at +1, none of the others." in said
    assert not any(word in s for s in said for word in ("firmer", "clipped"))
    same = [recipes[0]] * 4
    assert liked.in_common(ranking.rank(4, []), same, [], lambda look, scene: measured[0]) == []


def test_who_always_takes_the_firmer_print_is_told_so_whatever_else_differs():
    """Seven recipes that differ in contrast and, as much, in warmth, chosen between by contrast. Of
    rounds that are answered by a coin most say nothing."""
    dice = random.Random(4)
    styles = ("linen", "ledger", "plain", "bunting", "driftwood", "kelp", "wet-slate")
    shifts = [5 * dice.randint(-4, 4) for _ in styles]
    recipes = [
        make(s, HERON.id, {"style": s, "shift_amber": k})
        for s, k in zip(styles, shifts, strict=True)
    ]
    scene = scenes.load("corner")
    seen = [look_at(scene, r, 240).report for r in recipes]
    firm = [r.curve.middle for r in seen]
    pairs = list(itertools.combinations(range(len(recipes)), 2))
    choices = [Choice(i, j, 0, float(firm[i] > firm[j])) for i, j in pairs]
    said = liked.preferences(choices, lambda look, place: seen[look])
    assert said[0].startswith("You preferred the firmer of two, by ")
    told = 0
    for evening in range(40):
        dice = random.Random(evening)
        blind = [Choice(i, j, 0, float(dice.random() < 0.5)) for i, j in pairs]
        told += bool(liked.preferences(blind, lambda look, place: seen[look]))
    assert told <= 40 * 0.5


def test_a_preference_is_scipys_logistic_regression():
    dice = np.random.default_rng(5)
    x = dice.normal(size=(40, 2))
    won = (dice.random(40) < 1 / (1 + np.exp(-(x @ [1.2, -0.4])))).astype(float)
    scale = np.sqrt((x**2).mean(0))

    def cost(b):
        odds = (x / scale) @ b
        return (np.log1p(np.exp(odds)) - won * odds).sum() + (b**2).sum() / 2 / liked.PRIOR**2

    theirs = optimize.minimize(cost, np.zeros(2))
    slope, half = liked._fit(x, won)
    assert slope == pytest.approx(theirs.x[-1], abs=1e-3)
    assert half == pytest.approx(1.645 * np.sqrt(theirs.hess_inv[-1, -1]), rel=0.05)


def test_questions_go_round_all_scenes():
    choices = []
    for k in range(24):
        left, right, scene = ranking.ask(5, 4, choices, 3)
        choices.append(Choice(left, right, scene, float(k % 2)))
    counts = np.bincount([c.scene for c in choices], minlength=4)
    assert counts.min() >= 4


@pytest.mark.parametrize("name", ["ledger", "linen"])
def test_a_flat_look_is_graded_to_plain(name):
    """Greys come out as Plain's, colours about as full; a firm look is left alone."""
    scene, look = scenes.load("table"), HERON.interpret({"style": name})
    grade = standard_grade(scene, look, HERON.sensor)
    flat, plain = rendered(scene, 300, style=name), rendered(scene, 300)
    labs = [
        encoded_to_lab(p)
        for p in (
            graded(flat, grade).astype(np.float32) / 255,
            plain.encoded,
            flat.encoded,
        )
    ]
    chroma = [float(np.hypot(lab[..., 1], lab[..., 2]).mean()) for lab in labs]
    assert abs(chroma[0] - chroma[1]) < 0.08 * chroma[1] + abs(min(0, chroma[1] - chroma[2]))
    spread = [float(lab[..., 0].std()) for lab in labs]
    assert abs(spread[0] - spread[1]) < 0.25 * abs(spread[2] - spread[1]) + 0.3
    assert standard_grade(scene, HERON.interpret({"style": "bunting"}), HERON.sensor).idle


def test_bands_of_a_graded_ramp_are_as_many_as_the_codes_say():
    """A smooth ramp, flat at 8 bit, then graded: its largest step is what `steepest` says, and a
    quarter of that at 10 bit."""
    scene = flat_scene(0.18, (64, 2400), ev100=16)
    scene.pixels[:] = (
        scene.pixels * np.exp2(np.linspace(-5, 2.4, 2400, dtype=np.float32))[None, :, None]
    )
    look = HERON.interpret({"style": "ledger"})
    grade = standard_grade(scene, look, HERON.sensor)
    codes = [grade.steepest(bits, False) for bits in (8, 10)]
    assert codes[1] == pytest.approx(codes[0] / 4, rel=0.05)
    ramp = np.repeat(np.linspace(0, 1, 256)[None, :, None], 3, -1)
    steps = np.diff(grade.apply(ramp)[0, :, 1]) * 255
    assert steps.max() == pytest.approx(codes[0], rel=0.01)
    assert (steps >= -1e-4).all()


def test_differences_by_region_are_those_of_their_pixels():
    scene = scenes.load("painters")
    one, two = (to_lab(rendered(scene, 360, **d)) for d in ({}, {"colour": 2}))
    compared = compare(scene, one, two)
    frame, found = compared.whole, compared.regions
    assert frame == difference(one, two)
    assert {"skin", "white"} <= {name.split("_")[0] for name in found}
    assert (
        found[next(n for n in found if n.startswith("skin"))].mean > found["white"].mean
    )  # white has no colour to gain
    assert compare(scene, one, one).regions["white"].most == 0
    assert max(d.most for d in found.values()) <= frame.most
