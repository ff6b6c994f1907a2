"""Light against the group, and whether a part of the subject is found again, or said to be
missing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import Final

import numpy as np

from benchmarks.truth import camera, measure
from benchmarks.truth.camera import Shot
from benchmarks.truth.free import MARGIN, WIDTH, Scene
from benchmarks.truth.score import Score
from winnow.core.measure import subject_lock
from winnow.core.verdict.hints import light
from winnow.core.verdict.hints.kind import Looked

_EV: Final = (-2.0, -1.0, 1.0, 2.0)
_WITHIN_PX: Final = 8.0


def scores(scenes: Sequence[Scene]) -> Iterator[Score]:
    """Of every scene: frames of other exposures, and its part in frames that show it or do not."""
    exposed = {ev: Score(f"{ev:+.0f} EV told within 0.15 EV", "≥ .9") for ev in _EV}
    found = Score("part of the subject found by hand: sure", "≥ .95")
    right = Score("sure, and within 8 px", "≥ .98")
    missing = Score("sure though the subject is not there", "≤ .02")
    for n, (scene, other) in enumerate(pairwise([*scenes, scenes[0]])):
        name = scene.photograph.file
        seen = camera.blurred(scene.light, None)
        usual = [camera.frame(seen, Shot(seed=k)) for k in range(3)]
        for ev, score in exposed.items():
            told = _told([*usual, camera.frame(seen, Shot(ev=ev, seed=9))])
            score.add(name, abs(told - ev) <= 0.15)
        rng = np.random.default_rng(n)
        first = _gray(usual[0])
        for k in range(4):
            across, down = rng.uniform(-MARGIN + 8, MARGIN - 8, 2)
            shot = Shot(iso=800, ev=float(rng.uniform(-0.5, 0.5)), shift=(across, down), seed=k)
            # Found on smaller grey pictures, as a verdict finds it.
            scale = first.shape[1] / WIDTH
            at = (scene.x * scale, scene.y * scale)
            place = subject_lock.locate(first, at, _gray(camera.frame(seen, shot)))
            sure = place.confidence >= subject_lock.SURE
            found.add(name, sure)
            if sure:
                off = np.hypot(place.x / scale - scene.x + across, place.y / scale - scene.y + down)
                right.add(name, off <= _WITHIN_PX)
            elsewhere = camera.frame(camera.blurred(other.light, None), shot)
            place = subject_lock.locate(first, at, _gray(elsewhere))
            missing.add(name, place.confidence >= subject_lock.SURE)
    yield from exposed.values()
    yield from (found, right, missing)


def _told(frames: Sequence[bytes]) -> float:
    """How many EV the last of the frames is said to be brighter than the others."""
    exposures = [measure.seen(frame)[0].figures.exposure for frame in frames]
    group = [
        Looked(n, 0, brightness_ev=exposure.brightness_ev, levels=exposure.levels)
        for n, exposure in enumerate(exposures)
    ]
    return light.against_group(group)[len(frames) - 1]


def _gray(frame: bytes) -> subject_lock.Gray:
    gray = measure.seen(frame)[1].gray()
    assert gray is not None
    return gray
