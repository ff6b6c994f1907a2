"""Groups: runs of neighbouring frames that show the same thing."""

from __future__ import annotations

from typing import Final

import numpy as np
from numpy.typing import NDArray

# Found on the demo and the tuned part of benchmarks/truth.
DEFAULT_THRESHOLD: Final = 0.36
# The shutter was held down: whatever the picture shows, nobody turned to something else meanwhile.
_HELD_S: Final = 0.5
_MANY_A_SECOND: Final = 3
# Without a picture to compare, frames this close in time are taken for one burst.
_BURST_PAUSE_S: Final = 2.0
BURST_RAISE: Final = 1.75
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
    cameras: NDArray[np.int32] | None = None,
) -> NDArray[np.int32]:
    """Number the groups of frames that are in order: 0, 0, 1, …, shape (n,); see ``boundaries``."""
    if len(times) == 0:
        return np.empty(0, np.int32)
    apart = boundaries(times, distances, upright, threshold, cameras)
    return np.concatenate([[0], np.cumsum(apart)]).astype(np.int32)


def boundaries(
    times: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float = DEFAULT_THRESHOLD,
    cameras: NDArray[np.int32] | None = None,
) -> NDArray[np.bool_]:
    """Whether a group ends between each frame and the next, shape (n − 1,).

    ``times``: seconds, shape (n,), ascending. ``distances``: likeness distance of each frame to the
    one before it, 0…1, NaN where unknown, shape (n − 1,); or to several before it, shape (n − 1,
    k), see ``likeness.distances_back``. ``upright``: taller than wide, shape (n,); an upright
    retake stays in its group only right after. ``cameras``: a number for each camera, shape (n,),
    negative where the time is not the camera's; None: there is one.

    The longer the pause, the more alike two frames must be: within a burst the threshold is
    raised, since a bracket or a gust changes much of the picture but not what it shows; from there
    it falls with the logarithm of the pause to half at the longest. While one camera's shutter is
    held down, one group goes on. Where cameras take turns, each frame is compared with the one
    before it of its own camera, and what lies between them belongs to them.
    """
    if len(times) < 2:
        return np.empty(0, np.bool_)
    if cameras is None:
        cameras = np.zeros(len(times), np.int32)
    back = distances.reshape(len(times) - 1, -1)
    pause = np.maximum(times[1:] - times[:-1], 0)
    near = _together(pause, back[:, 0], upright, threshold) | _held(times, cameras)
    apart = ~near
    # A damaged frame, one of the ground, or a blink of the light does not end what goes on behind
    # it; two that show the same are a group of their own.
    for away in range(2, min(back.shape[1], len(times) - 1) + 1):
        pause = np.maximum(times[away:] - times[:-away], 0)
        apart_by = back[away - 1 :, away - 1]
        others = _over_others(pause, apart_by, threshold)
        turns = _together(pause, apart_by, upright, threshold, away) & (pause <= _SOON_S)
        turns &= cameras[away:] == cameras[:-away]
        for inner in range(1, away):
            turns &= cameras[inner : inner + len(turns)] != cameras[away:]
        for inner in range(1, away - 1):
            others &= ~near[inner : inner + len(others)]
        for between in range(away):
            apart[between : between + len(others)] &= ~(others | turns)
    return np.asarray(apart, np.bool_)


def _held(times: NDArray[np.float64], cameras: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Whether the shutter was held down from each frame to the next, shape (n − 1,).

    A camera that states whole seconds says so by how many frames it has in a second: at three and
    more, the next second's first one follows at once.
    """
    same = (cameras[1:] == cameras[:-1]) & (cameras[1:] >= 0)
    pause = times[1:] - times[:-1]
    parts = np.zeros(max(0, int(cameras.max())) + 1, np.bool_)
    np.logical_or.at(parts, cameras[cameras >= 0], (times % 1 != 0)[cameras >= 0])
    seconds = times.astype(np.int64) * (len(parts) + 1) + np.maximum(cameras, -1)
    _, which, counts = np.unique(seconds, return_inverse=True, return_counts=True)
    many = counts[which] >= _MANY_A_SECOND
    follows = (pause == 1) & (many[1:] | many[:-1]) & ~parts[np.maximum(cameras[1:], 0)]
    return np.asarray(same & ((pause <= _HELD_S) | follows), np.bool_)


def _falling(pause: NDArray[np.float64]) -> NDArray[np.float64]:
    """What the threshold is multiplied by after a pause."""
    growth = np.log(np.maximum(pause, _BURST_PAUSE_S) / _BURST_PAUSE_S)
    return np.asarray(1 - 0.5 * growth / np.log(_LONGEST_PAUSE_S / _BURST_PAUSE_S), np.float64)


def _together(
    pause: NDArray[np.float64],
    distances: NDArray[np.float32],
    upright: NDArray[np.bool_],
    threshold: float,
    away: int = 1,
) -> NDArray[np.bool_]:
    """Whether each frame and the one so many before it show the same thing, shape (n − away,)."""
    limit = threshold * np.where(pause <= _BURST_PAUSE_S, BURST_RAISE, _falling(pause))
    together = np.where(np.isnan(distances), pause <= _BURST_PAUSE_S, distances <= limit)
    turned = upright[away:] != upright[:-away]
    # A turned camera changes the layout altogether: then only the pause speaks.
    together = np.where(turned, pause <= 4 * _BURST_PAUSE_S, together)
    return np.asarray(together & (pause <= _LONGEST_PAUSE_S), np.bool_)


def _over_others(
    pause: NDArray[np.float64], distances: NDArray[np.float32], threshold: float
) -> NDArray[np.bool_]:
    """The same over frames in between: only what is clearly the same, and soon after."""
    alike = distances <= threshold * _falling(pause) * _OVER_OTHERS
    return np.asarray(alike & (pause <= _SOON_S), np.bool_)
