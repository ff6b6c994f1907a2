"""How bright frames are against their group, and which of them are a series of exposures.

The level of a part of a picture that neither end clips tells the exposure; the mean of a picture
that is partly clipped tells too little of it. So the same shares of the pixels (see
``exposure.LEVELS``) are compared, those that are within the scale in both frames.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from math import log2
from typing import Final

import numpy as np

from winnow.core.measure.exposure import within_scale
from winnow.core.verdict.hints.kind import Looked

# A series: so many frames at least, each within so many seconds of the one before, at even steps.
_FEWEST: Final = 3
_MOST: Final = 7
_LONGEST_PAUSE_S: Final = 3.0
_LEAST_STEP_EV: Final = 0.3
_EVEN_EV: Final = 0.25


def against_group(group: Sequence[Looked]) -> dict[int, float]:
    """How many EV each frame is brighter than its group's median; darker is below zero.

    Those of which nothing is known are left out, and a frame alone.
    """
    known = [frame for frame in group if frame.brightness_ev is not None]
    if len(known) < 2:
        return {}
    levels = [frame.levels for frame in known]
    if any(level is None for level in levels):
        means = [frame.brightness_ev or 0.0 for frame in known]
        usual = float(np.median(means))
        return {frame.id: mean - usual for frame, mean in zip(known, means, strict=True)}
    table = np.array(levels, np.float64)
    # From the frame in the middle to each, by what both show within the scale; then their own
    # middle is nought.
    middle = int(np.argsort(table.mean(1), kind="stable")[len(known) // 2])
    both = within_scale(table) & within_scale(table[middle])
    away = np.array(
        [
            np.median((row - table[middle])[shared])
            if shared.any()
            else (row - table[middle]).mean()
            for row, shared in zip(table, both, strict=True)
        ]
    )
    away -= np.median(away)
    return {frame.id: float(ev) for frame, ev in zip(known, away, strict=True)}


def series(group: Sequence[Looked]) -> Mapping[int, float]:
    """The frames of series of exposures, by the steps in EV from the one in the middle.

    The group is in the order of time. Common practice: three, five or seven frames one after the
    other, which the camera exposes in even steps.
    """
    ev_of: dict[int, float] = {}
    settings = [_exposed(frame) for frame in group]
    first = 0
    while first <= len(group) - _FEWEST:
        for number in (n for n in range(_MOST, _FEWEST - 1, -2) if first + n <= len(group)):
            steps = _steps(group[first : first + number], settings[first : first + number])
            if steps is not None:
                ev_of |= {frame.id: ev for frame, ev in zip(group[first:], steps, strict=False)}
                first += number - 1
                break
        first += 1
    return ev_of


def _exposed(frame: Looked) -> float | None:
    """How much its settings let in, EV against f/1, 1 s and ISO 100."""
    if not frame.shutter_s or not frame.aperture or not frame.iso:
        return None
    return log2(frame.shutter_s * frame.iso / 100 / frame.aperture**2)


def _steps(frames: Sequence[Looked], settings: Sequence[float | None]) -> list[float] | None:
    """EV of each from the middle one, if these are one series."""
    values = [value for value in settings if value is not None]
    times = [frame.taken_at for frame in frames if frame.taken_at is not None]
    if len(values) < len(frames) or len(times) < len(frames):
        return None
    if len({frame.camera for frame in frames}) > 1:
        return None
    if any(after - before > _LONGEST_PAUSE_S for before, after in pairwise(times)):
        return None
    ordered = sorted(values)
    steps = [high - low for low, high in pairwise(ordered)]
    if min(steps) < _LEAST_STEP_EV or max(steps) - min(steps) > _EVEN_EV:
        return None
    middle = ordered[len(ordered) // 2]
    return [value - middle for value in values]
