"""What stands and floats about in the harbour: the potter's stall, candle bags, floating lights."""

from __future__ import annotations

from typing import Any

import numpy as np

from renders.meshes import Builder, Vectors, turn
from renders.surfaces import bumped, shining, solid, thin
from renders.textures import Array, Colour, blend, noise, planks

Parts = dict[str, Any]
STEAMING = np.array([-2.28, 1.0, 9.0])  # the middle of the bowl that steams

_GLAZES: list[tuple[Colour, Colour]] = [
    ((0.05, 0.10, 0.28), (0.10, 0.26, 0.42)), ((0.30, 0.42, 0.33), (0.48, 0.58, 0.46)),
    ((0.35, 0.05, 0.03), (0.16, 0.03, 0.03)), ((0.66, 0.58, 0.44), (0.74, 0.68, 0.56)),
    ((0.42, 0.22, 0.10), (0.24, 0.11, 0.05)),
]  # fmt: skip
_FORMS: dict[str, list[tuple[float, float]]] = {
    "bowl": [(0, 0.012), (0.045, 0.01), (0.05, 0), (0.056, 0.002), (0.085, 0.035), (0.105, 0.075), (0.11, 0.098),
             (0.106, 0.099), (0.1, 0.075), (0.08, 0.038), (0.04, 0.02), (0, 0.018)],
    "cup": [(0, 0.006), (0.03, 0.005), (0.034, 0), (0.04, 0.004), (0.043, 0.04), (0.041, 0.09), (0.038, 0.09),
            (0.038, 0.04), (0.03, 0.012), (0, 0.01)],
    "vase": [(0, 0.004), (0.05, 0), (0.075, 0.04), (0.088, 0.1), (0.08, 0.17), (0.045, 0.23), (0.032, 0.27),
             (0.034, 0.3), (0.045, 0.325), (0.04, 0.324), (0.028, 0.3), (0.026, 0.26), (0, 0.22)],
    "jug": [(0, 0.004), (0.055, 0), (0.07, 0.03), (0.08, 0.09), (0.07, 0.15), (0.05, 0.19), (0.05, 0.21),
            (0.058, 0.225), (0.053, 0.225), (0.044, 0.2), (0, 0.15)],
    "plate": [(0, 0.004), (0.06, 0), (0.09, 0.008), (0.13, 0.022), (0.13, 0.026), (0.09, 0.013), (0, 0.009)],
}  # fmt: skip


def _smooth(profile: list[tuple[float, float]]) -> Vectors:
    """More points along a profile, corners cut twice (Chaikin 1974)."""
    points = np.asarray(profile, float)
    for _ in range(3):
        near, far = points[:-1] * 0.75 + points[1:] * 0.25, points[:-1] * 0.25 + points[1:] * 0.75
        points = np.concatenate([points[:1], np.stack([near, far], 1).reshape(-1, 2), points[-1:]])
    return points


def _glaze(seed: int, a: Colour, b: Colour) -> Array:
    v = np.linspace(0, 1, 256, dtype=np.float32)[:, None] * np.ones((1, 512), np.float32)
    run = np.clip(v + (noise(256, 512, 1.4, seed, 0.4) - 0.5) * 0.9, 0, 1)
    colour = blend(a, b, run) * (0.8 + 0.4 * noise(256, 512, 0.8, seed + 1))[..., None]
    specks = np.random.default_rng(seed).random((256, 512)) > 0.994
    return np.where(specks[..., None], colour * 0.35, colour).astype(np.float32)


def stall(parts: Parts) -> None:
    """A counter across the left side of the deck, full of pots, one bowl steaming."""
    rng = np.random.default_rng(17)
    wood = Builder()
    for i in range(6):
        wood.box(
            [-2.45, 0.9, 8.72 + i * 0.17],
            [1.9, 0.035, 0.166],
            None,
            0.7,
            (rng.random(), rng.random()),
        )
    for x in (-3.3, -1.6):
        for z in (8.7, 9.5):
            wood.box([x, 0.44, z], [0.07, 0.88, 0.07], None, 0.7)
    wood.box([-2.45, 0.55, 8.7], [1.8, 0.5, 0.02], None, 0.7)
    for x in (-3.35, -1.5):
        wood.tube([[x, 0, 9.62], [x, 2.35, 9.62]], 0.03, 10)
    wood.tube([[-3.4, 2.3, 9.62], [-1.45, 2.3, 9.62]], 0.025, 10)
    colour, relief = planks(512, 1024, 2, 33, (0.22, 0.13, 0.07), (0.48, 0.33, 0.20))
    parts["counter"] = wood.mesh(bumped(solid(colour, 0.42), relief * 0.003), "counter")
    pots: dict[int, Builder] = {}
    places = [
        ("bowl", -2.28, 9.0, 0), ("bowl", -1.95, 9.22, 3), ("cup", -2.12, 8.84, 1), ("cup", -2.0, 8.92, 2),
        ("cup", -1.88, 8.82, 0), ("vase", -2.62, 9.28, 2), ("vase", -2.88, 9.42, 1), ("jug", -2.55, 8.88, 4),
        ("jug", -1.72, 9.4, 2), ("plate", -2.85, 8.92, 3), ("vase", -2.2, 9.45, 4), ("cup", -2.42, 9.2, 3),
        ("bowl", -3.15, 9.2, 0), ("bowl", -1.68, 8.95, 1), ("cup", -2.72, 9.08, 1), ("vase", -1.9, 9.5, 0),
    ]  # fmt: skip
    for i, (form, x, z, glaze) in enumerate(places):
        scale = 0.92 + 0.16 * rng.random()
        pot = pots.setdefault(glaze, Builder())
        count = 4 if form == "plate" else 1
        for k in range(count):
            pot.lathe(_smooth(_FORMS[form]) * scale, [x, 0.918 + k * 0.016, z], 64)
        if form == "jug":
            t = np.linspace(0, np.pi, 24)
            yaw = turn("y", 40.0 * i)
            handle = (
                np.stack([0.06 + 0.045 * np.sin(t), 0.115 + 0.065 * np.cos(t), 0 * t], 1) @ yaw.T
            )
            pot.tube(handle * scale + [x, 0.918, z], 0.009, 12)
    for glaze, pot in pots.items():
        surface = solid(
            _glaze(40 + glaze, *_GLAZES[glaze]),
            0.22,
            specular=0.6,
            clearcoat=0.7,
            clearcoat_gloss=0.92,
        )
        parts[f"pots{glaze}"] = pot.mesh(surface, f"pots{glaze}", True)
    soup = Builder().lathe([(0.0, 0.0), (0.094, 0.0)], STEAMING - [0, 0.006, 0], 48)
    parts["soup"] = soup.mesh(solid((0.40, 0.20, 0.05), 0.12, specular=0.5), "soup")
    lamp = {"type": "sphere", "center": [-2.1, 2.05, 9.3], "radius": 0.05}
    parts["stall_lamp"] = {**lamp, "emitter": shining((42.0, 26.0, 12.0))}
    shade = Builder().lathe(
        [(0.04, 0.11), (0.06, 0.10), (0.2, 0.0), (0.196, 0.0), (0.058, 0.09)], [-2.1, 2.03, 9.3]
    )
    shade.tube([[-2.1, 2.14, 9.3], [-2.1, 2.32, 9.6]], 0.006, 6)
    parts["stall_shade"] = shade.mesh(solid((0.25, 0.08, 0.05), 0.4), "shade", True)


def _flame(at: Vectors, size: float, lean: float = 0.0) -> Builder:
    t = np.linspace(1, 0, 40)  # from the top, so that the light goes outwards
    radius = size * 0.17 * np.sin(np.pi * t**0.62) ** 0.9 * (1 - t * 0.25)
    bent = turn("z", lean)
    return Builder().lathe(np.stack([radius, size * t], 1), at, 24, bent)


def _flame_light(strength: float) -> Array:
    v = np.linspace(1, 0, 64, dtype=np.float32)[:, None]
    core = np.clip(np.sin(np.pi * np.clip(v * 0.9 + 0.12, 0, 1)), 0.05, 1)
    colour = blend((0.35, 0.30, 0.55), (1.0, 0.66, 0.25), np.clip(v * 6, 0, 1))
    return np.repeat(colour * core[..., None] * strength, 8, 1).astype(np.float32)


def _bag(paper: Builder, at: Vectors, width: float, height: float, yaw: float, seed: int) -> None:
    """A paper bag, a little crumpled, its upper edge cut in waves."""
    rng = np.random.default_rng(seed)
    n, m = 65, 25
    around, up = np.linspace(0, 4, n), np.linspace(0, 1, m)
    side, t = (np.floor(around) % 4).astype(int), around % 1 - 0.5
    corner = np.array([[1, 0], [0, 1], [-1, 0], [0, -1]])
    along = np.array([[0, 1], [-1, 0], [0, -1], [1, 0]])
    round_xz = corner[side] * 0.5 + along[side] * t[:, None]
    crumple = _wrinkles(m, n, seed) * 0.03 * rng.uniform(0.7, 1.3)
    crumple[:, -1] = crumple[:, 0]
    flare = 0.94 + 0.10 * up[:, None]
    x = round_xz[None, :, 0] * width * (flare + crumple)
    z = round_xz[None, :, 1] * width * 0.8 * (flare + crumple)
    edge = 0.012 * np.sin(around * np.pi * 2 * 2)[None] * (up[:, None] > 0.99)
    y = up[:, None] * height + edge + 0 * x
    points = np.stack([x, y, z], -1) @ turn("y", yaw).T + at
    paper.grid(points)


def _wrinkles(rows: int, columns: int, seed: int) -> Array:
    return (noise(64, 128, 1.5, seed)[:rows, :columns] - 0.5) * 2


def _bag_paper(base: Colour, seed: int) -> Array:
    fibre = noise(512, 512, 1.1, seed) * 0.6 + noise(512, 512, 0.6, seed + 1) * 0.4
    return np.asarray(base, np.float32) * (0.72 + 0.5 * (fibre - 0.25))[..., None]


def candle_bags(parts: Parts) -> None:
    """A row of paper bags along the edge of the deck; the nearest is just being lit."""
    papers = [Builder(), Builder(), Builder()]
    wax, flames = Builder(), []
    rng = np.random.default_rng(23)
    for i in range(11):
        at = np.array([1.78 + 0.05 * rng.normal(), 0.004, 5.0 + i * 0.46])
        _bag(papers[i % 3], at, 0.17, 0.25 + 0.02 * rng.random(), 20 * rng.normal(), 60 + i)
        candle = at + [0.01 * rng.normal(), 0, 0.01 * rng.normal()]
        wax.lathe([(0, 0), (0.03, 0), (0.03, 0.1), (0.026, 0.104), (0.006, 0.1), (0, 0.1)], candle)
        wax.tube([candle + [0, 0.098, 0], candle + [0.001, 0.115, 0]], 0.0012, 5)
        if i != 1:
            flames.append(_flame(candle + [0, 0.108, 0], 0.055 if i else 0.045, 4 * rng.normal()))
    for i, base in enumerate([(0.92, 0.86, 0.72), (0.90, 0.60, 0.36), (0.86, 0.80, 0.52)]):
        parts[f"bags{i}"] = papers[i].mesh(thin(_bag_paper(base, 70 + i), 1.2), f"bags{i}")
    unlit = np.array([1.78, 0.112, 5.46])
    tip = unlit + [0.02, 0.24, -0.03]
    taper = np.stack([tip, tip + [-0.16, 0.13, -0.05], tip + [-0.5, 0.36, -0.14]])
    wax.tube(taper, [0.0035, 0.0045, 0.005], 12)
    holder = Builder().tube(taper[1:] + [0, 0.004, 0], [0.009, 0.014], 16)
    holder.lathe([(0.0, 0), (0.016, 0), (0.02, 0.01), (0.012, 0.012)], taper[1], 32, turn("z", 55))
    parts["holder"] = holder.mesh(solid((0.55, 0.38, 0.14), 0.25, metallic=1.0), "holder", True)
    flames.append(_flame(tip - [0, 0.004, 0], 0.06, 8))
    parts["wax"] = wax.mesh(solid((0.82, 0.78, 0.68), 0.5), "wax", True)
    fire = Builder()
    for flame in flames:
        fire.add(flame.vertices[0], flame.faces[0], flame.uvs[0])
    parts["flames"] = fire.mesh(
        solid((0.1, 0.1, 0.1), 0.9), "flames", True, shining(_flame_light(60))
    )


def floating_lights(parts: Parts, water: float) -> None:
    """Little paper houses with a light inside, drifting between the boats."""
    rng = np.random.default_rng(29)
    boards, papers, lights = Builder(), [Builder(), Builder(), Builder()], Builder()
    for i in range(30):
        at = np.array([rng.uniform(3.0, 9.5), water + 0.01, 1.5 + i * 0.42 + rng.uniform(0, 0.8)])
        yaw = turn("y", rng.uniform(0, 90))
        boards.box(at + [0, 0.01, 0], [0.26, 0.03, 0.26], yaw, 0.8)
        _bag(
            papers[i % 3],
            at + [0, 0.025, 0],
            0.19,
            0.2,
            float(np.degrees(np.arctan2(yaw[0, 2], yaw[0, 0]))),
            90 + i,
        )
        lights.lathe([(0, 0.11), (0.022, 0.08), (0.022, 0.05), (0, 0.03)], at, 10)
    parts["floats"] = boards.mesh(solid((0.28, 0.19, 0.11), 0.6), "floats")
    for i, base in enumerate([(0.95, 0.80, 0.55), (0.95, 0.48, 0.25), (0.90, 0.70, 0.72)]):
        parts[f"houses{i}"] = papers[i].mesh(thin(_bag_paper(base, 80 + i), 1.3), f"houses{i}")
    parts["float_lights"] = lights.mesh(
        solid((0.1, 0.1, 0.1), 0.9), "lights", True, shining((26.0, 15.0, 6.0))
    )
