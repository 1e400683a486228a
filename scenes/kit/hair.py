"""Everything that grows on a head: brows, beard, down and hair, as tapered curves rooted in painted
masks."""

import numpy as np

from .noise import smoothstep, value_noise
from .render import surface
from .strands import grow, hair_material, tangent, unit


def grow_all(face, strands):
    """Brows, beard, the down on the cheeks, and the hair of the head."""
    who, rng, turn = face.who, face.rng, face.pose.turn.T

    def tapered(low, high, count, ends):
        return rng.uniform(low, high, count)[:, None] * np.asarray(ends)

    def solid(rgb, roughness=0.5):
        return surface({"type": "rgb", "value": list(np.asarray(rgb, float))}, roughness, 0.35)

    roots, normal, ref = face.roots(face.brow, who.brow_hairs)
    n, side = who.brow_hairs, np.sign(ref[:, 0])
    u = np.clip((np.abs(ref[:, 0]) - 0.10) / 0.44, 0, 1)
    v = (ref[:, 1] - face.brow_line(u)) / (0.05 * who.brow_width)
    a = np.radians(46 - 42 * np.clip(u * 1.3, 0, 1) ** 0.7 - 24 * v + rng.normal(0, 14, n))
    d = np.stack([side * np.cos(a), np.sin(a), 0 * a], 1) @ turn
    length = rng.uniform(0.045, 0.085, n) * (1 - 0.25 * u) * (0.7 + 0.3 * who.brow_width)
    grown = grow(
        face.surface,
        roots,
        normal,
        tangent(d, normal),
        length,
        np.full(n, 0.30),
        rng,
        5,
        jitter=0.05,
    )
    shade = rng.integers(0, 3, n)
    for k, tone in enumerate((0.7, 1.1, 1.7)):
        part = shade == k
        strands(
            f"brow{k}",
            grown[part],
            tapered(0.0007, 0.0012, part.sum(), np.linspace(1, 0.2, 6)),
            solid(np.array(who.brow_colour) * tone),
        )

    if who.beard_hairs:
        n = who.beard_hairs
        roots, normal, ref = face.roots(face.beard, n)
        d = np.stack(
            [
                0.35 * np.sign(ref[:, 0]) * (np.abs(ref[:, 0]) > 0.15),
                -np.ones(n),
                0.25 * np.ones(n),
            ],
            1,
        )
        d = (d + rng.normal(0, 0.35, (n, 3))) @ turn
        grown = grow(
            face.surface,
            roots,
            normal,
            d,
            who.beard_length * rng.uniform(0.5, 1.15, n),
            rng.uniform(0.35, 0.75, n),
            rng,
            5,
            gravity=0.1,
            jitter=0.25,
        )
        grey = rng.random(n) < who.grey
        for key, part, pigment in (("", ~grey, who.beard_pigment), ("grey", grey, 0.25)):
            if part.sum():
                strands(
                    f"beard{key}",
                    grown[part],
                    tapered(0.0007, 0.0012, part.sum(), np.linspace(1, 0.35, 6)),
                    hair_material(pigment, 0.05, 0.4),
                )

    if who.vellus:
        mask = smoothstep(face.z, 0.3, 0.8) * smoothstep(face.y, 5.6, 5.8)
        mask = mask * (1 - face.lids) * (1 - face.lips) * (1 - face.mouth) * (1 - face.scalp)
        roots, normal, ref = face.roots(mask, who.vellus)
        d = np.stack([0.6 * ref[:, 0], -np.ones(who.vellus), np.zeros(who.vellus)], 1) @ turn
        d = d + rng.normal(0, 0.3, (who.vellus, 3))
        grown = grow(
            face.surface,
            roots,
            normal,
            d,
            rng.uniform(0.012, 0.03, who.vellus),
            rng.uniform(0.4, 0.8, who.vellus),
            rng,
            4,
            jitter=0.1,
        )
        strands(
            "vellus",
            grown,
            np.full((who.vellus, 1), 0.00045) * np.linspace(1, 0.3, 5),
            solid((0.62, 0.50, 0.38)),
        )

    if who.hair != "none":
        STYLES[who.hair](face, strands)


def _swept(face, strands):
    """Short hair combed back from a parting."""
    who, rng, n = face.who, face.rng, face.who.hairs
    roots, normal, ref = face.roots(face.scalp, n)
    side = np.tanh((ref[:, 0] - who.parting) / 0.15)
    top = smoothstep(ref[:, 1], 6.95, 7.3)[:, None]
    zero = np.zeros(n)
    over = np.stack([side * 0.75, zero + 0.1, zero - 0.85], 1)
    down = np.stack([0.15 * np.sign(ref[:, 0]), zero - 1, zero - 0.55], 1)
    d = over * top + down * (1 - top)
    d = d + 0.45 * np.stack([value_noise(ref * 5, k) for k in (1, 2, 3)], 1)
    d = (
        d
        + 0.35 * np.stack([value_noise(ref * 13, k) for k in (4, 5, 6)], 1)
        + rng.normal(0, 0.12, (n, 3))
    )
    length = (
        who.hair_length
        * rng.uniform(0.65, 1.12, n)
        * (0.35 + 0.65 * smoothstep(ref[:, 1], 6.5, 7.2))
    )
    lift = rng.uniform(0.25, 0.6, n) * (0.5 + 0.5 * top[:, 0])
    grown = grow(
        face.surface,
        roots,
        normal,
        d @ face.pose.turn.T,
        length,
        lift,
        rng,
        8,
        0.06,
        0.10,
        ceiling=0.22,
    )
    _coloured(face, strands, grown, np.linspace(1, 0.25, 9) ** 0.6)


def _curls(face, strands):
    """Short tight curls standing off the scalp."""
    who, rng, n = face.who, face.rng, face.who.hairs
    roots, normal, ref = face.roots(face.scalp, n)
    t = np.linspace(0, 1, 22)
    lock = rng.integers(0, 900, n)
    first = tangent(rng.normal(size=(n, 3)), normal)
    second = np.cross(normal, first)
    height = (
        who.hair_length * rng.uniform(0.65, 1.1, n) * np.clip((ref[:, 1] - 6.4) / 0.75, 0.16, 1)
    )
    angle = (lock * 2.4 + rng.normal(0, 0.35, n))[:, None] + 2 * np.pi * (height / 0.10 * 1.6)[
        :, None
    ] * t
    radius = (0.016 * rng.uniform(0.8, 1.3, n)[:, None] * np.minimum(1, t * 4))[..., None]
    grown = roots[:, None] + normal[:, None] * (height[:, None] * t)[..., None]
    grown = grown + radius * (
        np.cos(angle)[..., None] * first[:, None] + np.sin(angle)[..., None] * second[:, None]
    )
    grown = grown + np.array([0, -0.15, 0]) * (height[:, None] * t**2)[..., None]
    _coloured(face, strands, grown, np.linspace(1, 0.25, 22) ** 0.6)


def _coloured(face, strands, grown, taper, name="hair"):
    rng, who = face.rng, face.who
    grey = rng.random(len(grown)) < who.grey
    for key, part, material in (
        ("", ~grey, hair_material(who.eumelanin, who.pheomelanin)),
        ("grey", grey, hair_material(0.09, 0.03)),
    ):
        if part.sum():
            strands(
                f"{name}{key}",
                grown[part],
                who.hair_thick * rng.uniform(0.0016, 0.0026, part.sum())[:, None] * taper,
                material,
            )


def _long(face, strands):
    """Long straight hair hanging in locks from under a cap."""
    who, rng, n = face.who, face.rng, face.who.hairs
    locks, points = 420, 22
    start, tip = (
        rng.uniform(58, 302, locks),
        np.clip(rng.normal(0, 0.22, locks) - 0.05, -0.35, 0.75),
    )
    heights = np.array([7.25, 6.95, 6.6, 6.2, 5.8, 5.4, 5.0, 4.7, 4.35, 4.0, 3.6])
    wide = np.array([0.78, 0.84, 0.93, 0.91, 0.85, 0.84, 0.93, 1.04, 1.10, 1.14, 1.14])
    deep = np.array([0.98, 1.0, 1.0, 0.92, 0.82, 0.78, 0.82, 0.90, 0.95, 0.95, 0.95])
    back = np.array([0.52, 0.50, 0.47, 0.46, 0.42, 0.36, 0.32, 0.34, 0.4, 0.45, 0.45])
    t, lock, each = (
        np.linspace(0, 1, points)[None],
        rng.integers(0, locks, n),
        np.arange(n)[:, None],
    )
    k = lock[:, None]
    phi = start[lock][:, None] + rng.normal(0, 1.5, n)[:, None] * (1 - 0.72 * t**1.5)
    end = 5.15 + tip[lock] + 0.14 * rng.exponential(0.55, n).clip(0, 2.2)
    y = 7.2 + (end[:, None] - 7.2) * t
    a_wide, a_deep, a_back = (np.interp(-y, -heights, q) for q in (wide, deep, back))
    loose = 1 + 0.03 * rng.normal(size=(n, 1)) * (0.4 + 0.6 * t) + 0.02 * rng.random((n, 1))
    loose = loose + 0.045 * np.sin(k * 1.7 + t * 8) * t + 0.014 * np.sin(each * 0.37 + t * 13) * t
    a = np.radians(phi)
    a = (
        a
        + 0.10 * np.sin(k * 0.9 + t * 7.5) * t
        + 0.03 * np.sin(each * 1.3 + t * 11) * t
        - 0.42 * np.sign(np.sin(a)) * t**1.6 * (np.sin(a) ** 2) * (0.7 + 0.5 * np.sin(k * 3.1))
    )
    hang = np.stack([a_wide * loose * np.sin(a), y, a_back + a_deep * loose * np.cos(a)], -1)
    hang = hang + rng.normal(0, 0.010, (n, 1, 3)) * t[..., None]
    hang = (
        hang
        + 0.02
        * np.stack([np.sin(k * 5.1 + t * 10), 0 * t * k, np.cos(k * 4.3 + t * 10)], -1)
        * t[..., None]
    )
    fly = rng.random(n) < 0.03
    drift = np.cumsum(rng.normal(0, 0.012, (fly.sum(), points, 3)), 1)
    hang[fly] += drift + rng.normal(0, 0.12, (fly.sum(), 1, 3)) * t[..., None] ** 1.5
    hang = face.pose.head(hang.reshape(-1, 3)).reshape(hang.shape)
    taper = np.r_[np.ones(points - 9), np.linspace(1, 0.12, 9)]
    strands(
        "hair",
        hang,
        rng.uniform(0.0026, 0.0042, n)[:, None] * taper,
        hair_material(who.eumelanin, who.pheomelanin, 0.25),
    )


def _cropped(face, strands):
    """Clipped to a few millimetres, or shaved a day ago."""
    who, rng, n = face.who, face.rng, face.who.hairs
    roots, normal, ref = face.roots(face.scalp, n)
    whorl = np.stack([ref[:, 0], 0 * ref[:, 0] - 0.3, ref[:, 2] - 0.1], 1)
    d = (whorl + rng.normal(0, 0.35, (n, 3))) @ face.pose.turn.T
    lift = rng.uniform(0.55, 0.9, n)
    length = who.hair_length * rng.uniform(0.7, 1.1, n)
    grown = grow(face.surface, roots, normal, d, length, lift, rng, 4, 0.02, 0.15)
    _coloured(face, strands, grown, np.linspace(1, 0.4, 5))


def _windblown(face, strands):
    """Loose hair of a hand's length that the wind lifts to one side."""
    who, rng, n = face.who, face.rng, face.who.hairs
    roots, normal, ref = face.roots(face.scalp, n)
    lock = np.floor(ref * 7).sum(1)
    wind = np.array(who.wind, float)
    d = np.stack([0.25 * np.sign(ref[:, 0] - who.parting), 0 * lock - 0.25, 0 * lock - 0.5], 1)
    d = d @ face.pose.turn.T + wind
    d = d + 0.8 * np.stack([value_noise(ref * 4, k) for k in (1, 2, 3)], 1)
    d = d + 0.3 * np.stack([value_noise(ref * 11, k) for k in (4, 5, 6)], 1)
    d = d + rng.normal(0, 0.10, (n, 3))
    length = who.hair_length * rng.uniform(0.5, 1.1, n)
    length = length * (0.35 + 0.65 * smoothstep(ref[:, 1], 6.4, 7.1))
    lift = rng.uniform(0.25, 0.55, n) + 0.25 * np.sin(lock * 1.9)
    grown = grow(face.surface, roots, normal, d, length, lift, rng, 10, 0.02, 0.22, ceiling=0.7)
    t = np.linspace(0, 1, grown.shape[1])[None, :, None]
    sway = np.stack([np.sin(lock * k + 4 * t[..., 0].T).T for k in (1.3, 2.1, 0.7)], -1)
    gust = (0.10 * sway + 0.45 * wind * rng.uniform(0.2, 1.0, (n, 1, 1))) * length[:, None, None]
    loose = (rng.random(n) < 0.25 + 0.5 * who.wind_share)[:, None, None]
    grown = grown + gust * t**2 * loose
    _coloured(face, strands, grown, np.linspace(1, 0.2, grown.shape[1]) ** 0.6)


NAPE = np.array([0, 6.45, -0.62])  # where hair is gathered


def _tied(face, strands):
    """Combed back to a knot at the nape, with a bun, a plait or a tail."""
    who, rng, n = face.who, face.rng, face.who.hairs
    at = NAPE + [0, 0.55 if who.tail == "bun" else 0.0, -0.02]
    roots, _, ref = face.roots(face.scalp, n)
    knot = face.pose.head(at[None])[0]
    points, surface_normals, tree = face.surface
    count, p, out = 16, roots.copy(), [roots.copy()]
    start, lift = np.linalg.norm(roots - knot, axis=1), rng.uniform(0.02, 0.075, n)
    parted = np.stack([np.tanh((ref[:, 0] - who.parting) / 0.1), 0 * ref[:, 0], 0 * ref[:, 0]], 1)
    parted = parted @ face.pose.turn.T * (ref[:, 2] > 0.7)[:, None]
    strand = np.floor(ref * 11).sum(1)
    for k in range(count):
        t = (k + 1) / count
        to = knot - p
        far = np.linalg.norm(to, axis=1, keepdims=True)
        d = unit(to) + 0.9 * parted * (1 - t) ** 2
        d = d + 0.06 * np.stack([np.sin(strand * j + 5 * t) for j in (1.1, 1.7, 2.3)], 1)
        p = p + unit(d) * np.minimum(start[:, None] * 1.35 / count, far)
        _, near = tree.query(p)
        height = ((p - points[near]) * surface_normals[near]).sum(1)
        floor = lift * min(1, 3 * t)
        low = height < floor
        p[low] += (surface_normals[near] * (floor - height)[:, None])[low]
        out.append(p.copy())
    grown = np.stack(out, 1)
    stray = rng.random(n) < 0.03
    t = np.linspace(0, 1, count + 1)[None, :, None]
    grown[stray] += rng.normal(0, 0.10, (stray.sum(), 1, 3)) * np.sin(np.pi * t) ** 2
    loose = rng.random(n) < 0.12 * who.wind_share * any(who.wind)
    gust = np.array(who.wind, float) * rng.uniform(0.1, 0.5, (loose.sum(), 1, 1))
    grown[loose] += (gust + rng.normal(0, 0.08, (loose.sum(), 1, 3))) * t**2
    _coloured(face, strands, grown, np.ones(count + 1))
    tails = {"bun": _bun, "plait": _plait, "tail": _ponytail, "plaits": _plaits}
    tails[who.tail](face, strands, at)


def _bun(face, strands, at):
    """Hair wound round itself."""
    rng, n = face.rng, 2600
    t = np.linspace(0, 1, 26)[None]
    first, ring = rng.uniform(0, 2 * np.pi, (n, 1)), rng.normal(0, 1, (n, 1))
    angle = first + rng.uniform(2, 5, (n, 1)) * t
    wide = 0.26 + 0.075 * np.cos(ring + 3 * t) + 0.012 * rng.normal(size=(n, 1))
    deep = 0.14 * np.sin(ring + 3 * t)
    wound = np.stack([wide * np.cos(angle), wide * 0.9 * np.sin(angle), -0.12 - deep], -1)
    wound = wound + 0.015 * np.sin(angle * 5 + ring)[..., None]
    _coloured(face, strands, face.pose.head(at + wound), np.ones(26), "bun")


def _braid(path, n, rng, wide=0.13):
    """Hairs of a plait of three along `path` (k, 3)."""
    k = len(path)
    s = np.linspace(0, 1, k)
    along = unit(np.gradient(path, axis=0))
    across = unit(np.cross(along, [0.2, 0.1, 1.0]))
    other = np.cross(across, along)
    run = np.linalg.norm(np.diff(path, axis=0), axis=1).sum()
    turns = run / (wide * 4.2) * 2 * np.pi
    strand = rng.integers(0, 3, n)
    angle = turns * s[None] + strand[:, None] * 2 * np.pi / 3
    thin = np.interp(s, [0, 0.1, 0.85, 1], [0.7, 1, 0.75, 0.4])[None]
    a = wide * np.sin(angle) * thin
    b = wide * 0.55 * np.sin(2 * angle) * thin
    r, phi = np.sqrt(rng.random((n, 1))) * wide * 0.62, rng.uniform(0, 2 * np.pi, (n, 1))
    phi = phi + 1.5 * s[None]
    a, b = a + r * np.cos(phi) * thin, b + r * np.sin(phi) * thin
    return path[None] + a[..., None] * across[None] + b[..., None] * other[None]


def _plait(face, strands, at, start=None, key="plait"):
    """One plait, from the nape over a shoulder."""
    t = np.linspace(0, 1, 90)[:, None]
    start = at if start is None else start
    side = np.sign(start[0]) or face.who.plait_side
    ends = [
        start,
        start + [side * 0.30, -0.55, 0.05],
        [side * 0.95, 5.0, 0.62],
        [side * 0.92, 3.9, 1.25],
    ]
    a, b, c, d = (np.asarray(e, float) for e in ends)
    path = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
    rest = _braid(path, 1500, face.rng)
    _coloured(face, strands, face.pose.head(rest), np.ones(90), key)


def _plaits(face, strands, at):
    """Two, from behind the ears."""
    for side in (-1, 1):
        _plait(face, strands, at, np.array([side * 0.55, 6.35, -0.25]), f"plait{side}")


def _ponytail(face, strands, at):
    rng, n = face.rng, 3000
    t = np.linspace(0, 1, 24)[None]
    lock = rng.integers(0, 30, n)[:, None]
    x = 0.10 * rng.normal(size=(n, 1)) * (0.5 + t) + 0.12 * np.sin(lock + 3 * t) * t
    y = -1.9 * t * rng.uniform(0.8, 1.05, (n, 1)) + 0.15 * np.sin(np.pi * t)
    z = -0.40 * np.sin(2.2 * t) + 0.07 * rng.normal(size=(n, 1)) * (0.6 + t)
    _coloured(
        face, strands, face.pose.head(at + np.stack([x, y, z], -1)), np.linspace(1, 0.3, 24), "tail"
    )


STYLES = {
    "swept": _swept,
    "long": _long,
    "curls": _curls,
    "cropped": _cropped,
    "windblown": _windblown,
    "tied": _tied,
}
