"""Things that stand about: boards, leaves, reeds, clinker hulls, paper lanterns, jars."""

import cv2
import numpy as np
from PIL import Image

from .assets import object_folder
from .noise import fractal, smoothstep, texture_grid
from .render import both_sides, bumpy, colour, mesh, picture, surface
from .shapes import box, grid_faces, join, lathe, lattice, place, sphere, tube


class Frame:
    """The camera's own axes: `at(right, up, ahead)` in decimetres from the lens."""

    def __init__(self, eye, target):
        self.eye = np.asarray(eye, float)
        self.ahead = np.asarray(target, float) - self.eye
        self.ahead[1] = 0
        self.ahead /= np.linalg.norm(self.ahead)
        self.right = np.cross(self.ahead, [0, 1, 0])
        self.turn = np.degrees(np.arctan2(-self.ahead[0], -self.ahead[2]))

    def at(self, right, height, ahead):
        """World point; `height` is world height."""
        p = self.eye + right * self.right + ahead * self.ahead
        return np.array([p[0], height, p[2]])

    def set(self, shape, right=0.0, height=0.0, ahead=0.0, turn=0.0, scale=1.0, tilt=0.0):
        """Place a mesh made with x to the right, y up, z towards the camera."""
        v, f, uv = place(shape, turn=(tilt, turn, 0), scale=scale)
        p = self.eye + (v[:, :1] + right) * self.right + (ahead - v[:, 2:]) * self.ahead
        p[:, 1] = v[:, 1] + height
        return p, f, uv


def board(
    length,
    width,
    thick,
    seed,
    tint=(0.40, 0.315, 0.235),
    dark=(0.060, 0.040, 0.026),
    weather=0.4,
    paint=None,
    wear=0.0,
):
    """A wooden board along x with grain, cracks and rounded edges: (mesh, material).

    `paint` is a colour laid over the wood, gone in patches where `wear` (0 to 1) has taken it.
    """
    rng = np.random.default_rng(seed)
    h, w = 160, int(min(2200, max(300, 90 * length)))
    grid = texture_grid(h, w, width, length)
    x, y = grid[..., 0], grid[..., 1]
    off = seed * 31.7
    wobble = 0.35 * fractal(np.stack([x * 0.22 + off, y * 0.6 + off], -1), 3, seed)
    rings = (
        np.sqrt((y - rng.uniform(-1.5, 1.5) + wobble * 0.5) ** 2 + rng.uniform(0.5, 1.6) ** 2) * 13
        + wobble * 4
    )
    part = rings - np.floor(rings)
    ring = smoothstep(part, 0.0, 0.75) * (1 - smoothstep(part, 0.86, 1.0))
    fibre = fractal(np.stack([x * 2.2 + off, y * 75], -1), 3, 60 + seed)
    crack = np.clip(
        1 - np.abs(fractal(np.stack([x * 0.55 + off, y * 16], -1), 3, 70 + seed)) * 15, 0, 1
    )
    crack *= smoothstep(fractal(np.stack([x * 0.4 + off, y * 2], -1), 2, 71 + seed), -0.1, 0.3)
    blot = fractal(np.stack([x * 0.6 + off, y * 1.4], -1), 4, 80 + seed)
    tone = (
        np.clip(0.62 - 0.30 * ring + 0.16 * fibre + 0.16 * blot + rng.uniform(-0.1, 0.08), 0, 1)[
            ..., None
        ]
        ** 1.35
    )
    col = np.array(dark) + (np.array(tint) - np.array(dark)) * tone
    grey = np.clip(
        weather + 0.5 * fractal(np.stack([x * 0.35 + off, y * 0.8], -1), 3, 90 + seed), 0, 1
    )[..., None]
    col = col * (1 - 0.55 * grey) + 0.55 * grey * col.mean(-1, keepdims=True) * np.array(
        [1.10, 1.07, 1.02]
    )
    col = col * (1 - 0.8 * crack[..., None])
    relief = -0.35 * ring + 0.35 * fibre - 2.2 * crack
    rough = np.clip(0.62 - 0.12 * blot + 0.15 * crack, 0.3, 0.9)
    if paint is not None:
        flake = fractal(np.stack([x * 1.1 + off, y * 3.2], -1), 5, 110 + seed) + 0.25 * fibre
        flake += 0.55 * np.exp(-np.minimum(y, width - y) / 0.10)
        gone = smoothstep(flake, 1.02 - wear, 1.10 - wear)[..., None]
        shade = 1 + 0.07 * blot + 0.04 * fibre + 0.05 * fractal(np.stack([x * 9, y * 9], -1), 2, 7)
        chalk = (
            np.clip(
                0.25 + 0.5 * fractal(np.stack([x * 0.5, y * 2 + off], -1), 3, 120 + seed), 0, 1
            )[..., None]
            * 0.12
        )
        coat = np.array(paint) * shade[..., None] * (1 - chalk) + chalk * 0.45
        col = coat * (1 - gone) + (col * 1.15 + 0.02) * gone
        rough = rough * gone[..., 0] + (0.36 + 0.12 * blot) * (1 - gone[..., 0])
        relief = 0.35 * relief - 0.8 * gone[..., 0]
    nx, ny = int(max(24, length * 10)), 26
    edge = np.r_[0, np.linspace(0, 1, ny - 2) ** 1.0, 1] * width
    gx, gy = np.meshgrid(np.linspace(0, length, nx), edge)
    inset = np.minimum(gy, width - gy)
    r = min(0.06, width / 4)
    drop = r - np.sqrt(np.maximum(r**2 - np.maximum(r - inset, 0) ** 2, 0))
    drop = (
        drop - cv2.resize(cv2.GaussianBlur(relief.astype(np.float32), (0, 0), 2), (nx, ny)) * 0.006
    )
    front = thick - drop
    front[0] = front[-1] = 0
    points = np.stack([gx - length / 2, gy, front], -1)
    shape = lattice(points, np.stack([gx / length, gy / width], -1), flip=True)
    material = bumpy(
        relief,
        0.0035,
        surface(
            picture(np.clip(col, 0.004, 0.9)), picture(np.clip(rough, 0.25, 0.9), raw=True), 0.35
        ),
    )
    return shape, both_sides(material)


class Boards:
    """Boards of one size in a few patterns; what is laid of one pattern becomes one mesh."""

    def __init__(self, length, width, thick, seed, kinds=5, **look):
        made = [board(length, width, thick, seed + k, **look) for k in range(kinds)]
        self.shapes, self.materials = [m[0] for m in made], [m[1] for m in made]
        self.laid = [[] for _ in made]

    def lay(self, put, rng):
        """Add a board: `put` moves the bare shape to its place."""
        kind = int(rng.integers(len(self.shapes)))
        self.laid[kind].append(put(self.shapes[kind]))

    def into(self, scene, name):
        for k, (shapes, material) in enumerate(zip(self.laid, self.materials)):
            if shapes:
                scene[f"{name}{k}"] = mesh(join(shapes), material, f"{name}{k}")


def leaf_outline():
    """A leaf cut along the outline of a photographed one, and its texture (linear sRGB)."""
    photo = np.asarray(Image.open(object_folder("augalas") / "leaf.jpg").convert("RGB")) / 255.0
    linear = np.where(photo <= 0.04045, photo / 12.92, ((photo + 0.055) / 1.055) ** 2.4)
    mask = linear.sum(-1) > 0.12
    inner = cv2.erode(mask.astype(np.uint8), np.ones((7, 7)))
    filled = cv2.inpaint(
        (255 * linear.clip(0, 1) ** (1 / 2.2)).astype(np.uint8), 1 - inner, 5, cv2.INPAINT_TELEA
    )
    rows = np.where(mask.sum(1) > 6)[0]
    return mask, rows[0], rows[-1], (filled / 255.0) ** 2.2


class Leaves:
    """Leaf shapes and translucent leaf materials in a few tints."""

    def __init__(self, tints):
        self.mask, self.top, self.bottom, texture = leaf_outline()
        texture = cv2.resize(
            texture.astype(np.float32), None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC
        )
        self.materials = [
            {
                "type": "principledthin",
                "base_color": picture(np.clip(texture * np.array(t), 0.002, 0.9)),
                "roughness": 0.38,
                "diff_trans": 0.8,
                "eta": 1.45,
                "spec_trans": 0.0,
            }
            for t in tints
        ]

    def leaf(self, bend, fold, twist, seed=0, rows=12, across=7):
        height, width = self.mask.shape
        points, uv = [], []
        for i, row in enumerate(np.linspace(self.bottom, self.top, rows)):
            inside = np.where(self.mask[round(row)])[0]
            a, b = (
                (inside[0] + 3, inside[-1] - 3)
                if len(inside) > 8
                else (inside.mean() - 1, inside.mean() + 1)
            )
            x, t = np.linspace(a, b, across), i / (rows - 1)
            side = (x - width / 2) / (self.bottom - self.top)
            lift = (
                fold * np.abs(side)
                - bend * t**2
                + 0.03 * np.sin(9 * side + 6 * t + seed) * t
                + twist * side * t
            )
            points.append(np.stack([side, np.full(across, t) - 0.15 * bend * t**2, lift], 1))
            uv.append(np.stack([x / width, np.full(across, row / height)], 1))
        return np.concatenate(points), grid_faces(rows, across), np.concatenate(uv)

    def scatter(self, spots, sizes, rng):
        """Leaves at `spots` (n, 3), one merged mesh for each tint."""
        kinds = [
            self.leaf(b, f, t, s)
            for s, (b, f, t) in enumerate(((0.3, 0.3, 0.1), (0.5, 0.15, -0.2), (0.15, 0.4, 0.25)))
        ]
        groups = [[] for _ in self.materials]
        for k, (spot, size) in enumerate(zip(spots, sizes)):
            turn = (rng.uniform(-80, 70), rng.uniform(0, 360), rng.normal(0, 30))
            groups[k % len(groups)].append(place(kinds[k % 3], spot, turn, size))
        return [(join(g), m) for g, m in zip(groups, self.materials) if g]


def reeds(roots, heights, rng, lean=0.25):
    """Blades of shore grass as ribbons rising from `roots` (n, 3); one merged mesh."""
    t = np.linspace(0, 1, 10)[:, None]
    blades = []
    for root, height in zip(roots, heights):
        a = rng.uniform(0, 2 * np.pi)
        out = np.array([np.cos(a), 0, np.sin(a)])
        bow = rng.normal(0, lean) + 0.15
        spine = (
            root
            + t * [0, height, 0]
            + out * bow * height * t**2.2
            - np.array([0, 1, 0]) * np.abs(bow) * height * 0.35 * t**3
        )
        width = 0.055 * (1 - t**1.5) + 0.004
        side = np.cross(out, [0, 1, 0]) * np.cos(rng.uniform(-1, 1)) + out * 0.3
        blades.append(lattice(np.stack([spine - side * width, spine + side * width], 1)))
    return join(blades)


def grass_material(rgb):
    return {
        "type": "principledthin",
        "base_color": colour(*rgb),
        "roughness": 0.45,
        "diff_trans": 0.7,
        "eta": 1.4,
        "spec_trans": 0.0,
    }


def strake(section, low, high, length_steps=160, thick=0.16):
    """One plank of a clinker hull between girths `low` and `high`; `section(s, v)` gives points."""
    s = np.linspace(0, 1, length_steps)
    v = np.r_[low, np.linspace(low, high, 8), high]
    points = np.stack([section(s, np.full_like(s, a)) for a in v])
    along = np.gradient(points, axis=1)
    out = np.cross(np.gradient(points[1:-1], axis=0), along[1:-1])
    out = np.concatenate([out[:1], out, out[-1:]])
    out /= np.maximum(np.linalg.norm(out, axis=-1, keepdims=True), 1e-9)
    if (out[..., 2]).mean() < 0:
        out = -out
    lift = np.r_[0, thick * np.r_[0.80, 1.0, np.linspace(0.94, 0.12, 6)], 0][:, None, None]
    run = np.r_[0, np.cumsum(np.linalg.norm(np.diff(points[5], axis=0), axis=1))]
    uv = np.stack(np.meshgrid(run / run[-1], np.r_[0, np.linspace(0, 1, 8), 1]), -1)
    return lattice(points + out * lift, uv, flip=True)


def dinghy(length, beam, depth):
    """A small open boat along x, stem at +x, keel at y = 0: shapes of its planks outside and
    inside, rail and thwarts."""
    s = np.linspace(-1, 1, 90)[None, :]
    v = np.linspace(0, 1, 26)[:, None]
    half = (
        beam
        / 2
        * (1 - np.clip(s, 0, 1) ** 2.4) ** 0.8
        * (0.78 + 0.22 * np.clip(1 + s, 0, 1))
        * np.ones_like(v)
    )
    sheer = depth * (1 + 0.28 * np.clip(s, -1, 1) ** 2 + 0.18 * np.clip(s, 0, 1) ** 3)
    keel = 0.55 * depth * np.clip(s, 0, 1) ** 4

    def side(sign, inset):
        laps = 0.02 * depth * (1 - np.mod(v * 7, 1))
        out = np.sin(v * np.pi / 2) ** 0.7 * (half - inset) + laps * (v > 0.05)
        return np.stack(
            [
                s * length / 2 * np.ones_like(v),
                keel + (sheer - keel) * (1 - np.cos(v * np.pi / 2)) ** 0.9,
                sign * out,
            ],
            -1,
        )

    outside = [lattice(side(1, 0), flip=True), lattice(side(-1, 0))]
    inside = [lattice(side(1, 0.04 * beam)), lattice(side(-1, 0.04 * beam), flip=True)]
    transom = np.stack([side(1, 0)[:, 0], side(-1, 0)[:, 0]], 1)
    rails = [
        tube(side(sign, 0.01)[-1] + [0, 0.02, 0], 0.035 * depth + 0.05, 10) for sign in (1, -1)
    ]
    seats = []
    for at in (-0.45, 0.05, 0.5):
        k = int((at + 1) / 2 * 89)
        seats.append(
            place(
                box((0.10 * length, 0.05 * depth, 1.7 * half[0, k]), 0.02),
                (at * length / 2, 0.62 * depth, 0),
            )
        )
    return join([*outside, lattice(transom)]), join([*inside, *seats]), join(rails)


def lantern_paper(radius, height, seed, ribs=13):
    """A globe lantern of crumpled paper over hoops: (paper mesh, hoops mesh)."""
    rows, columns = 120, 160
    t = np.linspace(0.06, 0.94, rows)
    phi = np.linspace(0, 2 * np.pi, columns + 1)
    tt, pp = np.meshgrid(t, phi, indexing="ij")
    profile = np.sin(np.pi * tt) ** 0.55
    sag = -0.018 * np.abs(np.sin(np.pi * ribs * (tt - 0.06) / 0.88)) ** 0.6
    around = np.stack([np.cos(pp) * 3, np.sin(pp) * 3, tt * 14], -1)
    creases = 0.005 * fractal(around, 3, seed) + 0.0015 * fractal(around * 3, 2, seed + 5)
    r = radius * (profile + sag + creases)
    dent = (
        0.03
        * radius
        * fractal(np.stack([np.cos(pp) * 0.9, np.sin(pp) * 0.9, tt * 1.5], -1), 2, seed + 9)
    )
    points = np.stack([(r + dent) * np.cos(pp), height * (tt - 0.5), (r + dent) * np.sin(pp)], -1)
    hoops = []
    for k in range(ribs + 1):
        level = 0.06 + 0.88 * k / ribs
        a = np.linspace(0, 2 * np.pi, 80)
        rr = radius * np.sin(np.pi * level) ** 0.55 + 0.004
        hoops.append(
            tube(
                np.stack(
                    [rr * np.cos(a), np.full_like(a, height * (level - 0.5)), rr * np.sin(a)], 1
                ),
                0.011,
                8,
            )
        )
    return lattice(points), join(hoops)


def paper(rgb=(0.82, 0.79, 0.72), through=0.9):
    return {
        "type": "principledthin",
        "base_color": colour(*rgb),
        "roughness": 0.8,
        "diff_trans": through,
        "eta": 1.3,
        "spec_trans": 0.0,
    }


def sheet(width, depth, seed, lift=0.25):
    """A sheet of paper lying with curled corners, x by z, on y = 0."""
    x, z = np.meshgrid(np.linspace(-1, 1, 60), np.linspace(-1, 1, 50))
    curl = (
        lift * np.clip(np.abs(x * 0.8 + z * 0.5) - 0.75, 0, 1) ** 2
        + lift * 0.7 * np.clip(-x + 0.6 * z - 0.8, 0, 1) ** 2
    )
    wave = 0.02 * fractal(np.stack([x * 1.5, z * 1.5], -1), 3, seed) + 0.03
    return lattice(np.stack([x * width / 2, curl + wave, z * depth / 2], -1), flip=True)


def jar(radius, height):
    """A straight glass or tin with a rounded foot and lip, open above."""
    r, h = radius, height
    return lathe(
        [
            (0, 0),
            (r * 0.85, 0),
            (r * 0.96, 0.03 * h),
            (r, 0.09 * h),
            (r, 0.93 * h),
            (r * 1.03, 0.97 * h),
            (r * 0.99, h),
            (r * 0.94, 0.97 * h),
            (r * 0.93, 0.1 * h),
            (0, 0.08 * h),
        ],
        64,
    )


def ball(radius):
    v, f, uv = sphere(48, 32)
    return v * radius, f, uv


def flat(frame, right, height, ahead, size, facing, material, name, emitter=None):
    """A rectangle of `size` (across, up) facing 'camera', 'away', 'left', 'right', 'up' or
    'down'."""
    turn = {
        "camera": (0, 0),
        "away": (0, 180),
        "left": (0, -90),
        "right": (0, 90),
        "up": (-90, 0),
        "down": (90, 0),
    }[facing]
    x, y = size[0] / 2, size[1] / 2
    shape = (
        np.array([[-x, -y, 0], [x, -y, 0], [x, y, 0], [-x, y, 0]], float),
        np.array([[0, 1, 2], [0, 2, 3]]),
        np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float),
    )
    made = frame.set(shape, right, height, ahead, turn=turn[1], tilt=turn[0])
    return mesh(made, material, name, emitter, smooth=False)


def panel(at, towards, wide, high):
    """A rectangle about `at`, `wide` and `high`, whose front is towards a point."""
    at, towards = np.asarray(at, float), np.asarray(towards, float)
    way = (towards - at) / np.linalg.norm(towards - at)
    right = np.cross(way, [0, 1, 0])
    right = wide / 2 * right / np.linalg.norm(right)
    up = high / 2 * np.cross(right, way) / np.linalg.norm(right)
    corners = np.array([at + a * right + b * up for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    flat = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float)
    return corners, np.array([[0, 2, 1], [0, 3, 2]]), flat
