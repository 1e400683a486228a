"""Everything that grows on a head: brows, beard, down and hair, as tapered curves rooted in painted
masks."""

import numpy as np

from .noise import smoothstep, value_noise
from .render import surface
from .strands import grow, hair_material, tangent


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
    a = np.radians(68 - 62 * np.clip(u * 1.3, 0, 1) ** 0.7 - 30 * v + rng.normal(0, 14, n))
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
            tapered(0.0008, 0.0015, part.sum(), np.linspace(1, 0.15, 6)),
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
        for key, part, tone in (
            ("", ~grey, np.array(who.brow_colour) * 0.8),
            ("grey", grey, (0.55, 0.53, 0.50)),
        ):
            if part.sum():
                strands(
                    f"beard{key}",
                    grown[part],
                    tapered(0.0012, 0.0021, part.sum(), np.linspace(1, 0.3, 6)),
                    solid(tone, 0.45),
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

    if who.hair == "swept":
        _swept(face, strands)
    elif who.hair == "long":
        _long(face, strands)
    elif who.hair == "curls":
        _curls(face, strands)


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


def _coloured(face, strands, grown, taper):
    rng, who = face.rng, face.who
    grey = rng.random(len(grown)) < who.grey
    for key, part, material in (
        ("", ~grey, hair_material(who.eumelanin, who.pheomelanin)),
        ("grey", grey, hair_material(0.09, 0.03)),
    ):
        if part.sum():
            strands(
                f"hair{key}",
                grown[part],
                rng.uniform(0.0016, 0.0026, part.sum())[:, None] * taper,
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
