"""Which slot fits a light: against labels that were written down before it was tried."""

from functools import cache

import pytest

from zesty_plum.core import scenes
from zesty_plum.core.judge.verdicts import judge
from zesty_plum.core.outing import suggest
from zesty_plum.core.outing.lights import FIXED, SHOWN, out_of_doors
from zesty_plum.core.recipe import make


def recipe(**dials):
    return make("x", "heron-m2", dials)


@pytest.mark.parametrize(
    ("light", "best"),
    [(FIXED["lamps"], "2"), (out_of_doors("day", "clear"), "3"), (FIXED["shade"], "1")],
)
def test_the_slot_that_fits_a_light_is_suggested(light, best):
    choices = [
        suggest.Choice(1, "1", recipe(guard=1), "the family, overcast"),
        suggest.Choice(1, "2", recipe(white_balance="lamps"), "under lamps"),
        suggest.Choice(1, "3", recipe(exposure=-0.33, white_balance="daylight"), "hard sun"),
    ]
    found, why = suggest.best(choices, light)
    assert found.key == best
    assert found.why in why
    assert suggest.best([], light) is None


# Kits as people have them, and the slots that a practitioner would take in a light; written down
# before the suggestion was tried.
CREW = {
    "1": ({"guard": 1}, "out of doors, overcast"),
    "2": ({"white_balance": "keep_warm", "guard": 1}, "under lamps"),
    "3": ({"exposure": -0.33, "guard": 1}, "hard sun"),
    "4": ({"style": "linen"}, "the family"),
    "5": ({"style": "ink"}, "boats and ropes"),
    "6": ({"noise_filter": 4}, "the night procession"),
}
BARE = {
    "1": ({"white_balance": "daylight"}, ""),
    "2": ({"white_balance": "lamps"}, ""),
    "3": ({"guard": 2}, ""),
    "4": ({}, ""),
    "5": ({"exposure": -0.67}, ""),
}
WEDDING = {
    "1": ({"white_balance": "shade"}, "the couple in the shade"),
    "2": ({"white_balance": "kelvin", "kelvin": 2840}, "indoors, candles"),
    "3": ({"guard": 2}, "bright sun"),
    "4": ({"exposure": -0.33}, "golden hour"),
}
TRAVEL = {
    "1": ({"style": "bunting"}, "beach and sun"),
    "2": ({"style": "driftwood"}, "fog, dawn"),
    "3": ({"white_balance": "lamps"}, "hotel room"),
    "4": ({"style": "ink"}, "night streets"),
}
LABELLED = [
    *((CREW, light, slots) for light, slots in (
        ("day clear", "3"), ("day overcast", "14"), ("day snow", "3"), ("low sun clear", "134"),
        ("dawn clear", "14"), ("dusk fog", "14"), ("shade", "14"), ("window", "14"),
        ("lamps", "2"), ("tubes", "2"), ("mixed", "2"), ("led", "2"), ("candles", "6"),
        ("lanterns", "6"), ("street", "6"), ("stage", "6"))),
    *((BARE, light, slots) for light, slots in (
        ("day clear", "1345"), ("day overcast", "345"), ("shade", "345"), ("lamps", "24"),
        ("candles", "4"), ("lanterns", "4"), ("low sun clear", "345"), ("night clear", "24"))),
    *((WEDDING, light, slots) for light, slots in (
        ("shade", "1"), ("day overcast", "1"), ("day clear", "3"), ("day snow", "3"),
        ("low sun clear", "4"), ("dusk clear", "4"), ("lamps", "2"), ("candles", "2"))),
    *((TRAVEL, light, slots) for light, slots in (
        ("day clear", "1"), ("day snow", "1"), ("dawn fog", "2"), ("dusk clear", "2"),
        ("lamps", "3"), ("mixed", "3"), ("street", "4"), ("night clear", "4"))),
]  # fmt: skip


def test_where_no_slot_is_for_a_light_it_is_said():
    lamps = [suggest.Choice(1, "1", recipe(white_balance="lamps"), "under lamps")]
    found, why = suggest.best(lamps, out_of_doors("day", "clear"))
    assert found is None
    assert why == "No slot is for this light; the nearest is x."


def test_the_slot_is_right_in_most_of_forty_cases():
    """With verdicts on a scene of each light, as the page asks for them."""

    @cache
    def verdicts(key, group):
        scene = scenes.load(SHOWN[group])
        return sum(v.weight > 1 for v in judge(scene, known[key], frozenset(), remedies=False))

    known, right = {}, 0
    for kit, name, slots in LABELLED:
        band, _, weather = name.rpartition(" ")
        light = FIXED[name] if name in FIXED else out_of_doors(band, weather)
        choices = []
        for key, (dials, why) in kit.items():
            made = recipe(**dials)
            known[made.key] = made
            choices.append(suggest.Choice(1, key, made, why, verdicts(made.key, light.group)))
        found = suggest.best(choices, light)[0]
        right += found is not None and found.key in slots
    assert len(LABELLED) == 40
    assert right >= 34
