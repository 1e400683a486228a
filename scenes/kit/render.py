"""Talking to the renderer: meshes, materials, lights, cameras, passes and noise removal."""

import ctypes
import glob
import importlib.util
import os
from pathlib import Path

os.environ.setdefault("DRJIT_LIBLLVM_PATH", "/usr/lib/x86_64-linux-gnu/libLLVM.so.19.1")

import cv2
import drjit as dr
import mitsuba as mi
import numpy as np

from .shapes import vertex_normals
from .spectra import as_spectrum

mi.set_variant("llvm_ad_spectral")
Transform = mi.ScalarTransform4f

XYZ_TO_REC2020 = np.array(
    [
        [1.7166512, -0.3556708, -0.2533663],
        [-0.6666844, 1.6164812, 0.0157685],
        [0.0176399, -0.0427706, 0.9421031],
    ]
)


# ---- materials -----------------------------------------------------------------------------------
def colour(*rgb):
    """A linear sRGB colour, turned into a smooth reflectance spectrum by the renderer."""
    return {"type": "rgb", "value": [float(c) for c in rgb]}


def surface(base, roughness=0.5, specular=0.4, **more):
    """The renderer's layered material."""
    return {
        "type": "principled",
        "base_color": base,
        "roughness": roughness,
        "specular": specular,
        **more,
    }


def both_sides(material):
    return {"type": "twosided", "side": material}


def picture(values, raw=False, scale=None):
    """Texture from an array: linear sRGB (h, w, 3), or plain numbers (h, w) with `raw`."""
    values = np.ascontiguousarray(np.asarray(values, np.float32))
    if values.ndim == 2:
        values = values[..., None]
    texture = {"type": "bitmap", "bitmap": mi.Bitmap(values), "raw": raw, "wrap_mode": "repeat"}
    if scale:
        texture["to_uv"] = Transform().scale([scale[0], scale[1], 1])
    return texture


def bumpy(height, scale, material):
    """Add relief; `scale` is decimetres per unit of `height`."""
    return {"type": "bumpmap", "scale": scale, "tex": picture(height, raw=True), "bsdf": material}


def load(scene):
    """Load a scene with all its numbers opaque: materials that differ in numbers alone then share
    one compiled function."""
    made = mi.load_dict(scene)
    params = mi.traverse(made)
    for key in params.keys():  # noqa: SIM118
        try:
            value = params[key]
        except TypeError:  # curves have no value for some of theirs
            continue
        if type(value).__module__.startswith(("drjit", "mitsuba")):
            dr.make_opaque(value)
    return made


_materials = {}


def _loaded(material):
    """The renderer's material; one object for one dictionary, since each more makes the compiled
    renderer longer."""
    if not isinstance(material, dict):
        return material
    if id(material) not in _materials:
        _materials[id(material)] = (material, mi.load_dict(material))
    return _materials[id(material)][1]


def mesh(shape, material, name, emitter=None, smooth=True, normals=None):
    """Renderer's mesh of (vertices, faces, uv), with `normals` of its own where it is part of a
    surface."""
    vertices, faces, uv = shape
    props = mi.Properties()
    props["bsdf"] = _loaded(material)
    if emitter is not None:
        props["emitter"] = mi.load_dict(emitter)
    made = mi.Mesh(
        name,
        len(vertices),
        len(faces),
        has_vertex_normals=smooth,
        has_vertex_texcoords=uv is not None,
        props=props,
    )
    params = mi.traverse(made)
    params["vertex_positions"] = np.ascontiguousarray(vertices, np.float32).ravel()
    params["faces"] = np.ascontiguousarray(faces, np.uint32).ravel()
    if uv is not None:
        params["vertex_texcoords"] = np.ascontiguousarray(uv, np.float32).ravel()
    if smooth:
        normals = vertex_normals(vertices, faces) if normals is None else normals
        params["vertex_normals"] = np.ascontiguousarray(normals, np.float32).ravel()
    params.update()
    dr.sync_thread()
    return made


def area_light(spectrum):
    return {"type": "area", "radiance": spectrum}


def panorama_light(light, scale=1.0, turn=0.0):
    return {
        "type": "envmap",
        "bitmap": mi.Bitmap(np.ascontiguousarray(light)),
        "scale": float(scale),
        "to_world": Transform().rotate([0, 1, 0], turn),
    }


def sun_disc(eye, way, irradiance, far=4000.0, width=0.53):
    """The sun as a disc `width` degrees wide in direction `way`, giving `irradiance` (41,) to a
    surface that faces it."""
    radius = far * np.tan(np.radians(width / 2))
    at = np.asarray(eye, float) + far * np.asarray(way)
    turn = (
        Transform()
        .look_at(list(at), list(np.asarray(eye, float)), [0, 1, 0.01])
        .scale([radius, radius, 1])
    )
    radiance = np.asarray(irradiance) / (np.pi * np.sin(np.radians(width / 2)) ** 2)
    return {"type": "disk", "to_world": turn, "emitter": area_light(as_spectrum(radiance))}


def dim(loaded, starts, values=None):
    """Dim emitters whose names begin with `starts` a millionfold, or set them to `values`; return
    what they were."""
    params, was = mi.traverse(loaded), {}
    for key in list(params.keys()):
        if (
            starts
            and key.startswith(starts)
            and (key.endswith("radiance.values") or key.endswith(".scale"))
        ):
            was[key] = type(params[key])(params[key])
            params[key] = values[key] if values else params[key] * 1e-6
    params.update()
    return was


# ---- cameras and passes --------------------------------------------------------------------------
def film(width, height, crop=None):
    """A box filter: with a wider one neighbouring noise is correlated and the denoiser keeps it."""
    made = {
        "type": "hdrfilm",
        "width": width,
        "height": height,
        "pixel_format": "xyz",
        "component_format": "float32",
        "rfilter": {"type": "box"},
    }
    if crop:
        made |= dict(zip(("crop_offset_x", "crop_offset_y", "crop_width", "crop_height"), crop))
    return made


def camera(eye, target, fov, width, height, aperture=0.0, focus=None, crop=None):
    """Thin-lens camera; `aperture` is the lens radius in decimetres, `focus` a point in the sharp
    plane.

    `crop` is (left, top, width, height) in pixels of the whole film.
    """
    eye, target = np.asarray(eye, float), np.asarray(target, float)
    common = {
        "fov": fov,
        "fov_axis": "x",
        "to_world": Transform().look_at(list(eye), list(target), [0, 1, 0]),
        "film": film(width, height, crop),
        "sampler": {"type": "independent"},
    }
    if not aperture:
        return {"type": "perspective", **common}
    ahead = (target - eye) / np.linalg.norm(target - eye)
    return {
        "type": "thinlens",
        "aperture_radius": aperture,
        "focus_distance": float((np.asarray(focus) - eye) @ ahead),
        **common,
    }


def integrator(depth=7):
    return {
        "type": "aov",
        "aovs": "alb:albedo,nn:sh_normal",
        "img": {"type": "path", "max_depth": depth, "rr_depth": 6},
    }


# how often the renderer died of this scene: the pass it died of is tried with other rays
attempts = 0


def accumulate(scene, samples, store: Path, seed, per_pass=4, clamp=True, say=print):
    """Render in passes, saving each, so that a run that dies goes on where it stopped.

    Bright single samples are held to twelve times the running local median before they are added.
    """
    done, total = 0, 0.0
    if store.exists():
        kept = np.load(store)
        done, total = int(kept["passes"]), kept["total"]
    passes = max(1, -(-samples // per_pass))
    loaded = load(scene) if done < passes else None
    for k in range(done, passes):
        image = np.nan_to_num(
            np.array(mi.render(loaded, spp=per_pass, seed=seed + k + 1000 * attempts))
        )
        dr.eval()
        dr.sync_thread()
        if clamp and k > 2:
            middle = cv2.medianBlur((total / k)[..., 1].astype(np.float32), 5)
            limit = 12 * middle + 16 * np.median(middle)
            image[..., :3] *= np.minimum(1, limit / np.maximum(image[..., 1], 1e-6))[..., None]
        total = total + image
        part = store.with_suffix(".part.npz")
        np.savez(part, passes=k + 1, total=np.asarray(total, np.float32))
        part.replace(store)
        say(f"  {store.stem}: pass {k + 1} of {passes}", flush=True)
    return (total / passes).astype(np.float32)


def object_ids(scene, sensor, samples=1):
    """Return (samples, height, width) shape numbers, 0 where the ray meets nothing, and {number:
    name}."""
    loaded = load(dict(scene, integrator={"type": "aov", "aovs": "ids:shape_index"}, sensor=sensor))
    images = []
    for seed in range(samples):
        images.append(np.round(np.array(mi.render(loaded, spp=1, seed=seed))[..., -1]).astype(int))
        dr.sync_thread()
    numbers = {
        int(dr.reinterpret_array(mi.UInt32, mi.ShapePtr(s))[0]): s.id() for s in loaded.shapes()
    }
    return np.stack(images), {0: "nothing", **numbers}


# ---- noise removal -------------------------------------------------------------------------------
def _library():
    found = importlib.util.find_spec("oidn").origin
    folder = os.path.join(os.path.dirname(found), "lib.linux.x64")
    tbb = os.path.join(folder, "libtbb.so.12")
    if not os.path.exists(tbb):
        os.symlink("libtbb.so.12.5", tbb)
    ctypes.CDLL(tbb, ctypes.RTLD_GLOBAL)
    import oidn

    flags = ctypes.CDLL(glob.glob(os.path.join(folder, "libOpen*"))[0])
    flags.oidnSetFilter1b.argtypes = [ctypes.c_void_p, ctypes.c_char_p, ctypes.c_bool]
    return oidn, flags


def _denoise(images, *switches):
    oidn, flags = _library()
    images = {k: np.ascontiguousarray(v, np.float32) for k, v in images.items()}
    output = np.zeros_like(next(iter(images.values())))
    height, width = output.shape[:2]
    device = oidn.NewDevice()
    oidn.CommitDevice(device)
    run = oidn.NewFilter(device, "RT")
    for name, image in {**images, "output": output}.items():
        oidn.SetSharedFilterImage(run, name, image, oidn.FORMAT_FLOAT3, width, height)
    for switch in switches:
        flags.oidnSetFilter1b(run, switch, True)
    oidn.CommitFilter(run)
    oidn.ExecuteFilter(run)
    oidn.ReleaseFilter(run)
    oidn.ReleaseDevice(device)
    return output


def denoise_guide(albedo):
    """Clean an albedo or coverage layer by itself."""
    return np.clip(_denoise({"albedo": np.clip(albedo, 0, 1)}), 0, 1)


def denoise(linear, albedo, normal):
    """Clean a linear picture with cleaned guides: in spectral rendering albedo itself is noisy."""
    guide = denoise_guide(albedo)
    normal = _denoise({"normal": normal})
    return _denoise({"color": linear, "albedo": guide, "normal": normal}, b"hdr", b"cleanAux")
