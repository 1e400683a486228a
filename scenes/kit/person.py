"""People who exist nowhere: near enough for pores and lashes, whole enough to hold things, each
from a set of numbers."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from . import body, closed, eyes, fabric, hair, rig
from .clothes import Wearer, fuzz, wool
from .draped import Garment, fallen
from .render import mesh
from .shapes import lattice, rotation
from .skin import Skin
from .strands import write_curves


@dataclass(frozen=True)
class Piece:
    """A garment that falls on a person, what it is made of, what `fabric.shape` is given, and its
    nap: count, length and colour."""

    key: str
    garment: Garment
    cloth: Callable
    form: dict = field(default_factory=dict)
    nap: tuple | None = None


@dataclass(frozen=True)
class Person:
    """What makes one person. Colours are linear sRGB; lengths decimetres; angles degrees."""

    seed: int
    sex: str
    ancestry: dict
    age: float
    targets: list
    yaw: float = 20
    pitch: float = 0
    roll: float = -4
    bends: dict = field(default_factory=lambda: dict(rig.ARMS_DOWN))  # of spine, arms and legs
    holds: dict = field(default_factory=dict)  # 'L' and 'R' to where that hand goes
    neckline: float = 4.2  # height down to which skin shows in front
    gaze: tuple = (0.0, 0.0)
    melanin: tuple = (0.012, 0.13)
    deep: bool = False  # skin that varies as deep skin does
    melanin_slope: float = 2.3
    redness: float = 1.0
    lip_blood: float = 0.55
    lip_melanin: float = 0.14
    under_eye: float = 1.0
    freckles: int = 120
    moles: int = 4
    roughness: float = 0.50
    oil: float = 0.12
    coat: float = 0.01
    pores: float = 0.0018
    wrinkles: float = 0.0
    brow_lift: float = 0.0
    brow_width: float = 1.0
    brow_hairs: int = 450
    brow_colour: tuple = (0.06, 0.036, 0.023)
    lashes: float = 1.0
    lash_colour: tuple = (0.03, 0.02, 0.016)
    beard_hairs: int = 0
    beard_length: float = 0.05
    beard_pigment: float = 2.0
    grey: float = 0.0
    vellus: int = 0
    hair: str = "long"
    hairs: int = 12000
    hair_length: float = 0.3
    hair_thick: float = 1.0
    tail: str = "bun"  # of tied hair: bun, plait, plaits or tail
    plait_side: int = 1
    wind: tuple = (0, 0, 0)  # on loose hair, in the scene's directions
    wind_share: float = 0.5
    eumelanin: float = 0.5
    pheomelanin: float = 0.3
    parting: float = 0.25
    receding: float = 0.0
    iris: tuple = ((0.13, 0.075, 0.035), (0.10, 0.055, 0.015))
    sclera: tuple = (0.58, 0.53, 0.49)
    cap: tuple | None = None
    jumper: tuple = (0.5, 0.47, 0.41)
    collar: float = 5.78
    collar_bulge: float = 0.10
    drapes: tuple = ()  # of `Piece`; who has none wears a jersey
    wears: list = field(default_factory=list)  # of functions of the skin and `add`
    at: tuple = (0.0, 0.0, 0.0)
    stands: bool = False  # whether `at` is the ground under the lower foot, not below the neck
    facing: float = 0.0


@dataclass
class Made:
    """A person as shapes: fixed ones, and the skin as a function of the pass; where the eyes are,
    and each hand's grip: its middle, along the fingers, out of the palm, along what is held."""

    shapes: dict
    skin: object
    eye: np.ndarray
    hands: dict


def build(who: Person, eye_point, folder, name="person") -> Made:
    """Make the shapes of `who`, looking towards `eye_point` (3,), or straight ahead where that
    is None; curve files go to `folder`.

    The person stands with the ground point below the neck, or with `stands` the lower foot, at
    `who.at`, the chest turned by `who.facing` degrees from +z towards +x.
    """
    turned = rotation(0, who.facing, 0)
    whole = closed.shut(body.shaped(who.sex, who.ancestry, who.age, who.targets))
    whole = whole + (body.eyes(body.reference()).mean(0) - body.eyes(whole).mean(0))
    bends = _bends(who, whole)
    pose = rig.Pose(whole, bends)
    if who.stands:
        low = pose.whole()[np.unique(body.base()[1]["body"])][:, 1].min()
        who = replace(who, at=tuple(np.asarray(who.at) - [0, low, 0]))

    def stand(points):
        return np.asarray(points) @ turned.T + np.asarray(who.at)

    face = Skin(who, pose, whole)
    made = Made(
        {},
        face.skin_mesh(f"{name}_skin", stand),
        stand(pose.head(body.eyes(whole))),
        {
            side: (stand(grip[0]), *(turned @ axis for axis in grip[1:]))
            for side, grip in (("L", pose.hand("L")), ("R", pose.hand("R")))
        },
    )

    def add(key, shape, material):
        made.shapes[f"{name}_{key}"] = mesh(
            (stand(shape[0]), *shape[1:]), material, f"{name}_{key}"
        )

    def strands(key, lines, radii, material):
        path = folder / f"{name}_{key}.txt"
        write_curves(path, [stand(line) for line in lines], radii)
        made.shapes[f"{name}_{key}"] = {
            "type": "bsplinecurve",
            "filename": str(path),
            "bsdf": material,
        }

    middle = pose.head(body.eyes(whole)).mean(0)
    ahead = np.subtract(*pose.head(np.array([[0.0, 7, 1], [0, 7, 0]])))
    gaze = middle + 10 * ahead
    if eye_point is not None:
        gaze = (np.asarray(eye_point, float) - np.asarray(who.at)) @ turned
    gaze = gaze + [*who.gaze, 0]
    closed.check(name, whole, ahead, gaze - middle)
    eyes.eyes(face, gaze, add, strands)
    hair.grow_all(face, strands)
    _dress(who, face, pose, add, strands)
    for piece in who.drapes:
        cloth = fallen(piece.garment, whole, bends)
        add(piece.key, fabric.shape(cloth, **piece.form), piece.cloth())
        if piece.nap:
            count, length, rgb = piece.nap
            strands(f"{piece.key}_nap", *fabric.nap(cloth, count, length), wool(rgb))
    for wear in who.wears:
        wear(face, add)
    return made


def _bends(who, whole):
    bends = {**who.bends, **rig.looking(who.yaw, who.pitch, who.roll)}
    for side, hold in who.holds.items():
        bends = rig.reach(whole, bends, side, hold)
    return bends


def _dress(who, face, pose, add, strands):
    wearer = Wearer(face.whole, pose)

    def knitted(key, made_of, colour_rgb, fibres):
        rounds, inner = made_of
        lines, radii = zip(*rounds)
        strands(key, lines, radii, wool(colour_rgb))
        strands(
            f"{key}_fuzz",
            fuzz(lines, fibres, 0.07, face.rng),
            np.full((fibres, 1), 0.0014),
            wool(colour_rgb),
        )
        for k, lining in enumerate(inner if isinstance(inner, list) else [inner]):
            inside = {"type": "twosided", "b": wool(np.array(colour_rgb) * 0.6)}
            add(f"{key}_lining{k}", lattice(lining), inside)

    if not who.drapes:
        knitted("jumper", wearer.jumper(), who.jumper, 24000)
        knitted("collar", wearer.collar(who.collar, who.collar_bulge), who.jumper, 7000)
    if who.cap:
        knitted("cap", wearer.cap(), who.cap, 22000)
