"""Clocks of cameras that are apart: the offset that brings like frames of two cameras together."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure import likeness

# Takes of one thing by two cameras: not as near as two takes by one.
_ALIKE: Final = 0.3
_NEAR_S: Final = 15.0
_FEWEST: Final = 3
_MOST: Final = 400


@dataclass(frozen=True, slots=True)
class Offset:
    """Seconds to add to the second camera's clock, how many pairs of frames say so, and of how
    many."""

    seconds: float
    agree: int
    pairs: int


def suggested(
    times: NDArray[np.float64],
    signatures: list[bytes | None],
    other_times: NDArray[np.float64],
    other_signatures: list[bytes | None],
) -> Offset | None:
    """The offset of a second camera's clock from frames of both that show the same thing.

    Frames of either camera that are each other's most similar vote for the offset that would make
    them simultaneous; the densest 30 s of votes win, by their median. None where too few agree.
    Times in seconds, shapes (n,) and (m,); of long lists an even choice of 400 is compared.
    """
    first, second = _choice(len(times)), _choice(len(other_times))
    a = likeness.as_table([signatures[n] for n in first])
    b = likeness.as_table([other_signatures[n] for n in second])
    if not len(a) or not len(b):
        return None
    apart = np.stack([likeness.distances(row[None], b) for row in a])
    apart = np.where(np.isnan(apart), 1, apart)
    nearest, back = apart.argmin(1), apart.argmin(0)
    votes = [
        times[first[n]] - other_times[second[m]]
        for n, m in enumerate(nearest)
        if back[m] == n and apart[n, m] <= _ALIKE
    ]
    if len(votes) < _FEWEST:
        return None
    ordered = np.sort(np.array(votes))
    last = np.searchsorted(ordered, ordered + 2 * _NEAR_S, side="right")
    best = int((last - np.arange(len(ordered))).argmax())
    agreeing = ordered[best : last[best]]
    if len(agreeing) < max(_FEWEST, 0.3 * len(votes)):
        return None
    return Offset(float(np.median(agreeing)), len(agreeing), len(votes))


def _choice(length: int) -> NDArray[np.int64]:
    return np.unique(np.linspace(0, length - 1, min(length, _MOST)).astype(np.int64))
