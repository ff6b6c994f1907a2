"""Six invented people, head and shoulders, cut out of their background.

``python -m renders.people FOLDER`` renders each twice, turned and straight, and the parts of the
face that change: eyes half open, closed, looking past the camera, talking.
"""

from __future__ import annotations

import argparse
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from scipy.interpolate import griddata

from renders import camera, figure, surfaces, textures
from renders.camera import View
from renders.figure import Shape
from renders.meshes import Builder, Vectors, turn
from renders.renderer import mi
from renders.shots import SKIES, project, save
from renders.surfaces import bumped, shining, solid
from renders.textures import Array, Colour, blend, noise

FOCAL_PX = 5667  # 85 mm on a frame 36 mm and 2,400 px wide
AWAY_M = 2.6

EYES = {
    "open": {},
    "half": {"eyeBlinkLeft": 0.52, "eyeBlinkRight": 0.55},
    "closed": {"eyeBlinkLeft": 1.0, "eyeBlinkRight": 1.0},
}
TALKING = {"jawOpen": 0.22, "mouthFunnel": 0.12, "browInnerUp": 0.4}


@dataclass(frozen=True)
class Person:
    name: str
    shape: Shape
    skin: tuple[Colour, Colour]
    iris: Colour
    hair: str  # long, short, curly, none
    hair_colour: Colour
    coat: Colour
    hat: str = ""  # knitted, cloth
    hat_colour: Colour = (0.4, 0.1, 0.05)
    scarf: Colour | None = None
    beard: bool = False
    smile: float = 0.5
    red: float = 1.0
    yaw: float = 0.0
    sky: str = "dusk"
    key: float = 0.55  # where the lantern that lights them hangs, in metres to the side
    face: dict[str, float] = field(default_factory=dict)
    flash: bool = False  # whether they are also lit by a flash, when turned


PEOPLE = [
    Person("keeper", Shape(
        {"caucasian-female-young": 0.65, "asian-female-young": 0.2, "caucasian-male-young": 0.15},
        {"female-young-averagemuscle-averageweight": 0.8, "male-young-averagemuscle-averageweight": 0.2}),
        ((0.47, 0.265, 0.185), (0.60, 0.37, 0.27)), (0.25, 0.32, 0.24), "long", (0.075, 0.036, 0.018),
        (0.035, 0.055, 0.085), "knitted", (0.42, 0.13, 0.055), (0.52, 0.44, 0.30), yaw=8),
    Person("fisher", Shape(
        {"caucasian-male-old": 0.85, "caucasian-male-young": 0.15},
        {"male-old-averagemuscle-averageweight": 0.6, "male-old-maxmuscle-averageweight": 0.4},
        {"nose/nose-scale-horiz-incr": 0.35}),
        ((0.40, 0.21, 0.145), (0.52, 0.31, 0.22)), (0.30, 0.38, 0.45), "short", (0.50, 0.48, 0.45),
        (0.06, 0.065, 0.03), "knitted", (0.025, 0.035, 0.06), None, beard=True, smile=0.35, red=1.3, yaw=-10, key=-0.5,
        flash=True, face={"eyeWideLeft": 0.75, "eyeWideRight": 0.75}),
    Person("singer", Shape(
        {"african-female-young": 0.95, "african-male-young": 0.05},
        {"female-young-averagemuscle-averageweight": 1.0}),
        ((0.105, 0.048, 0.028), (0.17, 0.085, 0.052)), (0.07, 0.04, 0.02), "none", (0.01, 0.01, 0.01),
        (0.03, 0.10, 0.075), "cloth", (0.62, 0.30, 0.05), (0.55, 0.27, 0.05), smile=0.75, red=0.35, yaw=-6, sky="golden"),
    Person("potter", Shape(
        {"asian-male-young": 0.7, "asian-male-old": 0.3},
        {"male-young-averagemuscle-averageweight": 0.7, "male-old-averagemuscle-averageweight": 0.3}),
        ((0.42, 0.255, 0.165), (0.54, 0.35, 0.235)), (0.09, 0.05, 0.03), "short", (0.016, 0.014, 0.013),
        (0.075, 0.07, 0.066), "", (0, 0, 0), (0.05, 0.19, 0.20), smile=0.3, red=0.8, yaw=12, sky="blue", key=0.6, flash=True),
    Person("baker", Shape(
        {"caucasian-female-old": 0.55, "caucasian-female-young": 0.45},
        {"female-old-averagemuscle-maxweight": 0.5, "female-young-averagemuscle-maxweight": 0.4}),
        ((0.50, 0.29, 0.21), (0.62, 0.40, 0.30)), (0.18, 0.13, 0.07), "long", (0.33, 0.30, 0.28),
        (0.20, 0.035, 0.05), "knitted", (0.50, 0.45, 0.36), (0.16, 0.20, 0.26), smile=0.7, red=1.5, yaw=6, sky="golden", key=-0.5, flash=True),
    Person("apprentice", Shape(
        {"african-male-child": 0.45, "caucasian-male-child": 0.35, "caucasian-male-young": 0.2},
        {"male-child-averagemuscle-averageweight": 0.8, "male-young-averagemuscle-averageweight": 0.2}),
        ((0.26, 0.135, 0.085), (0.36, 0.20, 0.13)), (0.11, 0.06, 0.03), "curly", (0.022, 0.014, 0.010),
        (0.42, 0.26, 0.04), "", (0, 0, 0), (0.36, 0.05, 0.04), smile=0.9, red=0.6, yaw=-12, sky="blue"),
]  # fmt: skip


class Head:
    """A person's mesh with one expression, and what lies where on it."""

    def __init__(self, person: Person, face: dict[str, float]) -> None:
        smile = {"mouthSmileLeft": person.smile, "mouthSmileRight": person.smile * 0.92}
        smile |= {"cheekSquintLeft": person.smile * 0.45, "cheekSquintRight": person.smile * 0.45}
        raw = figure.shaped(person.shape, {**smile, **person.face, **face})
        _, points, self.faces = figure.base()
        self.raw = figure.arms_down(raw, 30)
        self.eyes = []
        for side in "lr":
            ball = self.raw[np.unique(self.faces[f"helper-{side}-eye"][..., 0])]
            low, high = ball.min(0), ball.max(0)
            self.eyes.append(((low + high) / 2, float((high - low)[:2].mean() / 2)))
        self.between = (self.eyes[0][0] + self.eyes[1][0]) / 2
        # People differ in size: what is placed by hand is given for an eye distance of 62 mm.
        self.scale = float(np.linalg.norm(self.eyes[0][0] - self.eyes[1][0]) / 0.062)
        body = self.faces["body"]
        body = body[self.raw[body[..., 0]].mean(1)[:, 1] > self.between[1] - 0.2]
        self.vertices, self.uv, self.quads = figure.subdivided(self.raw, points, body)
        self.skull = self.vertices[np.unique(self.quads[..., 0])]
        self.skull = self.skull[self.skull[:, 1] > self.between[1] - 0.03 * self.scale]
        self.centre = (self.skull.min(0) + self.skull.max(0)) / 2

    def rel(self, points: Vectors) -> Vectors:
        """From between the eyes, in metres of a head of middle size."""
        return (points - self.between) / self.scale


_painted: dict[str, dict[str, Any]] = {}


def _skin(person: Person, head: Head) -> dict[str, Any]:
    """The surface of the skin, painted by where on the head a texture point lies."""
    if person.name in _painted:
        return _painted[person.name]
    corners = head.vertices[head.quads[..., 0]].reshape(-1, 3)
    near = corners[:, 1] > head.between[1] - 0.25
    n = 1024
    gx, gy = np.meshgrid((np.arange(n) + 0.5) / n, (np.arange(n) + 0.5) / n)
    where = griddata(head.uv[near], corners[near], (gx, gy), method="nearest").astype(np.float32)
    where = cv2.resize(
        cv2.GaussianBlur(where, (0, 0), 1.2), (2048, 2048), interpolation=cv2.INTER_CUBIC
    )
    d = head.rel(where)
    x, y, z = np.abs(d[..., 0]), d[..., 1], d[..., 2]

    def spot(px: float, py: float, pz: float, size: float) -> Array:
        return np.exp(-((x - px) ** 2 + (y - py) ** 2 + (z - pz) ** 2) / (2 * size * size))

    wide, fine, soft = (
        noise(2048, 2048, 1.5, 1),
        noise(2048, 2048, 0.7, 2),
        noise(2048, 2048, 1.9, 3),
    )
    skin = blend(*person.skin, wide)
    red = person.red * (0.75 * spot(0.036, -0.042, 0, 0.020) + 0.8 * spot(0, -0.045, 0.035, 0.012))
    skin *= 1 - np.clip(red, 0, 1.6)[..., None] * np.array([0.02, 0.20, 0.22]) * (
        0.6 + 0.8 * soft[..., None]
    )
    skin *= (1 - 0.22 * np.clip(spot(0.031, -0.014, 0, 0.011), 0, 1))[..., None] * (
        0.9 + 0.2 * fine[..., None]
    )
    scalp = _on_scalp(d.reshape(-1, 3)).reshape(x.shape).astype(np.float32) * (
        person.hair != "none"
    )
    scalp = cv2.GaussianBlur(scalp, (0, 0), 6)
    skin = blend(skin, np.asarray(person.hair_colour) * 0.8, scalp * 0.75)
    lips = cv2.imread(str(figure.data() / "mpfb2/textures/mpfb_lips.jpg"), 0)
    lips = cv2.GaussianBlur(
        cv2.resize(lips, (2048, 2048)).astype(np.float32)[::-1] / 255, (0, 0), 4
    )
    lips = (lips if lips.mean() < 0.5 else 1 - lips) * 0.7
    lip_colour = np.asarray(person.skin[0]) * np.array([0.92, 0.52, 0.60])
    skin = skin * (1 - lips[..., None]) + lips[..., None] * lip_colour * (
        0.8 + 0.4 * fine[..., None]
    )
    t = np.clip((x - 0.012) / 0.04, 0, 1)
    arch, thick = 0.0195 + 0.0075 * np.sin(t * 2.3) - 0.004 * t, 0.0042 * (1 - t**2.5) + 0.0008
    brow = np.clip(1.4 - np.abs(y - arch) / thick, 0, 1) * ((x > 0.011) & (x < 0.053) & (z > -0.03))
    hairs = np.clip(noise(2048, 2048, 0.8, 9, 0.6, 0.35) * 1.7 - 0.1, 0, 1)
    brow = cv2.GaussianBlur((brow * hairs).astype(np.float32), (0, 0), 1).clip(0, 0.92)[..., None]
    skin = skin * (1 - brow) + brow * np.asarray(person.hair_colour) * 0.7
    if person.beard or person.shape.people.keys() & {"asian-male-young"}:
        stubble = (
            0.5
            * np.clip(1 - np.abs(y + 0.075) / 0.045, 0, 1)
            * (z > -0.09)
            * (hairs > 0.3)
            * (lips < 0.2)
        )
        skin = blend(
            skin, np.asarray(person.hair_colour) * 0.8 + 0.02, stubble.astype(np.float32) * 0.5
        )
    pores = cv2.GaussianBlur(
        np.random.default_rng(1).random((2048, 2048)).astype(np.float32), (0, 0), 1.6
    )
    relief = (cv2.GaussianBlur(fine, (0, 0), 1.5) * 0.5 + 0.5 * pores) * (1 - 0.5 * lips) * 0.0003
    rough = np.clip(0.47 - 0.17 * lips + 0.12 * (fine - 0.5), 0.2, 1).astype(np.float32)
    painted = solid(skin.clip(0, 1).astype(np.float32), rough, specular=0.42, sheen=0.15)
    _painted[person.name] = bumped(painted, relief)
    return _painted[person.name]


def _eyes(parts: dict[str, Any], person: Person, head: Head, glance: tuple[float, float]) -> None:
    h = 1024
    v = np.linspace(0, 1, h, dtype=np.float32)[:, None] * np.ones((1, h), np.float32)
    a = v * np.pi  # from the middle of the iris
    look = turn("y", glance[0]) @ turn("x", -glance[1])
    to_front = np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]])
    for k, (centre, r) in enumerate(head.eyes):
        theta = np.linspace(0, np.pi, 160)
        bulge = np.exp(-((theta / 0.28) ** 2)) * r * 0.04
        ball = Builder().lathe(
            np.stack([r * np.sin(theta), r * np.cos(theta) + bulge], 1),
            (0, 0, 0),
            96,
            look @ to_front,
        )
        ball.vertices[0] = ball.vertices[0] + centre.astype(np.float32)
        rays = np.clip(noise(h, h, 1.1, 4 + k, 0.9, 0.08) * 1.6 - 0.2, 0, 1)
        iris = blend(np.asarray(person.iris) * 0.25, person.iris, rays)
        iris *= (1.15 - 0.9 * np.clip((a - 0.38) / 0.12, 0, 1))[..., None]
        veins = np.clip((noise(h, h, 1.3, 11, 0.8, 0.3) - 0.63) * 6, 0, 1)[..., None]
        white = np.array([0.60, 0.56, 0.53]) * (1 - 0.3 * veins * np.array([0.1, 1, 1]))
        t = np.clip((a - 0.475) / 0.04, 0, 1)[..., None]
        colour = np.where((a < 0.19)[..., None], 0.006, iris * (1 - t) + white * t).astype(
            np.float32
        )
        surface = solid(colour, 0.35, clearcoat=1.0, clearcoat_gloss=0.98, specular=0.5)
        parts[f"eye{k}"] = ball.mesh(surface, "eye", True)
    lashes = Builder()
    for name in (
        "helper-l-eyelashes-1",
        "helper-l-eyelashes-2",
        "helper-r-eyelashes-1",
        "helper-r-eyelashes-2",
    ):
        cards = head.raw[head.faces[name][..., 0]]
        for s in (0.1, 0.5, 0.9):
            root = cards[:, 0] * (1 - s) + cards[:, 1] * s
            tip = cards[:, 3] * (1 - s) + cards[:, 2] * s
            strands(lashes, np.stack([root, (root + tip) / 2, tip], 1), (0.00007, 0.00003))
    parts["lashes"] = lashes.mesh(solid((0.012, 0.009, 0.008), 0.5), "lashes")


def strands(builder: Builder, paths: Vectors, radii: tuple[float, float]) -> None:
    """Hairs as three-sided tubes: paths N x P x 3, thinner towards the tip."""
    count, length = paths.shape[:2]
    along = np.gradient(paths, axis=1)
    along /= np.linalg.norm(along, axis=2, keepdims=True) + 1e-9
    side = np.cross(along, [0.31, 0.2, 0.93])
    side /= np.linalg.norm(side, axis=2, keepdims=True) + 1e-9
    other = np.cross(side, along)
    r = np.linspace(*radii, length)[None, :, None]
    rings = [paths + r * (np.cos(a) * side + np.sin(a) * other) for a in (0, 2.094, 4.189)]
    points = np.stack(rings, 2)  # N x P x 3 x 3
    i = np.arange(count * length * 3).reshape(count, length, 3)
    here, after = i[:, :-1], i[:, 1:]
    quads = np.stack([here, np.roll(here, -1, 2), np.roll(after, -1, 2), after], -1).reshape(-1, 4)
    builder.add(points.reshape(-1, 3), np.concatenate([quads[:, :3], quads[:, [0, 2, 3]]]))


def _roots(head: Head, keep: Any, count: int, seed: int) -> tuple[Vectors, Vectors]:
    """Random points on the skin where ``keep`` (of positions from between the eyes) holds."""
    rng = np.random.default_rng(seed)
    quads = head.quads[..., 0]
    middle = head.vertices[quads].mean(1)
    chosen = quads[keep(head.rel(middle))]
    out = figure.normals(head.vertices, quads)
    a, b, c = (head.vertices[chosen[:, k]] for k in (0, 1, 3))
    weight = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    pick = rng.choice(len(chosen), count, p=weight / weight.sum())
    u, v = rng.random((2, count, 1))
    place = a[pick] + u * (b[pick] - a[pick]) + v * (c[pick] - a[pick])
    return place, out[chosen[pick, 0]]


def _on_scalp(r: Vectors) -> Any:
    """Where hair grows: above a line from the forehead over the ears to the neck."""
    x, y, z = np.abs(r[:, 0]), r[:, 1], r[:, 2]
    line = np.where(z > -0.06, 0.058 + 0.25 * np.clip(z + 0.03, -0.03, 1), 0.03 + (z + 0.06) * 0.9)
    line = np.where((x > 0.062) & (z > -0.075) & (z < -0.03), 0.012, line)
    # The hairline is not a line.
    line = line + 0.004 * np.sin(r[:, 0] * 190) + 0.003 * np.sin(r[:, 0] * 410 + 1)
    return (y > np.maximum(line, -0.055)) & (z < 0.045)


def _hair(parts: dict[str, Any], person: Person, head: Head) -> None:
    if person.hair == "none":
        return
    rng = np.random.default_rng(5)
    s = head.scale
    builder = Builder()
    if person.hair in ("short", "curly"):
        count, length = {"short": (22000, 0.032), "curly": (14000, 0.045)}[person.hair]
        keep = _on_scalp
        if person.hat:
            count, length = 5000, 0.012
            keep = lambda r: _on_scalp(r) & (r[:, 1] < 0.055 + r[:, 2] * 0.3)  # noqa: E731
        root, out = _roots(head, keep, count, 6)
        t = np.linspace(0, 1, 7)[None, :, None]
        lie = {"short": [0.25, -0.4, -0.5], "curly": [0, -0.25, 0]}[person.hair]
        out = out * (0.4 if person.hat else 1)
        way = out[:, None] * (1 - 0.5 * t) + np.array(lie) * t + rng.normal(0, 0.12, (count, 1, 3))
        paths = root[:, None] + way * t * length * s * rng.uniform(0.6, 1.1, (count, 1, 1))
        if person.hair == "curly":
            phase = rng.uniform(0, 6.28, (count, 1, 1))
            turns = np.concatenate(
                [np.sin(t * 15 + phase), np.cos(t * 13 + phase), np.sin(t * 14 + phase + 1)], 2
            )
            paths = paths + turns * 0.0055 * np.minimum(t * 4, 1)
        strands(builder, paths, (0.00022, 0.00010))
    else:
        count = 9000
        keep = lambda r: _on_scalp(r) & (r[:, 1] < 0.075) & (r[:, 2] < -0.02)  # noqa: E731
        root, out = _roots(head, keep, count, 6)
        points, position = 26, root.copy()
        paths = np.zeros((count, points, 3))
        parted = np.sign(root[:, :1] - head.between[0] - 0.012) * np.array([1.0, 0, 0])
        flow = out * 0.35 + parted * 0.35 + np.array([0, -0.4, 0]) + rng.normal(0, 0.06, (count, 3))
        step = 0.36 * s / points * rng.uniform(0.85, 1.1, (count, 1))
        radii = (head.skull.max(0) - head.skull.min(0)) / 2 * np.array([0.97, 1.2, 1.02]) + 0.006
        floor = head.between[1] + -0.21 * s + rng.normal(0, 0.018, count)
        for k in range(points):
            paths[:, k] = position
            flow = flow * 0.72 + np.array([0, -0.30, -0.02])
            flow /= np.linalg.norm(flow, axis=1, keepdims=True)
            position = position + flow * step * (position[:, 1] > floor)[:, None]
            away = (position - head.centre) / radii
            # Keep off the skull, and off the face: hair falls beside it.
            inside = (np.linalg.norm(away, axis=1) < 1) & (k > 1)
            position[inside] = (
                head.centre + (away / np.linalg.norm(away, axis=1, keepdims=True) * radii)[inside]
            )
            r = head.rel(position)
            front = (r[:, 2] > -0.045) & (np.abs(r[:, 0]) < 0.074) & (r[:, 1] < 0.062)
            position[front, 0] = head.between[0] + np.sign(r[front, 0]) * 0.074 * s
        # Locks: hairs with near roots wave together.
        lock = np.sin(root @ np.array([260.0, 90, 170]))[:, None, None] * 3 + root[:, None, :1] * 60
        t = np.linspace(0, 1, points)[None, :, None]
        wave = (0.003 + 0.007 * t) * np.sin(9 * t + lock)
        strands(builder, paths + wave * np.array([1, 0, 1]), (0.00030, 0.00014))
    if person.beard:

        def on_jaw(r: Vectors) -> Any:
            x, y, z = np.abs(r[:, 0]), r[:, 1], r[:, 2]
            sides = (y < -0.052 - 0.5 * np.clip(0.062 - x, 0, 0.03)) & (y > -0.14) & (z > -0.075)
            mouth = (x / 0.027) ** 2 + ((y + 0.076) / 0.0085) ** 2 < 1
            lip = (y < -0.058) & (y > -0.08) & (x < 0.034)
            return (sides | lip) & ~mouth

        count = 12000
        root, out = _roots(head, on_jaw, count, 8)
        t = np.linspace(0, 1, 6)[None, :, None]
        way = (
            out[:, None] * (1 - 0.6 * t)
            + np.array([0, -0.75, 0.05]) * t
            + rng.normal(0, 0.18, (count, 1, 3))
        )
        strands(
            builder,
            root[:, None] + way * t * 0.021 * s * rng.uniform(0.4, 1.15, (count, 1, 1)),
            (0.00018, 0.00010),
        )
    colour = np.asarray(person.hair_colour)
    parts["hair"] = builder.mesh(solid(tuple(colour), 0.38, specular=0.55), "hair")


def _knit(colour: Colour, relief_m: float) -> dict[str, Any]:
    u, v = textures.across(512, 512)
    rib = np.abs(np.sin(np.pi * u * 12))
    stitch = rib * 0.7 + 0.3 * np.abs(np.sin(np.pi * (v * 18 + rib)))
    wool = (
        np.asarray(colour)
        * (0.35 + 0.75 * stitch + 0.25 * (noise(512, 512, 0.6, 5) - 0.5))[..., None]
    )
    surface = solid(wool.astype(np.float32), 0.95, sheen=0.6, specular=0.15)
    return bumped(surface, (stitch + 0.3 * noise(512, 512, 0.6, 3)) * relief_m)


def _shell(head: Head, keep: Any, lift: float, smooth: int) -> tuple[Vectors, Any]:
    """The skin itself, lifted off and smoothed: cloth that lies on the head."""
    quads = head.quads[..., 0]
    chosen = quads[keep(head.rel(head.vertices[quads].mean(1)))]
    lifted = head.vertices + figure.normals(head.vertices, quads) * lift * head.scale
    return figure.relaxed(lifted, chosen, smooth), chosen


def _wrapped(points: Vectors, centre: Vectors) -> Vectors:
    """Texture points round the head for quads N x 4 x 3, not torn at the back."""
    r = points - centre
    u = np.arctan2(r[..., 0], r[..., 2]) / (2 * np.pi) + 0.5
    v = np.arccos(np.clip(r[..., 1] / np.linalg.norm(r, axis=-1), -1, 1)) / np.pi
    u = np.where((np.ptp(u, axis=1) > 0.5)[:, None] & (u < 0.5), u + 1, u)
    return np.stack([u * 8, v * 6], -1).reshape(-1, 2)


def _hat(parts: dict[str, Any], person: Person, head: Head) -> None:
    if person.hat == "knitted":
        vertices, quads = _shell(head, lambda r: r[:, 1] > 0.046 + r[:, 2] * 0.30, 0.012, 3)
        rise = np.clip(head.rel(vertices)[:, 1:2] - 0.09, 0, 0.06) / 0.06
        vertices = vertices + rise * np.array([0, 0.022, -0.014]) * head.scale
        corners = vertices[quads]
        hat = Builder().quads(corners, _wrapped(corners, head.centre))
        parts["hat"] = hat.mesh(_knit(person.hat_colour, 0.02), "hat", True)
        _brim(parts, person, head)
    elif person.hat == "cloth":

        def wrapped(r: Vectors) -> Any:
            x, y, z = np.abs(r[:, 0]), r[:, 1], r[:, 2]
            face = ((x / 0.064) ** 2 + ((y + 0.018) / 0.086) ** 2 < 1) & (z > -0.06)
            return ~face & (y > -0.16) & ((y > -0.115) | (z < 0.0))

        vertices, quads = _shell(head, wrapped, 0.010, 34)
        corners = vertices[quads]
        u, v = textures.across(1024, 1024)
        folds = 0.5 + 0.5 * np.sin(2 * np.pi * (v * 7 + 0.9 * noise(1024, 1024, 1.9, 14, 0.4)))
        print_ = (np.hypot((u * 24) % 1 - 0.5, (v * 24 + 0.5 * np.floor(u * 24)) % 1 - 0.5) < 0.16)[
            ..., None
        ]
        cloth = (
            np.where(print_, (0.75, 0.66, 0.45), person.hat_colour)
            * (0.8 + 0.3 * noise(1024, 1024, 1.0, 3))[..., None]
        )
        surface = bumped(
            solid(cloth.astype(np.float32), 0.8, sheen=0.3), folds.astype(np.float32) * 0.012
        )
        parts["hat"] = (
            Builder()
            .quads(corners, _wrapped(corners, head.centre) / [8, 6] * [1, 1])
            .mesh(surface, "hat", True)
        )


def _brim(parts: dict[str, Any], person: Person, head: Head) -> None:
    s, centre = head.scale, head.centre
    r = head.rel(head.vertices[np.unique(head.quads[..., 0])])
    at = np.unique(head.quads[..., 0])
    near = np.abs(r[:, 1] - 0.052 - r[:, 2] * 0.30) < 0.012
    flat = (head.vertices[at][near] - centre)[:, [0, 2]]
    angle = np.linspace(-np.pi, np.pi, 91)[:-1]
    radius = []
    for a in angle:
        way = np.array([np.sin(a), np.cos(a)])
        along = flat @ way
        beside = np.abs(flat @ np.array([way[1], -way[0]])) < 0.012
        radius.append(along[beside].max() if beside.any() else 0.085 * s)
    smooth = np.convolve(np.tile(radius, 3), np.ones(9) / 9, "same")[90:180]
    brim = Builder()
    for lift, out in ((0.0, 0.010), (0.018, 0.0105), (0.035, 0.009)):
        x = centre[0] + (smooth + out * s) * np.sin(angle)
        z = centre[2] + (smooth + out * s) * np.cos(angle)
        y = head.between[1] + (0.050 + lift - 0.006) * s + (z - head.between[2]) * 0.30
        ring = np.stack([x, y, z], 1)
        brim.tube(np.concatenate([ring, ring[:1]]), 0.0125 * s, 18, 9)
    parts["brim"] = brim.mesh(_knit(person.hat_colour, 0.02), "brim", True)


def _clothes(parts: dict[str, Any], person: Person, head: Head) -> None:
    tights = head.faces["helper-tights"]
    middle = head.raw[tights[..., 0]].mean(1)
    b, s = head.between, head.scale
    tights = tights[(middle[:, 1] > b[1] - 0.75) & (middle[:, 1] < b[1] - 0.115 * s)]
    vertices, _, faces = figure.subdivided(head.raw, figure.base()[1], tights)
    quads = faces[..., 0]
    vertices = figure.relaxed(vertices + figure.normals(vertices, quads) * 0.017, quads, 2)
    # Folds: long waves that run down and across.
    n = noise(512, 512, 2.1, 15)
    wave = (
        n[(vertices[:, 1] * 700).astype(int) % 512, (vertices[:, 0] * 500).astype(int) % 512] - 0.5
    )
    vertices = vertices + figure.normals(vertices, quads) * wave[:, None] * 0.03
    corners = vertices[quads]
    u, v = textures.across(512, 512)
    twill = 0.5 + 0.5 * np.sin(2 * np.pi * (u * 24 + v * 24))
    wool = np.asarray(person.coat) * (0.6 + 0.6 * twill * noise(512, 512, 0.8, 6))[..., None]
    surface = bumped(
        solid(wool.astype(np.float32), 0.9, sheen=0.4), twill.astype(np.float32) * 0.004
    )
    parts["coat"] = (
        Builder().quads(corners, corners[..., :2].reshape(-1, 2) * 14).mesh(surface, "coat", True)
    )
    _buttons(parts, vertices[np.unique(quads)], b, s)
    neck = Builder()
    a = np.linspace(-0.12, 2 * np.pi + 0.12, 130) + np.pi
    if person.scarf:
        rings = [
            (-0.165, 0.088, 0.095, 0.030, 0.0),
            (-0.195, 0.105, 0.110, 0.034, 1.0),
            (-0.140, 0.080, 0.088, 0.024, 2.2),
        ]
    else:
        rings = [(-0.150, 0.078, 0.084, 0.014, 0.0), (-0.172, 0.086, 0.094, 0.018, 0.6)]
    for low, rx, rz, thick, phase in rings:
        x = b[0] + rx * s * np.sin(a)
        y = b[1] + (low + 0.010 * np.sin(a * 2 + phase) - 0.018 * np.cos(a)) * s
        z = b[2] + (-0.055 + rz * np.cos(a)) * s
        neck.tube(
            np.stack([x, y, z], 1),
            thick * s * (1 + 0.10 * np.sin(a * 5 + phase) + 0.06 * np.sin(a * 11 + phase)),
            40,
            6,
        )
    parts["neck"] = neck.mesh(_knit(person.scarf or person.coat, 0.018), "neck", True)


def _buttons(parts: dict[str, Any], coat: Vectors, b: Vectors, s: float) -> None:
    """A row down the front, and the seam of the overlap beside it."""
    buttons, seam = Builder(), []
    for y in np.arange(b[1] - 0.235 * s, b[1] - 0.62, -0.005):
        near = coat[(np.abs(coat[:, 1] - y) < 0.02) & (np.abs(coat[:, 0] - b[0] - 0.03) < 0.02)]
        if len(near):
            seam.append([b[0] + 0.034, y, near[:, 2].max() + 0.0015])
    path = np.array(seam)
    path[:, 2] = np.convolve(np.pad(path[:, 2], 12, "edge"), np.ones(25) / 25, "valid")
    for at in path[6::17]:
        ring = [(0, 0.004), (0.006, 0.0035), (0.0095, 0.0045), (0.011, 0.002), (0.011, -0.002)]
        buttons.lathe(ring, at + [-0.022, 0, 0.002], 32, turn("x", 84))
    parts["buttons"] = buttons.mesh(solid((0.07, 0.04, 0.022), 0.3, specular=0.6), "buttons", True)
    edge = Builder().tube(path, 0.0022, 8)
    parts["seam"] = edge.mesh(solid((0.012, 0.012, 0.012), 0.9), "seam", True)


def scene(
    person: Person,
    face: dict[str, float],
    glance: tuple[float, float],
    yaw: float,
    flash: bool = False,
) -> tuple[mi.Scene, Head]:
    """A person turned by ``yaw`` degrees, glance in degrees; in the light of the evening, or only
    of a flash on the camera."""
    head = Head(person, face)
    parts: dict[str, Any] = {"type": "scene"}
    surface = _skin(person, head)
    corners = head.vertices[head.quads[..., 0]]
    parts["skin"] = (
        Builder()
        .quads(corners, head.uv[head.quads[..., 1].reshape(-1)])
        .mesh(surface, "skin", True)
    )
    _eyes(parts, person, head, glance)
    _hair(parts, person, head)
    _hat(parts, person, head)
    _clothes(parts, person, head)
    if flash:
        around = turn("y", -yaw)
        centre = [float(c) for c in head.between + around @ np.array([0.12, 0.10, AWAY_M])]
        lamp = {"type": "sphere", "center": centre, "radius": 0.06}
        parts["flash"] = {**lamp, "emitter": shining((800.0, 775.0, 740.0))}
    else:
        _evening(parts, person, head, yaw)
    return mi.load_dict(parts), head


def _evening(parts: dict[str, Any], person: Person, head: Head, yaw: float) -> None:
    colours = SKIES[person.sky]
    sky = textures.sky(
        1024, colours.horizon, colours.low, colours.zenith, colours.cloud, colours.cover, 5
    )
    bright = {"golden": 0.9, "dusk": 1.3, "blue": 2.4}[person.sky]
    # The person stands still and the world turns, so that one mesh serves all poses.
    parts["sky"] = surfaces.surround(sky * np.float32(bright), 60 - yaw)
    around = turn("y", -yaw)
    for name, at, radius, radiance in (
        ("key", [person.key, 0.34, 0.62], 0.16, (10.0, 6.6, 3.7)),
        ("rim", [-1.2 * person.key, 0.45, -0.75], 0.14, (9.0, 5.2, 2.4)),
        ("fill", [0.1, -0.8, 1.6], 0.45, (0.35, 0.25, 0.18)),
    ):
        centre = [float(c) for c in head.between + around @ np.array(at)]
        parts[name] = {
            "type": "sphere",
            "center": centre,
            "radius": radius,
            "emitter": shining(radiance),
        }


def _view(head: Head, yaw: float, size: tuple[int, int], focal: float) -> View:
    away = turn("y", -yaw) @ np.array([0, 0.03, AWAY_M])
    to = head.between + np.array([0, -0.165, 0])
    at = head.between + away + np.array([0, -0.10, 0])
    angle = 2 * np.degrees(np.arctan(max(size) / 2 / focal))
    return View(tuple(float(c) for c in at), tuple(float(c) for c in to), float(angle))


def _box(view: View, head: Head, points: Vectors, size: tuple[int, int]) -> list[float]:
    seen = np.array([project(view, p, size)[:2] for p in points])
    return [float(c) for c in (*seen.min(0), *seen.max(0))]


def _face(head: Head) -> Vectors:
    r = head.rel(head.vertices[np.unique(head.quads[..., 0])])
    points = head.vertices[np.unique(head.quads[..., 0])]
    return points[
        (r[:, 2] > -0.05) & (r[:, 1] < 0.06) & (r[:, 1] > -0.118) & (np.abs(r[:, 0]) < 0.075)
    ]


def render(person: Person, folder: Path, turned: bool, shrink: float, samples: int) -> None:
    """One pose of a person with all its faces: NAME.npz, and NAME-half.npz and so on."""
    yaw = -person.yaw * 2 if turned else person.yaw
    focal = FOCAL_PX * shrink * (0.7 if turned else 1.0)
    size = (round(1500 * focal / FOCAL_PX), round(1600 * focal / FOCAL_PX))
    name = f"{person.name}{'_turned' if turned else ''}"
    past = (26.0, 4.0) if person.yaw > 0 else (-26.0, 4.0)
    straight = (float(np.clip(-yaw, -20, 20)), 0.0)
    faces: dict[str, tuple[dict[str, float], tuple[float, float]]]
    faces = {"": ({}, straight), "half": (EYES["half"], straight), "closed": (EYES["closed"], straight),
             "past": ({}, past), "talking": (TALKING, straight)}  # fmt: skip
    view = View((0, 0, 0), (0, 0, 1), 1)
    box = [0.0] * 4
    for light in ("", ".flash") if turned and person.flash else ("",):
        for extra, (units, glance) in faces.items():
            file = f"{name}{'-' if extra else ''}{extra}{light}"
            if extra and (folder / f"{file}.npz").exists():
                continue
            began = time.time()
            world, head = scene(person, units, glance, yaw, flash=bool(light))
            if not extra:
                view = _view(head, yaw, size, focal)
                box = _box(view, head, _face(head), size)
                eyes = [project(view, c, size) for c, _ in head.eyes]
                facts = {"face": box, "eyes": eyes, "metres": AWAY_M, "focal_px": focal,
                         "yaw": yaw}
                if (folder / f"{file}.npz").exists():
                    continue
                shot = camera.take(world, view, size, samples, cut_out=True)
            else:
                pad = 0.12 * (box[2] - box[0])
                left, top = round(box[0] - pad), round(box[1] - pad)
                part = (left, top, round(box[2] + pad) - left, round(box[3] + pad * 1.5) - top)
                facts = {"at": [left, top]}
                shot = camera.take(world, view, size, samples, cut_out=True, part=part)
            save(folder, file, shot, facts)
            print(f"{file}: {time.time() - began:.0f} s", flush=True)


def main() -> None:
    options = argparse.ArgumentParser(description="Render the people.")
    options.add_argument("folder", type=Path)
    options.add_argument("names", nargs="*")
    options.add_argument("--shrink", type=float, default=1.0, help="for trials")
    options.add_argument("--samples", type=int, default=8)
    options.add_argument("--poses", choices=["straight", "turned", "both"], default="both")
    chosen = options.parse_args()
    for turned in (False, True):
        if chosen.poses == ("straight" if turned else "turned"):
            continue
        for person in PEOPLE:
            if not chosen.names or person.name in chosen.names:
                render(person, chosen.folder, turned, chosen.shrink, chosen.samples)


if __name__ == "__main__":
    main()
