"""What is worn on the head: scarves, hoods, oilskin hats, glasses; made in the base pose and turned
with the head."""

import numpy as np
from scipy.ndimage import gaussian_filter

from . import body
from .clothes import caster, woven
from .garments import oiled
from .noise import fractal, smoothstep
from .render import both_sides, colour, surface
from .shapes import lattice, sphere, tube

MIDDLE = np.array([0, 6.75, 0.45])  # of the skull


def _shell(face, lean, low, high, rows=110, columns=361):
    """Rays from the middle of the skull: polar angles (rows, columns) about an axis that leans
    back by `lean` degrees, bearings, directions and distances to the skin."""
    a = np.radians(lean)
    turn = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    polar, bearing = np.meshgrid(
        np.radians(np.linspace(low, high, rows)),
        np.linspace(0, 2 * np.pi, columns) + np.pi,
        indexing="ij",
    )
    d = np.stack(
        [np.sin(polar) * np.sin(bearing), np.cos(polar), np.sin(polar) * np.cos(bearing)], -1
    )
    d = d @ turn.T
    cast = caster(*body.compact(face.whole, body.base()[1]["body"]))
    flat = d.reshape(-1, 3)
    r = 12 - cast(MIDDLE + flat * 12, -flat).reshape(polar.shape)
    r = np.where(np.isfinite(r) & (r > 0.5), np.minimum(r, 1.25), 1.0)
    return polar, bearing, d, r


def _front(bearing):
    """1 at the face, 0 at the back."""
    return (1 + np.cos(bearing)) / 2


def scarf(face, add, rgb=(0.45, 0.05, 0.06), print_rgb=None):
    """A square of cloth over the hair, tied at the nape: its edge runs from above the brow behind
    the ears."""
    polar, bearing, d, r = _shell(face, -24, 2, 118)
    r = gaussian_filter(r, (4, 6), mode=("nearest", "wrap"))
    edge = np.radians(66 + 44 * (1 - _front(bearing[0])) ** 0.8)
    share = polar / polar.max()
    polar = share * edge
    a = np.radians(-24)
    turn = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    d = (
        np.stack(
            [np.sin(polar) * np.sin(bearing), np.cos(polar), np.sin(polar) * np.cos(bearing)], -1
        )
        @ turn.T
    )
    cast = caster(*body.compact(face.whole, body.base()[1]["body"]))
    flat = d.reshape(-1, 3)
    r = 12 - cast(MIDDLE + flat * 12, -flat).reshape(polar.shape)
    r = np.where(np.isfinite(r) & (r > 0.5), np.minimum(r, 1.15), 1.0)
    r = gaussian_filter(r, (4, 9), mode=("nearest", "wrap"))
    back = np.angle(np.exp(1j * (bearing - np.pi)))  # from the knot
    pleats = np.sin(22 * np.arctan2(back, 0.35 + 1.6 * (1 - share))) * smoothstep(share, 0.15, 0.9)
    loose = 0.13 + 0.05 * smoothstep(1 - _front(bearing), 0.3, 0.9) + 0.018 * pleats
    loose += 0.03 * fractal(d * 2.4, 3, face.who.seed)
    rolled = 0.025 * np.exp(-(((share - 0.97) / 0.03) ** 2))
    points = face.pose.head(MIDDLE + d * (r + loose + rolled)[..., None])
    uv = np.stack([d[..., 0] * 1.2, d[..., 2] * 1.2 + d[..., 1]], -1)
    cloth = both_sides(woven(rgb, face.who.seed, (3.0, 3.0)))
    add("scarf", lattice(points, uv), cloth)
    knot = MIDDLE + np.array([0, -0.75, -0.95])
    ball, faces, at = sphere(40, 30)
    lumps = 1 + 0.22 * fractal(ball * 3, 2, 5)
    add(
        "scarf_knot",
        (face.pose.head(ball * lumps[:, None] * [0.15, 0.12, 0.12] + knot), faces, at),
        cloth,
    )
    for side in (-1, 1):
        t = np.linspace(0, 1, 30)[:, None]
        w = np.linspace(-1, 1, 16)[None, :]
        wide = 0.10 + 0.20 * t * (1 - 0.3 * t)
        tail = np.stack(
            [
                side * (0.06 + 0.28 * t) + w * wide * 0.8,
                -0.1 - 0.75 * t - 0.12 * w * side * t,
                -0.10 - 0.18 * np.sin(2.4 * t) + 0.05 * np.sin(7 * w + 3 * t),
            ],
            -1,
        )
        add(f"scarf_tail{side}", lattice(face.pose.head(knot + tail)), cloth)


def hood(face, add, rgb=(0.06, 0.09, 0.12), oiled_cloth=False, deep=0.30):
    """A hood up: open at the face, down to the shoulders."""
    polar, bearing, d, r = _shell(face, 0, 3, 150, rows=130)
    back = smoothstep(-d[..., 2], -0.45, 0.5)
    r = np.maximum(gaussian_filter(r, (6, 9), mode=("nearest", "wrap")), 0.98)
    peak = 0.12 * smoothstep(d[..., 1], 0.2, 0.9) + 0.10 * back
    folds = 0.05 * fractal(d * [2.2, 1.3, 2.2], 3, face.who.seed + 7)
    neck = smoothstep(polar, np.radians(105), np.radians(150))
    radius = (r + deep + peak + folds) * (1 - 0.16 * neck)
    open_at = 0.58  # how far forward the edge stands
    points = MIDDLE + d * radius[..., None] + [0, 0, 0.10]
    forward = points[..., 2] - 0.10
    edge = 1.12 + 0.15 * smoothstep(points[..., 1], 6.6, 7.6)
    pulled = np.minimum(forward, edge)
    rim = forward > edge
    shrink = np.where(rim, 1 - open_at * smoothstep(forward - edge, 0, 0.45), 1)
    points[..., 2] = pulled + 0.10 - 0.10 * np.where(rim, smoothstep(forward - edge, 0, 0.1), 0)
    keep = shrink > 0.93
    shape = lattice(face.pose.head(points), np.stack([bearing * 1.2, polar * 1.2], -1))
    faces = shape[1][keep.ravel()[shape[1]].all(1)]
    cloth = both_sides(
        oiled(rgb, face.who.seed) if oiled_cloth else woven(rgb, face.who.seed, (2.4, 2.4))
    )
    add("hood", (shape[0], faces, shape[2]), cloth)


def brimmed(face, add, rgb=(0.60, 0.42, 0.03)):
    """An oilskin hat with a brim that is long at the nape."""
    polar, bearing, d, r = _shell(face, -14, 2, 82, rows=80)
    r = gaussian_filter(r, (5, 9), mode=("nearest", "wrap"))
    crown = r + 0.13 + 0.015 * np.sin(bearing * 3) * polar
    seam = 0.012 * np.exp(-((np.sin(bearing * 3) / 0.05) ** 2))
    points = MIDDLE + d * (crown + seam)[..., None]
    out = np.linspace(0, 1, 26)[:, None]
    rim = points[-1]
    away = rim - rim.mean(0)
    away[:, 1] = 0
    away /= np.linalg.norm(away, axis=1, keepdims=True)
    back = 1 - _front(bearing[0])
    length = (0.34 + 0.42 * back**1.5)[None, :, None]
    drop = (0.18 + 0.30 * back + 0.10 * np.sin(2 * bearing[0]) ** 2)[None, :, None]
    brim = rim[None] + out[..., None] * length * away[None] * 0.85
    brim = brim - [0, 1, 0] * (drop * out[..., None] ** 1.3)
    whole = np.concatenate([points, brim[1:]])
    add("hat", lattice(face.pose.head(whole)), both_sides(oiled(rgb, face.who.seed)))


def glasses(face, add, rgb=(0.05, 0.03, 0.02), round_=1.0, thick=0.020):
    """Round spectacles with thin glass."""
    rim = surface(colour(*rgb), 0.25, 0.6)
    lens = {"type": "thindielectric", "int_ior": 1.5}
    centres = body.eyes(face.whole)
    phi = np.linspace(0, 2 * np.pi, 97)
    ends = []
    for k, centre in enumerate(centres):
        side = np.sign(centre[0])
        wide, high = 0.235, 0.235 * (0.86 + 0.14 * round_)
        middle = centre + [side * 0.02, -0.03, 0.33]
        tilt = 0.10
        ring = np.stack(
            [
                wide * np.cos(phi),
                high * np.sin(phi),
                -0.10 * side * np.cos(phi) * wide * 2 + tilt * high * np.sin(phi),
            ],
            1,
        )
        add(f"glasses_rim{k}", tube(face.pose.head(middle + ring), thick, 10), rim)
        inner = np.linspace(0, 1, 8)[:, None, None] * ring[None]
        add(f"glasses_lens{k}", lattice(face.pose.head(middle + inner)), lens)
        ends.append((middle, ring, side))
    left, right = (m + [-s * 0.235, 0.05, 0.0] for m, _, s in ends)
    t = np.linspace(0, 1, 20)[:, None]
    bridge = left * (1 - t) + right * t + np.array([0, 0.05, 0.05]) * np.sin(np.pi * t)
    add("glasses_bridge", tube(face.pose.head(bridge), thick * 0.9, 10), rim)
    for k, (middle, _, side) in enumerate(ends):
        hinge = middle + [side * 0.235, 0.06, -0.05]
        ear = np.array([side * 0.80, 6.62, 0.35])
        tip = np.array([side * 0.80, 6.38, 0.12])
        path = np.concatenate(
            [
                hinge + (ear - hinge) * np.linspace(0, 1, 30)[:, None],
                ear + (tip - ear) * np.linspace(0.1, 1, 10)[:, None],
            ]
        )
        add(f"glasses_arm{k}", tube(face.pose.head(gaussian_filter(path, (2, 0))), thick, 8), rim)
