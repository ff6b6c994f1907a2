"""Sequences of twelve kinds, and how well they fall into groups at the slider's standard place.

Frames are small, as the pictures are from which likeness is told.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Final

import cv2
import numpy as np
from numpy.typing import NDArray

from benchmarks.truth.free import Light, Scene
from benchmarks.truth.score import Score
from winnow.core.groups import runs
from winnow.core.measure import likeness
from winnow.demo.scores import b_cubed_f1

_SIZE: Final = (312, 208)
_ROUNDS: Final = 6


@dataclass(frozen=True, slots=True)
class View:
    """What a camera sees of a scene.

    ``left``, ``top``: of the view, 0…1 of what the scene has around it; ``zoom``: 1 shows half of
    the scene's sides; ``subject``: another scene, of which a round part stands at ``at``, 0…1 of
    the view.
    """

    scene: Scene
    left: float = 0.5
    top: float = 0.5
    zoom: float = 1.0
    ev: float = 0.0
    upright: bool = False
    subject: Scene | None = None
    at: tuple[float, float] = (0.5, 0.55)


@dataclass(frozen=True, slots=True)
class Frame:
    """``group``: the true one; ``at``: s of one clock."""

    view: View
    group: int
    at: float
    camera: int = 0


Maker = Callable[[Sequence[Scene], np.random.Generator], Iterator[Frame]]


def scores(scenes: Sequence[Scene]) -> Iterator[Score]:
    """B-cubed F1 of every kind, and of all kinds but a speech and a zoom."""
    every = Score("groups, all kinds but a speech and a zoom: B-cubed F1", "≥ .95")
    listed = []
    for kind, make in KINDS.items():
        score = Score(f"groups, {kind}: B-cubed F1")
        for n in range(_ROUNDS):
            rng = np.random.default_rng(n)
            order = [scenes[k] for k in rng.permutation(len(scenes))]
            frames = list(make(order, rng))
            if n % 2:
                # Many cameras state whole seconds only.
                frames = [replace(shot, at=float(int(shot.at))) for shot in frames]
            value = _f1(frames, rng)
            score.add(n, value)
            if kind not in ("a speech", "a zoom"):
                every.add((kind, n), value)
        listed.append(score)
    yield from listed
    yield every


def _f1(frames: Sequence[Frame], rng: np.random.Generator) -> float:
    signatures: list[bytes | None] = [
        likeness.signature(_picture(shot.view, rng)) for shot in frames
    ]
    ours = runs.group_numbers(
        np.array([shot.at for shot in frames]),
        likeness.distances_back(likeness.as_table(signatures), runs.LOOKS_BACK),
        np.array([shot.view.upright for shot in frames]),
        cameras=np.array([shot.camera for shot in frames], np.int32),
    )
    return b_cubed_f1(ours, np.array([shot.group for shot in frames]))


def _picture(view: View, rng: np.random.Generator) -> NDArray[np.uint8]:
    """The 8-bit picture of a view, with some noise."""
    width, height = _SIZE[::-1] if view.upright else _SIZE
    light = _cut(view.scene.light, view.left, view.top, view.zoom, width / height)
    seen = cv2.resize(light, (width, height), interpolation=cv2.INTER_AREA)
    if view.subject is not None:
        subject = cv2.resize(view.subject.light, (width, height), interpolation=cv2.INTER_AREA)
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        away = np.hypot((x - view.at[0] * width) / 0.7, (y - view.at[1] * height)) / (
            0.34 * height * view.zoom
        )
        mask = np.clip((1 - away) * 20, 0, 1)[..., None]
        seen = subject * mask + seen * (1 - mask)
    seen = np.clip(seen * 2**view.ev, 0, 1)
    tone = 255 * seen ** (1 / 2.2) + rng.normal(0, 3, seen.shape)
    out: NDArray[np.uint8] = np.clip(tone, 0, 255).astype(np.uint8)
    return out


def _cut(light: Light, left: float, top: float, zoom: float, ratio: float) -> Light:
    """A part of a scene of a proportion."""
    height, width = light.shape[:2]
    h = min(height, width / ratio) * 0.55 / zoom
    w = h * ratio
    x = float(np.clip(left, 0, 1)) * (width - w)
    y = float(np.clip(top, 0, 1)) * (height - h)
    return light[round(y) : round(y + h), round(x) : round(x + w)]


def _near(view: View, rng: np.random.Generator, by: float) -> View:
    """The same view by hand: moved by up to a share of what is around it."""
    return View(
        view.scene,
        view.left + rng.uniform(-by, by),
        view.top + rng.uniform(-by, by),
        view.zoom * rng.uniform(1 - by / 2, 1 + by / 2),
        view.ev + rng.uniform(-0.1, 0.1),
        view.upright,
        view.subject,
        (view.at[0] + rng.uniform(-by, by) / 2, view.at[1] + rng.uniform(-by, by) / 2),
    )


def _bursts(
    by: float, pause: tuple[float, float], between: tuple[float, float], number: tuple[int, int]
) -> Maker:
    """Several frames of each scene; ``pause`` and ``between`` scenes in s."""

    def make(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
        at = 0.0
        for group, scene in enumerate(scenes[:7]):
            view = View(scene, rng.uniform(0.3, 0.7), rng.uniform(0.3, 0.7))
            for _ in range(rng.integers(*number)):
                yield Frame(_near(view, rng, by), group, at)
                at += rng.uniform(*pause)
            at += rng.uniform(*between)

    return make


def _walk(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """Every frame shows something else."""
    at = 0.0
    for group, scene in enumerate(scenes[:10]):
        yield Frame(View(scene, rng.uniform(0, 1), rng.uniform(0, 1)), group, at)
        at += rng.uniform(4, 40)


def _brackets(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    at = 0.0
    for group, scene in enumerate(scenes[:7]):
        for ev in (0, -2, 2):
            yield Frame(View(scene, ev=ev), group, at)
            at += 0.4
        at += rng.uniform(8, 30)


def _sport(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """Somebody runs across one ground; the camera follows, with the subject now and then off."""
    at = 0.0
    ground = scenes[0]
    for group, runner in enumerate(scenes[1:7]):
        left = rng.uniform(0, 0.3)
        for _ in range(rng.integers(5, 10)):
            place = (rng.uniform(0.35, 0.65), rng.uniform(0.5, 0.6))
            yield Frame(View(ground, left, 0.6, 1.2, subject=runner, at=place), group, at)
            left += rng.uniform(0.05, 0.12)
            at += 0.15
        at += rng.uniform(6, 25)


def _panning(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """The camera follows along a scene."""
    at = 0.0
    for group, scene in enumerate(scenes[:6]):
        for n in range(6):
            yield Frame(View(scene, n * 0.17, 0.5, 1.4), group, at)
            at += 0.25
        at += rng.uniform(8, 30)


def _two_cameras(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """Two people at one event, from two sides: what they take in one minute is one group."""
    at = 0.0
    for group, (first, second) in enumerate(zip(scenes[:8:2], scenes[1:8:2], strict=False)):
        views = (View(first), View(second))
        for n in range(8):
            camera = int((n + rng.integers(0, 2)) % 2)
            yield Frame(_near(views[camera], rng, 0.08), group, at, camera)
            at += rng.uniform(0.5, 3)
        at += rng.uniform(20, 60)


def _odd(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """In the middle of a burst the flash does not fire, or the camera sees the ground."""
    at = 0.0
    for group, scene in enumerate(scenes[:6]):
        view = View(scene, rng.uniform(0.3, 0.7), rng.uniform(0.3, 0.7))
        number = int(rng.integers(5, 8))
        for n in range(number):
            other = View(scenes[-1]) if group % 2 else View(scene, view.left, view.top, ev=-5)
            yield Frame(other if n == number // 2 else _near(view, rng, 0.06), group, at)
            at += rng.uniform(0.4, 1.5)
        at += rng.uniform(15, 60)


def _station(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """One person after the other before one background."""
    at = 0.0
    back = scenes[0]
    for group, person in enumerate(scenes[1:8]):
        view = View(back, subject=person)
        for _ in range(rng.integers(3, 6)):
            yield Frame(_near(view, rng, 0.05), group, at)
            at += rng.uniform(1, 4)
        at += rng.uniform(10, 30)


def _turned(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    """Across, then upright, of the same thing."""
    at = 0.0
    for group, scene in enumerate(scenes[:7]):
        for n in range(4):
            yield Frame(_near(View(scene, upright=n > 1), rng, 0.05), group, at)
            at += rng.uniform(1, 5)
        at += rng.uniform(15, 60)


def _zoom(scenes: Sequence[Scene], rng: np.random.Generator) -> Iterator[Frame]:
    at = 0.0
    for group, scene in enumerate(scenes[:6]):
        for n in range(5):
            yield Frame(View(scene, zoom=1.3**n), group, at)
            at += rng.uniform(0.5, 2)
        at += rng.uniform(15, 60)


KINDS: Final[dict[str, Maker]] = {
    "a burst on a tripod": _bursts(0.01, (0.2, 0.5), (5, 40), (4, 12)),
    "by hand": _bursts(0.08, (1, 8), (10, 60), (2, 7)),
    "a speech": _bursts(0.06, (15, 60), (60, 200), (4, 9)),
    "a walk": _walk,
    "brackets": _brackets,
    "sport": _sport,
    "panning": _panning,
    "two cameras": _two_cameras,
    "one odd frame": _odd,
    "a portrait station": _station,
    "camera turned": _turned,
    "a zoom": _zoom,
}
