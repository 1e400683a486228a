"""The sums of a day, against the figures that were given for them, closed forms and others'
programs."""

import itertools
import json
import math
from datetime import date, datetime, timedelta

import colour
import numpy as np
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from zesty_plum.cli import main
from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body
from zesty_plum.core.reckon import brackets, cards, codes, light, natives, sun, time, view
from zesty_plum.core.reckon.sheet import BY_ID, SHEET
from zesty_plum.core.reckon.solve import answered

# Fields on which an answer does not depend, so that they do not follow from it.
# Frames are whole, so that any number of them near one comes to the same.
IDLE = {("view", "there"): ("aperture",), ("view", "depth"): ("focal",),
        ("bracket", "shortest"): ("frames",), ("balance", "lowest"): ("frames",)}  # fmt: skip


def asked(*words):
    done = CliRunner().invoke(main, ["reckon", *words, "--json"])
    assert done.exit_code == 0, done.stderr
    return json.loads(done.stdout)


@pytest.mark.parametrize(
    ("words", "name", "value", "near", "printed"),
    [
        ("ev --aperture 2.8 --time 1/125 --iso 3200", "ev100", 4.9, 0.05, "EV 4.9"),
        ("hand --focal 45 --crop 1.5", "seconds", 1 / 67.5, 1e-9, "1/60"),
        ("hand --focal 45 --crop 1.5 --stabilised 3", "seconds", 8 / 67.5, 1e-9, "1/8"),
        ("filter --ev 15 --aperture 2.8 --iso 100 --rate 25", "stops", 6.4, 0.05, "ND64"),
        ("angle --rate 24 --angle 180", "seconds", 1 / 48, 1e-9, "1/48"),
        ("angle --rate 24 --angle 172.8", "seconds", 1 / 50, 1e-9, "1/50"),
        ("slow --record 100 --timeline 25 --seconds 10", "seconds", 40, 1e-9, "4x, 25 % speed"),
        ("slow --record 60 --timeline 24", "factor", 2.5, 1e-9, "2.5x, 40 % speed"),
        ("card --gigabytes 256 --mbps 100", "minutes", 324, 0.5, "324 min"),
        ("card --gigabytes 64 --megabytes 36.5", "files", 1665, 0, "1665 files"),
        ("index --base 800 --above 6 --index 320", "above", 4.7, 0.03, "4.7 above, 9.3 below"),
        ("index --base 800 --above 6 --index 1600", "above", 7, 1e-9, "7.0 above, 7.0 below"),
        ("same-view --focal 35 --from 1.5 --to 1", "focal", 52.5, 1e-9, "52 mm"),
        (
            "lapse --clip 20s --rate 25 --over 2h",
            "interval",
            14.4,
            0.05,
            "500 frames, every 14.4 s",
        ),
        ("codes --curve srgb --bits 8 --range full", "codes", 44, 0.5, "44 codes, grey at 46 %"),
    ],
)
def test_a_sum_comes_to_what_was_given_for_it(words, name, value, near, printed):
    found = asked(*words.split())
    assert found[name] == pytest.approx(value, abs=near)
    assert found["printed"] == printed


def test_brackets_and_safe_times_come_to_what_was_given():
    found = asked(*["bracket", "--time", "1/125", "--frames", "7", "--step", "1"])
    assert found["printed"] == ["1/1000", "1/500", "1/250", "1/125", "1/60", "1/30", "1/15"]
    assert found["times"][0] == pytest.approx(1 / 1000)
    for kelvin, ends in ((5000, (4348, 5882)), (2700, (2498, 2938))):
        made = asked(*f"bracket --kelvin {kelvin} --mired 30 --frames 3".split())["kelvins"]
        assert (round(made[0]), round(made[-1])) == ends
    assert asked(*["flicker", "--mains", "50"])["printed"][:3] == ["1/100", "1/50", "1/33"]
    assert asked(*["flicker", "--mains", "60"])["printed"][:4] == ["1/120", "1/60", "1/40", "1/30"]
    assert asked(*["flicker", "--mains", "50", "--rate", "24"])["drifts"]
    assert not asked(*["flicker", "--mains", "60", "--rate", "24"])["drifts"]
    assert light.blur(1.5, 5, 50, 1 / 125, 6) == pytest.approx(20, abs=0.3)
    assert light.guard_iso(125, 2) == 500
    assert [round(light.stops_of(f), 2) for f in (8, 32, 64, 1000)] == [3, 5, 6, 9.97]
    assert light.density_of(8) == pytest.approx(0.9, abs=0.01)
    assert view.cropped(24, 1.5) == pytest.approx(10.7, abs=0.04)
    assert cards.together(64, 128, "in turn") == 192
    assert cards.fast_enough(30, 200)
    assert not cards.fast_enough(30, 201)


@given(
    st.floats(2, 16), st.floats(1e-4, 30), st.floats(50, 51200), st.floats(-3, 3), st.floats(-3, 3)
)
def test_what_is_taken_from_one_part_of_an_exposure_comes_from_another(n, t, iso, more, wider):
    ev = light.ev100(n, t, iso)
    assert light.time_for(ev, n, iso) == pytest.approx(t)
    moved = light.ev100(n * 2 ** (wider / 2), t * 2.0 ** (wider + more), iso / 2.0**more)
    assert moved == pytest.approx(ev, abs=1e-9)


@given(st.floats(1500, 20000), st.floats(1, 60), st.integers(1, 4))
def test_white_balance_steps_are_even_in_mired(kelvin, step, half):
    if 1e6 / kelvin <= step * half:
        with pytest.raises(PlumError, match="goes past every colour"):
            brackets.balance(kelvin, step, 2 * half + 1)
        return
    made = [1e6 / k for k in brackets.balance(kelvin, step, 2 * half + 1)]
    gaps = [a - b for a, b in itertools.pairwise(made)]
    assert gaps == pytest.approx([step] * (2 * half))


@pytest.mark.parametrize("bits", [8, 10])
def test_code_values_are_those_of_colour_science(bits):
    levels = [float(colour.eotf_inverse(v, "sRGB")) for v in (0.18, 0.36)]
    expected = (levels[1] - levels[0]) * (2**bits - 1)
    assert codes.codes("srgb", bits, "full") == pytest.approx(expected, rel=1e-4)
    limited = codes.codes("srgb", bits, "limited")
    assert limited == pytest.approx(expected * 219 / 255, rel=1e-4)


def of_noaa(latitude: float, longitude: float, moment: datetime) -> tuple[float, float]:
    """Elevation and bearing by Spencer's series of 1971, within a degree over four years."""
    day = moment.timetuple().tm_yday
    hours = moment.hour + moment.minute / 60
    g = 2 * math.pi / 365 * (day - 1 + (hours - 12) / 24)
    equation = 229.18 * (
        0.000075 + 0.001868 * math.cos(g) - 0.032077 * math.sin(g)
        - 0.014615 * math.cos(2 * g) - 0.040849 * math.sin(2 * g)
    )  # fmt: skip
    declination = (
        0.006918 - 0.399912 * math.cos(g) + 0.070257 * math.sin(g) - 0.006758 * math.cos(2 * g)
        + 0.000907 * math.sin(2 * g) - 0.002697 * math.cos(3 * g) + 0.00148 * math.sin(3 * g)
    )  # fmt: skip
    angle = math.radians((hours * 60 + equation + 4 * longitude) / 4 - 180)
    phi = math.radians(latitude)
    up = math.sin(phi) * math.sin(declination)
    up += math.cos(phi) * math.cos(declination) * math.cos(angle)
    east = -math.cos(declination) * math.sin(angle)
    north = math.sin(declination) - math.sin(phi) * up
    bearing = math.degrees(math.atan2(east * math.cos(phi), north)) % 360
    return math.degrees(math.asin(up)), bearing


@pytest.mark.parametrize(
    ("latitude", "longitude"), [(54.3, 10.1), (-33.9, 18.4), (0.0, -78.5), (64.1, -21.9)]
)
@pytest.mark.parametrize("month", [1, 3, 6, 10])
def test_the_sun_stands_where_another_series_has_it(latitude, longitude, month):
    at = sun.Place(latitude, longitude, "UTC")
    for hour in range(0, 24, 3):
        moment = datetime(2026, month, 11, hour, tzinfo=at.clock)
        height, bearing = sun.position(at, moment)
        there, way = of_noaa(latitude, longitude, moment)
        assert height == pytest.approx(there, abs=1.0)  # refraction at the horizon
        if 5 < height < 65:
            assert (bearing - way + 180) % 360 - 180 == pytest.approx(0, abs=2)


def test_rise_and_set_are_where_the_sun_meets_the_horizon():
    at = sun.Place(54.3, 10.1, "Europe/Berlin")
    found = sun.day(at, date(2026, 10, 3))
    for moment in (found.rise, found.set):
        utc = moment.astimezone(sun.Place(0, 0, "UTC").clock)
        assert of_noaa(54.3, 10.1, utc)[0] == pytest.approx(-0.83, abs=0.5)
    assert found.dawn < found.rise < found.high < found.low < found.set < found.dusk
    assert sun.band(at, found.rise + timedelta(minutes=20)) == "low sun"
    assert sun.band(at, found.dawn + timedelta(minutes=10)) == "dawn"
    assert sun.band(at, found.dusk - timedelta(minutes=10)) == "dusk"
    assert sun.band(at, datetime(2026, 10, 3, 13, tzinfo=at.clock)) == "day"
    assert sun.band(at, datetime(2026, 10, 3, 1, tzinfo=at.clock)) == "night"
    words = [
        "sun",
        "--latitude",
        "78.2",
        "--longitude",
        "15.6",
        "--zone",
        "Arctic/Longyearbyen",
        "--date",
    ]
    assert asked(*words, "2026-06-21")["printed"] == "the sun does not set"
    assert asked(*words, "2026-12-21") == {
        **dict.fromkeys(("dawn", "rise", "set", "dusk")),
        "printed": "the sun does not rise",
    }


@pytest.mark.parametrize(
    ("words", "says"),
    [
        ("ev --aperture 2.8 --time soon", "'soon' is no time. Write it as 1/125"),
        ("ev --aperture 0 --time 1/60", "An aperture is a number from 0.5 to 128, not 0."),
        ("hand --focal nan", "A focal length is a number from 1 to 5000"),
        ("card --gigabytes 64", "Give --mbps for clips, or --megabytes for pictures."),
        ("bracket --frames 3", "Give --time and --step, or --kelvin and --mired."),
        ("codes --curve wobble", "There is no curve 'wobble'. There are srgb, sounding."),
        ("codes --range odd", "A range is full, limited, 16-255, not 'odd'."),
        ("sun --date x --latitude 1 --longitude 1 --zone UTC", "'x' is no date"),
        ("sun --date 2026-01-01 --latitude 1 --longitude 1 --zone Mars", "no time zone 'Mars'"),
        ("sun --date 2026-01-01 --latitude 91 --longitude 1 --zone UTC", "A latitude is a number"),
    ],
)
def test_odd_sums_are_told_of_in_a_sentence(words, says):
    done = CliRunner().invoke(main, ["reckon", *words.split()])
    assert done.exit_code == 1
    assert says in done.stderr


def test_a_time_by_angle_and_its_drift_agree_with_the_frame():
    assert time.by_angle(25, 180) == pytest.approx(1 / 50)
    assert time.slower(100, 25, 10).factor == 4


@pytest.mark.parametrize("one", SHEET, ids=[s.id for s in SHEET])
def test_every_sum_of_the_sheet_has_an_answer_as_it_stands_first(one):
    found = answered(one, one.firsts)
    assert found.shown.keys() == {f.name for f in one.gives}
    assert found.rows or found.shown
    for field in one.asks:
        if field.free:
            continue
        with pytest.raises(PlumError, match="Fill in"):
            answered(one, {**one.firsts, field.name: ""})
        with pytest.raises(PlumError):
            answered(one, {**one.firsts, field.name: "wobble"})


@pytest.mark.parametrize(
    ("one", "given", "field"),
    [(one, g, f) for one in SHEET for g in one.gives for f in one.asks
     if not (f.word or f.free) and f.name not in IDLE.get((one.id, g.name), ())],
    ids=lambda v: getattr(v, "name", getattr(v, "id", "")),
)  # fmt: skip
def test_whichever_field_is_empty_follows_from_the_others(one, given, field):
    """The way back of every sum comes to the number that it began with."""
    whole = answered(one, one.firsts).values
    back = {f.name: repr(whole[f.name]) for f in one.asks if f.name in whole and f is not field}
    found = answered(one, {**back, given.name: repr(whole[given.name])}).values
    again = answered(one, {f.name: repr(found[f.name]) for f in one.asks if f.name in found})
    assert again.values[given.name] == pytest.approx(whole[given.name], rel=1e-3)
    assert found[field.name] == pytest.approx(whole[field.name], rel=0.03)


def test_a_sum_takes_neither_too_much_nor_what_cannot_be():
    hand = BY_ID["hand"]
    with pytest.raises(PlumError, match="One number too many"):
        answered(hand, {"focal": "50", "crop": "1.5", "stabilised": "0", "time": "1/60"})
    with pytest.raises(PlumError, match="No lens, mm comes to that"):
        answered(hand, {"crop": "1.5", "stabilised": "0", "time": "2h"})
    found = answered(hand, {"crop": "1.5", "stabilised": "0", "time": "1/60"})
    assert found.values["focal"] == pytest.approx(40)  # 1 / (1.5 / 60)
    assert found.shown == {"focal": "40"}
    with pytest.raises(PlumError, match="The f-number does not follow from that"):
        answered(BY_ID["view"], {"focal": "35", "from": "1.5", "to": "1", "there": "52.5"})


@pytest.mark.parametrize(
    ("said", "ev"), [("5.5", 5.5), ("f/4 1/60 ISO 800", 6.91), ("F2,8, 1/125 s, 3200", 4.94)]
)
def test_a_light_is_measured_by_what_a_camera_said(said, ev):
    assert time.measured(said) == pytest.approx(ev, abs=0.01)


@pytest.mark.parametrize("said", ["bright", "f/4 1/60", "1e9", "f/0 1/60 ISO 100", "nan"])
def test_what_is_no_light_is_told(said):
    with pytest.raises(PlumError):
        time.measured(said)


WADER = body("wader-v1").sensor


@pytest.mark.parametrize("stops", [0.0, -4.0])
def test_two_native_isos_by_drawing_photons_and_electronics(stops):
    """The law against drawn samples; and from which ISO on the second one is calmer, by trying."""
    draw = np.random.default_rng(7)

    def drawn(iso):
        mean = WADER.electrons * WADER.base_iso / iso * 2**stops
        noise = WADER.second_read_noise if iso >= 2500 else WADER.read_noise
        seen = draw.poisson(mean, 200_000) + draw.normal(0, noise, 200_000)
        return seen.mean() / seen.std()

    for iso in (400, 1600, 2000, 2500, 6400):
        assert natives.signal_to_noise(WADER, iso, stops) == pytest.approx(drawn(iso), rel=0.02)
    found = natives.better_from(WADER, stops)
    assert drawn(found * 0.9) > drawn(2500) > drawn(found * 1.1)


def test_room_below_grey_ends_where_noise_is_as_large_as_the_light():
    for native in (400, 2500):
        stops = natives.room_below(WADER, native)
        assert natives.signal_to_noise(WADER, native, -stops) == pytest.approx(1)
    heron = body("heron-m2").sensor
    assert natives.native_of(heron, 6400) == heron.base_iso
    assert [natives.native_of(WADER, i) for i in (320, 900, 1100, 3200)] == [400, 400, 2500, 2500]
