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


def threshold_for(looseness: float) -> float:
    """The likeness distance at which a slider from 0 (tighter) over 0.5 to 1 (looser) cuts groups."""
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

    ``times``: seconds, shape (n,), ascending. ``distances``: likeness distance of each frame to
    the one before it, 0…1, NaN where unknown, shape (n − 1,). ``upright``: taller than wide,
    shape (n,); an upright retake stays in its group only right after.

    The longer the pause, the more alike two frames must be: within a burst the threshold is
    raised, since a bracket or a gust changes much of the picture but not what it shows; from there
    it falls with the logarithm of the pause to half at the longest.
    """
    if len(times) == 0:
        return np.empty(0, np.bool_)
    pause = np.maximum(np.diff(times), 0)
    growth = np.log(np.maximum(pause, _BURST_PAUSE_S) / _BURST_PAUSE_S)
    share = growth / np.log(_LONGEST_PAUSE_S / _BURST_PAUSE_S)
    limit = threshold * np.where(pause <= _BURST_PAUSE_S, _BURST_RAISE, 1 - 0.5 * share)
    apart = np.where(np.isnan(distances), pause > _BURST_PAUSE_S, distances > limit)
    turned = upright[1:] != upright[:-1]
    # A turned camera changes the layout altogether: then only the pause speaks.
    apart = np.where(turned, pause > 4 * _BURST_PAUSE_S, apart)
    return np.asarray(apart | (pause > _LONGEST_PAUSE_S), np.bool_)
