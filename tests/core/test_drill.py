"""Drills: thresholds are recovered from simulated observers, questions are fair, and every answer
agrees with an independent measure."""

import itertools
import math
from collections import Counter
from dataclasses import replace

import colour
import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from zesty_plum.core import scenes
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.drill import matching, memory, pairs, places, situations, sums
from zesty_plum.core.drill.dimensions import BY_ID, DIMENSIONS, SEEN_AS
from zesty_plum.core.drill.quest import Quest, replayed
from zesty_plum.core.judge.beside import in_words
from zesty_plum.core.judge.verdicts import judge
from zesty_plum.core.measure.looking import look_at
from zesty_plum.core.recipe import make
from zesty_plum.core.seen import FIGURES

HERON = body("heron-m2")
BASE = HERON.interpret({})
NAMES = list(scenes.index())


# ---- thresholds ----------------------------------------------------------------------------------
def observer(threshold, slope, lapse, guess, draw):
    """Somebody who sees by a Weibull function, written down anew."""

    def answer(size):
        seen = 1 - math.exp(-(2 ** (slope * (size - threshold))))
        return draw.random() < guess + (1 - guess - lapse) * seen

    return answer


@pytest.mark.parametrize(
    ("dim", "slope", "lapse", "guess"),
    [("warm", 1.5, 0.02, 0.1), ("green", 3.0, 0.05, 0.2), ("exposure", 0.8, 0.0, 0.05),
     ("colour", 2.0, 0.1, 0.25)],
)  # fmt: skip
def test_observers_of_known_thresholds_are_recovered_within_the_interval(dim, slope, lapse, guess):
    draw, scale = np.random.default_rng(11), BY_ID[dim].scale
    held, widths, off = 0, [], []
    people = 40
    for _ in range(people):
        threshold = scale.expected + draw.normal(0, 1)
        answer, quest = observer(threshold, slope, lapse, guess, draw), Quest(scale)
        for _ in range(40):
            size = quest.ask(BY_ID[dim].sizes)
            quest.told(size, answer(size))
        found = quest.threshold
        held += found.low <= threshold <= found.high
        widths.append(found.high - found.low)
        off.append(found.middle - threshold)
    assert held >= 0.88 * people  # of 95 %, with forty people: below one time in fifty
    assert np.median(widths) < 2.2  # octaves: it does say something
    assert abs(np.mean(off)) < 0.35
    assert np.median(widths) < 0.5 * (Quest(scale).threshold.high - Quest(scale).threshold.low)


def test_asking_by_what_tells_most_beats_asking_at_random():
    draw, scale, sizes = np.random.default_rng(3), BY_ID["warm"].scale, BY_ID["warm"].sizes
    widths = {"most": [], "random": []}
    for _ in range(25):
        threshold = scale.expected + draw.normal(0, 1)
        for how in widths:
            answer, quest = observer(threshold, 1.5, 0.02, 0.1, draw), Quest(scale)
            for _ in range(24):
                size = quest.ask(sizes) if how == "most" else sizes[draw.integers(len(sizes))]
                quest.told(size, answer(size))
            widths[how].append(quest.threshold.high - quest.threshold.low)
    assert np.mean(widths["most"]) < 0.92 * np.mean(widths["random"])


@given(st.lists(st.tuples(st.sampled_from(BY_ID["warm"].sizes), st.booleans()), max_size=30))
def test_what_is_believed_is_a_distribution_and_order_does_not_matter(answers):
    one = replayed(BY_ID["warm"].scale, answers)
    two = replayed(BY_ID["warm"].scale, answers[::-1])
    assert one.belief.sum() == pytest.approx(1)
    assert np.allclose(one.belief, two.belief)
    found = one.threshold
    assert found.low <= found.middle <= found.high


# ---- pairs ---------------------------------------------------------------------------------------
def drawn(many, seed=5, known=lambda dim: None):
    return [pairs.which(seed, n, NAMES, BASE, known) for n in range(many)]


def test_questions_are_the_same_for_a_seed_and_fair():
    every = drawn(320)
    assert every == drawn(320)
    assert every != drawn(320, seed=6)
    catches = [p for p in every if p.dim == pairs.NOTHING]
    assert len(catches) == 320 / pairs.CATCH
    assert all(p.dim in p.choices and p.choices[-1] == pairs.NOTHING for p in every)
    assert all(len(p.choices) == pairs.CHOICES + 1 for p in every)
    sides = Counter(p.right for p in every)
    assert abs(sides[True] - sides[False]) < 60  # three deviations of a fair coin
    dims = Counter(p.dim for p in every if p.dim != pairs.NOTHING)
    assert set(dims) == set(BY_ID)
    assert max(dims.values()) - min(dims.values()) < 14
    places_ = Counter(p.choices.index(p.dim) for p in every if p.dim != pairs.NOTHING)
    assert min(places_.values()) > 30  # no place of the answer is rare


def test_sizes_follow_what_a_person_sees():
    sharp = {d.id: replayed(d.scale, [(s, True) for s in d.sizes] * 3) for d in DIMENSIONS}
    dull = {d.id: replayed(d.scale, [(s, False) for s in d.sizes] * 3) for d in DIMENSIONS}
    for one, two in zip(
        *(drawn(40, known=lambda d, k=k: k[d.id]) for k in (sharp, dull)), strict=True
    ):
        if one.dim != pairs.NOTHING:
            assert one.size < two.size
    looked_up = []
    pairs.which(5, 0, NAMES, BASE, lambda dim: looked_up.append(dim.id))
    assert len(looked_up) == 1  # nothing is worked out for dials that are not asked about


@pytest.mark.parametrize(
    ("dim", "size", "sees"),
    [("warm", 20, lambda a, b: b[2] - a[2] > 3), ("green", 0.01, lambda a, b: a[1] - b[1] > 2),
     ("exposure", 0.5, lambda a, b: b[0] - a[0] > 4), ("colour", 0.4, None)],
)  # fmt: skip
def test_what_moves_is_what_its_name_says(dim, size, sees):
    """Greys and colours of the chart, measured by another program on the rendered pictures."""
    scene = scenes.load("corner")
    labs = []
    for look in (BASE, BY_ID[dim].moved(BASE, size, True)):
        pixels = develop(scene, look, HERON.sensor, 320).pixels / 255
        lab = colour.XYZ_to_Lab(colour.sRGB_to_XYZ(pixels), colour.CCS_ILLUMINANTS[
            "CIE 1931 2 Degree Standard Observer"]["D65"])  # fmt: skip
        labs.append(lab)
    mask = cv2.resize(scene.mask, (320, labs[0].shape[0]), interpolation=cv2.INTER_NEAREST)
    grey = mask == scene.regions["neutral"]
    a, b = (lab[grey].mean(0) for lab in labs)
    if sees:
        assert sees(a, b)
    else:
        chroma = [np.hypot(lab[..., 1], lab[..., 2]).mean() for lab in labs]
        assert chroma[1] > 1.2 * chroma[0]


@pytest.mark.parametrize("size", [8, 16, 30])
def test_a_shift_in_mired_is_one_on_the_greys_by_another_program(size):
    scene, mired = scenes.load("corner"), []
    for look in (BASE, BY_ID["warm"].moved(BASE, size, True)):
        pixels = develop(scene, look, HERON.sensor, 320).encoded.astype(float)
        mask = cv2.resize(scene.mask, pixels.shape[1::-1], interpolation=cv2.INTER_NEAREST)
        grey = colour.sRGB_to_XYZ(pixels[mask == scene.regions["neutral"]]).mean(0)
        kelvin = colour.temperature.xy_to_CCT(colour.XYZ_to_xy(grey), method="McCamy 1992")
        mired.append(1e6 / kelvin)
    shown = (mired[1] - mired[0]) / 1.275  # the contrast of the style, which casts go through too
    assert shown == pytest.approx(size, rel=0.03)


def test_the_mark_is_where_the_pictures_differ_most():
    scene = scenes.load("table")
    first = np.zeros((200, 300, 3), np.float32) + [50, 0, 0]
    second = first.copy()
    second[120:150, 60:90] += [0, 25, 0]
    found = pairs.shown(replace(scene, mask=None), first.astype(np.float32), second)
    assert found.at == pytest.approx((75 / 300, 135 / 200), abs=0.06)
    assert found.there > 5


def test_what_is_named_at_the_mark_is_what_lies_there():
    """Not the region that moves most as a whole; and a place at the edge counts for no more."""
    mask = np.zeros((200, 300), np.uint8)
    mask[:60], mask[120:160, 60:90] = 1, 2
    scene = replace(scenes.load("table"), mask=mask, regions={"sky": 1, "skin": 2})
    first = np.zeros((200, 300, 3), np.float32) + [50, 0, 0]
    second = first + np.float32([3, 0, 0]) * (mask == 1)[..., None]
    second[120:150, 60:90] += [0, 12, 0]
    second[190:, 290:] += [0, 12, 0]
    assert pairs.shown(scene, first, second).region == "skin"
    second[90:105, 150:220] += [0, 25, 0]
    assert pairs.shown(scene, first, second).region == ""


def test_answers_say_how_far_in_units_and_in_steps():
    pair = pairs.Pair("table", "warm", 12.0, True, True, ("warm", "colour", pairs.NOTHING))
    seen = pairs.Shown((0.5, 0.5), "skin", 4.0)
    words = pairs.explained(pair, "colour", seen, HERON)
    assert words.startswith("Warm, cool, 12 mired warmer, ")
    assert "2.4 steps of Blue to amber on Heron M2" in words
    assert "on skin" in words
    assert "Colour would show elsewhere" in words
    words = pairs.explained(pair, "green", seen, HERON)
    assert words.endswith("Green, pink would show there too, as greener or pinker.")
    nothing = replace(pair, dim=pairs.NOTHING)
    assert "Nothing moved" in pairs.explained(nothing, "warm", seen, HERON)


@pytest.mark.parametrize("seed", range(6))
def test_how_far_has_one_right_answer_among_even_ratios(seed):
    for number in range(12):
        far = pairs.far(seed, number, NAMES, BASE, None)
        assert far.sizes.count(far.pair.size) == 1
        ratios = [b / a for a, b in itertools.pairwise(far.sizes)]
        assert np.allclose(ratios, far.ratio)
        dim = BY_ID[far.pair.dim]
        assert far.pair.size > 2**dim.scale.expected  # it is seen, only its size is asked


# ---- where ---------------------------------------------------------------------------------------
def spot(fault):
    found = (places.ask(2, n, NAMES, scenes.load, BASE, HERON.sensor, 0.03) for n in range(40))
    return next(s for s in found if s is not None and s.fault == fault)


@pytest.mark.parametrize("fault", ["clipped", "crushed"])
def test_what_is_clipped_or_blocked_up_is_so_in_the_file(fault):
    one = spot(fault)
    seen = places.seen(one, scenes.load(one.scene), BASE, HERON.sensor, 480)
    inside = seen.pixels[seen.wrong]
    assert (inside.min() >= 250) if fault == "clipped" else (np.percentile(inside, 95) <= 8)
    y, x = (int(v * n) for v, n in zip(seen.middle[::-1], seen.wrong.shape, strict=True))
    assert seen.wrong[y, x]
    assert seen.found(*seen.middle)
    far = np.argwhere(cv2.distanceTransform((~seen.wrong).astype(np.uint8), cv2.DIST_L2, 5) > 60)
    y, x = far[0] + 0.5
    assert not seen.found(x / seen.wrong.shape[1], y / seen.wrong.shape[0])


def test_what_is_smeared_has_lost_its_threads():
    one = spot("smeared")
    scene = scenes.load(one.scene)
    seen = places.seen(one, scene, BASE, HERON.sensor, 480)
    clean = develop(
        scene, replace(BASE, iso_most=HERON.sensor.base_iso), HERON.sensor, 480, 1, True
    )

    def energy(pixels):
        """Of threads and hair, a few pixels across; finer noise is left out."""
        grey = pixels.astype(float).mean(-1)
        band = ndimage.gaussian_filter(grey, 1.0) - ndimage.gaussian_filter(grey, 4.0)
        return ndimage.uniform_filter(band**2, 9)

    left = energy(seen.pixels)[seen.wrong].mean() / energy(clean.pixels)[seen.wrong].mean()
    assert left < 0.6


def test_banding_goes_in_steps_where_ten_bits_do_not():
    one = spot("bands")
    seen = places.seen(one, scenes.load(one.scene), BASE, HERON.sensor, 400)
    levels = [len(np.unique(seen.pixels[seen.wrong][:, k])) for k in range(3)]
    span = np.ptp(seen.pixels[seen.wrong].astype(int), axis=0)
    assert min(n / max(s, 1) for n, s in zip(levels, span, strict=True)) < 0.75
    assert seen.share <= places.MOST * 1.6


# ---- match, set, sums ----------------------------------------------------------------------------
@pytest.mark.parametrize("level", [1, 2, 4])
def test_a_match_can_be_reached_in_its_shortest_way_and_is_told(level):
    for number in range(8):
        match = matching.ask(4, number, NAMES, HERON, level)
        wanted = match.wanted
        assert matching.matches(wanted, wanted) == (True, pytest.approx(0, abs=1e-6))
        moved = [d for d in HERON.dials if wanted.dials[d.id] != HERON.shipped[d.id]]
        assert len(moved) == level
        assert {d.id for d in moved} <= set(match.dials)
        steps = sum(abs(d.position(wanted.dials[d.id]) - d.position(d.default)) for d in moved)
        assert match.shortest == steps
        assert matching.told(match, steps, 0.2).endswith("there is no shorter way.")
        assert "the shortest way takes" in matching.told(match, steps + 3, 0.2)
        assert "It was " in matching.told(match, steps, 5.0)


def test_what_practitioners_would_set_is_what_is_measured_best():
    for one in situations.situations().values():
        scene = scenes.load(one.scene)
        found = situations.judged(one, lambda r, s, c=scene: judge(c, r, s, remedies=False))
        assert found.best == one.good, one.id
    graded = situations.situations()["graded"]
    scene = scenes.load(graded.scene)
    found = situations.judged(graded, lambda r, s: judge(scene, r, s, remedies=False))
    assert any(s.startswith("Leave contrast alone") for s in found.schools)
    assert "Against yours:" in situations.explained(graded, found, "c")


CLOSED = {
    "grey": lambda g: math.log2(g["factor"]),
    "hand": lambda g: 2 ** g["stabilised"] / (g["focal"] * g["crop"]),
    "guard": lambda g: g["base"] * 2 ** g["stops"],
    "mired": lambda g: 1e6 / g["kelvin"],
    "slow": lambda g: g["seconds"] * g["record"] / g["timeline"],
    "card": lambda g: g["gigabytes"] * 8000 / g["mbps"] / 60 * 0.95,
    "index": lambda g: g["above"] + math.log2(g["index"] / g["base"]),
    "bracket": lambda g: g["time"] / 2 ** (g["step"] * (g["frames"] - 1) / 2),
    "balance": lambda g: 1e6 / (1e6 / g["kelvin"] + g["mired"] * (g["frames"] - 1) / 2),
    "ev": lambda g: math.log2(g["aperture"] ** 2 / g["time"]) - math.log2(g["iso"] / 100),
}


@pytest.mark.parametrize("number", range(30))
def test_arithmetic_takes_the_right_number_and_no_other(number):
    one = sums.ask(9, number)
    assert sums.ask(9, number) == one
    if one.sum in CLOSED:
        assert one.right == pytest.approx(CLOSED[one.sum](dict(one.given)))
    assert one.answered(repr(one.right))
    assert one.answered(one.asked.prints(one.right).replace(" ", "").removeprefix("f/")
                        .removesuffix("K")) or one.asked.time  # fmt: skip
    assert not one.answered(repr(one.right * 1.5 + 1))
    assert one.one.formula in one.told
    labels = dict(one.rows)
    assert all(f.label in labels or f.time for f in one.one.asks if f.name in dict(one.given))
    assert not any(label.endswith(", s") for label in labels)  # seconds stand with the time itself
    with pytest.raises(PlumError):
        one.answered("many")


# ---- memory --------------------------------------------------------------------------------------
def test_what_was_missed_comes_again_further_and_further_apart():
    def given(*rows):
        return [memory.Given("q", right, day) for right, day in rows]

    assert memory.due(given((False, 10)), 10) == []
    assert memory.due(given((False, 10)), 11) == ["q"]
    assert memory.due(given((False, 10), (True, 11)), 13) == []
    assert memory.due(given((False, 10), (True, 11)), 14) == ["q"]
    assert memory.due(given((False, 10), (True, 11), (False, 14)), 15) == ["q"]
    learnt = given((False, 0), (True, 1), (True, 4), (True, 11), (True, 27))
    assert memory.due(learnt, 400) == []
    assert memory.due([memory.Given("p", True, 3)], 99) == []


def test_a_break_is_asked_for_when_somebody_is_slower_and_worse():
    fresh = [memory.Given("q", True, 1, 3.0)] * 10
    worn = [memory.Given("q", k % 2 == 0, 1, 8.0) for k in range(10)]
    assert memory.tired(fresh + worn).startswith("You answer slower and miss more")
    assert memory.tired(fresh + fresh) == memory.tired([]) == ""
    assert memory.tired(fresh * 4).startswith("40 answers today")


# ---- words that follow somebody ------------------------------------------------------------------
def test_words_follow_an_eye_and_leave_others_alone():
    assert set(SEEN_AS) <= {f.at for f in FIGURES}
    assert set(SEEN_AS.values()) <= set(BY_ID)
    scene = scenes.load("painters")
    looks = [{}, {"shift_amber": 10, "shift_green": -2, "grain": "salt"}]
    one, two = (look_at(scene, make("x", "heron-m2", d), from_plain=False).report for d in looks)
    usual = in_words(one, two)
    dull = in_words(one, two, eye={at: 50.0 for at, d in SEEN_AS.items() if d == "grain"})
    assert "grain" in " ".join(usual)
    assert "grain" not in " ".join(dull)
    assert [w for w in usual if "grain" not in w] == dull
