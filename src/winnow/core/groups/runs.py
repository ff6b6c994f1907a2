"""Groups: runs of neighbouring frames that show the same thing."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

# Found on made-up sequences: takes of one thing stay under 0.25, a change of subject is over 0.4.
DEFAULT_THRESHOLD: Final = 0.32
# Without a picture to compare, frames this close in time are taken for one burst.
_BURST_PAUSE_S: Final = 2.0
_BURST_RAISE: Final = 1.75
# After a pause this long even the same view is a new group.
_LONGEST_PAUSE_S: Final = 900.0
# A frame is compared with so many before it.
LOOKS_BACK: Final = 4
# Over frames in between: so much of the threshold, and so long a pause.
_OVER_OTHERS: Final = 0.85
_SOON_S: Final = 20.0


def threshold_for(looseness: float) -> float:
    """The likeness distance at which a slider from 0 (tighter) over 0.5 to 1 (looser) cuts
    groups."""
    return float(DEFAULT_THRESHOLD * 4.0 ** (2 * looseness - 1))


def group_numbers(
    times: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float = DEFAULT_THRESHOLD,
) -> NDArray[np.int32]:
    """Number the groups of frames that are in order: 0, 0, 1, …, shape (n,); see ``boundaries``."""
    if len(times) == 0:
        return np.empty(0, np.int32)
    apart = boundaries(times, distances, upright, threshold)
    return np.concatenate([[0], np.cumsum(apart)]).astype(np.int32)


def boundaries(
    times: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float = DEFAULT_THRESHOLD,
) -> NDArray[np.bool_]:
    """Whether a group ends between each frame and the next, shape (n − 1,).

    ``times``: seconds, shape (n,), ascending. ``distances``: likeness distance of each frame to the
    one before it, 0…1, NaN where unknown, shape (n − 1,); or to several before it, shape (n − 1,
    k), see ``likeness.distances_back``. ``upright``: taller than wide, shape (n,); an upright
    retake stays in its group only right after.

    The longer the pause, the more alike two frames must be: within a burst the threshold is
    raised, since a bracket or a gust changes much of the picture but not what it shows; from there
    it falls with the logarithm of the pause to half at the longest.
    """
    if len(times) < 2:
        return np.empty(0, np.bool_)
    back = distances.reshape(len(times) - 1, -1)
    near = _together(times, back[:, 0], upright, threshold, 1)
    apart = ~near
    # A damaged frame, one of the ground, or a blink of the light does not end what goes on behind
    # it; two that show the same are a group of their own.
    for away in range(2, back.shape[1] + 1):
        same = _together(times, back[away - 1 :, away - 1], upright, threshold, away)
        for inner in range(1, away - 1):
            same &= ~near[inner : inner + len(same)]
        for between in range(away):
            apart[between : between + len(same)] &= ~same
    return np.asarray(apart, np.bool_)


def _together(
    times: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float,
    away: int,
) -> NDArray[np.bool_]:
    """Whether each frame and the one so many before it show the same thing, shape (n − away,)."""
    pause = np.maximum(times[away:] - times[:-away], 0)
    growth = np.log(np.maximum(pause, _BURST_PAUSE_S) / _BURST_PAUSE_S)
    share = growth / np.log(_LONGEST_PAUSE_S / _BURST_PAUSE_S)
    near = 1 - 0.5 * share
    if away > 1:
        # Over others only what is clearly the same, and soon after.
        return np.asarray(
            (distances <= threshold * near * _OVER_OTHERS) & (pause <= _SOON_S), np.bool_
        )
    limit = threshold * np.where(pause <= _BURST_PAUSE_S, _BURST_RAISE, near)
    together = np.where(np.isnan(distances), pause <= _BURST_PAUSE_S, distances <= limit)
    turned = upright[1:] != upright[:-1]
    # A turned camera changes the layout altogether: then only the pause speaks.
    together = np.where(turned, pause <= 4 * _BURST_PAUSE_S, together)
    return np.asarray(together & (pause <= _LONGEST_PAUSE_S), np.bool_)
