"""What a face must hold to before it is rendered: lips that meet, and eyes that look where the face
does."""

import numpy as np

from . import body

DEEP = 0.16  # decimetres behind the lips where a mouth begins
MOST_GAP = 0.012  # a gap that no picture shows
MOST_TURN = 15.0  # degrees between a gaze and the face


def check(name, vertices, ahead, gaze):
    """Refuse a face of base-mesh `vertices` that looks `ahead` (3,) while its eyes look along
    `gaze` (3,)."""
    apart, turn = gap(vertices), between(ahead, gaze)
    if apart > MOST_GAP:
        raise ValueError(f"{name}: lips are {apart:.3f} dm apart; {MOST_GAP} at most")
    if turn > MOST_TURN:
        raise ValueError(f"{name}: eyes turn {turn:.0f} degrees from the face; {MOST_TURN} at most")


def between(a, b):
    """Angle between two directions, in degrees."""
    return float(np.degrees(np.arccos(a @ b / np.linalg.norm(a) / np.linalg.norm(b))))


def gap(vertices):
    """Height of the widest opening between the lips of base-mesh `vertices` (n, 3), in decimetres:
    rays into the face along -z, from the front of one lip to that of the other."""
    quads = body.base()[1]["body"]
    upper, lower = (
        vertices[np.unique(body.base()[1][f"helper-{k}-teeth"])] for k in ("upper", "lower")
    )
    middle = np.array([0, (upper[:, 1].min() + lower[:, 1].max()) / 2, upper[:, 2].max()])
    near = (np.abs(vertices[quads][..., :2].mean(1) - middle[:2]) < [0.5, 0.6]).all(1)
    p, quads = body.subdivide(
        *body.compact(vertices, quads[near & (vertices[quads][..., 2].mean(1) > middle[2] - 0.6)])
    )
    a = p[body.triangles(quads)]
    widest = 0.0
    for x in middle[0] + np.linspace(-0.15, 0.15, 7):
        y = middle[1] + np.linspace(-0.28, 0.28, 561)
        z = _first(a, x, y)
        front = np.minimum(np.maximum.accumulate(z), np.maximum.accumulate(z[::-1])[::-1])
        inside = np.r_[False, z < front - DEEP, False]
        ends = np.flatnonzero(inside[1:] != inside[:-1]).reshape(-1, 2)
        if len(ends):
            widest = max(widest, float((ends[:, 1] - ends[:, 0]).max() * (y[1] - y[0])))
    return widest


def _first(a, x, y):
    """Where rays along -z at (x, y) first meet triangles `a` (n, 3, 3): z of each y."""
    z = np.full(len(y), -np.inf)
    for t in a[(a[..., 0].min(1) <= x) & (a[..., 0].max(1) >= x)]:
        (x0, y0), (x1, y1), (x2, y2) = t[:, :2]
        area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
        if abs(area) < 1e-12:
            continue
        u = ((x1 - x) * (y2 - y) - (x2 - x) * (y1 - y)) / area
        v = ((x2 - x) * (y0 - y) - (x0 - x) * (y2 - y)) / area
        w = 1 - u - v
        hit = (u >= -1e-9) & (v >= -1e-9) & (w >= -1e-9)
        z[hit] = np.maximum(z[hit], (u * t[0, 2] + v * t[1, 2] + w * t[2, 2])[hit])
    return z
