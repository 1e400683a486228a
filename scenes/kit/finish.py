"""From passes to a shipped scene: light under the skin, exposure, label mask, files."""

import cv2
import numpy as np
from PIL import Image

from .render import XYZ_TO_REC2020, accumulate, camera, denoise, denoise_guide, integrator, mi, object_ids

# Diffusion of light in skin as six Gaussians: variances in mm^2 and weights for red, green, blue.
VARIANCES = [0.0064, 0.0484, 0.187, 0.567, 1.99, 7.41]
WEIGHTS = np.array([[0.233, 0.455, 0.649], [0.1, 0.336, 0.344], [0.118, 0.198, 0], [0.113, 0.007, 0.007],
                    [0.358, 0.004, 0], [0.078, 0, 0]])  # fmt: skip
KEEP = 0.03  # share of the raw picture mixed back: a trace of texture that the noise removal took


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
            lit, inside = (cv2.GaussianBlur(a.astype(np.float32), (0, 0), blur) for a in (lit, inside))
        spread += share * lit
        weight += share * inside[..., None]
    change = cover[..., None] * albedo * (spread / np.maximum(weight, 1e-4) - light)
    return np.clip(change, -0.6 * diffuse, 0.5 * diffuse + 0.004 * np.median(diffuse))


def grey_card(scene, at, normal, samples=4096):
    """What an 18 percent grey card facing `normal` at `at` sends back, linear Rec.2020 (3,).

    The person is left out, so that the reading is the light falling on the place.
    """
    at, normal = np.asarray(at, float), np.asarray(normal, float)
    normal = normal / np.linalg.norm(normal)
    up = [0, 1, 0]
    card = {"type": "rectangle", "to_world": mi.ScalarTransform4f().look_at(list(at), list(at + normal), up).scale([0.4, 0.4, 1]),
            "bsdf": {"type": "diffuse", "reflectance": {"type": "uniform", "value": 0.18}}}  # fmt: skip
    eye = camera(at + normal * 1.5, at, 12, 16, 16)
    loaded = mi.load_dict(dict(scene, card=card, sensor=eye, integrator=integrator()))
    total = 0
    for seed in range(4):
        total = total + np.nan_to_num(np.array(mi.render(loaded, spp=samples // 4, seed=seed)))[..., :3].mean((0, 1))
    return to_rec2020(total / 4)


def render_scene(scene, people, view, size, samples, folder, meter, say=print):
    """Render `scene` (shapes and lights) with `people` through `view`; return linear Rec.2020 and ids.

    `view` holds eye, target, fov, aperture, focus; `meter` is (point, normal) of the grey card reading.
    The picture is scaled so that the reading is 0.18.
    """
    width, height = size
    lens = camera(view["eye"], view["target"], view["fov"], width, height, view["aperture"], view["focus"])
    solid = {k: s for p in people for k, s in p.shapes.items()}

    def with_skin(part):
        return {f"skin{i}": p.skin(part) for i, p in enumerate(people)}

    whole = {**scene, **solid, "sensor": lens, "integrator": integrator()}
    full = accumulate({**whole, **with_skin("whole")}, samples, folder / "full.npz", 100, say=say)
    raw, linear = _clean(full)
    linear = (1 - KEEP) * linear + KEEP * raw
    if people:
        diffuse = accumulate({**whole, **with_skin("diffuse")}, max(8, samples // 2), folder / "diffuse.npz", 5000, say=say)
        cover = covered({**whole, **with_skin("cover")}, lens, ["skin"])
        cover = denoise_guide(np.repeat(cover[..., None], 3, 2).astype(np.float32))[..., 0]
        distance = float(np.linalg.norm(np.asarray(view["eye"]) - view["focus"]))
        per_mm = width / (2 * np.tan(np.radians(view["fov"] / 2)) * distance * 100)
        _, soft = _clean(diffuse)
        linear = linear + under_skin(soft, denoise_guide(diffuse[..., -6:-3]), cover, per_mm)
    pinhole = camera(view["eye"], view["target"], view["fov"], width, height)
    ids, names = object_ids({**scene, **solid, **with_skin("cover")}, pinhole)
    ids = ids[0]
    reading = grey_card(scene, *meter)
    gain = 0.18 / float(reading @ [0.2627, 0.6780, 0.0593])
    return np.maximum(linear, 0) * gain, ids, names, reading * gain


def covered(scene, lens, starts, samples=16):
    """Share of each pixel that shapes whose names begin with `starts` cover, lens blur included."""
    ids, names = object_ids(scene, lens, samples)
    return np.isin(ids, [i for i, n in names.items() if n.startswith(tuple(starts))]).mean(0)


def label_mask(ids, names, regions, shrink=3):
    """uint8 mask: 0 nothing, k for the k-th region; a region is a list of beginnings of shape names."""
    mask = np.zeros(ids.shape, np.uint8)
    kernel = np.ones((shrink, shrink), np.uint8)
    for value, starts in enumerate(regions.values(), 1):
        wanted = [i for i, n in names.items() if n.startswith(tuple(starts))]
        inside = np.isin(ids, wanted)
        mask[cv2.erode(inside.astype(np.uint8), kernel) > 0] = value
    return mask


def look(linear, path, white=None, stops=0.0):
    """A quick sRGB preview for the eye while a scene is made; `white` is the grey card reading."""
    picture = linear * 2.0**stops
    if white is not None:
        picture = picture * (np.mean(white) / np.asarray(white))
    to_srgb = np.array([[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083], [-0.0182, -0.1006, 1.1187]])
    x = np.maximum(picture @ to_srgb.T, 0) * 0.95
    y = (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14)
    Image.fromarray((255 * np.clip(y, 0, 1) ** (1 / 2.2) + 0.5).astype(np.uint8)).save(path)
