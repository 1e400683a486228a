"""Every field of every thing that is declared: through form, file, its schema and the store and
back, at its limits and just beyond."""

from dataclasses import dataclass, replace
from datetime import date

import pytest
from jsonschema import Draft202012Validator

from zesty_plum.core.base.errors import Refused
from zesty_plum.core.drill.begun import Begun, Person
from zesty_plum.core.fields.declared import (
    checked,
    declared,
    from_file,
    from_form,
    says,
    schema,
    to_file,
    to_form,
)
from zesty_plum.core.fields.kinds import Choice, Clock, Day, Number, Text, Typed
from zesty_plum.core.fields.number import number, spoken
from zesty_plum.core.kit.case import About, Stands
from zesty_plum.core.notes.said import Said
from zesty_plum.core.outing.day import Day as Outing
from zesty_plum.core.outing.shoot import Shoot

# Of each thing what has to be said, so that the others stand alone.
THINGS = {
    Outing: {"date": "2026-11-07"},
    Shoot: {"from": "10:00", "to": "11:00", "kind": "balance"},
    About: {},
    Stands: {"key": "2"},
    Said: {},
    Begun: {},
    Person: {},
}


def probes(kind):
    """Values at the limits of a kind, and just beyond, as a file holds them."""
    if isinstance(kind, Typed):
        kind = kind.plain
    if isinstance(kind, Number):
        least = 1 if kind.whole else 1e-3
        inside = [kind.low, kind.high, *([] if kind.unsaid == "" else [kind.unsaid])]
        beyond = [v for v in (kind.low - least, kind.high + least, 10**400) if v != kind.unsaid]
        return inside, [*beyond, "x", *([kind.low + 0.5] if kind.whole else [])]
    if isinstance(kind, Text):
        return ["ä", "x" * kind.most], ["x" * (kind.most + 1), 3]
    if isinstance(kind, Choice):
        return list(kind.among()), ["none of these", 55]
    if isinstance(kind, Clock):
        return ["00:00", "0:30", "23:59"], ["24:01", "24:30", "x", 12.5]
    assert isinstance(kind, Day)
    return ["2026-02-28"], ["2026-02-30", "20260228", "2026-W07-6", "x", 3]


FIELDS = [(thing, f) for thing in THINGS for f in declared(thing)]


@pytest.mark.parametrize(("thing", "field"), FIELDS, ids=lambda x: getattr(x, "name", None))
def test_a_field_takes_the_same_everywhere(thing, field):
    told = {f.key: THINGS[thing][f.form] for f in declared(thing) if f.form in THINGS[thing]}
    judge = Draft202012Validator(schema(thing, "x"))
    inside, beyond = probes(field.kind)
    if field.key == "zone":
        inside = ["Europe/Oslo"]
    if field.key == "filters":
        inside = ["ND8 67"]
    for value in inside:
        said = {**told, field.key: value}
        judge.validate(said)
        made = from_file(thing, said)
        assert to_file(made)[field.key] in (value, f"0{value}")  # 0:30 is written as 00:30
        # The same through a form, and through what is kept.
        if to_form(made)[field.form] or not field.needed:
            assert from_form(thing, {**THINGS[thing], **to_form(made)}) == made
        checked(made)
    for value in beyond:
        said = {**told, field.key: value}
        if value != "2026-02-30":  # a schema cannot know the days of a month
            assert not judge.is_valid(said), value
        with pytest.raises(Refused) as refused:
            from_file(thing, said, "In it ")
        assert str(refused.value).startswith(f"In it “{field.label}” ")
        if not isinstance(field.kind, Text) or isinstance(value, str):
            with pytest.raises(Refused) as refused:
                from_form(thing, {**THINGS[thing], field.form: str(value)})
            assert refused.value.faults.keys() == {field.form}
            assert str(refused.value).startswith(f"“{field.label}” ")


def test_limits_are_told_once_and_read_from_there():
    """The probes of a day's file that its schema allowed and the program refused: now neither."""
    odd = {"bracket": 50, "near": 0.01, "focal": 3000, "walk": 700, "step": 30, "kelvin": 500}
    for key, value in odd.items():
        said = {"from": "10:00", "to": "11:00", key: value}
        assert not Draft202012Validator(schema(Shoot, "x")).is_valid(said), key
        with pytest.raises(Refused):
            from_file(Shoot, said)
    assert not Draft202012Validator(schema(Outing, "x")).is_valid({"date": "2026-1-1", "mains": 55})


@dataclass(frozen=True)
class Jar:
    size: float = says(Number(0.5, 3, unit="l"), "Size, l", 1.0, note="Of glass")
    lid: str = says(Choice(lambda: {"cork": "a cork", "tin": "tin"}), "Lid", "")
    keeper: str = says(Text(5), "Keeper", "", private=True)
    number: int = 0


def test_all_faults_are_told_at_once_and_what_is_private_stays_out():
    with pytest.raises(Refused) as refused:
        from_form(Jar, {"size": "4 l", "lid": "wax", "keeper": "somebody"})
    assert refused.value.faults == {
        "size": "It goes from 0.5 to 3, not 4.",
        "lid": "It can be a cork, tin, not 'wax'.",
        "keeper": "It holds 5 letters; this has 8.",
    }
    assert str(refused.value) == "“Size, l” goes from 0.5 to 3, not 4."
    made = from_form(Jar, {"size": "2,5 l", "lid": " tin ", "keeper": "Ann"}, number=7)
    assert made == Jar(2.5, "tin", "Ann", 7)
    assert to_file(made, private=False) == {"size": 2.5, "lid": "tin"}
    assert "number" not in schema(Jar, "x")["properties"]
    with pytest.raises(Refused):
        checked(replace(made, size=9.0))


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("3", 3), ("1,5", 1.5), (".5", 0.5), ("\u22122", -2), ("+1/3", 1 / 3), (" 1/60 ", 1 / 60),
        ("5200 K", 5200), ("5200k", 5200), ("-0.25", -0.25),
        *((t, None) for t in ("", "x", "1/0", "1e3", "nan", "1.2.3", "\u00b2", "--1", "9" * 40)),
    ],
)  # fmt: skip
def test_numbers_as_people_write_them(text, value):
    assert number(text, "K") == value


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("2,000", 2000), ("2.000", 2000), ("1 234 567", 1234567), ("-1\u202f200", -1200),
        ("2000", 2000), ("1,5", 1.5), ("12,00", 12), ("1,2345", 1.2345), ("1,000.5", 1000.5),
    ],
)  # fmt: skip
def test_what_is_counted_may_have_its_thousands_apart(text, value):
    assert number(text, counted=True) == value


@pytest.mark.parametrize("value", [0.05, 10000, 123456, -1209600, 2.5, -0.25])
def test_a_limit_that_is_told_can_be_typed(value):
    assert number(spoken(value)) == value


def test_words_of_a_file_are_tidied_and_empty_ones_say_nothing():
    """No line ends where a title goes into a calendar; a day without a name is still called
    something."""
    said = {"from": "10:00", "to": "11:00", "title": " Kites\r\nDTSTART:1 ", "who": ""}
    assert from_file(Shoot, said).title == "Kites DTSTART:1"
    assert from_file(Outing, {"date": "2026-11-07", "name": ""}).name == "A day out"
    with pytest.raises(Refused, match="“Slot” is still empty"):
        from_file(Stands, {"key": ""})
    assert not Draft202012Validator(schema(Stands, "x")).is_valid({"key": ""})
    # A choice of numbers is the number, however a file writes it.
    with pytest.raises(Refused):
        from_file(Outing, {"date": "2026-11-07", "mains": "50"})


def test_a_shoot_over_midnight_ends_the_next_day():
    made = from_form(Shoot, {"from": "22:30", "to": "1:15"})
    assert (made.starts, made.ends) == (22 * 60 + 30, 25 * 60 + 15)
    assert to_form(made)["to"] == "01:15"
    assert from_form(Outing, {"date": "2026-11-07"}).on == date(2026, 11, 7)
