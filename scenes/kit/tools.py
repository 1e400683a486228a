"""Small things that hands hold: brushes, paint pots, sticks with lanterns."""

import numpy as np

from .render import colour, mesh, surface
from .shapes import join, lathe, place, tube
from .strands import unit


def along(shape, at, way):
    """A shape made along +y, laid along `way` with its origin at `at`."""
    way = unit(np.asarray(way, float))
    side = unit(np.cross(way, [0.31, 0.2, 0.93]))
    axes = np.stack([side, way, np.cross(side, way)])
    return shape[0] @ axes + np.asarray(at), *shape[1:]


def brush(scene, name, at, way, paint, size=1.0):
    """A round brush held at `at`, its hair towards `way`, loaded with `paint`."""
    handle = lathe(
        [
            (0, -1.3),
            (0.035, -1.28),
            (0.05, -0.9),
            (0.075, 0.1),
            (0.055, 0.5),
            (0.05, 0.62),
            (0, 0.62),
        ],
        24,
    )
    ferrule = lathe([(0.055, 0.58), (0.085, 0.66), (0.10, 0.95), (0.095, 0.96)], 32)
    hair = lathe([(0.095, 0.94), (0.12, 1.15), (0.105, 1.40), (0.04, 1.56), (0, 1.58)], 32)
    hair = (hair[0] * [1, 1, 0.75], *hair[1:])
    wood = surface(colour(0.34, 0.10, 0.04), 0.22, 0.5, clearcoat=0.6)
    metal = surface(colour(0.72, 0.66, 0.52), 0.25, metallic=1.0)
    wet = surface(colour(*paint), 0.25, 0.5)
    for part, shape, material in (
        ("handle", handle, wood),
        ("ferrule", ferrule, metal),
        ("hair", hair, wet),
    ):
        shape = (shape[0] * size, *shape[1:])
        scene[f"{name}_{part}"] = mesh(along(shape, at, way), material, f"{name}_{part}")


def pot(scene, name, at, paint, rgb=(0.55, 0.55, 0.54), size=1.0):
    """A tin of paint hanging from its wire; `at` is where the wire is held."""
    phi = np.linspace(0, np.pi, 40)
    wire = tube(np.stack([0.46 * np.cos(phi), -0.62 + 0.62 * np.sin(phi), 0 * phi], 1), 0.022, 8)
    tin = lathe(
        [
            (0, -1.62),
            (0.46, -1.62),
            (0.47, -1.58),
            (0.455, -1.5),
            (0.455, -0.66),
            (0.48, -0.62),
            (0.45, -0.60),
            (0.43, -0.66),
            (0.43, -0.80),
            (0, -0.80),
        ],
        64,
    )
    surface_of_paint = lathe([(0, -0.795), (0.43, -0.795)], 48)
    drips = [
        tube(
            np.stack([0.462 * np.cos(a) + 0 * t, -0.62 - long * t, 0.462 * np.sin(a) + 0 * t], 1),
            np.r_[np.full(11, 0.035), 0.06],
            8,
        )
        for a, long in ((0.4, 0.5), (0.9, 0.75), (2.2, 0.4), (1.5, 0.25), (4.1, 0.6))
        for t in [np.linspace(0, 1, 12)]
    ]
    metal = surface(colour(*rgb), 0.32, metallic=0.85)
    wet = surface(colour(*paint), 0.18, 0.5)
    for part, shape, material in (
        ("wire", wire, metal),
        ("tin", tin, metal),
        ("paint", join([surface_of_paint, *drips]), wet),
    ):
        shape = place((shape[0] * size, *shape[1:]), at)
        scene[f"{name}_{part}"] = mesh(shape, material, f"{name}_{part}")


def stick(scene, name, low, high, radius=0.09, rgb=(0.30, 0.17, 0.08)):
    """A pole between two points, a little bent."""
    t = np.linspace(0, 1, 60)[:, None]
    low, high = np.asarray(low, float), np.asarray(high, float)
    path = low * (1 - t) + high * t + np.array([0.10, 0, 0.05]) * np.sin(np.pi * t)
    material = surface(colour(*rgb), 0.45, 0.4)
    scene[name] = mesh(tube(path, radius * (1.1 - 0.2 * t[:, 0]), 16), material, name)
