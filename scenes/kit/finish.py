"""From passes to a shipped scene: light under the skin, exposure, label mask, files."""

from dataclasses import dataclass

import cv2
import numpy as np
from PIL import Image

from .render import (
    XYZ_TO_REC2020,
    accumulate,
    camera,
    denoise,
    denoise_guide,
    dim,
    dr,
    integrator,
    load,
    mi,
    object_ids,
)

# Diffusion of light in skin as six Gaussians: variances in mm^2 and weights for red, green, blue.
VARIANCES = [0.0064, 0.0484, 0.187, 0.567, 1.99, 7.41]
WEIGHTS = np.array(
    [
        [0.233, 0.455, 0.649],
        [0.1, 0.336, 0.344],
        [0.118, 0.198, 0],
        [0.113, 0.007, 0.007],
        [0.358, 0.004, 0],
        [0.078, 0, 0],
    ]
)
LUMINANCE = np.array([0.2627, 0.6780, 0.0593], np.float32)
# Share of the raw picture mixed back, a trace of texture that the noise removal took; a view has
# its own where lamps leave much noise.
KEEP = 0.03


def to_rec2020(xyz):
    return np.maximum(xyz @ XYZ_TO_REC2020.T, 0)


def _calm(linear):
    """Hold single bright pixels to six times their neighbourhood."""
    total = linear.sum(-1)
    middle = cv2.medianBlur(total.astype(np.float32), 5)
    limit = 6 * middle + 2 * np.median(middle)
    return linear * np.minimum(1, limit / np.maximum(total, 1e-6))[..., None]


def _clean(image):
    linear = _calm(to_rec2020(image[..., :3]))
    return linear, denoise(linear, image[..., -6:-3], image[..., -3:])


def under_skin(diffuse, albedo, cover, pixels_per_mm, reach=1.35):
    """What diffusion under the skin adds to or takes from each pixel."""
    light = diffuse / np.maximum(albedo, 0.03)
    spread, weight = np.zeros_like(light), np.zeros_like(light)
    for variance, share in zip(VARIANCES, WEIGHTS):
        blur = np.sqrt(variance) * pixels_per_mm * reach
        lit, inside = light * (cover**2)[..., None], cover**2
        if blur >= 0.25:
            lit, inside = (
                cv2.GaussianBlur(a.astype(np.float32), (0, 0), blur) for a in (lit, inside)
            )
        spread += share * lit
        weight += share * inside[..., None]
    change = cover[..., None] * albedo * (spread / np.maximum(weight, 1e-4) - light)
    return np.clip(change, -0.6 * diffuse, 0.5 * diffuse + 0.004 * np.median(diffuse))


def light_readings(scene, meter, lights, store, samples=2048):
    """What an 18 percent grey card at `meter` (point, normal) sends back of each light alone,
    linear Rec.2020 (n, 3).

    A light lists the beginnings of its emitters' names; what it sends off walls and ground counts
    as its own. People are left out, so that the reading is the light falling on the place. Kept in
    `store`.
    """
    if store.exists():
        return np.load(store)
    at, normal = np.asarray(meter[0], float), np.asarray(meter[1], float)
    normal = normal / np.linalg.norm(normal)
    up = [0, 1, 0] if abs(normal[1]) < 0.9 else [0, 0, -1]
    card = {
        "type": "rectangle",
        "to_world": mi.ScalarTransform4f()
        .look_at(list(at), list(at + normal), up)
        .scale([0.4, 0.4, 1]),
        "bsdf": {"type": "diffuse", "reflectance": {"type": "uniform", "value": 0.18}},
    }
    loaded = load(
        dict(
            scene,
            card=card,
            sensor=camera(at + normal * 1.5, at, 12, 16, 16),
            integrator=integrator(),
        )
    )
    readings = []
    for light in lights:
        # Other lights are dimmed rather than taken out: the compiled renderer then serves for all.
        others = tuple(
            start for other in lights if other is not light for start in other["emitters"]
        )
        was = dim(loaded, others) if others else {}
        total = 0
        for seed in range(4):
            total = total + np.nan_to_num(np.array(mi.render(loaded, spp=samples // 4, seed=seed)))[
                ..., :3
            ].mean((0, 1))
            dr.sync_thread()
        dim(loaded, others, was)
        readings.append(to_rec2020(total / 4))
    np.save(store, np.array(readings))
    return np.array(readings)


@dataclass(frozen=True)
class Shot:
    """What part of the sensor is rendered: all of `sensor` (width, height), or `crop` (left, top,
    width, height) of it."""

    name: str
    sensor: tuple
    samples: int
    crop: tuple | None = None

    def camera(self, view, blurred=True):
        aperture = view["aperture"] if blurred else 0.0
        return camera(
            view["eye"],
            view["target"],
            view["fov"],
            *self.sensor,
            aperture,
            view["focus"],
            self.crop,
        )

    def pixels_per_mm(self, view):
        distance = float(np.linalg.norm(np.asarray(view["eye"]) - view["focus"]))
        return self.sensor[0] / (2 * np.tan(np.radians(view["fov"] / 2)) * distance * 100)


def frame(draft=False):
    """The whole picture."""
    return Shot("frame", (600, 400) if draft else (1440, 960), 6 if draft else 16)


def detail_plate(view):
    """960 x 640 pixels of a 24-megapixel frame, around the world point view["plate"]."""
    sensor, size = (6000, 4000), (960, 640)
    x, y = _on_sensor(view, view.get("plate", view["focus"]), sensor)
    left, top = (int(np.clip(c - s / 2, 0, w - s)) for c, s, w in zip((x, y), size, sensor))
    return Shot("plate", sensor, 24, (left, top, *size))


def _on_sensor(view, point, sensor):
    """Pixel position of a world point."""
    eye = np.asarray(view["eye"], float)
    ahead = np.asarray(view["target"], float) - eye
    ahead /= np.linalg.norm(ahead)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    d = np.asarray(point, float) - eye
    scale = sensor[0] / 2 / np.tan(np.radians(view["fov"] / 2)) / (d @ ahead)
    return sensor[0] / 2 + d @ right * scale, sensor[1] / 2 - d @ np.cross(right, ahead) * scale


def render_shot(scene, people, view, shot, folder, say=print):
    """Render `scene` (shapes and lights) with `people`: linear Rec.2020 (h, w, 3), shape numbers
    (h, w) and names.

    `view` holds eye, target, fov, aperture, focus, where there is fog `fog` (extinction per
    decimetre), `dim` where lamps are few and small, `rays` times as many as else, and `keep`.
    """
    lens = shot.camera(view)
    solid = {k: s for p in people for k, s in p.shapes.items()}

    def with_skin(part):
        return {f"skin{i}": p.skin(part) for i, p in enumerate(people)}

    fog, samples = view.get("fog"), round(shot.samples * view.get("rays", 1))
    whole = {**scene, **solid, "sensor": lens, "integrator": integrator(view.get("depth", 7))}
    full = accumulate(
        {**whole, **with_skin("whole")}, samples, folder / f"{shot.name}.npz", 100, say=say
    )
    raw, linear = _clean(full)
    keep = view.get("keep", KEEP)
    linear = (1 - keep) * linear + keep * raw
    if people:
        store = folder / f"{shot.name}-diffuse.npz"
        diffuse = accumulate({**whole, **with_skin("diffuse")}, 8, store, 5000, say=say)
        cover = covered({**whole, **with_skin("cover")}, lens, ["skin"])
        cover = denoise_guide(np.repeat(cover[..., None], 3, 2).astype(np.float32))[..., 0]
        _, soft = _clean(diffuse)
        linear = linear + under_skin(
            soft, denoise_guide(diffuse[..., -6:-3]), cover, shot.pixels_per_mm(view)
        )
    if fog:
        linear = in_fog(linear, {**scene, **solid, **with_skin("cover")}, lens, fog)
    if view.get("dim"):
        linear = calm_colour(np.maximum(linear, 0))
    return np.maximum(linear, 0), *shape_map(scene, people, view, shot)


def calm_colour(linear):
    """Colour without the blotches that few rays leave where lamps are small: each channel's share
    of luminance is smoothed where it changes by less than a third; luminance stays."""
    luminance = np.maximum(linear @ LUMINANCE, 1e-6)[..., None]
    share = np.log(np.maximum(linear, 1e-6) / luminance).astype(np.float32)
    for k in range(3):
        share[..., k] = cv2.bilateralFilter(cv2.medianBlur(share[..., k], 5), 25, 0.35, 9)
    calm = np.exp(share)
    return calm / np.maximum(calm @ LUMINANCE, 1e-6)[..., None] * luminance


def in_fog(linear, scene, lens, extinction, samples=24):
    """Homogeneous fog: light fades as exp(-extinction distance), and what lies behind everything
    takes its place.

    The fog's own light at a pixel is that of the empty backdrop there, so that things go over into
    it without an edge.
    """
    empty = {
        k: v
        for k, v in scene.items()
        if k in ("type", "sensor") or (isinstance(v, dict) and v.get("type") == "envmap")
    }
    backdrop = np.array(
        mi.render(load({**empty, "sensor": lens, "integrator": {"type": "path"}}), spp=samples)
    )
    glow = to_rec2020(backdrop[..., :3])
    loaded = load(dict(scene, integrator={"type": "aov", "aovs": "d:depth"}, sensor=lens))
    through, hits = 0.0, 0.0
    for seed in range(samples):
        far = np.array(mi.render(loaded, spp=1, seed=seed))[..., -1]
        dr.sync_thread()
        through = through + np.where(far > 0, np.exp(-extinction * far), 0)
        hits = hits + (far > 0)
    share = (hits / samples)[..., None]
    solid = np.maximum(linear - glow * (1 - share), 0)
    return (
        solid * (through / np.maximum(hits, 1))[..., None]
        + glow * (1 - through / samples)[..., None]
    )


def covered(scene, lens, starts, samples=16):
    """Share of each pixel that shapes whose names begin with `starts` cover, lens blur included."""
    ids, names = object_ids(scene, lens, samples)
    return np.isin(ids, [i for i, n in names.items() if n.startswith(tuple(starts))]).mean(0)


def label_mask(ids, names, regions, linear, shrink=3):
    """uint8 mask: 0 nothing, k for the k-th region; a region is a list of beginnings of shape
    names.

    A region without names, "shadow", takes what no other has and what is three stops or more below
    mid grey.
    """
    mask = np.zeros(ids.shape, np.uint8)
    kernel = np.ones((shrink, shrink), np.uint8)
    for value, starts in enumerate(regions.values(), 1):
        if starts:
            inside = np.isin(ids, [i for i, n in names.items() if n.startswith(tuple(starts))])
        else:
            inside = (cv2.GaussianBlur(linear @ LUMINANCE, (0, 0), 2) < 0.18 / 8) & (mask == 0)
        mask[cv2.erode(inside.astype(np.uint8), kernel) > 0] = value
    return mask


def move_map(ids, names, moves):
    """uint8 map: 0 where nothing moves, k for the k-th of a program's MOVES."""
    out = np.zeros(ids.shape, np.uint8)
    for k, (starts, *_) in reversed(list(enumerate(moves, 1))):
        out[np.isin(ids, [i for i, n in names.items() if n.startswith(tuple(starts))])] = k
    return out


def shape_map(scene, people, view, shot):
    """Shape numbers (h, w) of a shot, and {number: name}."""
    solid = {k: s for p in people for k, s in p.shapes.items()}
    skin = {f"skin{i}": p.skin("cover") for i, p in enumerate(people)}
    ids, names = object_ids({**scene, **solid, **skin}, shot.camera(view, blurred=False))
    return ids[0], names


def look(linear, path, white=None, stops=0.0):
    """A quick sRGB preview for the eye while a scene is made; `white` is the grey card reading."""
    picture = linear * 2.0**stops
    if white is not None:
        picture = picture * (np.mean(white) / np.asarray(white))
    to_srgb = np.array(
        [[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]]
    )
    x = np.maximum(picture @ to_srgb.T, 0) * 0.95
    y = (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14)
    Image.fromarray((255 * np.clip(y, 0, 1) ** (1 / 2.2) + 0.5).astype(np.uint8)).save(path)
