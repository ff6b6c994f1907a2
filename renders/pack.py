"""From renders to the masters that ship: ``python -m renders.pack SCENES PEOPLE``.

Colour goes into ten-bit HEIC, distances and outlines into lossless WebP.
"""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pillow_heif
from PIL import Image

from renders.textures import Array
from winnow.demo import masters

QUALITY = 90
# How much brighter than rendered, so that mid-grey lies near 0.18; set by eye.
GAINS = {
    "rope": 1.7, "rope_step": 1.7, "stall": 2.0, "planks": 2.0, "lantern": 1.3, "crates": 2.2,
    "bags": 3.4, "afloat": 3.6, "near_lantern": 1.9, "quay": 3.2, "boats": 1.9, "bunting": 0.55,
    "crowd": 2.8, "behind_deck": 1.7, "behind_water": 1.0, "behind_houses": 3.0,
}  # fmt: skip
PEOPLE_GAIN = 1.25
# The part that can move on its own: an outline round it in px, and how near it is in metres.
MOVING = {"lantern": ([(0, 400), (355, 352), (385, 352), (905, 834), (905, 1560), (0, 1560)], 2.0)}
# Where a look at the render shows that the subject is, in px.
SUBJECTS = {
    "lantern": (300, 820), "rope": (560, 530), "rope_step": (440, 470), "bunting": (1180, 850),
    "afloat": (800, 980), "near_lantern": (380, 470), "quay": (1370, 760),
}  # fmt: skip


def colour(folder: Path, name: str, radiance: Array) -> None:
    codes = masters.encode(radiance)
    h, w = codes.shape[:2]
    image = pillow_heif.from_bytes("RGB;16", (w, h), codes.tobytes())
    image.save(folder / f"{name}.heic", quality=QUALITY, chroma="420")


def grey(folder: Path, name: str, picture: Array) -> None:
    Image.fromarray(picture).save(folder / f"{name}.webp", lossless=True, method=6)


def _held(radiance: Array) -> Array:
    """Lamps no brighter than keeps their colour: beyond, a sensor would see only white."""
    most = radiance.max(2, keepdims=True)
    return radiance * np.minimum(1, 4.5 / np.maximum(most, 1e-6))


def _mended(radiance: Array, hole: Array) -> Array:
    """Fill a hole from its surroundings, coarse to fine; what lies behind is out of focus."""
    weight = (hole < 0.5).astype(np.float32)
    levels = []
    picture = radiance * weight[..., None]
    while min(weight.shape) > 4:
        levels.append((picture, weight))
        size = (weight.shape[1] // 2, weight.shape[0] // 2)
        picture = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
        weight = cv2.resize(weight, size, interpolation=cv2.INTER_AREA)
    filled = picture / np.maximum(weight, 1e-4)[..., None]
    for picture, weight in reversed(levels):
        up = cv2.resize(filled, (weight.shape[1], weight.shape[0]), interpolation=cv2.INTER_LINEAR)
        filled = picture + up * (1 - weight)[..., None]
    return filled


def _box(mask: Array) -> tuple[int, int, int, int]:
    rows, columns = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    h, w = mask.shape
    left, top = max(0, columns[0] - 3), max(0, rows[0] - 3)
    return int(left), int(top), int(min(w, columns[-1] + 4)), int(min(h, rows[-1] + 4))


def _scene(folder: Path, out: Path, name: str, known: dict[str, Any]) -> None:
    raw = np.load(folder / f"{name}.npz")
    facts = json.loads((folder / f"{name}.json").read_text())
    radiance = _held(raw["radiance"].astype(np.float32) * GAINS[name])
    metres = np.minimum(raw["metres"], 2000)
    h, w = metres.shape
    x, y = SUBJECTS.get(name, facts["subject"])
    entry = {
        "size": [w, h], "nearest": float(metres.min()), "subject": [x, y],
        "metres": float(np.median(metres[int(y) - 8 : int(y) + 9, int(x) - 8 : int(x) + 9])),
        "focal_px": max(w, h) / 2 / float(np.tan(np.deg2rad(facts["angle"] / 2))),
    }  # fmt: skip
    if name in MOVING:
        outline, within = MOVING[name]
        near = cv2.fillPoly(np.zeros((h, w), np.uint8), [np.array(outline)], 1)
        near &= metres < within
        left, top, right, bottom = _box(near)
        window = (slice(top, bottom), slice(left, right))
        alpha = cv2.GaussianBlur(near.astype(np.float32), (0, 0), 0.8)
        part = radiance * alpha[..., None]
        wide = cv2.dilate(near, np.ones((9, 9), np.uint8))
        radiance = _mended(radiance, wide)
        metres = np.where(wide > 0, np.float32(60), metres)
        colour(out, f"{name}-part", part[window])
        grey(out, f"{name}-part.alpha", (alpha[window] * 255 + 0.5).astype(np.uint8))
        known[f"{name}-part"] = {"at": [left, top]}
        entry["part"] = True
    known[name] = entry
    colour(out, name, radiance)
    grey(out, f"{name}.depth", masters.distances_to(metres, entry["nearest"]))


def _person(folder: Path, out: Path, name: str, known: dict[str, Any]) -> None:
    raw = np.load(folder / f"{name}.npz")
    facts = json.loads((folder / f"{name}.json").read_text())
    h, w = raw["alpha"].shape
    colour(out, name, raw["radiance"].astype(np.float32) * PEOPLE_GAIN)
    grey(out, f"{name}.alpha", (raw["alpha"].astype(np.float32) * 255 + 0.5).astype(np.uint8))
    looks = {}
    for path in sorted(folder.glob(f"{name}[-.]*.npz")):
        colour(out, path.stem, np.load(path)["radiance"].astype(np.float32) * PEOPLE_GAIN)
        if "-" in path.stem and ".flash" not in path.stem:
            looks[path.stem.split("-")[1]] = json.loads(path.with_suffix(".json").read_text())["at"]
    known[name] = {
        "size": [w, h], "face": facts["face"], "eyes": [e[:2] for e in facts["eyes"]],
        "focal_px": facts["focal_px"], "metres": facts["metres"], "looks": looks,
    }  # fmt: skip


def main() -> None:
    options = argparse.ArgumentParser(description="Pack renders as masters.")
    options.add_argument("scenes", type=Path)
    options.add_argument("people", type=Path)
    options.add_argument("names", nargs="*")
    chosen = options.parse_args()
    out = masters.FOLDER
    out.mkdir(exist_ok=True)
    index = out / "masters.json"
    known = json.loads(index.read_text()) if index.exists() else {}
    for folder, pack in ((chosen.scenes, _scene), (chosen.people, _person)):
        for path in sorted(folder.glob("*.json")):
            if not set("-.") & set(path.stem) and (path.stem in chosen.names or not chosen.names):
                pack(folder, out, path.stem, known)
                print(path.stem, flush=True)
    index.write_text(json.dumps(known, indent=1, sort_keys=True) + "\n")


if __name__ == "__main__":
    main()
