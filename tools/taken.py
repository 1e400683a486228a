"""Plots of what light, time and file do to a picture, for docs/pipeline.md: make figures"""

import tempfile
from dataclasses import replace
from pathlib import Path

import colour
import numpy as np

from tests.core.test_raws import DAY, LAMP, checker, fractions, patches, seen
from tools import asked
from tools.heart import HERON, PLOTS, WADER, plot, strip
from zesty_plum.core import scenes
from zesty_plum.core.develop import sense
from zesty_plum.core.develop.pipeline import develop
from zesty_plum.core.develop.tone import log_encoded
from zesty_plum.core.styles import style

SHOT = {"width": 300, "seed": 1}


def raws():
    """How far a colour checker in a raw is from its colours, by the temperature of its light."""
    kelvins, mean, worst = np.array([2400, 2856, 3400, 4000, 5000, 6504, 9000]), [], []
    for kelvin in kelvins:
        xy = (
            colour.temperature.CCT_to_xy_Kang2002(kelvin)
            if kelvin != 6504
            else np.array([0.3127, 0.3290])
        )
        share = np.clip((1e6 / kelvin - 1e6 / 6504) / (1e6 / 2856 - 1e6 / 6504), 0, 1)
        matrix = share * LAMP + (1 - share) * DAY
        neutral = matrix @ colour.xy_to_XYZ(xy)
        xyz = checker(xy) * 0.9 / neutral.max()
        with tempfile.TemporaryDirectory() as folder:
            made, _ = seen(patches(xyz, matrix, Path(folder), AsShotNeutral=fractions(neutral)))
        labs = (colour.XYZ_to_Lab(v / 0.9, xy) for v in (made, xyz * neutral.max()))
        apart = colour.delta_E(*labs, method="CIE 2000")
        mean.append(apart.mean())
        worst.append(apart.max())
    plot(
        "raws",
        {"mean of 24 patches": (1e6 / kelvins, mean), "worst": (1e6 / kelvins, worst)},
        "mired of the light of the shot",
        "CIEDE2000 from the colours told",
        (100, 450),
        (0, 2),
        range(100, 451, 50),
        (0, 0.5, 1, 1.5, 2),
    )


def room():
    """Sounding's code values by stops, to where each body clips."""
    made = style("sounding")
    lines = {}
    for camera in (HERON, WADER):
        stops = np.linspace(-8, camera.sensor.headroom + made.guard, 200)
        lines[camera.name] = (stops, 100 * log_encoded(0.18 * np.exp2(stops), made.tone))
    plot(
        "log-room",
        lines,
        "stops from mid grey",
        "percent of the scale",
        (-8, 6),
        (0, 100),
        range(-8, 7, 2),
        range(0, 101, 20),
    )


def programme():
    """Aperture, time and ISO by the light, in stops."""
    evs = np.linspace(-4, 18, 300)
    made = [sense.expose(HERON.sensor, ev) for ev in evs]
    plot(
        "programme",
        {
            "aperture, stops from f/5.6": (evs, [2 * np.log2(e.aperture / 5.6) for e in made]),
            "time, stops from 1/125": (evs, [np.log2(e.time * 125) for e in made]),
            "ISO, stops from 125": (evs, [np.log2(e.iso / 125) for e in made]),
        },
        "EV at ISO 100",
        "stops",
        (-4, 18),
        (-6, 10),
        range(-4, 19, 4),
        range(-6, 11, 2),
    )


def lighter(picture):
    """Four times as bright, for what lies in shadows to be seen."""
    return np.clip(picture.encoded * 4 * 255, 0, 255).astype(np.uint8)


def pictures():
    """Movement by time; a clip's file by bit rate, at 100 percent; warm photosites by time."""
    night, beach = scenes.load("procession"), scenes.load("beach")
    dials = ({}, {"iso_most": 1600}, {"iso_most": 400}, {"iso_most": 250, "aperture": "f/5.6"})
    strip("time", [develop(night, HERON.interpret(d), HERON.sensor, **SHOT).pixels for d in dials])
    clips = (
        {"output": "clip_8", "bit_rate": 50},
        {"output": "clip_10", "chroma": "4:2:2", "bit_rate": 100},
        {"output": "clip_10", "chroma": "4:2:2", "bit_rate": 200, "clip_size": 3840},
        {},
    )
    strip(
        "files",
        [
            develop(
                beach, HERON.interpret(d), HERON.sensor, full_detail=True, as_written=True, **SHOT
            ).pixels
            for d in clips
        ],
    )
    still = replace(night, moves=(), lens=0.0, place=(0.95, 0.1))
    long = [{"aperture": a, "iso_most": i} for a, i in (("f/2.8", 3200), ("f/8", 800))]
    long += [{"aperture": "f/16", "iso_most": 800, "dark_frame": d} for d in ("off", "on")]
    strip(
        "long",
        [
            lighter(develop(still, HERON.interpret(d), HERON.sensor, full_detail=True, **SHOT))
            for d in long
        ],
    )


if __name__ == "__main__":
    asked(__doc__)
    PLOTS.mkdir(exist_ok=True)
    raws()
    room()
    programme()
    pictures()
