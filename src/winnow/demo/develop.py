"""From a take to a file: the masters through lens, hand and sensor, with the facts in its Exif."""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass, replace
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.core.facts import Facts
from winnow.demo import masters, optics, sensor
from winnow.demo.evening import FIRST, UTC_OFFSET_MIN, Frame, Group, Take
from winnow.demo.masters import Picture, Scene
from winnow.photos.exif_writer import with_facts

LONG_SIDE, SHORT_SIDE = 1920, 1280
# All is laid out on a frame of 2,400 px, as large as the masters; what is saved is that scaled
# down, so that a frame moved and enlarged a little still has all its sharpness.
_LAID_OUT = 2400
SCALE = LONG_SIDE / _LAID_OUT
_QUALITY = 88
# A person's master is made for a lens of this focal length in px on the frame.
_PERSON_PX = 5667.0
_PERSON_M = 2.6
_FLASH = 0.75  # of the light that the flash was rendered with

Matrix = NDArray[np.float64]

# Across and down: the fields by which the first camera focuses.
_FIELDS: Final = (21, 13)


def frame_size(group: Group) -> tuple[int, int]:
    """Width and height as it is looked at."""
    return (SHORT_SIDE, LONG_SIDE) if group.upright else (LONG_SIDE, SHORT_SIDE)


def _layout(group: Group) -> tuple[int, int]:
    return (_LAID_OUT * 2 // 3, _LAID_OUT) if group.upright else (_LAID_OUT, _LAID_OUT * 2 // 3)


@functools.lru_cache(maxsize=2)
def _scene(name: str) -> Scene:
    return masters.scene(name)


def focal_px(group: Group) -> float:
    """Focal length in px of the frame as laid out, before a take's own zoom."""
    return _PERSON_PX if group.people else float(masters.facts()[group.scene]["focal_px"])


def lens_px(group: Group) -> float:
    """Focal length in px times the width of the opening in metres."""
    px = focal_px(group)
    opening = px * 36 / _LAID_OUT / 1000 / group.aperture
    return px * opening


def subject_m(group: Group) -> float:
    """How far away the subject is, in m."""
    return _PERSON_M if group.people else float(masters.facts()[group.scene]["metres"])


def focus_m(group: Group, take: Take) -> float:
    """How far away the lens is focused, in m."""
    return take.focus_m if take.focus_m is not None else subject_m(group)


@functools.lru_cache(maxsize=3)
def _focused(name: str, metres: float, lens: float) -> Picture:
    scene = _scene(name)
    light = optics.defocus(scene.radiance, scene.codes, scene.metres, metres, lens)
    return optics.veiled(light, scene.radiance.shape[1])


def _enlarged(group: Group) -> float:
    """How much the scene is enlarged to fit what stands before it."""
    return _PERSON_PX / float(masters.facts()[group.scene]["focal_px"]) if group.people else 1.0


def scene_matrix(group: Group, take: Take) -> Matrix:
    """From px of the scene to px of the frame."""
    framing = take.framing
    size = masters.facts()[group.scene]["size"]
    zoom = framing.zoom * _enlarged(group)
    frame = _layout(group)
    if group.people and group.upright:
        # Enough of the scene to fill a tall frame.
        zoom = max(zoom, frame[1] / size[1] * 1.04)
    matrix: Matrix = SCALE * replace(framing, zoom=zoom).matrix((size[0], size[1]), frame)
    return matrix


def person_matrix(group: Group, take: Take, index: int) -> Matrix:
    """From px of a person's master to px of the frame."""
    stand = group.people[index]
    known = masters.facts()[stand.person]
    w, h = _layout(group)
    scale = stand.scale * (_PERSON_PX / known["focal_px"]) ** 0.5
    left = stand.x - scale * (known["face"][0] + known["face"][2]) / 2
    top = h - scale * known["size"][1] + stand.drop + 30
    placed = np.array([[scale, 0, left], [0, scale, top], [0, 0, 1]])
    aside = take.framing.matrix((w, h), (w, h))
    moved: Matrix = SCALE * aside @ placed
    return moved


def light(group: Group, take: Take, seed: int) -> Picture:
    """What falls on the sensor: H x W x 3, linear."""
    w, h = frame_size(group)
    lens, at = lens_px(group), focus_m(group, take)
    scene = masters.facts()[group.scene]
    focused = _focused(group.scene, round(at, 3), round(lens / _enlarged(group), 3))
    scale = scene["size"][0] / focused.shape[1]
    # Pixel centres lie half a pixel in, so that enlarging moves them.
    placed = np.array([[scale, 0, (scale - 1) / 2], [0, scale, (scale - 1) / 2], [0, 0, 1]])
    picture = optics.framed(focused, scene_matrix(group, take) @ placed, (w, h))
    tint = np.float32(2**group.light_ev) * np.asarray(group.balance, np.float32)
    if np.any(tint != 1):
        picture *= np.tile(tint, w).reshape(w, 3)
    if "part" in scene:
        diameter = optics.blur_px(lens, at, subject_m(group))
        layer = _hanging(group.scene, round(diameter, 1))
        _over(picture, layer, swung(group, take), tint, take.motion)
    for i, stand in enumerate(group.people):
        look = take.looks[i] if i < len(take.looks) else ""
        # In px of the person's own master.
        diameter = (
            optics.blur_px(lens, at, _PERSON_M)
            * masters.facts()[stand.person]["focal_px"]
            / _PERSON_PX
        )
        matrix = person_matrix(group, take, i)
        shown = np.ones(3, np.float32) if take.flash else tint
        for part in dict.fromkeys(("", look)):
            layer = _standing(stand.person, part, round(diameter, 1), take.flash, float(tint[0]))
            _over(picture, layer, matrix, shown, take.motion)
    if group.scene == "stall":
        _steam(picture, scene["subject"], scene_matrix(group, take), seed)
    if take.shake[0]:
        picture = optics.shaken(picture, *take.shake)
    return picture


def _padded(rgba: Picture, cut_below: bool = False) -> Picture:
    """Room of _PAD px for blur round it, sides times 8; ``cut_below``: it goes on below."""
    h, w = rgba.shape[:2]
    out = np.zeros((h + 2 * _PAD + (-h) % 8, w + 2 * _PAD + (-w) % 8, 4), np.float32)
    out[_PAD : _PAD + h, _PAD : _PAD + w] = rgba
    if cut_below:
        out[_PAD + h :] = out[_PAD + h - 1]
    return out


_PAD = 160


@dataclass(frozen=True, slots=True)
class Layer:
    """What stands before the scene: premultiplied, and where it is in px of its master."""

    rgba: Picture
    at: tuple[int, int]


def _trimmed(rgba: Picture) -> Layer:
    """Without the empty borders of a padded picture."""
    seen = rgba[..., 3] > 0.002
    rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
    top, left = int(rows[0]), int(columns[0])
    part = np.ascontiguousarray(rgba[top : rows[-1] + 1, left : columns[-1] + 1])
    return Layer(part, (left - _PAD, top - _PAD))


@functools.lru_cache(maxsize=8)
def _standing(name: str, look: str, diameter: float, flash: bool, dim: float) -> Layer:
    """A person, or the part of the face that another look has, out of focus by so many px.

    The flash adds its light to what is dim.
    """
    cut = masters.person(name, look)
    rgba = cut.rgba
    if flash:
        lit = masters.person(name, look, ".flash").rgba
        rgba = rgba * np.array([dim, dim, dim, 1], np.float32)
        rgba[..., :3] += lit[..., :3] * np.float32(_FLASH)
    layer = _trimmed(optics.spread(_padded(rgba, cut_below=not look), diameter))
    return Layer(layer.rgba, (layer.at[0] + cut.at[0], layer.at[1] + cut.at[1]))


@functools.lru_cache(maxsize=6)
def _hanging(scene: str, diameter: float) -> Layer:
    """The lantern that can swing, out of focus by a disc of this many px."""
    cut = _scene(scene).cut_out
    assert cut is not None
    return _trimmed(optics.spread(_padded(cut.rgba), diameter))


def swung(group: Group, take: Take) -> Matrix:
    """From px of the lantern's cut-out to px of the frame."""
    at = masters.facts()[f"{group.scene}-part"]["at"]
    a = math.radians(take.swing)
    c, s = math.cos(a), math.sin(a)
    x, y = at[0] + _KNOT[0], at[1] + _KNOT[1]
    turned = np.array([[c, -s, x - c * x + s * y], [s, c, y - s * x - c * y], [0, 0, 1]])
    placed = np.array([[1, 0, at[0]], [0, 1, at[1]], [0, 0, 1.0]])
    matrix: Matrix = scene_matrix(group, take) @ turned @ placed
    return matrix


def subject(group: Group, take: Take) -> NDArray[np.float64]:
    """What the frame is of, x and y in px of it: between the eyes of the first person, else of the
    scene."""
    if group.people:
        eyes = np.mean(masters.facts()[group.people[0].person]["eyes"], 0)
        between: NDArray[np.float64] = (person_matrix(group, take, 0) @ [*eyes, 1])[:2]
        return between
    x, y = masters.facts()[group.scene]["subject"]
    if "part" in masters.facts()[group.scene]:
        known = masters.facts()[f"{group.scene}-part"]["at"]
        swinging: NDArray[np.float64] = (swung(group, take) @ [x - known[0], y - known[1], 1])[:2]
        return swinging
    still: NDArray[np.float64] = (scene_matrix(group, take) @ [x, y, 1])[:2]
    return still


def _focus_point(group: Group, take: Take) -> tuple[float, float] | None:
    """The middle of the field that the first camera focused by; the second one doesn't tell."""
    if group.camera is not FIRST:
        return None
    place = subject(group, take) / frame_size(group)
    fields = np.array(_FIELDS[::-1] if group.upright else _FIELDS)
    x, y = (np.clip(np.floor(place * fields), 0, fields - 1) + 0.5) / fields
    return float(x), float(y)


def _over(
    picture: Picture, layer: Layer, matrix: Matrix, tint: Picture, motion: tuple[float, float]
) -> None:
    """Lay a premultiplied layer over the picture; only where it reaches."""
    h, w = layer.rgba.shape[:2]
    matrix = matrix @ np.array([[1, 0, layer.at[0]], [0, 1, layer.at[1]], [0, 0, 1.0]])
    corners = matrix @ np.array([[0, w, w, 0], [0, 0, h, h], [1, 1, 1, 1]])
    slack = math.ceil(motion[0]) + 2
    left, top = np.maximum(np.floor(corners.min(1)).astype(int) - slack, 0)
    right, bottom = np.ceil(corners.max(1)).astype(int) + slack
    right, bottom = min(int(right), picture.shape[1]), min(int(bottom), picture.shape[0])
    if right <= left or bottom <= top:
        return
    moved = matrix.copy()
    moved[:, 2] -= (left, top)
    rgba = optics.framed(layer.rgba, moved, (right - left, bottom - top), cut_out=True)
    if motion[0]:
        rgba = optics.shaken(rgba, *motion)
    tints = np.tile(tint, right - left).reshape(-1, 3)
    # In strips that stay in the processor's cache, and whole rows: far quicker than threes.
    for row in range(0, bottom - top, 40):
        above = rgba[row : row + 40]
        below = picture[top + row : top + row + len(above), left:right]
        clear = 1 - above[..., 3]
        below *= cv2.merge([clear, clear, clear])
        below += cv2.cvtColor(above, cv2.COLOR_RGBA2RGB) * tints


# The knot on the rope, about which the lantern swings, in px of the cut-out.
_KNOT = (372, 4)


def _steam(picture: Picture, subject: list[float], matrix: Matrix, seed: int) -> None:
    """A plume over the bowl, another one in each frame."""
    x, y = (matrix @ [subject[0], subject[1], 1]).round().astype(int)
    size = round(float(np.hypot(matrix[0, 0], matrix[1, 0])) * 420)
    rng = np.random.default_rng(seed)
    h, w = round(size * 1.3), size
    v, u = np.mgrid[0:h, 0:w].astype(np.float32) / size
    rise, aside = v[::-1], u - 0.5
    plume = np.zeros((h, w), np.float32)
    for k in range(7):
        wave, phase, drift = rng.uniform(2, 5), rng.uniform(0, 6.28), rng.normal(0, 0.12)
        centre = drift * rise + 0.09 * rise * np.sin(wave * rise + phase) + rng.normal(0, 0.09)
        width = 0.035 + 0.12 * rise * rng.uniform(0.6, 1.3)
        fade = np.clip(rise * 5, 0, 1) * np.exp(-rise * rng.uniform(1.5, 2.6))
        plume += np.exp(-(((aside - centre) / width) ** 2)) * fade * (0.4 if k else 0.6)
    small = rng.standard_normal((12, 10)).astype(np.float32)
    plume *= 0.75 + 0.25 * cv2.resize(small, (w, h), interpolation=cv2.INTER_CUBIC)
    density = np.clip(plume * 0.34, 0, 0.6)[..., None]
    top, left = y - h, x - w // 2
    inside = (
        slice(max(0, -top), min(h, picture.shape[0] - top)),
        slice(max(0, -left), min(w, picture.shape[1] - left)),
    )
    if inside[0].stop <= inside[0].start or inside[1].stop <= inside[1].start:
        return
    part = density[inside]
    window = (
        slice(top + inside[0].start, top + inside[0].stop),
        slice(left + inside[1].start, left + inside[1].stop),
    )
    here = picture[window]
    here *= 1 - part
    here += part * np.array([0.62, 0.50, 0.40], np.float32)


def facts(group: Group, frame: Frame) -> Facts:
    """What the camera says of the exposure."""
    take = group.takes[frame.number]
    shown = focal_px(group) * take.framing.zoom * 36 / _LAID_OUT
    millimetres = min(round(shown), group.lens.longest_mm) if "-" in group.lens.name else 85
    return Facts(
        taken_at=frame.taken_at,
        utc_offset_min=UTC_OFFSET_MIN,
        camera=group.camera.name,
        serial=group.camera.serial,
        lens=group.lens.name,
        focal_mm=millimetres,
        aperture=group.aperture,
        shutter_s=group.shutter_s * take.longer * (2**take.ev if abs(take.ev) < 1.75 else 1),
        iso=group.iso,
        flash=take.flash,
        orientation=8 if group.upright else 1,
        width=LONG_SIDE,
        height=SHORT_SIDE,
        focus_point=_focus_point(group, take),
    )


def develop(group: Group, frame: Frame, seed: int) -> tuple[bytes, NDArray[np.uint8]]:
    """The JPEG as the camera wrote it, and its pixels as stored (upright ones lie on their
    side)."""
    take = group.takes[frame.number]
    rng = np.random.default_rng(seed)
    picture = sensor.exposed(light(group, take, seed), group.camera.body, take.ev, group.iso, rng)
    if group.upright:
        picture = cv2.rotate(picture, cv2.ROTATE_90_CLOCKWISE).astype(np.uint8, copy=False)
    full, small = sensor.jpeg(picture, _QUALITY)
    return with_facts(full, replace(facts(group, frame), thumbnail=small)), picture
