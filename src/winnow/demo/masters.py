"""The rendered pictures that the demo shoot is developed from: clean, linear, with distances.

A scene is a whole picture; a person is cut out and stands before one. How they were made is in
`renders/` of the source repository.
"""

from __future__ import annotations

import functools
import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

import cv2
import numpy as np
import pi_heif
from numpy.typing import NDArray
from PIL import Image

Picture = NDArray[np.float32]

FOLDER: Final = Path(__file__).parent / "masters"
# Radiance x is stored as log2(1 + x * _FINE), scaled so that _BRIGHTEST is the largest code.
_FINE: Final = 64.0
_BRIGHTEST: Final = 32.0
_DARK_BITS: Final = 10


@dataclass(frozen=True, slots=True)
class Scene:
    """``radiance`` H x W x 3, linear, mid-grey near 0.18.

    ``codes``: H x W, and the distance in ``metres`` that each of the 256 codes stands for.
    ``focal_px``: focal length in px of this picture. ``subject``: x, y in px, and ``metres_to`` it.
    ``cut_out``: a part that can move before the rest.
    """

    radiance: Picture
    codes: NDArray[np.uint8]
    metres: Picture
    focal_px: float
    subject: tuple[float, float]
    metres_to: float
    cut_out: CutOut | None = None


@dataclass(frozen=True, slots=True)
class CutOut:
    """``rgba`` H x W x 4, premultiplied; ``at``: x, y in px of the whole it belongs to."""

    rgba: Picture
    at: tuple[int, int]


def encode(radiance: Picture) -> NDArray[np.uint16]:
    """Linear radiance as 16-bit codes; ``decode`` reverses it."""
    top = np.log2(1 + _BRIGHTEST * _FINE)
    code = np.log2(1 + np.clip(radiance, 0, _BRIGHTEST) * _FINE) / top
    codes: NDArray[np.uint16] = (code * 65535 + 0.5).astype(np.uint16)
    return codes


@functools.cache
def _linear() -> Picture:
    top = np.log2(1 + _BRIGHTEST * _FINE)
    codes = np.arange(1 << _DARK_BITS, dtype=np.float64) / ((1 << _DARK_BITS) - 1)
    linear: Picture = ((np.exp2(codes * top) - 1) / _FINE).astype(np.float32)
    return linear


def decode(codes: NDArray[np.uint16]) -> Picture:
    """Codes as stored (ten bits in the upper part of sixteen) to linear radiance."""
    picture: Picture = np.take(_linear(), (codes >> (16 - _DARK_BITS)).astype(np.intp))
    return picture


def distances(nearest: float) -> Picture:
    """The metres that each of 256 codes stands for: the root of nearness, fine where blur shows."""
    nearness = (np.arange(256, dtype=np.float32) / 255) ** 2 / nearest
    metres: Picture = (1 / np.maximum(nearness, 1e-4)).astype(np.float32)
    return metres


@functools.cache
def facts() -> dict[str, Any]:
    """What is known of each master, by name."""
    listed: dict[str, Any] = json.loads((FOLDER / "masters.json").read_text("utf-8"))
    return listed


def _radiance(name: str) -> Picture:
    stored = pi_heif.open_heif(FOLDER / f"{name}.heic", convert_hdr_to_8bit=False)
    return decode(np.asarray(stored))


def _grey(name: str) -> NDArray[np.uint8]:
    with Image.open(FOLDER / f"{name}.webp") as image:
        return np.asarray(image.convert("L"))


def scene(name: str) -> Scene:
    """Read a scene; about half a second."""
    known = facts()[name]
    return Scene(
        _radiance(name),
        _grey(f"{name}.depth"),
        distances(known["nearest"]),
        known["focal_px"],
        (known["subject"][0], known["subject"][1]),
        known["metres"],
        _cut_out(f"{name}-part") if "part" in known else None,
    )


def _cut_out(name: str) -> CutOut:
    known = facts()[name]
    alpha = _grey(f"{name}.alpha").astype(np.float32)[..., None] / 255
    return CutOut(np.concatenate([_radiance(name), alpha], 2), (known["at"][0], known["at"][1]))


@functools.lru_cache(maxsize=6)
def _whole(name: str, light: str) -> Picture:
    """A whole person: H x W x 4, premultiplied. Read once for many takes."""
    alpha = _grey(f"{name}.alpha").astype(np.float32)[..., None] / 255
    return np.concatenate([_radiance(f"{name}{light}"), alpha], 2)


def person(name: str, look: str, light: str = "") -> CutOut:
    """A person with open eyes (""), or what is different as ``half``, ``closed``, ``past`` or
    ``talking``: a part of the face with soft borders. ``light``: "", or ".flash" for what a flash
    on the camera adds.
    """
    whole = _whole(name, light)
    if not look:
        return CutOut(whole, (0, 0))
    x, y = facts()[name]["looks"][look]
    part = _radiance(f"{name}-{look}{light}")
    h, w = part.shape[:2]
    edge = max(4, w // 12)
    weight = np.zeros((h, w), np.float32)
    weight[edge:-edge, edge:-edge] = 1
    weight = cv2.GaussianBlur(weight, (0, 0), edge / 2.5)
    # Nothing where the person ends: there the whole figure has the better edge.
    there = whole[y : y + h, x : x + w, 3:]
    return CutOut(np.concatenate([part, there], 2) * weight[..., None], (x, y))
