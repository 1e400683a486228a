"""Eyes with a cornea, an iris by angle, wet lids and lashes."""

import numpy as np
from scipy.ndimage import gaussian_filter1d

from . import body
from .noise import fractal, smoothstep
from .render import mesh, mi, picture, surface
from .shapes import sphere, tube
from .strands import unit


def _front_depth(face):
    """Height field of the unposed face, seen from the front, by casting rays."""
    scene = mi.load_dict(
        {"type": "scene", "m": mesh((face.still, face.tri, None), {"type": "diffuse"}, "b")}
    )

    def depth(x, y):
        ray = mi.Ray3f(
            mi.Point3f(x.astype(np.float32), y.astype(np.float32), np.full(len(x), 5, np.float32)),
            mi.Vector3f(0, 0, -1),
        )
        t = np.array(scene.ray_intersect(ray).t)
        return np.where(np.isfinite(t), 5 - t, -9)

    return depth


def _iris_picture(who, side):
    a, phi = np.meshgrid(np.linspace(0, 180, 720), np.linspace(0, 2 * np.pi, 256), indexing="ij")

    def ring(k, d):
        return np.stack([np.cos(phi) * k, np.sin(phi) * k, a / d], -1)

    outer, inner = np.array(who.iris[0]), np.array(who.iris[1])
    streaks = 1 + 0.55 * fractal(ring(6, 9), 3, 11 + side) + 0.5 * fractal(ring(16, 16), 2, 12)
    iris = outer * streaks[..., None] * (1 - 0.35 * smoothstep(a, 21, 27.5))[..., None]
    iris = iris + inner * np.exp(-(((a - 14) / 3.5) ** 2))[..., None]
    white = np.array(who.sclera) * (1 + 0.05 * fractal(ring(3, 20), 2, 5))[..., None]
    vein = np.clip(1 - np.abs(fractal(ring(5, 45), 3, 8)) * 14, 0, 1) * smoothstep(a, 34, 62)
    white = white * (1 - vein[..., None] * np.array([0.05, 0.25, 0.27]))
    white = white * (1 - 0.3 * smoothstep(a, 40, 75)[..., None] * np.array([0.15, 1, 1]))
    k = smoothstep(a, 26, 29.5)[..., None]
    col = (iris * (1 - k) + white * k) * (1 - 0.45 * np.exp(-(((a - 27.5) / 1.8) ** 2)))[..., None]
    return np.clip(col * smoothstep(a, 10.5, 11.7)[..., None] + 0.002, 0, 1)


MOST = np.radians(15)  # that eyes turn in the head; beyond, people turn the head


def _within(ahead, forward):
    """A direction, turned back towards `forward` as far as eyes cannot go."""
    apart = np.arccos(np.clip(ahead @ forward, -1, 1))
    if apart <= MOST:
        return ahead
    side = unit(ahead - forward * (ahead @ forward))
    return forward * np.cos(MOST) + side * np.sin(MOST)


def eyes(face, look_at, add, strands):
    who, groups, depth = face.who, body.base()[1], _front_depth(face)
    lashes, radii = [], []
    for side, group in ((1, "helper-l-eye"), (-1, "helper-r-eye")):
        ball = face.whole[np.unique(groups[group])]
        c, r = (ball.max(0) + ball.min(0)) / 2, (ball.max(0) - ball.min(0)).mean() / 2
        v, f, uv = sphere(128, 160)
        angle = np.degrees(np.arccos(np.clip(v[:, 2], -1, 1)))
        bulge = 1 + 0.075 * np.exp(-((angle / 20) ** 4)) * np.cos(
            np.radians(np.clip(angle * 2, 0, 90))
        )
        centre = face.pose.head(c[None])[0]
        ahead = _within(unit(look_at - centre), unit(face.pose.turn @ np.array([0.0, 0, 1])))
        across = unit(np.cross(face.pose.turn @ np.array([0, 1, 0]), ahead))
        turned = (v * bulge[:, None] * r) @ np.stack(
            [across, np.cross(ahead, across), ahead]
        ) + centre
        eye = surface(picture(_iris_picture(who, side)), 0.06, 1.0)
        add(f"eye{side}", (turned, f, uv), eye)

        # The opening of the lids: where the ball lies before the skin, column by column.
        xs, ys = (
            np.linspace(c[0] - 0.19, c[0] + 0.19, 77),
            np.linspace(c[1] - 0.14, c[1] + 0.14, 281),
        )
        gx, gy = np.meshgrid(xs, ys, indexing="ij")
        skin = depth(gx.ravel(), gy.ravel()).reshape(gx.shape)
        reach = r * r - (gx - c[0]) ** 2 - (gy - c[1]) ** 2
        ball_z = np.where(reach > 0, c[2] + np.sqrt(np.clip(reach, 0, 1)), -9)
        seen = ball_z > skin + 0.001
        columns = np.where(seen.sum(1) > 4)[0]
        low = np.array([ys[np.where(seen[i])[0][0]] for i in columns])
        high = np.array([ys[np.where(seen[i])[0][-1]] for i in columns])
        x, low, high = xs[columns], gaussian_filter1d(low, 1.5), gaussian_filter1d(high, 1.5)
        z_low = gaussian_filter1d(depth(x, low - 0.008), 2)
        z_high = gaussian_filter1d(depth(x, high + 0.008), 2)
        z_ball = c[2] + np.sqrt(np.clip(r**2 - (x - c[0]) ** 2 - (low - c[1]) ** 2, 0, 1))
        line = face.pose.head(np.stack([x, low + 0.002, np.minimum(z_ball + 0.001, z_low)], 1))
        wet = surface({"type": "rgb", "value": [0.42, 0.25, 0.21]}, 0.12, 0.7)
        add(
            f"wet{side}",
            tube(line, 0.0055 * np.sin(np.linspace(0.3, np.pi - 0.3, len(line))), 10),
            wet,
        )
        end = 0 if side > 0 else -1
        corner = np.array([x[end] + side * 0.006, (low[end] + high[end]) / 2, z_ball[end] - 0.002])
        v, f, uv = sphere(32, 24)
        pink = surface({"type": "rgb", "value": [0.45, 0.20, 0.17]}, 0.2, 0.6)
        add(f"corner{side}", (face.pose.head(v * [0.020, 0.015, 0.014] + corner), f, uv), pink)

        rng, outward = face.rng, side * (x - c[0]) / 0.15
        for upper, per, zz, yy, length in (
            (True, 90, z_high, high + 0.004, 0.078),
            (False, 45, z_low, low - 0.006, 0.036),
        ):
            n = int(who.lashes * per)
            u = np.sort(rng.random(n) * (len(x) - 1))
            px, py, pz, out = (np.interp(u, np.arange(len(x)), q) for q in (x, yy, zz, outward))
            size = length * rng.uniform(0.55, 1.05, n) * (0.75 + 0.3 * np.clip(out + 0.3, 0, 1.2))
            fan = side * (0.15 + 0.55 * out) + rng.normal(0, 0.13, n)
            d = unit(
                np.stack(
                    [fan, (-0.25 if upper else -0.55) + rng.normal(0, 0.08, n), np.full(n, 0.9)], 1
                )
            )
            t = np.linspace(0, 1, 6)[None, :, None]
            curl = np.array([0, 0.95 if upper else 0.05, -0.10])
            lashes.append(
                np.stack([px, py, pz], 1)[:, None]
                + size[:, None, None] * (d[:, None] * t + curl * t**2)
            )
            radii.append(np.repeat((0.0010 * (1 - 0.85 * t[0, :, 0]))[None], n, 0))
    lashes = np.concatenate(lashes)
    posed = face.pose.head(lashes.reshape(-1, 3)).reshape(lashes.shape)
    strands(
        "lashes",
        posed,
        np.concatenate(radii),
        surface({"type": "rgb", "value": list(who.lash_colour)}, 0.4, 0.4),
    )
