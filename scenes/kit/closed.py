"""What a face must hold to before it is rendered: lips that meet, and eyes that look where the face
does."""

import numpy as np

from . import body

DEEP = 0.10  # decimetres behind the lips where a mouth begins
MOST_GAP = 0.004  # a gap that no picture shows
MOST_TURN = 15.0  # degrees between a gaze and the face


def check(name, vertices, ahead, gaze):
    """Refuse a face of base-mesh `vertices` that looks `ahead` (3,) while its eyes look along
    `gaze` (3,), or whose lips are apart."""
    refuse(name, gap(vertices), between(ahead, gaze))


def refuse(name, apart, turn):
    """ValueError where lips are `apart` by decimetres, or eyes `turn` by degrees, too far."""
    if apart > MOST_GAP:
        raise ValueError(f"{name}: lips are {apart:.3f} dm apart; {MOST_GAP} at most")
    if turn > MOST_TURN:
        raise ValueError(f"{name}: eyes turn {turn:.0f} degrees from the face; {MOST_TURN} at most")


def between(a, b):
    """Angle between two directions, in degrees."""
    return float(np.degrees(np.arccos(a @ b / np.linalg.norm(a) / np.linalg.norm(b))))


def shut(vertices, rounds=20):
    """Base-mesh `vertices` (n, 3) with lips that meet: what lies about an opening is drawn towards
    its middle, less the farther it is."""
    moved = vertices.copy()
    for _ in range(rounds):
        x, low, high = _openings(moved)
        if (high - low).max() < MOST_GAP / 2:
            break
        middle = np.interp(moved[:, 0], x, (low + high) / 2)
        wide = np.interp(moved[:, 0], x, high - low, left=0, right=0)
        off = moved[:, 1] - middle
        near = np.exp(-((off / 0.10) ** 2)) * (moved[:, 2] > _middle(moved)[2] - 0.45)
        moved[:, 1] -= (
            np.sign(off) * np.minimum(0.5 * wide + 0.002 * (wide > 0), np.abs(off)) * near
        )
    return moved


def gap(vertices):
    """Height of the widest opening between the lips of base-mesh `vertices` (n, 3), in
    decimetres."""
    _, low, high = _openings(vertices)
    return float((high - low).max())


def _middle(vertices):
    """Between the teeth, as far forward as they are."""
    upper, lower = (
        vertices[np.unique(body.base()[1][f"helper-{k}-teeth"])] for k in ("upper", "lower")
    )
    return np.array([0, (upper[:, 1].min() + lower[:, 1].max()) / 2, upper[:, 2].max()])


def _openings(vertices):
    """Across a mouth of base-mesh `vertices`, smoothed: what `openings` says of it."""
    quads, middle = body.base()[1]["body"], _middle(vertices)
    at = vertices[quads].mean(1)
    near = (np.abs(at[:, :2] - middle[:2]) < [0.5, 0.6]).all(1) & (at[:, 2] > middle[2] - 0.6)
    p, quads = body.subdivide(*body.compact(vertices, quads[near]))
    return openings(p[body.triangles(quads)], middle)


def openings(triangles, middle):
    """Where a face of `triangles` (n, 3, 3) is open about `middle` (3,): x across it, and the lower
    and upper end of the opening there, alike where lips meet. Rays go into the face along -z; a
    mouth begins `DEEP` behind the lips on both its sides."""
    xs = middle[0] + np.linspace(-0.24, 0.24, 17)
    y = middle[1] + np.linspace(-0.28, 0.28, 561)
    ends = []
    for x in xs:
        z = _first(triangles, x, y)
        front = np.minimum(np.maximum.accumulate(z), np.maximum.accumulate(z[::-1])[::-1])
        inside = np.r_[False, z < front - DEEP, False]
        runs = np.flatnonzero(inside[1:] != inside[:-1]).reshape(-1, 2)
        widest = runs[np.argmax(runs[:, 1] - runs[:, 0])] if len(runs) else (280, 280)
        ends.append([y[min(k, 560)] for k in widest])
    low, high = np.array(ends).T
    return xs, low, high


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
