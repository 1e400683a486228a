"""Meshes as arrays: grids, turned bodies, tubes, ribbons, and moving them about.

A mesh is (vertices (n, 3), triangles (m, 3), texture coordinates (n, 2) or None).
"""

import numpy as np


def grid_faces(rows, columns, flip=False):
    """Triangles of a (rows, columns) lattice of vertices."""
    i = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = i[:-1, :-1].ravel(), i[:-1, 1:].ravel(), i[1:, 1:].ravel(), i[1:, :-1].ravel()
    faces = np.concatenate([np.stack([a, d, c], 1), np.stack([a, c, b], 1)])
    return faces[:, ::-1] if flip else faces


def lattice(points, uv=None, flip=False):
    """Mesh over `points` of shape (rows, columns, 3)."""
    rows, columns = points.shape[:2]
    if uv is None:
        v, u = np.meshgrid(np.linspace(0, 1, rows), np.linspace(0, 1, columns), indexing="ij")
        uv = np.stack([u, v], -1)
    return points.reshape(-1, 3), grid_faces(rows, columns, flip), uv.reshape(-1, 2)


def sphere(columns=128, rows=64):
    """Unit sphere, pole on z."""
    u, v = np.meshgrid(np.linspace(0, 1, columns + 1), np.linspace(0, 1, rows + 1))
    theta, phi = v * np.pi, u * 2 * np.pi
    points = np.stack([np.sin(theta) * np.cos(phi), np.sin(theta) * np.sin(phi), np.cos(theta)], -1)
    return lattice(points, np.stack([u, v], -1))


def lathe(profile, columns=96):
    """Turn a (k, 2) profile of (radius, height) about the y axis."""
    profile = np.asarray(profile, float)
    phi = np.linspace(0, 2 * np.pi, columns + 1)
    r, y = profile[:, :1], profile[:, 1:]
    points = np.stack([r * np.sin(phi), np.repeat(y, columns + 1, 1), r * np.cos(phi)], -1)
    run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(profile, axis=0), axis=1))]
    u, v = np.meshgrid(np.linspace(0, 1, columns + 1), run / run[-1])
    return lattice(points, np.stack([u, v], -1), flip=True)


def tube(path, radius, sides=16):
    """Tube of `radius` (number or one per point) along `path` (k, 3)."""
    path = np.asarray(path, float)
    tangent = np.gradient(path, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
    across = np.cross(tangent, [0.31, 0.94, 0.17])
    across /= np.linalg.norm(across, axis=1, keepdims=True)
    other = np.cross(across, tangent)
    phi = np.linspace(0, 2 * np.pi, sides + 1)[None, :, None]
    radius = np.broadcast_to(np.asarray(radius, float), (len(path),))[:, None, None]
    points = path[:, None] + radius * (across[:, None] * np.cos(phi) + other[:, None] * np.sin(phi))
    return lattice(points)


def box(size, bevel=0.04, tile=None):
    """A cuboid of `size` (x, y, z) with rounded edges, centred on its base; its texture fills each
    face, or repeats every `tile`."""
    vertices, faces, uvs, count = [], [], [], 0
    half = np.asarray(size, float) / 2
    inner = 1 - bevel / half
    steps = [np.r_[np.linspace(-1, -i, 6), np.linspace(i, 1, 6)] for i in inner]
    for axis in range(3):
        for sign in (-1, 1):
            a, b = np.meshgrid(steps[(axis + 1) % 3], steps[(axis + 2) % 3], indexing="ij")
            p = np.empty((*a.shape, 3))
            p[..., axis] = sign
            p[..., (axis + 1) % 3], p[..., (axis + 2) % 3] = a, b
            p = p * half
            core = np.clip(p, -(half - bevel), half - bevel)
            away = p - core
            length = np.linalg.norm(away, axis=-1, keepdims=True)
            p = core + away / np.maximum(length, 1e-9) * np.minimum(length, bevel)
            across = np.stack([a, b], -1)
            if tile:
                across = across * half[[(axis + 1) % 3, (axis + 2) % 3]] * 2 / tile
            v, f, uv = lattice(p, across / 2 + 0.5, flip=sign < 0)
            vertices.append(v)
            faces.append(f + count)
            uvs.append(uv)
            count += len(v)
    points = np.concatenate(vertices) + [0, half[1], 0]
    return points, np.concatenate(faces), np.concatenate(uvs)


def rotation(x=0.0, y=0.0, z=0.0):
    """Rotation matrix: about x, then y, then z, in degrees."""
    (cx, cy, cz), (sx, sy, sz) = np.cos(np.radians([x, y, z])), np.sin(np.radians([x, y, z]))
    rx = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
    ry = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
    rz = np.array([[cz, -sz, 0], [sz, cz, 0], [0, 0, 1]])
    return rz @ ry @ rx


def place(shape, at=(0, 0, 0), turn=(0, 0, 0), scale=1.0):
    """Scale, turn (degrees about x, y, z) and move a mesh."""
    v, f, uv = shape
    return (v * scale) @ rotation(*turn).T + np.asarray(at), f, uv


def join(shapes):
    """One mesh out of many."""
    offsets = np.cumsum([0] + [len(s[0]) for s in shapes[:-1]])
    return (
        np.concatenate([s[0] for s in shapes]),
        np.concatenate([s[1] + o for s, o in zip(shapes, offsets)]),
        np.concatenate([s[2] for s in shapes]),
    )


def vertex_normals(vertices, faces):
    """Area-weighted normals; vertices at one place are welded so that texture seams do not show."""
    n = np.cross(
        vertices[faces[:, 1]] - vertices[faces[:, 0]], vertices[faces[:, 2]] - vertices[faces[:, 0]]
    )
    total = np.zeros_like(vertices, dtype=float)
    for k in range(3):
        np.add.at(total, faces[:, k], n)
    _, welded = np.unique(np.round(vertices * 1e5).astype(np.int64), axis=0, return_inverse=True)
    welded = welded.ravel()
    shared = np.zeros((welded.max() + 1, 3))
    np.add.at(shared, welded, total)
    total = shared[welded]
    return total / np.maximum(np.linalg.norm(total, axis=1, keepdims=True), 1e-12)
