"""Groups with a subject before a background: which frame is soft, which is focused elsewhere, which
is shaken, and which is best."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, Literal

import cv2
import numpy as np

from benchmarks.truth import camera, measure
from benchmarks.truth.camera import Kernel, Shot
from benchmarks.truth.free import HEIGHT, MARGIN, WIDTH, Light, Scene
from benchmarks.truth.score import Score
from winnow.core.verdict import hints, judge
from winnow.core.verdict.hints import KINDS, Looked

Fault = Literal["", "soft", "elsewhere", "shaken"]

_SUBJECT: Final = 150.0  # px, its radius
_SHARP: Final = 0.5  # px, Gaussian, beside that of the lens
_FAR: Final = 3.5  # px: how soft what is not in focus is

# How a frame is to be: blur of the subject and of the background, px, and the fault.
Wanted = tuple[float, float, Fault]

_GOOD: Final[Wanted] = (_SHARP, _FAR, "")
_SOFT: Final[Wanted] = (2.0, _FAR + 1, "soft")
_MISSED: Final[Wanted] = (_FAR, _SHARP, "elsewhere")


@dataclass(frozen=True, slots=True)
class Taken:
    """One frame of a burst. ``blur``: of the subject, px as a Gaussian."""

    frame: bytes
    blur: float
    fault: Fault


@dataclass(frozen=True, slots=True)
class Burst:
    """``point``: where the camera focused, 0…1, in each frame."""

    name: str
    frames: Sequence[Taken]
    point: tuple[float, float]


def scores(scenes: Sequence[Scene]) -> Iterator[Score]:
    """Of bursts of every scene as the subject before the next one."""
    mixed = {True: _Mixed("focus point known"), False: _Mixed("not known")}
    even = {True: _Even("focus point known"), False: _Even("not known")}
    alone = Score("shaken alone: named motion", "≥ .40")
    for n, (front, back) in enumerate(pairwise([*scenes, scenes[0]])):
        name = front.photograph.file
        for burst in _mixed(front, back, n):
            for told, counts in mixed.items():
                counts.add(burst, _named(burst, told))
        one, eight = (
            _burst(front, back, n, wanted) for wanted in ([_GOOD, *[_SOFT] * 5], [_GOOD] * 8)
        )
        for told, single in even.items():
            single.add(name, _named(one, told), _named(eight, told))
        for length in (6, 12, 20):
            lonely = _burst(front, back, n + length, [(length, length, "shaken")])
            alone.add(name, "motion" in _named(lonely, told=False)[0])
    for told in (True, False):
        yield from mixed[told].all()
        yield from even[told].all()
    yield alone


class _Mixed:
    """What is counted of bursts with a few faults each."""

    def __init__(self, where: str) -> None:
        self._precision = Score(f"soft or elsewhere, {where}: precision", "≥ .95")
        self._recall = Score(f"soft or elsewhere, {where}: recall", "≥ .93")
        self._falsely = Score(f"sharp, {where}, called focus elsewhere", "0")
        self._best = Score(f"the best, {where}, is within 15 % of the sharpest", "≥ .95")
        self._motion = Score(f"named motion, {where}: was shaken", "≥ .95")
        self._shaken = Score(f"shaken by 3 to 14 px, {where}: named motion", "≥ .60")

    def add(self, burst: Burst, named: Sequence[set[str]]) -> None:
        """Count a burst whose frames are ``named`` so."""
        sharpest = min(frame.blur for frame in burst.frames)
        for taken, kinds in zip(burst.frames, named, strict=True):
            said = bool({"soft", "elsewhere"} & kinds)
            if said:
                self._precision.add(burst.name, taken.fault != "")
            if taken.fault in ("soft", "elsewhere"):
                self._recall.add(burst.name, said)
            if not taken.fault:
                self._falsely.add(burst.name, "elsewhere" in kinds)
            if "best" in kinds:
                self._best.add(burst.name, _whole(taken.blur) <= 1.15 * _whole(sharpest))
            if "motion" in kinds:
                self._motion.add(burst.name, taken.fault == "shaken")
            if taken.fault == "shaken":
                self._shaken.add(burst.name, "motion" in kinds)

    def all(self) -> tuple[Score, ...]:
        """Every count."""
        return (
            self._precision, self._recall, self._falsely, self._best, self._motion, self._shaken
        )  # fmt: skip


class _Even:
    """What is counted where one is sharp, and where all are."""

    def __init__(self, where: str) -> None:
        self._best = Score(f"one sharp of six, {where}: it is best")
        self._others = Score(f"one sharp of six, {where}: the others are named soft", "≥ .85")
        self._alike = Score(f"false alarms in eight equally sharp, {where}", "≤ .02")

    def add(self, name: str, one: Sequence[set[str]], eight: Sequence[set[str]]) -> None:
        """Count a burst whose first frame alone is sharp, and one in which all are."""
        self._best.add(name, "best" in one[0])
        for kinds in one[1:]:
            self._others.add(name, "soft" in kinds)
        for kinds in eight:
            self._alike.add(name, bool({"soft", "elsewhere", "motion"} & kinds))

    def all(self) -> tuple[Score, ...]:
        """Every count."""
        return self._best, self._others, self._alike


def _whole(blur: float) -> float:
    """With the camera's own blur, px."""
    return float(np.hypot(blur, camera.OWN))


def _mixed(front: Scene, back: Scene, n: int) -> Iterator[Burst]:
    """Bursts with a few faults each."""
    some: Wanted = (3, 3, "shaken")
    more: Wanted = (8, 8, "shaken")
    yield _burst(front, back, n, [_GOOD, _SOFT, _GOOD, _MISSED, _GOOD, _GOOD])
    yield _burst(front, back, n + 50, [_MISSED, _GOOD, some, _GOOD, more])
    yield _burst(
        front, back, n + 90, [_GOOD, (5, 5, "shaken"), _GOOD, _GOOD, (14, 14, "shaken"), _MISSED]
    )


def _burst(front: Scene, back: Scene, seed: int, wanted: Sequence[Wanted]) -> Burst:
    """Frames by hand; those that are shaken by a length in px."""
    rng = np.random.default_rng(seed)
    x, y = WIDTH * rng.uniform(0.35, 0.65), HEIGHT * rng.uniform(0.4, 0.6)
    frames = []
    for n, (subject, background, fault) in enumerate(wanted):
        if fault == "shaken":
            path = camera.shake(subject, float(rng.uniform(0, 120)), rng)
            light = _laid(front, back, x, y, camera.gaussian(_SHARP), camera.gaussian(_FAR))
            light = cv2.filter2D(light, -1, path, borderType=cv2.BORDER_REFLECT)
            # An even motion over L px has the deviation L / √12.
            blur = float(np.hypot(_SHARP, subject / np.sqrt(12)))
        else:
            light = _laid(front, back, x, y, _kernel(subject), _kernel(background))
            blur = subject
        shift = rng.uniform(-6, 6, 2)
        shot = Shot(iso=int(rng.choice([200, 400, 800])), shift=(shift[0], shift[1]), seed=seed + n)
        frames.append(Taken(camera.frame(light, shot), blur, fault))
    return Burst(front.photograph.file, frames, (x / WIDTH, y / HEIGHT))


def _kernel(sigma: float) -> Kernel:
    """In focus a Gaussian; out of it the disc of a lens."""
    return camera.gaussian(sigma) if sigma < 1 else camera.disc(4 * sigma)


def _laid(front: Scene, back: Scene, x: float, y: float, near: Kernel, far: Kernel) -> Light:
    """A round cut of one scene where it shows most, before another."""
    height, width = front.light.shape[:2]
    at = (front.x + MARGIN, front.y + MARGIN)
    to = (x + MARGIN, y + MARGIN)
    turn = np.array([[1, 0, to[0] - at[0]], [0, 1, to[1] - at[1]]], np.float32)
    subject = cv2.warpAffine(
        front.light, turn, (width, height), flags=cv2.INTER_NEAREST, borderMode=cv2.BORDER_REFLECT
    )
    yy, xx = np.mgrid[0:height, 0:width].astype(np.float32)
    mask = np.clip(_SUBJECT + 0.5 - np.hypot(xx - to[0], yy - to[1]), 0, 1)
    return camera.over(camera.blurred(back.light, far), camera.blurred(subject, near), mask, near)


def _named(burst: Burst, told: bool) -> list[set[str]]:
    """The kinds of hint that name each frame, and "best" for what is best of its group."""
    looks = [measure.seen(frame.frame, burst.point if told else None) for frame in burst.frames]
    judged = judge.judge([seen for _, seen in looks])
    group = [
        Looked(
            n, 0, str(n), verdict, [], 0,
            brightness_ev=look.figures.exposure.brightness_ev,
            levels=look.figures.exposure.levels,
            ratio=WIDTH / HEIGHT,
        )
        for n, ((look, _), verdict) in enumerate(zip(looks, judged, strict=True))
    ]  # fmt: skip
    noticed = hints.notice(group, {})
    kinds: list[set[str]] = [set() for _ in group]
    for kind, listed in noticed.items():
        for notice in listed:
            if KINDS[kind].names(notice.figure, KINDS[kind].limit.usual):
                kinds[notice.frame].add(kind)
    for verdict in hints.verdicts(group, {}):
        if verdict.best:
            kinds[verdict.frame].add("best")
    return kinds
