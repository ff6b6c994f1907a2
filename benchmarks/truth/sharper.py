"""Which of two frames is sharper at the subject, and how many px its blur is."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Final

import numpy as np

from benchmarks.truth import camera, measure
from benchmarks.truth.camera import Shot
from benchmarks.truth.free import HEIGHT, WIDTH, Scene
from benchmarks.truth.score import Score
from winnow.core.measure import focus_map
from winnow.core.verdict import judge, order
from winnow.core.verdict.what_matters import RADIUS

_SIGMAS: Final = (0.7, 1.2, 2.0, 3.0)
_TIMES: Final = (1.25, 1.5)


def scores(scenes: Iterable[Scene]) -> Iterator[Score]:
    """Of every scene and blur: pairs on a tripod, pairs of mixed ISO by hand, patterns, figures."""
    pairs = {
        way: {
            name: Score(f"sharper of two, {way}: {name}", goal if name == "Winnow" else "")
            for name in ("Winnow", "Winnow, where it tells them apart", *measure.RIVALS)
        }
        for way, goal in (("tripod", "≥ .99"), ("ISO mixed, by hand", "≥ .96"))
    }
    patterns = Score("pattern blurred by 4 px is not the sharper one", "1")
    texture = Score("Gaussian blur of 1.5 to 6 px told within 15 %", "≥ .70")
    discs = Score("disc of 0.7 to 6 px (as a Gaussian) told within 12 %", "")
    for scene in scenes:
        name = scene.photograph.file
        for n, sigma in enumerate(_SIGMAS):
            for m, times in enumerate(_TIMES):
                for way, score in pairs.items():
                    _pair(scene, sigma, times, way != "tripod", 10 * n + m, score)
        if scene.photograph.pattern:
            sharp = camera.frame(camera.blurred(scene.light, None), Shot(seed=1))
            soft = camera.frame(camera.blurred(scene.light, camera.gaussian(4)), Shot(seed=2))
            patterns.add(name, _softer(scene, [sharp, soft])[1] > 0)
            continue
        for sigma in (1.5, 2.2, 3.3, 4.5, 6.0):
            blur = _figure(scene, camera.gaussian(sigma))
            texture.add(
                name, blur is not None and abs(blur / np.hypot(sigma, camera.OWN) - 1) <= 0.15
            )
        for sigma in (0.7, 1.2, 2.0, 3.5, 6.0):
            # The deviation of an even disc along a line is a quarter of its diameter.
            blur = _figure(scene, camera.disc(4 * sigma))
            discs.add(
                name, blur is not None and abs(blur / np.hypot(sigma, camera.OWN) - 1) <= 0.12
            )
    for score in pairs.values():
        yield from score.values()
    yield from (patterns, texture, discs)


def _pair(
    scene: Scene, sigma: float, times: float, mixed: bool, seed: int, score: dict[str, Score]
) -> None:
    """One pair, the sharper first."""
    rng = np.random.default_rng(seed)
    frames, places = [], []
    for n, blur in enumerate((sigma, sigma * times)):
        shift = rng.uniform(-8, 8, 2) if mixed else (0.0, 0.0)
        # The sharper frame is the noisier one as often as not.
        iso = (200, 3200)[(n + seed) % 2] if mixed else 200
        light = camera.blurred(scene.light, camera.gaussian(blur))
        shot = Shot(iso=iso, shift=(float(shift[0]), float(shift[1])), seed=2 * seed + n)
        frames.append(camera.frame(light, shot))
        places.append((scene.x - shift[0], scene.y - shift[1]))
    name = scene.photograph.file
    first, second = _softer(scene, frames, places)
    score["Winnow"].add(name, 0.5 if first == second else second > first)
    if abs(first - second) > order.TIE:
        score["Winnow, where it tells them apart"].add(name, second > first)
    parts = [measure.around(frame, *place) for frame, place in zip(frames, places, strict=True)]
    for rival, method in measure.RIVALS.items():
        score[rival].add(name, method(parts[0]) > method(parts[1]))


def _softer(
    scene: Scene, frames: list[bytes], places: list[tuple[float, float]] | None = None
) -> list[float]:
    """Logarithms of blur at the subject, against the sharpest of the frames; 99 without an edge."""
    where = places or [(scene.x, scene.y)] * len(frames)
    looks = [
        measure.seen(frame, (x / WIDTH, y / HEIGHT))[1]
        for frame, (x, y) in zip(frames, where, strict=True)
    ]
    judged = judge.judge(looks)
    if judged[0].of < 2 or all(verdict.softer is None for verdict in judged):
        return [0.0 for _ in judged]
    return [
        99.0 if verdict.softer is None or np.isinf(verdict.softer) else verdict.softer
        for verdict in judged
    ]


def _figure(scene: Scene, kernel: camera.Kernel) -> float | None:
    look, _ = measure.seen(camera.frame(camera.blurred(scene.light, kernel), Shot(seed=3)))
    figure = focus_map.figure_at(look.focus, scene.x, scene.y, RADIUS * look.width)
    return figure.blur if figure else None
