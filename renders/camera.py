"""A pinhole camera: radiance without noise, and how far away everything is.

Focus, depth of field, shake and sensor noise come later, when the demo is developed: one render
gives many frames.
"""

from __future__ import annotations

from dataclasses import dataclass

import drjit as dr
import mitsuba_oidn as oidn
import numpy as np

from renders.renderer import mi
from renders.textures import Array

_SAMPLES_AT_ONCE = 4_000_000  # more makes the vectorised renderer slower, not faster
_NEAR = 0.02


@dataclass(frozen=True, slots=True)
class View:
    """Where the camera stands and looks, in metres; ``angle``: degrees across the longer side."""

    at: tuple[float, float, float]
    to: tuple[float, float, float]
    angle: float


@dataclass(frozen=True, slots=True)
class Render:
    """``radiance`` H x W x 3, linear; ``metres`` H x W along the optical axis, far away 1e4;
    ``alpha`` H x W."""

    radiance: Array
    metres: Array
    alpha: Array


Part = tuple[int, int, int, int]


def take(
    scene: mi.Scene,
    view: View,
    size: tuple[int, int],
    samples: int,
    *,
    depth: int = 5,
    cut_out: bool = False,
    part: Part | None = None,
) -> Render:
    """Render a picture of ``size`` (width, height), or only a ``part`` (left, top, width, height).

    ``cut_out`` leaves everything behind the objects transparent.
    """
    sensor = _sensor(view, size, part)
    w, h = part[2:] if part else size
    path = {"type": "path", "max_depth": depth, "rr_depth": 4, "hide_emitters": cut_out}
    integrator = mi.load_dict({"type": "aov", "aovs": "al:albedo,nn:sh_normal", "img": path})
    per_pass = max(1, min(samples, _SAMPLES_AT_ONCE // (w * h)))
    passes = max(1, samples // per_pass)
    total = np.zeros((h, w, 10), np.float32)
    for i in range(passes):
        one = np.array(
            mi.render(scene, sensor=sensor, integrator=integrator, spp=per_pass, seed=1000 + i)
        )
        one[..., :3] = np.minimum(one[..., :3], 60)  # fireflies
        total += one
    total /= passes
    radiance, alpha, albedo, normal = (
        total[..., :3],
        total[..., 3],
        total[..., 4:7],
        total[..., 7:10],
    )
    albedo = np.ascontiguousarray(np.clip(albedo, 0, 1))
    clean = oidn.denoise(
        np.ascontiguousarray(radiance), albedo, np.ascontiguousarray(normal), hdr=True
    )
    metres = _distances(scene, sensor, view, w, h) if not part else np.full((h, w), 1, np.float32)
    return Render(np.maximum(np.asarray(clean), 0), metres, np.clip(alpha, 0, 1))


def _sensor(view: View, size: tuple[int, int], part: Part | None) -> mi.Sensor:
    film = {
        "type": "hdrfilm",
        "width": size[0],
        "height": size[1],
        "pixel_format": "rgba",
        "component_format": "float32",
        "rfilter": {"type": "box"},
    }
    if part:
        names = ("crop_offset_x", "crop_offset_y", "crop_width", "crop_height")
        film |= dict(zip(names, part, strict=True))
    return mi.load_dict(
        {
            "type": "perspective",
            "fov": view.angle,
            "fov_axis": "larger",
            "to_world": mi.ScalarTransform4f().look_at(view.at, view.to, [0, 1, 0]),
            "near_clip": _NEAR,
            "far_clip": 5000.0,
            "film": film,
            "sampler": {"type": "independent"},
        }
    )


def _distances(scene: mi.Scene, sensor: mi.Sensor, view: View, w: int, h: int) -> Array:
    """Through pixel centres, so that edges are hard and each pixel is at one distance."""
    index = dr.arange(mi.UInt32, w * h)
    at = mi.Point2f((mi.Float(index % w) + 0.5) / w, (mi.Float(index // w) + 0.5) / h)
    ray, _ = sensor.sample_ray(0.0, 0.5, at, mi.Point2f(0.5))
    hit = scene.ray_intersect_preliminary(ray)
    along = np.array(dr.select(hit.is_valid(), hit.t, 1e4))
    direction = np.array(ray.d)
    direction = direction if direction.shape[0] == 3 else direction.T
    forward = np.asarray(view.to) - np.asarray(view.at)
    forward /= np.linalg.norm(forward)
    metres = np.where(along < 9e3, along * (forward @ direction) + _NEAR, 1e4)
    return metres.reshape(h, w).astype(np.float32)
