"""Cloth that falls: position-based dynamics with small steps, isometric bending and contact with a
body and with itself.

Macklin, Müller, Chentanez: XPBD (2016), and Macklin et al.: Small steps in physics simulation
(2019); bending as in Bergou et al. (2006), a quadratic form over each pair of triangles. Decimetres
and seconds.
"""

import numba as nb
import numpy as np
from scipy.spatial import cKDTree

GRAVITY = 98.0
FASTEST = 30.0  # nothing in a garment moves faster, dm/s
STRETCH, BIAS = 2e-7, 4e-6  # compliance along the threads, and between them


def triangles(quads):
    """Two for each quad; diagonals alternate, so that no bias direction is stiffer."""
    flip = (np.arange(len(quads)) + quads[:, 0]) % 2 == 0
    one, other = quads[:, [[0, 1, 2], [0, 2, 3]]], quads[:, [[0, 1, 3], [1, 2, 3]]]
    return np.where(flip[:, None, None], one, other).reshape(-1, 3)


def springs(rest, quads, tri, bias):
    """Edges (n, 2), their lengths in flat measure and their compliances."""
    threads = np.sort(np.concatenate([quads[:, [k, (k + 1) % 4]] for k in range(4)]), 1)
    every = np.sort(np.concatenate([tri[:, [k, (k + 1) % 3]] for k in range(3)]), 1)
    edges = np.unique(every, axis=0)
    along = np.isin(edges @ [1 << 32, 1], threads @ [1 << 32, 1])
    length = np.linalg.norm(rest[edges[:, 0]] - rest[edges[:, 1]], axis=1)
    return edges, length, np.where(along, STRETCH, bias)


def hinges(rest, tri, bending):
    """Pairs of triangles over an edge (n, 4), weights of their corners, and compliances."""
    owners = {}
    for t in tri:
        for k in range(3):
            edge = (min(t[k], t[(k + 1) % 3]), max(t[k], t[(k + 1) % 3]))
            owners.setdefault(edge, []).append(t[(k + 2) % 3])
    ids = np.array([(*edge, *own) for edge, own in owners.items() if len(own) == 2])
    a, b, c, d = (rest[ids[:, k]] for k in range(4))
    length = np.linalg.norm(b - a, axis=1)
    u = (b - a) / length[:, None]

    def beside(p):
        """How far along the edge a corner is, and how high over it, also across a seam."""
        return ((p - a) * u).sum(1), np.abs(u[:, 0] * (p - a)[:, 1] - u[:, 1] * (p - a)[:, 0])

    (sc, hc), (sd, hd) = beside(c), beside(d)
    good = np.minimum(hc, hd) > 1e-4
    ids, length, sc, hc, sd, hd = (x[good] for x in (ids, length, sc, hc, sd, hd))
    c1, c3, c2, c4 = sc / hc, (length - sc) / hc, sd / hd, (length - sd) / hd
    weights = np.stack([c3 + c4, c1 + c2, -c1 - c3, -c2 - c4], 1)
    return ids, weights, 0.5 * length * (hc + hd) / (3 * bending)


@nb.njit(cache=True, fastmath=True)
def _stretched(p, edges, length, soft, h2, start):
    count = edges.shape[0]
    for e0 in range(count):
        e = e0 + start
        if e >= count:
            e -= count
        a, b = edges[e, 0], edges[e, 1]
        d = p[a] - p[b]
        now = np.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2])
        if now < 1e-9:
            continue
        c = (now - length[e]) / now / (2 + soft[e] / h2)
        for k in range(3):
            p[a, k] -= c * d[k]
            p[b, k] += c * d[k]


@nb.njit(cache=True, fastmath=True)
def _bent(p, ids, weights, soft, h2):
    for e in range(ids.shape[0]):
        x = y = z = 0.0
        total = soft[e] / h2
        for k in range(4):
            i, w = ids[e, k], weights[e, k]
            x += w * p[i, 0]
            y += w * p[i, 1]
            z += w * p[i, 2]
            total += w * w
        for k in range(4):
            i, f = ids[e, k], weights[e, k] / total
            p[i, 0] -= f * x
            p[i, 1] -= f * y
            p[i, 2] -= f * z


@nb.njit(cache=True, fastmath=True)
def _apart(p, old, first, second, gap):
    """Layers that meet push each other off and drag on each other."""
    for e in range(first.shape[0]):
        a, b = first[e], second[e]
        d = p[a] - p[b]
        far = d[0] * d[0] + d[1] * d[1] + d[2] * d[2]
        if far >= gap * gap or far <= 1e-12:
            continue
        far = np.sqrt(far)
        c = 0.3 * (gap - far) / far
        for k in range(3):
            drag = 0.075 * ((p[a, k] - old[a, k]) - (p[b, k] - old[b, k]))
            p[a, k] += c * d[k] - drag
            p[b, k] -= c * d[k] - drag


@nb.njit(cache=True, fastmath=True)
def _off_body(p, old, before, after, normal, share, steps, thick, friction):
    """What is under the plane of the nearest face of the body comes out, and holds on to it."""
    for i in range(p.shape[0]):
        depth = far = 0.0
        for k in range(3):
            c = before[i, k] + share * (after[i, k] - before[i, k])
            depth += (p[i, k] - c) * normal[i, k]
            far += (p[i, k] - c) ** 2
        depth -= thick
        if depth >= 0 or far >= 0.5:
            continue
        push = min(-depth, 0.02)
        along = 0.0
        slip = np.empty(3)
        for k in range(3):
            p[i, k] += push * normal[i, k]
            slip[k] = p[i, k] - old[i, k] - (after[i, k] - before[i, k]) / steps
            along += slip[k] * normal[i, k]
        size = 0.0
        for k in range(3):
            slip[k] -= along * normal[i, k]
            size += slip[k] ** 2
        held = min(1.0, friction * -depth / max(np.sqrt(size), 1e-12))
        for k in range(3):
            p[i, k] -= held * slip[k]


@nb.njit(cache=True, fastmath=True)
def _frame(p, v, steps, dt, damping, force, web, fold, pairs, body, hold, thick, friction, turn):
    edges, length, soft = web
    ids, weights, stiff = fold
    first, second, gap = pairs
    before, after, normal = body
    old = np.empty_like(p)
    for s in range(steps):
        old[:] = p
        for i in range(p.shape[0]):
            if hold[i]:
                continue
            for k in range(3):
                p[i, k] += dt * v[i, k] * (1 - damping * dt) + dt * dt * force[i, k]
        _stretched(p, edges, length, soft, dt * dt, (turn + s) * 7919 % edges.shape[0])
        _bent(p, ids, weights, stiff, dt * dt)
        _apart(p, old, first, second, gap)
        _off_body(p, old, before, after, normal, (s + 1) / steps, steps, thick, friction)
        for i in range(p.shape[0]):
            if hold[i]:
                p[i] = old[i]
            fast = 0.0
            for k in range(3):
                v[i, k] = (p[i, k] - old[i, k]) / dt
                fast += v[i, k] ** 2
            if fast > FASTEST * FASTEST:
                for k in range(3):
                    v[i, k] *= FASTEST / np.sqrt(fast)


class Cloth:
    """A piece of cloth: `rest` (n, 2) in flat measure, `side` (n,) of the pattern (1 front, -1
    back, 0 seam), `quads` (m, 4), `start` (n, 3), `spacing` of its grid; `bending` 5 to 12 is
    linen, 3 a thin scarf, 180 stiff as an oilskin."""

    def __init__(self, rest, side, quads, start, spacing, bending, bias=BIAS):
        self.rest, self.side, self.quads, self.spacing = rest, side, quads, spacing
        tri = triangles(quads)
        edges, length, soft = springs(rest, quads, tri, bias)
        order = np.random.default_rng(1).permutation(len(edges))
        self.web = (edges[order], length[order], soft[order])
        self.fold = hinges(rest, tri, bending)
        self.p, self.v, self.turn = start.copy(), np.zeros_like(start), 0
        self.hold = np.zeros(len(start), bool)

    def gather(self, bands):
        """Draw in threads that run across within bands (height, width, share of their length)."""
        edges, length, _ = self.web
        a, b = self.rest[edges[:, 0]], self.rest[edges[:, 1]]
        across = np.abs(a[:, 0] - b[:, 0]) > 2 * np.abs(a[:, 1] - b[:, 1])
        for height, width, share in bands:
            inside = across & (np.abs((a[:, 1] + b[:, 1]) / 2 - height) < width / 2)
            length[inside] *= share

    def step(
        self,
        before,
        after,
        normals,
        force=0.0,
        gravity=GRAVITY,
        damping=2.5,
        friction=0.45,
        thick=0.035,
        steps=20,
        dt=1 / 60,
    ):
        """One frame; `before`, `after` (k, 3) are the middles of the body's faces, `normals` theirs
        after it, `force` an acceleration (n, 3) of the air."""
        _, near = cKDTree(after).query(self.p, workers=2)
        pulled = np.zeros_like(self.p) + force
        pulled[:, 1] -= gravity
        turn, self.turn = self.turn, self.turn + steps
        _frame(
            self.p,
            self.v,
            steps,
            dt / steps,
            damping,
            pulled,
            self.web,
            self.fold,
            self._meeting(),
            (before[near], after[near], normals[near]),
            self.hold,
            thick,
            friction,
            turn,
        )

    def _meeting(self):
        """Pairs of points that are near each other and are no neighbours in the flat."""
        first, second = cKDTree(self.p).query_pairs(self.spacing * 1.15, output_type="ndarray").T
        flat = np.linalg.norm(self.rest[first] - self.rest[second], axis=1)
        use = (flat > self.spacing * 1.6) | (self.side[first] * self.side[second] < 0)
        return first[use].copy(), second[use].copy(), 0.75 * self.spacing
