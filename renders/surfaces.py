"""Materials and lights as dictionaries of the renderer."""

from __future__ import annotations

from typing import Any

import numpy as np

from renders.renderer import mi
from renders.textures import Array, Colour

Surface = dict[str, Any]


def picture(array: Array) -> Surface:
    """A texture from H x W or H x W x 3, repeated, taken as it is (no gamma)."""
    if array.ndim == 2:
        array = array[..., None]
    bitmap = mi.Bitmap(np.ascontiguousarray(array.astype(np.float32)))
    return {
        "type": "bitmap",
        "bitmap": bitmap,
        "raw": True,
        "filter_type": "bilinear",
        "wrap_mode": "repeat",
    }


def solid(colour: Surface | Colour | Array, rough: Surface | float = 0.5, **more: Any) -> Surface:
    """A surface seen from both sides; a colour, or a picture H x W x 3."""
    if isinstance(colour, np.ndarray) and colour.ndim == 3:
        colour = picture(colour)
    elif not isinstance(colour, dict):
        colour = {"type": "rgb", "value": [float(c) for c in colour]}
    if isinstance(rough, np.ndarray):
        rough = picture(rough)
    inner = {"type": "principled", "base_color": colour, "roughness": rough, **more}
    return {"type": "twosided", "inner": inner}


def bumped(surface: Surface, height: Array) -> Surface:
    """The same with a relief in metres."""
    return {"type": "bumpmap", "arbitrary": picture(height), "scale": 1.0, "inner": surface}


def thin(colour: Array, through: float = 0.9) -> Surface:
    """Cloth or paper that lets light through; ``through``: 0…2."""
    return {
        "type": "principledthin",
        "base_color": picture(colour),
        "roughness": 0.8,
        "diff_trans": through,
        "spec_trans": 0.0,
    }


def shining(radiance: Array | Colour) -> Surface:
    """An area light: a colour, or a picture H x W x 3."""
    if isinstance(radiance, np.ndarray):
        return {"type": "area", "radiance": picture(radiance)}
    return {"type": "area", "radiance": {"type": "rgb", "value": [float(c) for c in radiance]}}


def surround(radiance: Array, turned: float = 0.0) -> Surface:
    """Light from all round; ``turned``: degrees about y."""
    return {
        "type": "envmap",
        "bitmap": mi.Bitmap(np.ascontiguousarray(radiance)),
        "to_world": mi.ScalarTransform4f().rotate([0, 1, 0], turned),
    }
