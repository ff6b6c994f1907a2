"""Procedural pictures for surfaces: all are arrays of 32-bit floats, colours linear, 0…1."""

from __future__ import annotations

import functools

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]
Colour = tuple[float, float, float]


@functools.lru_cache(maxsize=48)
def noise(
    height: int,
    width: int,
    beta: float = 1.8,
    seed: int = 0,
    along_x: float = 1,
    along_y: float = 1,
) -> Array:
    """Tileable 1/f^beta noise, mean 0.5; a small ``along_x`` stretches it sideways."""
    white = np.random.default_rng(seed).standard_normal((height, width)).astype(np.float32)
    spectrum = np.fft.rfft2(white)
    fy = np.fft.fftfreq(height)[:, None] * height * along_y
    fx = np.fft.rfftfreq(width)[None] * width * along_x
    k = np.hypot(fx, fy)
    k[0, 0] = 1
    field = np.fft.irfft2(spectrum * k**-beta, s=(height, width))
    field -= field.mean()
    field /= field.std() + 1e-9
    return np.clip(field * 0.2 + 0.5, 0, 1).astype(np.float32)


def blend(a: Array | Colour, b: Array | Colour, t: Array) -> Array:
    """From ``a`` to ``b`` by ``t``: colour pictures H x W x 3."""
    return np.asarray(a, np.float32) * (1 - t[..., None]) + np.asarray(b, np.float32) * t[..., None]


def across(height: int, width: int) -> tuple[Array, Array]:
    """u to the right and v downwards, 0…1, each H x W."""
    u, v = np.meshgrid(np.linspace(0, 1, width, endpoint=False), np.linspace(0, 1, height))
    return u.astype(np.float32), v.astype(np.float32)


def planks(
    height: int, width: int, count: int, seed: int, dark: Colour, light: Colour
) -> tuple[Array, Array]:
    """``count`` boards one under the other, grain sideways. Returns colour and height."""
    colour = np.zeros((height, width, 3), np.float32)
    relief = np.zeros((height, width), np.float32)
    each = height // count
    for i in range(count):
        s = seed * 100 + i
        grain = noise(each, width, 1.3, s, 1, 0.06)
        fine = noise(each, width, 1.0, s + 50, 1, 0.02)
        warp = (noise(each, width, 2.0, s + 7, 1, 0.3) - 0.5) * 6.6
        rings = 0.5 + 0.5 * np.sin((np.linspace(-1, 1, each)[:, None] * 5 + warp) * 6 + i)
        board = blend(dark, light, np.clip(0.45 * fine + 0.35 * rings * grain + 0.3 * grain, 0, 1))
        board *= 0.75 + 0.5 * np.random.default_rng(s).random()
        stains = np.clip((noise(each, width, 1.7, s + 90) - 0.62) * 5, 0, 1)
        cracks = np.clip((noise(each, width, 0.9, s + 3, 1, 0.015) - 0.68) * 10, 0, 1)
        board *= ((1 - 0.45 * stains) * (1 - 0.7 * cracks))[..., None]
        rows = slice(i * each, (i + 1) * each)
        colour[rows] = board
        relief[rows] = 0.6 * fine + 0.3 * rings - 0.8 * cracks
    return colour, relief


def lantern_paper(base: Colour, motif: str, seed: int) -> tuple[Array, Array]:
    """Ribbed, inked paper round a lantern: its colour and its glow, 512 x 1024 x 3."""
    h, w = 512, 1024
    u, v = across(h, w)
    fibre = noise(h, w, 1.2, seed) * 0.6 + noise(h, w, 0.6, seed + 1, 0.3) * 0.4
    ink = np.zeros((h, w), np.float32)
    if motif == "band":
        ink = np.maximum(np.abs(v - 0.2) < 0.035, np.abs(v - 0.8) < 0.035).astype(np.float32)
    elif motif == "wave":
        for k in range(4):
            line = np.abs(v - 0.28 - 0.10 * k - 0.03 * np.sin(2 * np.pi * (u * 9 + k * 0.5)))
            ink = np.maximum(ink, line < 0.014)
    elif motif == "disc":
        for k in range(4):
            ring = np.hypot((u - (k + 0.5) / 4) * 2.2, v - 0.5)
            ink = np.maximum(ink, np.clip((0.075 - ring) * 60, 0, 1))
    elif motif == "reed":
        for k in range(14):
            bend = 0.03 * np.sin(k * 2.1) * (1 - v) ** 2
            blade = np.abs(u - (k + 0.5) / 14 - bend) < 0.008 * np.clip(
                (v - 0.25 - 0.03 * (k % 5)) * 3, 0, 1
            )
            ink = np.maximum(ink, blade)
    ink = cv2.GaussianBlur(ink.astype(np.float32), (0, 0), 1.5)
    ink_colour = (0.10, 0.05, 0.06) if sum(base) > 1.2 else (1.0, 0.82, 0.45)
    paper = blend(base, ink_colour, ink * 0.85)
    ribs = 0.5 + 0.5 * np.cos(v * 2 * np.pi * 16)
    paper *= (0.62 + 0.38 * np.clip(1 - ribs**6, 0, 1))[..., None]
    paper *= (0.75 + 0.5 * (fibre - 0.25))[..., None]
    paper *= (1 - 0.25 * (np.abs((u * 8) % 1 - 0.5) > 0.485))[..., None]
    glow = (np.exp(-(((v - 0.42) / 0.27) ** 2)) * 0.85 + 0.15) * (
        0.85 + 0.3 * noise(h, w, 2.2, seed + 5)
    )
    return np.clip(paper, 0, 1), paper * glow[..., None]


def facade(
    seed: int, width_m: float, floors: int, wall: Colour
) -> tuple[Array, list[tuple[float, float, float, float]]]:
    """A plastered front with shuttered windows at 48 px a metre.

    Returns the picture and the lit windows as (left, right, top, bottom) in metres, origin below
    in the middle.
    """
    rng = np.random.default_rng(seed)
    ppm = 48
    h, w = int(floors * 2.9 * ppm), int(width_m * ppm)
    front = np.ones((h, w, 3), np.float32) * np.asarray(wall, np.float32) * 0.8
    front *= (0.65 + 0.7 * noise(h, w, 1.3, seed))[..., None]
    front *= (1 - 0.35 * np.clip((noise(h, w, 1.2, seed + 3, 0.15) - 0.55) * 4, 0, 1))[..., None]
    front[-int(0.5 * ppm) :] *= 0.55
    bays = max(2, int(width_m / 1.9))
    shutters = np.asarray([(0.10, 0.20, 0.18), (0.25, 0.10, 0.07), (0.16, 0.20, 0.28)][seed % 3])
    lit = []
    half = int(0.42 * ppm)
    for floor in range(floors):
        for bay in range(bays):
            x = int((bay + 0.5) / bays * w)
            top, bottom = h - int((floor * 2.9 + 2.25) * ppm), h - int((floor * 2.9 + 0.95) * ppm)
            if floor == 0 and bay == seed % bays:
                bottom = h - 2
            front[top - 4 : bottom + 5, x - half - 5 : x + half + 5] = (
                np.array([0.80, 0.77, 0.70]) * 0.7
            )
            front[top:bottom, x - half : x + half] = (0.03, 0.035, 0.04)
            if rng.random() < 0.7:
                for side in (-1, 1):
                    middle = x + side * (half + int(0.26 * ppm))
                    board = (
                        slice(top, bottom),
                        slice(middle - int(0.2 * ppm), middle + int(0.2 * ppm)),
                    )
                    front[board] = shutters
                    front[board][::5] *= 0.6
            front[top:bottom, x - 2 : x + 2] *= 0.15
            if rng.random() < 0.45:
                left, right = ((x + s * half) / w * width_m - width_m / 2 for s in (-1, 1))
                lit.append((left, right, (h - top) / ppm, (h - bottom) / ppm))
    return front, lit


def window_light() -> Array:
    """What shines through one window: two bars, a curtain; 64 x 48 x 3."""
    light = np.linspace(0.5, 1, 64, dtype=np.float32)[:, None] * np.ones((1, 48), np.float32)
    light[:, 22:26] *= 0.12
    light[20:23] *= 0.12
    light *= 0.75 + 0.5 * noise(64, 48, 1.2, 4)
    return light[..., None] * np.array([1.0, 0.56, 0.22], np.float32)


def sky(
    width: int, horizon: Colour, low: Colour, zenith: Colour, cloud: Colour, cover: float, seed: int
) -> Array:
    """A dusk sky all round with layered clouds, H x W x 3 with H = W / 2, linear radiance.

    ``cover``: 0 for clear to 1 for closed. Clouds flatten towards the horizon.
    """
    h = width // 2
    _, v = across(h, width)
    up = np.cos(np.pi * v)  # 1 at the zenith, 0 at the horizon
    lift = np.clip(up, 0, 1)
    picture = blend(horizon, low, np.clip(lift * 5, 0, 1) ** 0.8)
    picture = blend(
        picture,
        np.broadcast_to(np.float32(zenith), picture.shape),
        np.clip((lift - 0.12) * 1.5, 0, 1) ** 0.9,
    )
    # A flat layer of clouds seen from below: look up its texture where the ray meets it.
    angle = (np.arange(width, dtype=np.float32) / width * 2 * np.pi)[None]
    far = np.minimum(1 / np.maximum(lift, 0.02), 30)
    flat = np.sqrt(np.maximum(far * far - 1, 0))
    size = 2048
    body = noise(size, size, 1.75, seed)
    detail = noise(size, size, 1.2, seed + 1)
    x = ((flat * np.cos(angle) * 0.085 % 1) * size).astype(np.float32)
    y = ((flat * np.sin(angle) * 0.085 % 1) * size).astype(np.float32)
    look = {"interpolation": cv2.INTER_LINEAR, "borderMode": cv2.BORDER_WRAP}
    thick = cv2.remap(body, x, y, **look) * 0.8 + cv2.remap(detail, x, y, **look) * 0.2
    veil = np.clip((thick - (0.78 - 0.5 * cover)) * 4, 0, 1) * np.clip(lift * 9, 0, 1)
    lit = blend(np.float32(cloud) * 0.55, cloud, np.clip(1.4 - veil * 0.9, 0, 1))
    warm = np.clip(1 - lift * 3.2, 0, 1)
    lit = blend(lit, np.float32(horizon) * 0.95, warm * 0.65)
    picture = blend(picture, np.zeros(3), veil * 0.92) + lit * (veil * 0.92)[..., None]
    ground = np.clip(-up * 12, 0, 1)
    return blend(picture, np.float32(horizon) * 0.12, ground).astype(np.float32)
