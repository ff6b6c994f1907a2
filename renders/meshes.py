"""Meshes from simple forms, in metres, y upwards."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from renders.renderer import mi
from renders.textures import Array

Vectors = NDArray[np.floating[Any]]


def turn(axis: str, degrees: float) -> NDArray[np.float64]:
    """A rotation matrix 3 x 3."""
    a = np.deg2rad(degrees)
    c, s = np.cos(a), np.sin(a)
    return np.array(
        {
            "x": [[1, 0, 0], [0, c, -s], [0, s, c]],
            "y": [[c, 0, s], [0, 1, 0], [-s, 0, c]],
            "z": [[c, -s, 0], [s, c, 0], [0, 0, 1]],
        }[axis]
    )


def hanging(a: ArrayLike, b: ArrayLike, sag: float, points: int = 120) -> Vectors:
    """A rope from ``a`` to ``b`` that hangs ``sag`` metres low: points x 3."""
    t = np.linspace(0, 1, points)[:, None]
    path = np.asarray(a) * (1 - t) + np.asarray(b) * t
    path[:, 1] -= sag * 4 * (t * (1 - t))[:, 0]
    return path


def weld_normals(vertices: Vectors, faces: NDArray[np.integer[Any]]) -> Vectors:
    """Smooth normals, the same where vertices lie on one another (seams)."""
    flat = np.cross(
        vertices[faces[:, 1]] - vertices[faces[:, 0]], vertices[faces[:, 2]] - vertices[faces[:, 0]]
    )
    _, same = np.unique(np.round(vertices * 2e4).astype(np.int64), axis=0, return_inverse=True)
    same = same.ravel()
    total = np.zeros((same.max() + 1, 3))
    for corner in range(3):
        np.add.at(total, same[faces[:, corner]], flat)
    normals = total[same]
    return normals / (np.linalg.norm(normals, axis=1)[:, None] + 1e-12)


class Builder:
    """Collects forms that share one surface, then becomes one mesh."""

    def __init__(self) -> None:
        self.vertices: list[Array] = []
        self.faces: list[NDArray[np.uint32]] = []
        self.uvs: list[Array] = []
        self.count = 0

    def add(self, vertices: ArrayLike, faces: ArrayLike, uv: ArrayLike | None = None) -> Builder:
        points = np.asarray(vertices, np.float32)
        self.vertices.append(points)
        self.faces.append(np.asarray(faces, np.uint32) + np.uint32(self.count))
        self.uvs.append(
            np.zeros((len(points), 2), np.float32) if uv is None else np.asarray(uv, np.float32)
        )
        self.count += len(points)
        return self

    def quads(self, corners: Vectors, uv: ArrayLike | None = None) -> Builder:
        """Loose quadrilaterals: corners N x 4 x 3."""
        q = np.arange(len(corners) * 4).reshape(-1, 4)
        return self.add(
            corners.reshape(-1, 3), np.concatenate([q[:, [0, 1, 2]], q[:, [0, 2, 3]]]), uv
        )

    def grid(self, points: Vectors, uv: Vectors | None = None) -> Builder:
        """A sheet of points, rows x columns x 3."""
        h, w = points.shape[:2]
        i = np.arange(h * w).reshape(h, w)
        a, b, c, d = i[:-1, :-1].ravel(), i[:-1, 1:].ravel(), i[1:, 1:].ravel(), i[1:, :-1].ravel()
        if uv is None:
            uv = np.stack(np.meshgrid(np.linspace(0, 1, w), np.linspace(0, 1, h)), -1)
        faces = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
        return self.add(points.reshape(-1, 3), faces, np.asarray(uv).reshape(-1, 2))

    def box(
        self,
        centre: ArrayLike,
        size: ArrayLike,
        turned: Vectors | None = None,
        uv_scale: float = 1.0,
        uv_offset: tuple[float, float] = (0.0, 0.0),
    ) -> Builder:
        half = np.asarray(size, np.float32) / 2
        for axis in range(3):
            u, v = [(1, 2), (0, 2), (0, 1)][axis]
            for side in (-1, 1):
                p = np.zeros((4, 3), np.float32)
                p[:, axis] = side * half[axis]
                p[:, u] = np.array([-1, 1, 1, -1]) * half[u]
                p[:, v] = np.array([-1, -1, 1, 1]) * half[v]
                uv = np.stack([p[:, u], p[:, v]], 1) * uv_scale + np.asarray(uv_offset)
                if turned is not None:
                    p = p @ turned.T
                self.add(p + np.asarray(centre, np.float32), [[0, 1, 2], [0, 2, 3]], uv)
        return self

    def tube(
        self, path: ArrayLike, radius: ArrayLike, sides: int = 8, uv_per_m: float = 10.0
    ) -> Builder:
        """A tube along points N x 3; the radius may change along it."""
        line = np.asarray(path, np.float32)
        along = np.gradient(line, axis=0)
        along /= np.linalg.norm(along, axis=1)[:, None] + 1e-9
        up = (
            np.array([0.13, 0.97, 0.2])
            if abs(along[:, 1]).mean() < 0.8
            else np.array([1.0, 0, 0.1])
        )
        side = np.cross(along, up)
        side /= np.linalg.norm(side, axis=1)[:, None]
        other = np.cross(side, along)
        angle = np.linspace(0, 2 * np.pi, sides + 1)
        r = np.broadcast_to(np.asarray(radius, np.float32), (len(line),))
        ring = (
            np.cos(angle)[None, :, None] * side[:, None]
            + np.sin(angle)[None, :, None] * other[:, None]
        )
        length = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
        points = line[:, None] + r[:, None, None] * ring
        shape = points.shape[:2]
        uv = np.stack(
            [
                np.broadcast_to(angle / (2 * np.pi), shape),
                np.broadcast_to((length * uv_per_m)[:, None], shape),
            ],
            -1,
        )
        return self.grid(points, uv)

    def lathe(
        self,
        profile: ArrayLike,
        centre: ArrayLike = (0, 0, 0),
        sides: int = 48,
        turned: Vectors | None = None,
    ) -> Builder:
        """Turns (radius, height) pairs round the y axis."""
        outline = np.asarray(profile, np.float32)
        angle = np.linspace(0, 2 * np.pi, sides + 1)
        heights = np.broadcast_to(outline[:, 1, None], (len(outline), sides + 1))
        points = np.stack(
            [outline[:, :1] * np.cos(angle), heights, outline[:, :1] * np.sin(angle)], -1
        )
        if turned is not None:
            points = points @ turned.T
        u, v = np.meshgrid(angle / (2 * np.pi), np.linspace(0, 1, len(outline)))
        return self.grid(points + np.asarray(centre, np.float32), np.stack([u, v], -1))

    def mesh(
        self,
        surface: dict[str, Any],
        name: str,
        smooth: bool = False,
        emitter: dict[str, Any] | None = None,
    ) -> mi.Mesh:
        vertices, faces, uv = (
            np.concatenate(part) for part in (self.vertices, self.faces, self.uvs)
        )
        properties = mi.Properties()
        properties["bsdf"] = mi.load_dict(surface)
        if emitter is not None:
            properties["emitter"] = mi.load_dict(emitter)
        mesh = mi.Mesh(
            name,
            len(vertices),
            len(faces),
            has_vertex_normals=smooth,
            has_vertex_texcoords=True,
            props=properties,
        )
        parts = mi.traverse(mesh)
        parts["vertex_positions"] = vertices.ravel()
        parts["faces"] = faces.ravel()
        parts["vertex_texcoords"] = uv.ravel()
        if smooth:
            parts["vertex_normals"] = weld_normals(vertices, faces).astype(np.float32).ravel()
        parts.update()
        return mesh
