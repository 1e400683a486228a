"""What a shoot needs and what clashes on a day: exposures, rules of time, metering, brackets,
indices, filters, cards and light; against closed forms, other programs and labels."""

import math
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zesty_plum.core.base.errors import PlumError
from zesty_plum.core.bodies import body, shipped
from zesty_plum.core.develop.sense import LONGEST
from zesty_plum.core.exchange.lut import table
from zesty_plum.core.kit.case import About
from zesty_plum.core.look import Balance, Look, Metering
from zesty_plum.core.outing import bag, clash, leaving, meter, power, sunlight
from zesty_plum.core.outing.lights import FIXED, out_of_doors
from zesty_plum.core.outing.needs import needs
from zesty_plum.core.outing.shoot import Gear, Shoot
from zesty_plum.core.reckon.codes import grey_level
from zesty_plum.core.reckon.light import ev100

HERON = body("heron-m2")
WADER = body("wader-v1")


def worked(shoot: Shoot, light, look=None):
    return needs(shoot, light, Gear(HERON, 1.5, look or Look()), 50)


@pytest.mark.parametrize("light", [*FIXED.values(), out_of_doors("day", "clear")])
@pytest.mark.parametrize("guard", [0, 2])
def test_an_exposure_is_right_for_its_light(light, guard):
    """What is set comes back to the light's own EV, but for what nothing is left for."""
    made = worked(Shoot(0, 60, "x", speed=0.5, near=4), light, replace(Look(), guard=guard))
    e = made.exposure
    assert ev100(e.aperture, e.time, e.iso) - e.filter == pytest.approx(
        light.ev100 - e.off, abs=0.01
    )
    assert e.iso >= HERON.sensor.base_iso * 2**guard - 1e-6


def test_the_slowest_time_is_what_hands_and_movement_leave():
    still = worked(Shoot(0, 60, "x", focal=50, ev100=3), FIXED["shade"])
    runs = worked(Shoot(0, 60, "x", focal=50, speed=4, near=5, ev100=9), FIXED["shade"])
    assert still.exposure.time == pytest.approx(2**3 / 75, rel=0.02)  # three stops of stabilisation
    assert dict(still.rows)["Shutter"] == "Hands decide: 1/10 s."
    across = 36 / 1.5 / 6000  # millimetres of a photosite
    smear = 4 * runs.exposure.time * 0.05 / (5 - 0.05) * 1000 / across
    assert smear <= 12.1
    rows = dict(runs.rows)
    assert rows["Movement"].startswith("At 4 m/s and 5 m, 1/")
    stops = math.log2(2**3 / 75 / runs.exposure.time)
    assert f"Hands would hold 1/10: that costs {stops:.1f} stops of ISO." in rows["Shutter"]
    assert runs.calmer == pytest.approx(max(runs.exposure.iso / 2**stops, 125))


@pytest.mark.parametrize(
    ("shoot", "look", "time", "says"),
    [
        (Shoot(0, 60, "x", speed=0.2, near=2, focal=45), Look(), 1 / 100, "suits the lamps"),
        (
            Shoot(0, 60, "x", focal=320),
            Look(),
            1 / 100,
            "the lamps make it 1/100 s: 0.7 stops of ISO",
        ),
        (
            Shoot(0, 60, "x", focal=60),
            Look(),
            1 / 11.25,
            "Hands decide: 1/10 s, which suits the lamps",
        ),
        (Shoot(0, 60, "x", speed=3, near=2), Look(), None, "Hands would hold"),
        (Shoot(0, 60, "x"), Look(slowest=1 / 125), 1 / 125, "The slot's own limit decides"),
        (Shoot(0, 60, "x"), Look(clip=True, rate=25), 1 / 50, "The frame of the clip decides"),
    ],
)
def test_which_rule_decides_under_lamps_of_fifty_hertz(shoot, look, time, says):
    made = worked(replace(shoot, ev100=4), FIXED["lamps"], look)
    assert says in dict(made.rows)["Shutter"]
    if time:
        assert made.exposure.time == pytest.approx(time, rel=0.12)
    halves = made.exposure.time * 100
    safe = (abs(halves - round(halves)) < 0.02 and halves > 0.5) or halves > 5.5
    assert safe != any("50 Hz lamps: 1/100" in w for w in made.warnings)


BODIES = list(shipped().values())


@given(
    which=st.integers(0, len(BODIES) - 1),
    kind=st.sampled_from([*FIXED.values(), *(out_of_doors(b, "clear") for b in ("day", "night"))]),
    shoot=st.builds(
        Shoot, st.just(0), st.just(60), st.just("x"), speed=st.floats(0, 30),
        near=st.floats(0.1, 90), focal=st.floats(8, 600), ev100=st.none() | st.floats(-6, 18),
        bracket=st.integers(1, 9),
        step=st.floats(0.3, 3), kind=st.sampled_from(["exposure", "iso", "guard", "style"]),
        timeline=st.sampled_from([0, 24, 25, 60]), grey=st.sampled_from([0, 3, 6, 10]),
        index=st.sampled_from([0, 100, 320, 1600]),
    ),
    look=st.builds(
        Look, clip=st.booleans(), rate=st.sampled_from([24, 25, 50, 60]), guard=st.integers(0, 2),
        exposure=st.floats(-1, 1), aperture=st.sampled_from([0, 2.8, 16]),
        slowest=st.sampled_from([0, 0.002]),
    ),
)  # fmt: skip
@settings(max_examples=300, deadline=None)
def test_no_plan_asks_of_a_body_what_it_cannot_do(which, kind, shoot, look):
    """Exposures lie within the body's own limits and come back to the light; every end of a bracket
    beyond them is said; a slow motion uses a rate that it has."""
    camera = BODIES[which]
    sensor = camera.sensor
    made = needs(shoot, kind, Gear(camera, 1.5, look), 50)
    e, ev = made.exposure, kind.ev100 if shoot.ev100 is None else shoot.ev100
    if not look.aperture:
        assert sensor.widest * 0.99 <= e.aperture <= max(sensor.narrowest, 16) * 1.2
    assert sensor.fastest * 0.99 <= e.time <= LONGEST * 1.01 or look.clip
    assert sensor.base_iso * 0.99 <= e.iso <= max(sensor.top_iso, e.floor) * 1.01
    grey = e.filter if look.clip else shoot.grey
    bias = look.exposure - made.offset
    assert ev100(e.aperture, e.time, e.iso) == pytest.approx(ev - grey - bias - e.off, abs=0.02)
    said = " ".join(made.warnings)
    if shoot.bracket > 1 and shoot.kind == "exposure":
        ends = [e.time * 2 ** (s * shoot.step * (shoot.bracket - 1) / 2) for s in (-1, 1)]
        assert ("short end" in said) == (ends[0] < sensor.fastest * 0.97)
        assert ("over 30 s" in said) == (ends[1] > LONGEST * 1.03)
    if shoot.timeline:
        rates = {f"{c.sets['rate']:g}" for d in camera.dials for c in d.choices if "rate" in c.sets}
        has = re.search(r"(?:clips; this camera has|it also has) ((?:\d+, )*\d+)", said)
        assert not has or set(has[1].split(", ")) <= rates
        assert ("Slow motion" in dict(made.rows)) == (look.clip and look.rate > shoot.timeline)


@pytest.mark.parametrize("style", ["plain", "linen", "sounding", "ledger"])
@pytest.mark.parametrize("bias", [0.0, -0.67])
def test_a_zebras_levels_are_those_of_the_look_as_a_table(style, bias):
    """A grey card in ACEScct stands at 0.4136; the look's own LUT says where it comes out."""
    look = Look(style=style, exposure=bias)
    recipe = replace_look(look)
    cube = table(recipe, 65, "acescct")
    steps = np.linspace(0, 1, 65)
    of = {0.0: 0.4136, 1.0: 0.4136 + 1 / 17.52}
    diagonal = cube[range(65), range(65), range(65), 1]
    found = meter.levels(look, HERON.sensor)
    assert found.grey == pytest.approx(100 * np.interp(of[0.0], steps, diagonal), abs=0.8)
    assert found.skin[1] == pytest.approx(100 * np.interp(of[1.0], steps, diagonal), abs=1.2)


class replace_look:
    """A recipe that is a look and nothing else."""

    def __init__(self, look):
        self.look = look


def test_a_log_curves_grey_card_is_where_its_formula_has_it():
    found = meter.levels(Look(style="sounding"), WADER.sensor)
    assert found.grey == pytest.approx(grey_level("sounding"), abs=0.6)
    lower = meter.levels(Look(style="sounding"), WADER.sensor, rated=1.0)
    assert lower.grey > found.grey + 5  # rated a stop lower, the card stands higher


@pytest.mark.parametrize(
    ("around", "metering", "says"),
    [
        ("snow", Metering.HAND, "misleads nobody"),
        ("snow", Metering.FRAME, "comes out too dark: bias about +1 2/3"),
        ("black of night", Metering.FRAME, "comes out too bright: bias about −1"),
        ("a lit stage", Metering.SPOT, "The spot on a face is right"),
        ("white cloth", Metering.HIGHLIGHTS, "stays white"),
    ],
)
def test_what_misleads_a_meter_is_said_with_how_far(around, metering, says):
    made = worked(Shoot(0, 60, "x", around=around), FIXED["shade"], Look(metering=metering))
    assert says in dict(made.rows)["Metering"]


def test_a_frame_of_snow_metered_grey_is_as_dark_as_it_is_said():
    """A frame half of snow at 0.85 and half of grey, brought to mid grey by its mean."""
    frame = np.where(np.arange(100) < 50, 0.85, 0.18)
    assert meter.misled("snow") == pytest.approx(-math.log2(0.18 / frame.mean()))


def test_an_exposure_index_moves_room_and_the_lut_puts_it_back():
    shoot = Shoot(0, 60, "x", ev100=9, index=800)
    made = needs(shoot, FIXED["shade"], Gear(WADER, 1, Look()), 50)
    row = dict(made.rows)["Index"]
    assert made.exposure.iso == 400  # recorded at a native ISO
    assert row.startswith("Recorded at ISO 400 and rated 800: 4.3 stops above mid grey")
    assert made.offset == 1
    assert row.endswith("The editor's LUT makes it 1 stop brighter.")
    usual = needs(replace(shoot, index=0), FIXED["shade"], Gear(WADER, 1, Look()), 50)
    light = ev100(made.exposure.aperture, made.exposure.time, 400)
    assert light == pytest.approx(9 + 1, abs=0.02)  # a stop less light than the meter asks for
    assert usual.offset == 0


def test_the_worst_iso_of_two_native_ones_is_told():
    rows = [
        dict(needs(Shoot(0, 9, "x", ev100=ev), FIXED["shade"],
                   Gear(WADER, 1, Look()), 50).rows)["ISO"]
        for ev in (14, 2, 0.5)
    ]  # fmt: skip
    assert "second native" not in rows[0]
    assert "2500, this camera's second native ISO, is cleaner in the shadows from" in rows[1]
    assert "second native" not in rows[2]


def test_long_times_want_a_tripod_and_past_thirty_seconds_a_hand_on_the_release():
    day, dusk = (
        worked(Shoot(0, 60, "x", grey=10, ev100=ev), FIXED["shade"], Look()) for ev in (14, 8)
    )
    assert dict(day.rows)["Long exposure"].startswith("ND1024 turns 1/320 s into 3.2 s.")
    assert day.exposure.time == pytest.approx(8**2 / 2**4 / 1.25, rel=0.01)
    assert any(w.startswith("Beyond 30 s: bulb, 3.4 min") for w in dusk.warnings)
    dark = worked(Shoot(0, 60, "x", grey=10, ev100=14), FIXED["shade"], Look(dark_frame=True))
    assert "With its dark frame 6 s from press to press." in dict(dark.rows)["Long exposure"]


def test_slow_motion_says_what_its_rate_forbids():
    fast = Look(clip=True, rate=100)
    row = dict(worked(Shoot(0, 9, "x", timeline=25), FIXED["shade"], fast).rows)["Slow motion"]
    assert row.startswith("100 on 25: 4 times slower, 10 s last 40 s. No sound.")
    assert "1920 x 1080 only" in row
    still = worked(Shoot(0, 9, "x", timeline=25), FIXED["shade"], Look()).warnings
    assert "Slow motion wants a slot for clips; this camera has 24, 25, 50, 60, 100" in still
    same = worked(Shoot(0, 9, "x", timeline=25), FIXED["shade"], Look(clip=True)).warnings
    assert any(w.startswith("25 a second on 25 is no slow motion; it also has 50") for w in same)


def test_a_focus_bracket_leaves_no_gap():
    """By near and far limits of thin lenses, in object space: each frame begins where the last one
    ends."""
    near, far, focal = 0.5, 2.0, 0.05
    made = worked(Shoot(0, 9, "x", near=near, far=far, focal=50, ev100=15), FIXED["shade"])
    number = made.exposure.aperture
    circle = 2 * 36e-3 / 1.5 / 6000
    behind, many = 1 / (1 / focal - 1 / near), 0
    end = 1 / (1 / focal - 1 / far)
    while behind > end:
        behind -= 2 * number * circle
        many += 1
    assert f"{many} frames" in dict(made.rows)["Focus bracket"]


@pytest.mark.parametrize(
    ("kind", "step", "listed", "warns"),
    [
        ("iso", 1, "125, 250, 500", "The bracket's low end is under ISO 250"),
        ("guard", 1, "0 (from ISO 125), 1 (from ISO 250), 2 (from ISO 500)", ""),
        ("guard", 2, "4 (from ISO 2000)", "This camera's guard has 1/3, 2/3, 1, 1 1/3, 1 2/3, 2"),
        ("guard", 5, "5 (from ISO 4000); 30 files", "This camera's guard has"),
        ("balance", 30, "5900 K", ""),
        ("balance", 150, "2", "This camera sets"),
        ("style", 1, "Styles: ", ""),
    ],
)
def test_brackets_of_every_kind_are_listed_as_the_camera_prints_them(kind, step, listed, warns):
    shoot = Shoot(0, 9, "x", ev100=15, kelvin=5000, bracket=3, step=step, kind=kind, frames=10)
    if kind == "iso":
        shoot = replace(shoot, ev100=12, focal=35)
    made = worked(shoot, FIXED["shade"], Look(iso_least=250 if kind == "iso" else 0))
    row = dict(made.rows)["Bracket"]
    assert row.endswith("30 files.")
    assert (listed in row) or kind == "balance"
    if kind == "balance":
        kelvins = [float(k) for k in row.split(": ")[1].split(";")[0].replace(" K", "").split(", ")]
        gaps = np.diff([1e6 / k for k in kelvins])
        assert np.allclose(gaps, -step, atol=0.7)
    if warns:
        assert any(warns in w for w in made.warnings)
    else:
        assert not [w for w in made.warnings if w.startswith(("This camera", "The bracket"))]


def test_a_guard_bracket_counts_what_a_style_asks_for_itself():
    shoot = Shoot(0, 9, "x", ev100=15, bracket=2, step=1, kind="guard")
    made = worked(shoot, FIXED["shade"], Look(style="sounding", guard=2))
    assert "0 (from ISO 500), 1 (from ISO 1000)" in dict(made.rows)["Bracket"]
    none = needs(shoot, FIXED["shade"], Gear(WADER, 1.0, Look()), 50)
    assert "This camera has no guard to set" in none.warnings


def test_the_sun_is_before_or_behind_the_camera():
    assert sunlight.row(-5, 90, None) == ""
    assert sunlight.row(12.4, 228, None) == "12° high in the south-west (228°)."
    assert "before the camera: back light" in sunlight.row(10, 350, 10)
    assert "behind the camera: front light" in sunlight.row(10, 350, 170)
    assert "from the right" in sunlight.row(10, 90, 0)
    assert "from the left" in sunlight.row(10, 270, 0)


def test_a_bag_is_read_and_what_it_lacks_is_told():
    has = bag.read("ND8 67, nd64 72mm; ND1000")
    assert [(g.factor, g.thread) for g in has] == [(8, 67), (64, 72), (1000, 0)]
    assert (
        bag.lacks(has, 8, 67, "x") == bag.lacks(has, 1, 67, "x") == bag.lacks((), 8, 67, "x") == ""
    )
    assert bag.lacks(has, 1024, 82, "x") == ""  # sold as ND1000, of any thread
    assert bag.lacks(has, 64, 67, "x").endswith("ND64 of 72 mm fits with a step-up ring.")
    assert bag.lacks(has, 8, 72, "x").endswith("and the bag has ND8 of 67 mm only.")
    assert bag.lacks(has, 4, 67, "x").endswith("the bag has none; nearest is ND8 of 67 mm.")
    for odd in ("grey one", "ND1", "ND8 sixty"):
        with pytest.raises(PlumError, match="is no grey filter"):
            bag.read(odd)


@pytest.mark.parametrize(
    ("shoot", "light", "look", "says"),
    [
        (Shoot(0, 60, "x", speed=2, near=2), FIXED["tubes"], Look(), "50 Hz lamps"),
        (Shoot(0, 60, "x"), FIXED["lanterns"], Look(exposure=-0.67), "Bias −2/3 here adds noise"),
        (
            Shoot(0, 60, "x"),
            FIXED["lamps"],
            Look(balance=Balance.FIXED, light_mired=150),
            "Its white balance is fixed: 2",
        ),
        (Shoot(0, 60, "x", ev100=14), FIXED["shade"], Look(guard=2), "Guard 2 needs ISO 500"),
    ],
)
def test_what_would_surprise_is_said(shoot, light, look, says):
    found = worked(shoot, light, look).warnings
    assert any(w.startswith(says) for w in found), found
    assert not worked(Shoot(0, 60, "x", ev100=15), FIXED["shade"]).warnings


def test_a_fixed_balance_is_told_by_its_colour():
    warm, cool = (
        worked(Shoot(0, 60, "x"), light, Look(balance=Balance.FIXED, light_mired=mired)).warnings[
            -1
        ]
        for light, mired in ((FIXED["lamps"], 180), (out_of_doors("day", "clear"), 350))
    )
    assert warm.endswith("too orange here")  # daylight's setting under lamps
    assert cool.endswith("too blue here")  # the lamps' setting by day


def test_clashes_and_cards_are_counted():
    shoots = [
        Shoot(60, 120, "One", who="Ann", frames=1000),
        Shoot(100, 160, "Two", who="Ann", frames=1000),
        Shoot(200, 260, "Three", who="Ann", minutes=30),
    ]
    planned = [power.Planned(s, "A", 30, 100, id=7) for s in shoots]
    assert [c.words for c in clash.clashes(planned)] == [
        "Ann is at 'One' and 'Two' at once.",
        "A is wanted for 'One' and 'Two' at once.",
    ]
    use = power.cards(planned, {7: 64})[0]
    assert use.taken == 2 * 30_000 + 30 * 60 * 100 / 8
    assert use.holds == pytest.approx(60_800)
    assert use.words == "The card of A is full at about 03:22, during 'Three'."
    assert power.at_less(use, 100, 3) == ""
    assert (
        power.at_less(replace(use, taken=59_000), 100, 50)
        == "At 50 Mbit/s instead of 100 it would be 79 % full."
    )
    assert power.cards(planned[:1], {7: 64})[0].words == ""


def test_brackets_lapses_batteries_and_slow_cards_are_told_of():
    shoot = Shoot(0, 120, "x", ev100=12, frames=60, bracket=7, step=1, lapse=20, focal=50)
    made = worked(shoot, FIXED["shade"])
    rows = dict(made.rows)
    assert rows["Bracket"].endswith("; 420 files.")
    assert rows["Bracket"].count(",") == 6
    assert "500 frames, one every 14.4 s, make 20 s." in rows["Time lapse"]
    dark = worked(replace(shoot, ev100=2), FIXED["shade"]).warnings
    assert any("wants a tripod" in w for w in dark)
    bright = worked(replace(shoot, ev100=17), FIXED["shade"]).warnings
    assert "The bracket's short end is faster than 1/8000 s" in bright
    many = power.Planned(replace(shoot, frames=200), "A", 30, 100, id=7)
    use = power.cards([many], {7: 64})[0]
    assert use.files == 1400
    assert power.batteries(use, 3).startswith("A wants about 3.7 batteries, and there are 3;")
    assert power.batteries(use, 4) == power.batteries(use, 0) == ""
    assert "is V30: it sustains 240 Mbit/s" in power.too_slow("A", "2 of 64 GB V30", 400)
    assert power.too_slow("A", "2 of 64 GB V30", 200) == ""
    assert power.too_slow("A", "2 of 64 GB", 400) == ""
    assert power.batteries(use, 4, celsius=-3).endswith("and it is cold; keep the spare ones warm.")
    assert power.batteries(use, 2, charge=1400) == ""
    clips = power.Planned(replace(shoot, minutes=30), "A", rate=50)
    assert "let it cool between takes" in power.hot(clips, "standard")
    assert "its heat limit is high" in power.hot(clips, "high")
    assert power.hot(replace(clips, rate=25), "") == ""
    assert "heat stopped A after 25. Take 20 at a time" in power.hot(clips, "high", 25)
    assert power.hot(clips, "", 38) == ""  # it is known to last


def test_ways_are_counted_and_low_sun_does_not_wait():
    shoots = [
        Shoot(900, 960, "One", who="Ann"),
        Shoot(960, 1020, "Gold", who="Ann", walk=25),
        Shoot(965, 1020, "Bo's", who="Bo", walk=25),
    ]
    planned = [power.Planned(s, s.who) for s in shoots]
    words = [c.words for c in clash.clashes(planned)]
    assert words == ["The way to 'Gold' takes 25 min: Ann is there at 16:25."]

    def band(minute):
        return "low sun" if minute < 980 else "dusk"

    gone = clash.missed_light(planned, band)
    assert [c.words for c in gone] == [
        "'Gold': low sun is over at 16:20, and the way there ends at 16:25."
    ]
    assert gone[0].shoots == (1,)
    assert not clash.missed_light(planned, lambda m: "low sun")


def job(title, starts, camera, **more):
    shoot = Shoot(starts, starts + 30, title, **more)
    return leaving.Job(shoot, Gear(HERON), FIXED["shade"], camera=camera)


def test_everything_may_be_named_the_same():
    """Two cameras of one name keep their cards apart and may be in two places at once; of two
    shoots of one title the right one is marked."""
    about = About("Heron M2", cards="1 of 1 GB", batteries=1)
    one, two = (leaving.Camera(k, called, about, HERON)
                for k, called in ((1, "Heron M2"), (2, "Heron M2, second")))  # fmt: skip
    jobs = [
        job("A shoot", 600, one, frames=20),
        job("A shoot", 610, two, frames=20),
        job("A shoot", 700, two, frames=400),
    ]
    used = leaving.uses(jobs)
    assert [(u.id, u.files) for u in used] == [(1, 20), (2, 420)]
    assert [u.full_at for u in used] == [None, 2]
    found = leaving.clashes(jobs, "", lambda minute: "day")
    assert [(c.words.split(" is ")[0], c.shoots) for c in found] == [
        ("The card of Heron M2, second", (2,))
    ]
    assert found[0].words.endswith("during 'A shoot, 11:40'.")
    same = [*jobs[:1], replace(jobs[1], camera=one)]
    (clashes,) = leaving.clashes(same, "", lambda minute: "day")
    assert clashes.words == "Heron M2 is wanted for 'A shoot, 10:00' and 'A shoot, 10:10' at once."
    wants = leaving.lasting(jobs, None)
    assert wants == ["Heron M2, second wants about 1.1 batteries, and there are 1; a charge gives "
                     "less in the cold."]  # fmt: skip


@pytest.mark.parametrize(
    ("cards", "mode", "holds"),
    [
        ("2 of 64 GB", "same", 64), ("2 of 64 GB", "in_turn", 128), ("0,5 TB V60", "same", 500),
        ("128 GB", "in_turn", 128), ("some", "same", 0), ("", "same", 0),
    ],
)  # fmt: skip
def test_what_is_said_of_cards_is_read(cards, mode, holds):
    camera = leaving.Camera(1, "x", About(cards=cards), HERON, {"two_cards": mode})
    assert camera.holds == holds


def test_megabytes_go_by_what_files_are_written():
    """A third of a megabyte a megapixel for a picture, 1.3 for a raw."""
    megapixels = HERON.sensor.width**2 / 1.5 / 1e6
    sizes = [
        leaving.Camera(1, "x", About(), HERON, {"files": files}).megabytes / megapixels
        for files in ("picture", "raw", "both")
    ]
    assert sizes == pytest.approx([0.35, 1.3, 1.65])


def test_before_leaving_words_of_titles_count_whole():
    """A drone asks for rules, an androne does not; a concert asks for silence."""
    beside = {"sounds": "on", "switch_off": "never"}
    camera = leaving.Camera(1, "A", About(), HERON, {}, "2026-11-06T09:00:00Z", beside)
    quiet = leaving.before([job("Concert", 600, camera), job("By drone", 700, camera)], "")
    assert "A beeps: sounds off for the ceremony" in quiet
    assert any(words.startswith("Flying cameras") for words in quiet)
    loud = leaving.before([job("Preconcerted androne", 600, camera)], "")
    assert not any("beeps" in words or "Flying" in words for words in loud)
    low = replace(job("x", 600, camera), light=out_of_doors("low sun", "clear"))
    assert leaving.before([low], "")[-1].startswith("Low sun: never aim")
