"""The views that were rendered, and how: ``python -m renders.shots --help``."""

from __future__ import annotations

import argparse
import json
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from renders import camera, harbour, stall, surfaces, textures
from renders.camera import View
from renders.renderer import mi
from renders.textures import Colour


@dataclass(frozen=True, slots=True)
class Sky:
    horizon: Colour
    low: Colour
    zenith: Colour
    cloud: Colour
    cover: float


SKIES = {
    "golden": Sky((1.30, 0.60, 0.26), (0.62, 0.45, 0.44), (0.10, 0.20, 0.42), (1.10, 0.66, 0.48), 0.62),
    "dusk": Sky((0.62, 0.36, 0.34), (0.36, 0.34, 0.48), (0.08, 0.14, 0.34), (0.46, 0.40, 0.50), 0.62),
    "blue": Sky((0.17, 0.17, 0.26), (0.08, 0.11, 0.21), (0.022, 0.04, 0.11), (0.10, 0.10, 0.16), 0.5),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Shot:
    """``subject``: the point that matters, in metres; ``samples``: rays a pixel."""

    name: str
    sky: str
    view: View
    subject: tuple[float, float, float]
    extras: tuple[str, ...] = ()
    samples: int = 6
    upright: bool = False
    scale: float = 1.0  # of the long side; what is only ever out of focus can be smaller

    def size(self, long_side: int) -> tuple[int, int]:
        long_side = round(long_side * self.scale / 6) * 6
        short = round(long_side * 2 / 3 / 2) * 2
        return (short, long_side) if self.upright else (long_side, short)


SHOTS = [
    Shot("rope", "dusk", View((1.05, 1.60, -1.3), (1.75, 2.08, 6.0), 40), (2.28, 2.42, 2.5)),
    Shot("rope_step", "dusk", View((0.55, 1.52, -0.8), (1.70, 2.05, 6.0), 42), (2.28, 2.42, 2.5)),
    Shot("stall", "dusk", View((-2.15, 1.42, 7.75), (-2.30, 1.02, 9.2), 38), (-2.28, 1.0, 9.0)),
    Shot("planks", "dusk", View((-0.9, 0.22, 2.2), (-0.3, 0.42, 8.0), 48), (-0.55, 0.04, 3.6)),
    Shot("lantern", "dusk", View((1.30, 1.90, 0.1), (2.28, 2.36, 2.0), 34), (2.28, 2.50, 1.6), upright=True),
    Shot("crates", "dusk", View((0.0, 1.25, 2.6), (-2.1, 0.66, 4.9), 36), (-1.95, 1.08, 4.55)),
    Shot("bags", "blue", View((1.15, 0.42, 4.45), (1.80, 0.22, 5.5), 36), (1.78, 0.24, 5.38), ("bags",)),
    Shot("afloat", "blue", View((2.25, 0.75, 0.6), (5.2, -1.05, 6.5), 42), (4.3, -0.9, 3.6), ("afloat",)),
    Shot("near_lantern", "blue", View((2.0, 2.3, 16.6), (7.0, 0.9, 44.0), 42), (2.28, 2.5, 17.1)),
    Shot("quay", "blue", View((3.2, 0.9, 16.5), (8.2, 1.5, 44.0), 50), (7.0, 3.0, 44.0)),
    Shot("boats", "golden", View((1.9, 1.55, 2.5), (6.5, -0.6, 11.0), 44), (4.6, -0.7, 7.5)),
    Shot("bunting", "golden", View((0.2, 1.5, 1.5), (-0.6, 4.9, 8.0), 45), (0.9, 4.2, 6.4)),
    Shot("crowd", "blue", View((0.35, 1.68, 4.2), (-0.15, 1.45, 20.0), 40), (-0.9, 1.3, 16.4), ("crowd",)),
    Shot("behind_deck", "dusk", View((-0.3, 1.55, 3.0), (-0.2, 1.75, 20.0), 34), (-0.2, 2.6, 9.0), samples=4, scale=0.67),
    Shot("behind_water", "golden", View((1.0, 1.5, 6.0), (7.0, 1.3, 22.0), 34), (5.0, 0.0, 13.8), samples=4, scale=0.67),
    Shot("behind_houses", "blue", View((1.2, 1.5, 7.0), (-5.0, 1.7, 14.0), 36), (-5.0, 1.7, 14.0), samples=4, scale=0.67),
]  # fmt: skip


def _crowd(parts: harbour.Parts) -> None:
    from renders import crowd  # which takes this module's skies

    crowd.stand(parts)


EXTRAS: dict[str, Callable[[harbour.Parts], None]] = {
    "bags": stall.candle_bags,
    "crowd": _crowd,
    "afloat": lambda parts: stall.floating_lights(parts, harbour.WATER),
}


def project(view: View, point: Any, size: tuple[int, int]) -> tuple[float, float, float]:
    """Where a point is seen: x and y in px, and its distance along the axis in metres."""
    forward = np.subtract(view.to, view.at)
    forward /= np.linalg.norm(forward)
    right = np.cross(forward, [0, 1, 0])
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    away = np.subtract(point, view.at)
    depth = float(away @ forward)
    w, h = size
    focal = max(size) / 2 / np.tan(np.deg2rad(view.angle / 2))
    return (
        w / 2 + focal * float(away @ right) / depth,
        h / 2 - focal * float(away @ up) / depth,
        depth,
    )


def save(folder: Path, name: str, render: camera.Render, facts: dict[str, Any]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    np.savez(
        folder / f"{name}.npz",
        radiance=render.radiance.astype(np.float16),
        metres=render.metres,
        alpha=render.alpha.astype(np.float16),
    )
    (folder / f"{name}.json").write_text(json.dumps(facts))


def main() -> None:
    options = argparse.ArgumentParser(description="Render the views of the harbour.")
    options.add_argument("folder", type=Path)
    options.add_argument("names", nargs="*")
    options.add_argument("--size", type=int, default=2400, help="long side in px")
    options.add_argument("--samples", type=int, help="rays a pixel, for trials")
    chosen = options.parse_args()
    shots = [s for s in SHOTS if not chosen.names or s.name in chosen.names]
    shots = [s for s in shots if not (chosen.folder / f"{s.name}.npz").exists()]
    parts = harbour.world(glow=1.5)
    for sky, extras in dict.fromkeys((s.sky, s.extras) for s in shots):
        colours = SKIES[sky]
        picture = textures.sky(
            4096, colours.horizon, colours.low, colours.zenith, colours.cloud, colours.cover, 5
        )
        here = {**parts, "sky": surfaces.surround(picture)}
        for extra in extras:
            EXTRAS[extra](here)
        scene = mi.load_dict(here)
        for shot in shots:
            if (shot.sky, shot.extras) != (sky, extras):
                continue
            began = time.time()
            render = camera.take(
                scene, shot.view, shot.size(chosen.size), chosen.samples or shot.samples
            )
            x, y, metres = project(shot.view, shot.subject, shot.size(chosen.size))
            angle = shot.view.angle
            save(
                chosen.folder,
                shot.name,
                render,
                {"subject": [x, y], "metres": metres, "angle": angle},
            )
            print(f"{shot.name}: {time.time() - began:.0f} s", flush=True)


if __name__ == "__main__":
    main()
