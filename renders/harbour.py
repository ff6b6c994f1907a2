"""Saltmarsh Quay, an invented harbour: a wooden deck along z, water to its right (x > 2.4).

Everything is built once; a scene is that world under one sky with its lamps at one brightness.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from renders import stall, surfaces, textures
from renders.meshes import Builder, Vectors, hanging, turn
from renders.surfaces import bumped, shining, solid, thin
from renders.textures import Array, Colour, blend, noise, planks

WARM = np.array([1.0, 0.66, 0.34], np.float32)
WATER = -1.05
LANTERNS: list[tuple[Colour, str]] = [
    ((0.95, 0.30, 0.10), "band"), ((1.0, 0.80, 0.48), "reed"), ((0.90, 0.12, 0.07), "disc"),
    ((1.0, 0.62, 0.18), "wave"), ((0.98, 0.88, 0.66), "disc"), ((0.35, 0.62, 0.60), "wave"),
    ((0.93, 0.42, 0.30), "reed"),
]  # fmt: skip
_BRIGHTNESS = (0.04, 0.7, 1.0, 1.3)  # one in fourteen lanterns is out
_WALLS: list[Colour] = [
    (0.72, 0.62, 0.50), (0.62, 0.36, 0.26), (0.80, 0.74, 0.62),
    (0.45, 0.52, 0.52), (0.70, 0.50, 0.34), (0.55, 0.30, 0.28),
]  # fmt: skip

Parts = dict[str, Any]


def posts() -> list[Vectors]:
    """Where the lantern ropes are tied, at the tops of the posts."""
    rng = np.random.default_rng(31)
    return [
        np.array([2.28 + rng.normal() * 0.03, 3.05 + rng.normal() * 0.05, z])
        for z in np.arange(0.2, 32, 4.6)
    ]


def rope_surface() -> surfaces.Surface:
    u, v = textures.across(256, 256)
    twist = (0.5 + 0.5 * np.sin(2 * np.pi * (u * 3 + v))).astype(np.float32)
    colour = (
        blend((0.16, 0.12, 0.08), (0.55, 0.45, 0.32), twist)
        * (0.7 + 0.6 * noise(256, 256, 1.0, 5))[..., None]
    )
    return bumped(solid(colour, 0.8), twist * 0.004)


def _deck(parts: Parts) -> None:
    rng = np.random.default_rng(3)
    colour, relief = planks(2048, 2048, 16, 3, (0.20, 0.13, 0.08), (0.42, 0.31, 0.21))
    wet = np.clip((noise(2048, 2048, 1.7, 91) - 0.42) * 4, 0, 1)
    rough = np.clip(0.42 - 0.34 * wet + 0.12 * (relief - 0.5), 0.07, 0.9).astype(np.float32)
    deck = Builder()
    profile = [
        (-0.0715, -0.05),
        (-0.071, -0.006),
        (-0.066, 0),
        (0, 0.001),
        (0.066, 0),
        (0.071, -0.006),
        (0.0715, -0.05),
    ]
    for z in np.arange(-2, 34, 0.152):
        offset, board = rng.random(), rng.integers(16)
        ends = np.array([-3.1, 3.1])
        points = np.zeros((7, 2, 3))
        uv = np.zeros((7, 2, 2))
        for j, (dz, dy) in enumerate(profile):
            points[j] = np.stack([ends, np.full(2, dy), np.full(2, dz)], -1)
            uv[j, :, 0] = ends * 0.35 + offset
            uv[j, :, 1] = (board + 0.5 + dz / 0.1432 * 0.94) / 16
        turned = turn("z", rng.normal() * 0.12) @ turn("y", rng.normal() * 0.12)
        centre = np.array([-0.6 + rng.normal() * 0.015, -0.03 + rng.normal() * 0.0025, z])
        deck.grid((points.reshape(-1, 3) @ turned.T).reshape(points.shape) + centre, uv)
    surface = solid(colour * (1 - 0.45 * wet)[..., None] * 0.8, rough, specular=0.55)
    parts["deck"] = deck.mesh(bumped(surface, relief * (1 - 0.7 * wet) * 0.004), "deck")
    parts["under"] = (
        Builder()
        .box([-0.6, -0.25, 16], [6.2, 0.3, 36])
        .mesh(solid((0.02, 0.018, 0.015), 0.8), "under")
    )


def _posts(parts: Parts, rope: Builder) -> None:
    rng = np.random.default_rng(4)
    colour, relief = planks(512, 2048, 2, 9, (0.10, 0.07, 0.05), (0.28, 0.20, 0.14))
    timber = Builder()
    for z in np.arange(-2, 34, 3.0):
        timber.box(
            [2.42, 0.06, z + 1.5],
            [0.2, 0.2, 2.97],
            uv_scale=0.6,
            uv_offset=(rng.random(), rng.random()),
        )
    for top in posts():
        lean = np.linspace(0, 1, 12)[:, None]
        path = np.array([2.28, -1.2, top[2]]) * (1 - lean) + (top + [0, 0.12, 0]) * lean
        timber.tube(path, 0.075 + 0.006 * rng.normal(size=12), 14, 0.3)
        timber.lathe([(0, 0.02), (0.07, 0.015), (0.082, 0), (0.082, -0.03)], path[-1])
        angle = np.linspace(0, 2 * np.pi, 20)
        for k in range(5):
            ring = np.stack(
                [0.086 * np.cos(angle), 0.004 * np.sin(angle * 2 + k), 0.086 * np.sin(angle)], 1
            )
            rope.tube(top + [0, -0.03 + 0.022 * k, 0] + ring, 0.012, 7)
    parts["timber"] = timber.mesh(bumped(solid(colour, 0.5), relief * 0.006), "timber")


def lantern_atlas(glow: float) -> tuple[Array, Array]:
    """All papers at all brightnesses one under the other: colour and radiance."""
    papers = [
        textures.lantern_paper(base, motif, i * 13 + 2) for i, (base, motif) in enumerate(LANTERNS)
    ]
    colours = [paper * 0.75 for paper, _ in papers for _ in _BRIGHTNESS]
    radiance = [lit * WARM * glow * level for _, lit in papers for level in _BRIGHTNESS]
    return np.concatenate(colours), np.concatenate(radiance)


class Lanterns:
    """Paper lanterns with caps, wires and tassels, all in four meshes."""

    def __init__(self) -> None:
        self.paper, self.caps, self.wires = Builder(), Builder(), Builder()
        self.tassels = (Builder(), Builder())
        self.count = 0

    def hang(
        self,
        at: Vectors,
        radius: float,
        aspect: float,
        drop: float,
        paper: int,
        level: int,
        tilt: Vectors,
    ) -> Vectors:
        """One below ``at``; returns its centre."""
        centre = at - [0, drop + radius * aspect, 0]
        theta = np.linspace(0.2, np.pi - 0.2, 97)
        ribs = 1 + 0.022 * np.cos(np.linspace(0, 1, 97) * 2 * np.pi * 16)
        outline = np.stack(
            [radius * np.sin(theta) ** 0.8 * ribs, radius * aspect * np.cos(theta)], 1
        )
        before = len(self.paper.uvs)
        self.paper.lathe(outline, centre, 48, tilt)
        rows = len(LANTERNS) * len(_BRIGHTNESS)
        uv = self.paper.uvs[before]
        uv[:, 1] = (paper * len(_BRIGHTNESS) + level + 0.01 + 0.98 * uv[:, 1]) / rows
        end, r = radius * aspect * np.cos(0.2), radius * np.sin(0.2) ** 0.8
        ring = [
            (r * 0.9, -0.012),
            (r * 1.12, -0.012),
            (r * 1.12, 0.014),
            (r * 0.9, 0.014),
            (r * 0.9, -0.012),
        ]
        for side in (1, -1):
            self.caps.lathe(ring, centre + tilt @ [0, side * end, 0], 32, tilt)
        self.wires.tube(np.stack([at, centre + tilt @ [0, end, 0]]), 0.003, 6)
        self._tassel(centre + tilt @ [0, -end, 0])
        self.count += 1
        return centre

    def _tassel(self, top: Vectors) -> None:
        rng = np.random.default_rng(self.count)
        threads = self.tassels[self.count % 2]
        threads.tube(np.stack([top, top - [0, 0.05, 0]]), 0.004, 6)
        for k in range(16):
            c, s = np.cos(k * 2.4), np.sin(k * 2.4)
            low = 0.19 + 0.02 * rng.random()
            path = [
                top - [0, 0.05, 0],
                top - [0.008 * c, 0.09, 0.008 * s],
                top - [0.014 * c, low, 0.014 * s],
            ]
            threads.tube(np.stack(path), 0.0028, 5)

    def add_to(self, parts: Parts, glow: float, name: str = "") -> None:
        colour, radiance = lantern_atlas(glow)
        parts[f"lanterns{name}"] = self.paper.mesh(
            solid(colour, 0.75), "lanterns", True, shining(radiance)
        )
        parts[f"caps{name}"] = self.caps.mesh(solid((0.03, 0.022, 0.02), 0.35), "caps")
        parts[f"wires{name}"] = self.wires.mesh(solid((0.05, 0.05, 0.05), 0.4), "wires")
        for i, colour in enumerate([(0.55, 0.05, 0.04), (0.75, 0.52, 0.12)]):
            if self.tassels[i].count:
                parts[f"tassels{i}{name}"] = self.tassels[i].mesh(solid(colour, 0.7), "tassels")


def _lantern_ropes(parts: Parts, rope: Builder, glow: float) -> None:
    rng = np.random.default_rng(7)
    lanterns, tops = Lanterns(), posts()
    strands = [(a, b, 0.42, 5) for a, b in zip(tops, tops[1:], strict=False)]
    strands += [
        (p, np.array([-2.9, 3.3 + 0.1 * rng.normal(), p[2] + 0.6]), 0.5, 4) for p in tops[1:]
    ]
    for a, b, sag, count in strands:
        line = hanging(a, b, sag)
        rope.tube(line, 0.011, 8, 14)
        for t in (np.arange(count) + 0.5) / count:
            radius = 0.145 * (1 + 0.25 * rng.random()) * (1 if count == 5 else 0.85)
            tilt = (
                turn("x", rng.normal() * 3)
                @ turn("z", rng.normal() * 3)
                @ turn("y", rng.random() * 360)
            )
            level = int(rng.integers(1, 4)) if rng.random() > 0.07 else 0
            aspect = [1.15, 0.82, 1.4][rng.integers(3)]
            paper = int(rng.integers(len(LANTERNS)))
            lanterns.hang(
                line[int(t * 119)], radius, aspect, 0.10 + 0.05 * rng.random(), paper, level, tilt
            )
    # One is set down on the crates.
    lanterns.hang(np.array([-1.95, 1.27, 4.7]), 0.15, 0.98, 0.03, 3, 2, turn("y", 70))
    lanterns.add_to(parts, glow)


def _coils(rope: Builder) -> None:
    for x, z, y in [(-0.55, 3.7, 0.0), (-1.2, 12.5, 0.0)]:
        angle = np.linspace(0, 2 * np.pi * 7, 480)
        radius = 0.13 + 0.026 * angle / (2 * np.pi)
        lift = 0.013 + 0.004 * np.sin(angle * 3) + 0.022 * (np.sin(angle * 0.37) > 0.8)
        rope.tube(
            np.stack([x + radius * np.cos(angle), y + lift, z + radius * np.sin(angle)], 1),
            0.0125,
            9,
            14,
        )
        t = np.linspace(0, 1, 80)
        loose = [x + 0.3 + 2.6 * t, 0.013 + 0.02 * np.sin(t * 3.1) ** 2, z + 0.25 * np.sin(5 * t)]
        rope.tube(np.stack(loose, 1), 0.0125, 9, 14)


def _bunting(parts: Parts) -> None:
    rng = np.random.default_rng(6)
    colours: list[Colour] = [
        (0.75, 0.10, 0.08), (0.90, 0.75, 0.25), (0.12, 0.35, 0.50), (0.88, 0.86, 0.80), (0.14, 0.42, 0.30),
    ]  # fmt: skip
    flags, strings, n = [Builder() for _ in colours], Builder(), 0
    tops = posts()
    rows = [
        (a + [0, -0.28, 0], np.array([-2.9, 3.2 + 0.1 * rng.normal(), b[2] + 0.6]), 0.35)
        for a, b in zip(tops, tops[1:], strict=False)
    ]
    rows += [
        (tops[1] + [0, 0.05, 0], np.array([-5.0, 6.2, 9.0]), 0.3),
        (tops[2], np.array([-5.0, 6.6, 5.0]), 0.45),
    ]
    for a, b, sag in rows:
        steps = int(np.linalg.norm(b - a) * 27)
        line = hanging(a, b, sag, steps)
        strings.tube(line, 0.004, 6)
        for k in range(4, steps - 5, 6):
            p, q = line[k], line[k + 4]
            lean = rng.normal() * 0.35
            y, x = np.meshgrid(np.linspace(0, 1, 9), np.linspace(0, 1, 9), indexing="ij")
            along = 0.5 + (x - 0.5) * (1 - y * 0.97)
            sway = 0.22 * lean * y * y + 0.02 * np.sin(x * 5 + y * 4 + k)
            points = p * (1 - along[..., None]) + q * along[..., None]
            points = points + np.stack([0.05 * sway, -0.26 * y, 0.9 * sway], -1)
            flags[n % 5].grid(points)
            n += 1
    fibre = noise(256, 256, 1.0, 3)
    wave = np.sin(np.arange(256) * 2 * np.pi / 4)
    weave = (0.9 + 0.1 * wave[None] * wave[:, None]) * (0.8 + 0.4 * (fibre - 0.2))
    for i, builder in enumerate(flags):
        cloth = np.asarray(colours[i], np.float32) * weave[..., None].astype(np.float32)
        parts[f"flags{i}"] = builder.mesh(thin(cloth), f"flags{i}")
    parts["strings"] = strings.mesh(solid((0.5, 0.48, 0.42), 0.8), "strings")


def _water(parts: Parts) -> None:
    n = 900
    x, z = np.meshgrid(
        2.4 + np.linspace(0, 1, n) ** 1.6 * 90, -6 + np.linspace(0, 1, n) ** 1.3 * 140
    )
    y = np.zeros_like(x)
    rng = np.random.default_rng(5)
    for _ in range(60):
        length = np.exp(rng.uniform(np.log(0.25), np.log(5)))
        heading, phase = rng.normal(0.7, 0.9), rng.uniform(0, 6.28)
        fade = np.exp(-np.maximum(0, np.hypot(x - 2, z) * 0.02 - length * 0.3))
        run = x * np.cos(heading) + z * np.sin(heading)
        y += 0.0042 * length**0.9 * np.sin(2 * np.pi / length * run + phase) * fade
    water = Builder().grid(np.stack([x, y + WATER, z], -1), np.stack([x * 0.25, z * 0.25], -1))
    surface = bumped(
        solid((0.012, 0.03, 0.035), 0.06, specular=0.5), noise(1024, 1024, 1.45, 77) * 0.02
    )
    parts["water"] = water.mesh(surface, "water", True)


def _boat(
    parts: Parts, name: str, at: Vectors, heading: float, length: float, colour: Colour, mast: float
) -> None:
    rng = np.random.default_rng(int(at[2] * 10))
    turned = turn("y", heading) @ turn("z", rng.normal() * 1.5)
    t, phi = np.linspace(-1, 1, 41), np.linspace(0, np.pi, 21)
    beam = 0.30 * length * 0.5 * np.sqrt(np.clip(1 - np.abs(t) ** 2.6, 0.002, 1))
    sheer = 0.34 + 0.30 * t**2 + 0.12 * t
    draught = 0.42 * np.clip(1 - t**6, 0.05, 1)
    hull = np.zeros((41, 21, 3))
    hull[..., 0] = t[:, None] * length / 2
    hull[..., 1] = sheer[:, None] - (sheer + draught)[:, None] * np.sin(phi) ** 0.8
    hull[..., 2] = beam[:, None] * np.sign(np.cos(phi)) * np.abs(np.cos(phi)) ** 0.6
    paint = np.ones((256, 420, 3), np.float32) * np.asarray(colour, np.float32)
    paint *= (0.75 + 0.5 * noise(256, 420, 1.2, int(at[2] * 10) % 997))[..., None]
    strakes = np.abs((np.linspace(0, 1, 420) * 22) % 1 - 0.5)
    paint *= (1 - 0.35 * (strakes > 0.46))[None, :, None]
    side = np.abs(np.linspace(0, 1, 420) - 0.5)
    paint[:, side > 0.44] = (0.85, 0.82, 0.75)
    paint[:, side < 0.24] = (0.10, 0.03, 0.025)

    def placed(points: Any) -> Vectors:
        return np.asarray(points) @ turned.T + at

    parts[f"hull_{name}"] = Builder().grid(placed(hull)).mesh(solid(paint, 0.35), "hull", True)
    wood = Builder()
    for edge in (0, 20):
        wood.tube(placed(hull[:, edge]), 0.03, 8)
    for x in (-0.25, 0.1, 0.35):
        wood.box(placed([x * length / 2, 0.22, 0]), [0.22, 0.03, length * 0.24], turned)
    for z in (-0.22, 0.18):
        wood.tube(placed([[-0.42 * length, 0.34, z], [0.34 * length, 0.40, z * 1.4]]), 0.022, 8)
    if mast:
        foot, top = [0.15 * length / 2, -0.1, 0], [0.12 * length / 2, mast, 0]
        wood.tube(placed([foot, top]), 0.04, 10)
        wood.tube(placed([[foot[0], 0.9, 0], [-0.75 * length / 2, 1.0, 0.05]]), 0.032, 10)
        wood.tube(placed([top, [0.98 * length / 2, 0.7, 0]]), 0.007, 6)
    parts[f"fittings_{name}"] = wood.mesh(solid((0.24, 0.15, 0.08), 0.45), "fittings")


def _boats(parts: Parts) -> None:
    for i, (x, z, heading, length, colour, mast) in enumerate([
        (4.6, 7.5, 80, 4.6, (0.10, 0.28, 0.38), 3.6), (5.0, 13.8, 97, 5.2, (0.55, 0.10, 0.07), 0),
        (4.7, 20.5, 86, 5.6, (0.80, 0.76, 0.66), 4.6), (9.5, 17, 30, 5.5, (0.12, 0.30, 0.18), 4.2),
        (13, 27, -20, 6.5, (0.75, 0.5, 0.12), 5.4),
    ]):  # fmt: skip
        _boat(parts, str(i), np.array([x, WATER + 0.05, z]), heading, length, colour, mast)


class _Houses:
    def __init__(self) -> None:
        self.fronts: list[tuple[Array, Builder]] = []
        self.windows, self.walls, self.roofs = Builder(), Builder(), Builder()

    def build(
        self, x: float, z: float, width: float, floors: int, heading: float, seed: int
    ) -> None:
        depth = 6.5
        front, lit = textures.facade(seed, width, floors, _WALLS[seed % 6])
        height, turned, at = floors * 2.9, turn("y", heading), np.array([x, -0.3, z])

        def placed(points: Any) -> Vectors:
            return np.asarray(points, np.float64) @ turned.T + at

        sheet = placed(
            [
                [[-width / 2, height, 0], [width / 2, height, 0]],
                [[-width / 2, 0, 0], [width / 2, 0, 0]],
            ]
        )
        self.fronts.append((front, Builder().grid(sheet)))
        for left, right, top, bottom in lit:
            self.windows.grid(
                placed(
                    [
                        [[right, top, 0.012], [left, top, 0.012]],
                        [[right, bottom, 0.012], [left, bottom, 0.012]],
                    ]
                )
            )
        self.walls.box(placed([0, height / 2, -depth / 2 - 0.02]), [width, height, depth], turned)
        ridge = height + 1.9
        for side in (-1, 1):
            eave = -depth / 2 + side * (depth / 2 + 0.35)
            ends = np.array([-width / 2 - 0.3, width / 2 + 0.3])
            slope = [
                [[e, ridge, -depth / 2] for e in ends],
                [[e, height - 0.1, eave] for e in ends],
            ]
            self.roofs.grid(
                placed(slope), np.array([[[0, 0], [width * 0.5, 0]], [[0, 2], [width * 0.5, 2]]])
            )
        for side in (-1, 1):
            gable = [
                [side * width / 2, height, 0],
                [side * width / 2, height, -depth],
                [side * width / 2, ridge, -depth / 2],
            ]
            self.walls.add(placed(gable), [[0, 1, 2]])
        self.roofs.box(placed([width * 0.25, ridge, -depth / 2]), [0.5, 1.3, 0.5], turned)

    def add_to(self, parts: Parts, glow: float) -> None:
        width = max(front.shape[1] for front, _ in self.fronts)
        atlas = np.zeros((sum(front.shape[0] for front, _ in self.fronts), width, 3), np.float32)
        all_fronts, y = Builder(), 0
        for front, builder in self.fronts:
            h, w = front.shape[:2]
            atlas[y : y + h, :w] = front
            uv = builder.uvs[0] * [w / width * 0.999, (h - 1) / len(atlas)] + [
                0,
                (y + 0.5) / len(atlas),
            ]
            all_fronts.add(builder.vertices[0], builder.faces[0], uv)
            y += h
        parts["fronts"] = all_fronts.mesh(solid(atlas, 0.8), "fronts")
        parts["walls"] = self.walls.mesh(solid((0.42, 0.36, 0.30), 0.85), "walls")
        light = textures.window_light() * 0.4 * glow
        parts["windows"] = self.windows.mesh(
            solid((0.05, 0.05, 0.05), 0.2), "windows", False, shining(light)
        )
        rows = 0.6 + 0.4 * np.abs(np.sin(np.linspace(0, np.pi * 16, 256)))
        tiles = (rows[:, None] * (0.8 + 0.4 * noise(256, 256, 0.8, 9)))[..., None] * np.array(
            [0.33, 0.14, 0.09]
        )
        parts["roofs"] = self.roofs.mesh(solid(tiles.astype(np.float32), 0.7), "roofs")


def _village(parts: Parts, glow: float) -> None:
    rng, houses = np.random.default_rng(12), _Houses()
    z = 2.0
    for k in range(7):
        width = rng.uniform(4.5, 7)
        houses.build(
            -5.4 + rng.normal() * 0.25, z + width / 2, width, int(rng.integers(2, 4)), 90, k
        )
        z += width + 0.05
    x = -4.0
    for k in range(14):
        width = rng.uniform(4.5, 8)
        far = 44 + 3.5 * np.sin(k * 0.8) + k * 1.2
        houses.build(
            x + width / 2, far, width, int(rng.integers(2, 5)), 180 + rng.normal() * 6, 10 + k
        )
        x += width + rng.uniform(0, 0.7)
    for k in range(9):
        far = 62 + k * 2.0 + rng.normal() * 2
        houses.build(
            x * 0.4 + k * 7.5,
            far,
            rng.uniform(5, 8),
            int(rng.integers(3, 6)),
            180 + rng.normal() * 8,
            30 + k,
        )
    houses.add_to(parts, glow)
    ground = np.array(
        [[[-60, -0.31, -8], [-3.6, -0.06, -8]], [[-60, -0.31, 60], [-3.6, -0.06, 60]]]
    )
    stones = blend((0.07, 0.065, 0.06), (0.22, 0.20, 0.18), noise(512, 512, 1.0, 61))
    surface = solid(stones, 0.25 + 0.4 * noise(512, 512, 1.6, 62))
    parts["ground"] = (
        Builder()
        .grid(ground, np.array([[[0, 0], [14, 0]], [[0, 17], [14, 17]]]))
        .mesh(surface, "ground")
    )
    parts["quay"] = (
        Builder().box([40, -0.9, 52], [110, 1.3, 26]).mesh(solid((0.20, 0.19, 0.175), 0.8), "quay")
    )
    x2, z2 = np.meshgrid(np.linspace(-200, 260, 160), np.linspace(70, 300, 60))
    rise = noise(256, 256, 2.2, 31)[:60, :160]
    y2 = -2 + (z2 - 66) * 0.20 * (0.4 + rise * 1.3) + 2 * noise(256, 256, 1.3, 8)[:60, :160]
    trees = blend((0.03, 0.05, 0.03), (0.07, 0.08, 0.05), noise(512, 512, 1.1, 2))
    parts["hill"] = (
        Builder().grid(np.stack([x2, y2, z2], -1)).mesh(solid(trees, 0.95), "hill", True)
    )


def _crates(parts: Parts) -> None:
    rng, wood = np.random.default_rng(8), Builder()
    for x, z, yaw, size, low in [
        (-1.9, 4.6, 12, 0.5, 0),
        (-2.35, 5.3, -20, 0.55, 0),
        (-1.95, 4.7, 35, 0.42, 0.5),
        (1.6, 11.2, 15, 0.5, 0),
    ]:
        turned = turn("y", yaw)
        for k in range(4):
            for axis in (0, 2):
                for side in (-1, 1):
                    centre = np.zeros(3)
                    centre[axis] = side * size / 2
                    centre[1] = low + (k + 0.5) * size / 4
                    board = [size + 0.02, size / 4 * 0.86, size + 0.02]
                    board[axis] = 0.018
                    offset = (rng.random(), rng.random())
                    wood.box(turned @ centre + [x, 0, z], board, turned, 0.8, offset)
        wood.box([x, low + size * 0.9, z], [size * 0.9, 0.02, size * 0.9], turned, 0.8)
    colour, relief = planks(512, 1024, 2, 21, (0.26, 0.17, 0.09), (0.55, 0.42, 0.28))
    parts["crates"] = wood.mesh(bumped(solid(colour, 0.6), relief * 0.004), "crates")


def world(glow: float) -> Parts:
    """The harbour without a sky; ``glow``: radiance of a lantern."""
    parts: Parts = {"type": "scene"}
    rope = Builder()
    _deck(parts)
    _posts(parts, rope)
    _lantern_ropes(parts, rope, glow)
    _coils(rope)
    parts["rope"] = rope.mesh(rope_surface(), "rope", True)
    _bunting(parts)
    _water(parts)
    _boats(parts)
    _village(parts, glow)
    _crates(parts)
    stall.stall(parts)
    return parts
