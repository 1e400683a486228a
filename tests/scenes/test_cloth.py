"""Cloth of the scenes: it hangs as gravity and its threads say, lies on what is below it, and its
patterns are sewn."""

import numpy as np
import pytest

from scenes.kit import cloth, patterns, shapes

NOWHERE = np.array([[0.0, -500, 0]])
UP = np.array([[0.0, 1, 0]])


def fall(made, frames, middles=NOWHERE, normals=UP, **given):
    for f in range(frames):
        made.step(middles, middles, normals, damping=6 if f > frames // 2 else 2, **given)
    return made.p


def flag(bending=5.0):
    pattern, shape = patterns.sheet(4.0, 2.0, 0.2)
    x, y = pattern.rest.T
    start = np.stack([y, 0 * x, x], 1)  # lies flat, its first edge at z = 0
    made = cloth.Cloth(pattern.rest, pattern.side, pattern.quads, start, 0.2, bending)
    return made, pattern, shape


def test_a_flag_that_is_held_hangs_down_by_its_length():
    made, pattern, _ = flag()
    made.hold[:] = pattern.rest[:, 0] < 0.01
    p = fall(made, 150)
    assert p[pattern.rest[:, 0] < 0.01, 1] == pytest.approx(0, abs=1e-9)
    assert p[:, 1].min() == pytest.approx(-4.0, rel=0.03)
    edges, length, _ = made.web
    now = np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1)
    assert np.median(np.abs(now / length - 1)) < 0.01


def test_what_is_let_go_falls_as_galilei_says():
    made, _, _ = flag()
    for _ in range(15):  # a quarter of a second
        made.step(NOWHERE, NOWHERE, UP, damping=0.0)
    assert made.p[:, 1].mean() == pytest.approx(-0.5 * cloth.GRAVITY * 0.25**2, rel=0.02)


def test_stiff_cloth_sags_less_over_an_edge():
    sag = []
    for bending in (2, 2000):
        made, pattern, _ = flag(bending)
        made.hold[:] = pattern.rest[:, 0] < 2.9
        sag.append(fall(made, 90)[:, 1].min())
    assert sag[0] < sag[1] - 0.2


def test_a_sheet_lies_on_a_ball_and_not_in_it():
    v, f, _ = shapes.sphere(96, 64)
    middles = v[f].mean(1)
    pattern, _ = patterns.sheet(3.0, 3.0, 0.1)
    x, y = pattern.rest.T
    start = np.stack([x - 1.5, 0 * x + 1.1, y], 1)
    made = cloth.Cloth(pattern.rest, pattern.side, pattern.quads, start, 0.1, 3.0)
    p = fall(made, 90, middles, middles / np.linalg.norm(middles, axis=1, keepdims=True))
    far = np.linalg.norm(p, axis=1)
    assert far.min() > 0.99
    assert p[:, 1].max() == pytest.approx(1.04, abs=0.03)
    assert p[:, 1].min() < -0.2  # it hangs down at the sides


def test_a_gathered_band_is_as_long_as_it_is_said_to_be():
    made, _, _ = flag()
    before = made.web[1].copy()
    made.gather(((1.0, 0.5, 0.6),))
    assert set(np.round(made.web[1] / before, 6)) <= {1.0, 0.6}
    assert (made.web[1] < before).any()


def test_a_smock_is_sewn_at_its_sides_and_open_at_neck_hem_and_cuffs():
    made = patterns.tee(patterns.Tee(slit=0), 0.1, (np.array([2.0, 4.0]), 5.0), 5.0)
    quads = made.quads
    edges = np.sort(np.concatenate([quads[:, [k, (k + 1) % 4]] for k in range(4)]), 1)
    pairs, uses = np.unique(edges, axis=0, return_counts=True)
    assert uses.max() == 2
    rim = pairs[uses == 1]
    near = {}
    for a, b in rim:
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    assert all(len(v) == 2 for v in near.values())
    rings, left = 0, set(near)
    while left:
        rings, todo = rings + 1, [left.pop()]
        while todo:
            for other in near[todo.pop()]:
                if other in left:
                    left.remove(other)
                    todo.append(other)
    assert rings == 4  # neck, hem and two cuffs
    assert len(made.rest) - len(pairs) + len(quads) == 2 - rings
