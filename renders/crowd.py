"""Small figures on the deck: whole bodies in coats, standing and walking, some with lanterns."""

from __future__ import annotations

from typing import Any

import numpy as np

from renders import figure
from renders.harbour import Lanterns
from renders.meshes import Builder, Vectors, turn
from renders.people import PEOPLE, Person
from renders.surfaces import solid

# Where they stand (x, z), which way they look in degrees, and whether they carry a lantern.
_PLACES = [
    (0.75, 11.6, 12, False), (0.15, 11.9, -25, True), (-1.7, 13.4, 60, False), (1.3, 15.0, -8, True),
    (0.4, 15.3, 20, False), (-0.9, 17.9, 20, True), (1.5, 18.5, 200, False), (-0.2, 19.2, 90, False),
    (-2.2, 16.2, 310, False), (0.9, 22.0, 170, False), (-1.2, 23.5, 170, True), (0.1, 24.6, 30, False),
    (1.6, 26.5, 190, False), (-1.9, 21.0, 60, False), (-0.6, 28.5, 180, False), (0.8, 30.0, 0, True),
]  # fmt: skip


def _body(person: Person, walking: bool) -> tuple[Vectors, dict[str, Any]]:
    raw = figure.shaped(person.shape, {})
    groups = figure.base()[2]
    swing = (22.0, -18.0) if walking else (4.0, -3.0)
    moved = figure.arms_down(raw, 30, swing)
    step = 16.0 if walking else 3.0
    for name, side in (("l", 1), ("r", -1)):
        hip = figure.joint(raw, f"{name}-upper-leg")
        rel = moved - hip
        t = np.clip((-rel[:, 1] - 0.02) / 0.12, 0, 1) * (side * raw[:, 0] > 0)
        a = np.deg2rad(-side * step) * t * t * (3 - 2 * t)
        y, z = rel[:, 1].copy(), rel[:, 2].copy()
        rel[:, 1], rel[:, 2] = np.cos(a) * y - np.sin(a) * z, np.sin(a) * y + np.cos(a) * z
        moved = np.where((t > 0)[:, None], hip + rel, moved)
    return moved, groups


def stand(parts: dict[str, Any]) -> None:
    """Add everybody to the world."""
    lanterns = Lanterns()
    for i, (x, z, heading, carries) in enumerate(_PLACES):
        person = PEOPLE[(i * 5 + i // 6) % len(PEOPLE)]
        body, groups = _body(person, walking=i % 3 != 0)
        floor = body[np.unique(groups["body"][..., 0])][:, 1].min()
        turned = turn("y", heading)
        place = (body - [0, floor, 0]) * (0.97 + 0.012 * (i % 6)) @ turned.T + [x, 0.004, z]
        skin = Builder().quads(place[groups["body"][..., 0]])
        parts[f"someone{i}"] = skin.mesh(solid(person.skin[0], 0.5), "skin", True)
        cloth = groups["helper-tights"][..., 0]
        lifted = place + figure.normals(place, cloth) * 0.022
        height = (body[cloth].mean(1)[:, 1] - floor) / 1.65
        coat, trousers = cloth[height > 0.46], cloth[height <= 0.46]
        tone = 0.7 + 0.15 * (i % 5)
        parts[f"coat{i}"] = (
            Builder()
            .quads(lifted[coat])
            .mesh(solid(np.multiply(person.coat, tone * 1.6), 0.9), "coat", True)
        )
        parts[f"trousers{i}"] = (
            Builder().quads(lifted[trousers]).mesh(solid((0.03, 0.03, 0.04), 0.9), "legs", True)
        )
        skirt = groups["helper-skirt"][..., 0]
        high = (body[skirt].mean(1)[:, 1] - floor) / 1.65 > 0.36
        if i % 2:
            hem = place + figure.normals(place, skirt) * 0.03
            parts[f"hem{i}"] = (
                Builder()
                .quads(hem[skirt[high]])
                .mesh(solid(np.multiply(person.coat, tone * 1.6), 0.9), "hem", True)
            )
        head = groups["helper-hair"][..., 0]
        above = body[head].mean(1)[:, 1] - figure.joint(body, "head")[1] > 0.055
        colour = person.hat_colour if person.hat else person.hair_colour
        hat = place + figure.normals(place, head) * 0.012
        parts[f"hat{i}"] = Builder().quads(hat[head[above]]).mesh(solid(colour, 0.9), "hat", True)
        if carries:
            hand = place[np.argmin(np.linalg.norm(place - _hand(place), axis=1))]
            tilt = turn("y", 40.0 * i)
            lanterns.hang(hand + [0, -0.02, 0], 0.11, 1.1, 0.08, i % 7, 2, tilt)
    lanterns.add_to(parts, 1.5, "_carried")


def _hand(vertices: Vectors) -> Vectors:
    return figure.joint(vertices, "l-hand")
