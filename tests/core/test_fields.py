"""Every field of a look is known to everything that has to know it. A field is declared once, in
`core/look.py`; what is derived from that is held to what really happens when the field moves."""

import math
import re
from dataclasses import fields, replace

import numpy as np
import pytest

from tests.builders import HERON, flat_scene
from zesty_plum.core import scenes
from zesty_plum.core.bodies import Body, Choice, Dial
from zesty_plum.core.develop import balance, local, reduce_noise
from zesty_plum.core.develop.appearance import appearance, colour_distance, texture_distance
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.taking import exposed, make_point, table_key
from zesty_plum.core.exchange import lut
from zesty_plum.core.look import Balance, Gauge, Look, Metering, Stage, about, at_rest, missing
from zesty_plum.core.measure import expected, texture
from zesty_plum.core.measure.compare import difference, to_lab
from zesty_plum.core.measure.gauges import gauge_of
from zesty_plum.core.recipe import Recipe
from zesty_plum.core.scenes.frame import Held
from zesty_plum.core.scenes.scene import Scene
from zesty_plum.core.translate import remaining, translate
from zesty_plum.web.bench.gauges import DRAWN

# Where a field has a say only beside others, or its next choice has to be named.
BESIDE = {
    "light_mired": {"balance": Balance.FIXED},
    "grain_size": {"grain": 0.02},
    "knee_slope": {"knee_point": 0.8},
    "mono_filter": {"style": "ink"},
    "rate": {"clip": True},
    "dark_frame": {"aperture": 16.0, "iso_most": 125.0},
    "chroma": {"clip": True, "frame_size": 720},
    "frame_size": {"clip": True},
    "bit_rate": {"clip": True, "frame_size": 720},
}
MOVED = {
    "metering": Metering.FRAME,
    "style": "linen",
    "balance": Balance.GREY_CARD,
    "mono_filter": "red",
    "iso_least": 6400.0,
    "iso_most": 400.0,
    "aperture": 8.0,
    "slowest": 1 / 15,
    "rate": 100.0,
    "bits": 10,
    "chroma": 422,
    "frame_size": 600,
    "bit_rate": 10.0,
    "knee_point": 0.75,
}
ALONE = {"knee_point": {"knee_slope": -1.0}}
EVERY = list(about())


def pair(name: str, steps: float = 4) -> tuple[Look, Look]:
    """A look, and the same with one field moved by some just visible changes."""
    rest, known = at_rest()[name], about()[name]
    first = replace(Look(), **BESIDE.get(name, {}), **ALONE.get(name, {}))
    if name in MOVED:
        return first, replace(first, **{name: MOVED[name]})
    if isinstance(rest, bool):
        return first, replace(first, **{name: not rest})
    moved = rest * 2 ** (steps * known.seen) if known.ratio else rest + steps * known.seen
    return first, replace(first, **{name: moved})


def test_every_field_says_all_of_itself():
    assert [f.name for f in fields(Look)] == EVERY
    documented = Look.__doc__.replace("depth_red .. depth_magenta", "")
    for name, known in about().items():
        assert known.seen > 0, name
        if not name.startswith("depth_"):
            assert re.search(rf"\b{name}\b", documented), f"{name} is not explained"
        assert known.gauge is Gauge.TONE or known.gauge in DRAWN, name
        assert known.only_with in ("", *EVERY)
        assert known.in_lut or known.stage is not Stage.TABLE, name
        # Without a word of its own, a feature that a body may lack is left out in silence.
        if known.stage is Stage.NEIGHBOURS and name not in ("grain_size",):
            assert known.called, name


@pytest.mark.parametrize("name", EVERY)
def test_a_field_acts_where_it_says(name):
    """In the workshop: on the light, in the table, on neighbours, or in the file alone."""
    stage, scene = about()[name].stage, scenes.load("workshop")
    looks = pair(name)
    assert looks[0] != looks[1]
    keys, tables, pictures, files = ([] for _ in range(4))
    for look in looks:
        made = make_point(scene, look, HERON.sensor)
        keys.append((made.matrix, exposed(scene, look, HERON.sensor), made.white))
        tables.append(table_key(made))
        pictures.append(develop(scene, look, HERON.sensor, 720))
        files.append(develop(scene, look, HERON.sensor, 720, as_written=True))

    def differ(first, second) -> bool:
        return not np.array_equal(first.encoded, second.encoded)

    before = stage is Stage.BEFORE and name != "corners"  # a law of the place, not of a colour
    assert (keys[0] != keys[1]) == before
    held = tables[0] != tables[1]
    assert held == (stage is Stage.TABLE or name == "guard")  # a guard moves the table's white
    if stage is Stage.FILE:
        assert not differ(*pictures)
        assert differ(*files) or name == "clip"
    else:
        assert differ(*pictures)


@pytest.mark.parametrize("name", EVERY)
def test_a_finished_pictures_table_knows_what_acts_before_it(name):
    """Exposure, guard and balance are in the table of a picture that comes in finished."""
    scene = replace(scenes.load("corner"), finished=True, ev100=None)
    keys = [table_key(make_point(scene, look, HERON.sensor)) for look in pair(name)]
    expected = about()[name].stage in (Stage.TABLE, Stage.BEFORE)
    assert (keys[0] != keys[1]) == expected


@pytest.mark.parametrize("name", EVERY)
def test_two_looks_that_differ_to_the_eye_are_never_told_the_same(name):
    """Translation sees every field, by colour or by what of it is just seen, and the more of it the
    further. Metering, the source of white and what is written differ outside a picture: those have
    sentences of their own."""
    far, words = [], []
    for steps in (1.5, 5):
        first, second = pair(name, steps)
        colours = colour_distance(*(appearance(look, HERON.sensor) for look in (first, second)))
        texture = texture_distance(first, second)
        far.append(colours[1] + texture)
        words = remaining(colours, texture)
    if math.isinf(about()[name].seen) or name == "balance":
        assert far == [0.0, 0.0]  # no picture shows an ISO limit; test lights are what cards say
        return
    assert far[1] >= far[0] > 0
    outside = name == "metering" or about()[name].stage is Stage.FILE
    assert (words == ["To the eye the same."]) == outside, name


@pytest.mark.parametrize("name", [n for n in EVERY if about()[n].stage is Stage.TABLE])
def test_what_is_said_to_be_just_seen_is_neither_nothing_nor_much(name):
    """One just visible change of a field of the table, on a whole picture or on what it is for."""
    if name in ("style", "mono_filter"):
        return  # choices: another one is told in how many changes it makes
    first, second = pair(name, 1)
    if name == "knee_point":
        second = replace(first, knee_point=at_rest()[name] - about()[name].seen)
        first, second = (
            replace(x, knee_slope=-1.0) for x in (replace(first, knee_point=0.9), second)
        )
        second = replace(second, knee_point=0.8)
    most = 0.0
    for scene_id in ("boatyard", "garden", "beach", "workshop", "snow"):
        labs = [
            to_lab(develop(scenes.load(scene_id), x, HERON.sensor, 240)) for x in (first, second)
        ]
        most = max(most, difference(*labs).p95)
    assert 0.4 < most < 8, (name, most)


def test_the_stages_that_look_at_neighbours_claim_all_of_their_fields_once():
    claimed = [n for stage in local.STAGES for n in stage.fields] + list(reduce_noise.FIELDS)
    assert sorted(claimed) == sorted(n for n in EVERY if about()[n].stage is Stage.NEIGHBOURS)


@pytest.mark.parametrize("name", [n for s in local.STAGES for n in s.fields])
def test_a_stage_on_neighbours_is_known_to_what_measures_detail(name):
    """Its effect on an edge or on noise is carried by the measures; grain's size is its own."""
    first, second = pair(name)
    edge = np.abs(texture.profile(first) - texture.profile(second)).max()
    noise = [
        expected.Noise(flat_scene(), look, HERON.sensor, 1920).at(50) for look in (first, second)
    ]
    skin = [texture.softened(look) for look in (first, second)]
    assert edge > 1e-4 or noise[0] != noise[1] or skin[0] != skin[1]
    assert local.without(second) == replace(Look(), **BESIDE.get(name, {})) or name == "grain_size"


@pytest.mark.parametrize("name", [n for n in EVERY if about()[n].taking])
def test_what_counts_while_a_picture_is_taken_leaves_alone_one_that_is_exposed(name):
    first, second = pair(name, 5)
    light = flat_scene(0.4, size=(32, 48))
    raw = replace(light, ev100=None, headroom=3.0)
    done = Scene("done", "Done", Held(np.full((32, 48, 3), 0.6, np.float32)), *[(188.0, 0.0)] * 2)
    for taken in (raw, replace(done, finished=True)):
        pictures = [develop(taken, x, HERON.sensor, 48).encoded for x in (first, second)]
        assert np.array_equal(*pictures), taken.id


def test_a_lut_says_of_every_look_what_it_cannot_hold():
    """Moving a field that a table cannot hold changes nothing in the table and is said in the file;
    moving one that it can changes the table."""
    for name, known in about().items():
        looks = pair(name)
        tables = [lut.table(_recipe(look), 9) for look in looks]
        assert np.array_equal(*tables) != known.in_lut or name in ("light_mired", "balance"), name
        lost = missing(looks[1], {n for n, k in about().items() if k.in_lut})
        if known.stage is Stage.NEIGHBOURS and known.called:
            assert known.called in lost, name
            assert f"This recipe loses {', '.join(lost)}." in lut.cube(_recipe(looks[1]), 2)
            assert known.called in lut.LEFT_OUT


def _recipe(look: Look) -> Recipe:
    """A recipe whose look is what is asked for, whatever a body could do."""
    made = Recipe("x", HERON.id, dict(HERON.shipped))
    made.__dict__["look"] = look
    return made


@pytest.mark.parametrize("name", EVERY)
def test_a_dial_that_moves_a_field_gets_the_fields_gauge(name):
    choice = Choice(1, "1", sets={name: 1})
    dial = Dial("d", "D", "g", "u", "p", "m", "l", (choice,), 1)
    assert gauge_of(dial) is about()[name].gauge


@pytest.mark.parametrize(
    ("name", "words"),
    [
        ("grain", "Curlew 1 has no grain."),
        ("clarity", "Curlew 1 has no clarity."),
        ("density", "Curlew 1 has no density."),
        ("phase", "Curlew 1 has no colour phase."),
        ("depth_blue", "Curlew 1 has no depth by hue."),
        ("guard", "Curlew 1 has no guard for highlights."),
        ("noise_filter", "Curlew 1 has no noise reduction."),
    ],
)
def test_what_a_body_without_a_dial_cannot_do_is_said(name, words):
    bare = Body("curlew-1", "Curlew 1", "bare", "", 1, False, HERON.sensor, (_only("exposure"),))
    found = translate(_recipe(pair(name, 6)[1]), bare)
    assert words in found.words
    assert found.words[0] != "To the eye the same."


def _only(dial_id: str) -> Dial:
    return HERON.dial(dial_id)


def test_white_is_the_same_for_all_who_ask():
    """`guard` is the only field of the light that a table depends on; balance is in its matrix."""
    look = Look(balance=Balance.FIXED, light_mired=250.0)
    assert balance.assumed_light(look, (200.0, 0.0), (190.0, 0.0)) == (250.0, 0.0)
