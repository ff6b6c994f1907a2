"""How far frames of a draft are from each other in likeness, each against its neighbours in
time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.measure import likeness

# A second frame of a group must differ from those kept by this likeness distance: takes of one pose
# stay below.
DIFFERENT: Final = 0.06
# What is most like another is looked for among so many frames on either side.
_WINDOW: Final = 40


def to_followers(signatures: Sequence[bytes | None]) -> NDArray[np.float32]:
    """How far each frame is from those that follow it, 0…1, shape (window, n); infinite behind the
    last."""
    table = likeness.as_table(list(signatures))
    count = len(table)
    out = np.full((min(_WINDOW, max(0, count - 1)), count), np.inf, np.float32)
    for away in range(1, len(out) + 1):
        out[away - 1, : count - away] = known(likeness.distances(table[away:], table[:-away]))
    return out


def nearest(
    followers: NDArray[np.float32], kept: NDArray[np.bool_]
) -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    """For each frame the distance to the most similar other one that is kept, shape (n,), and which
    that is; infinite and -1 where there is none near."""
    count = len(kept)
    least = np.full(count, np.inf, np.float32)
    which = np.full(count, -1, np.int64)
    index = np.arange(count)
    for away, row in enumerate(followers, 1):
        for here, other in ((slice(None, -away), slice(away, None)), (slice(away, None), slice(None,
        -away))):  # fmt: skip
            apart = np.where(kept[other], row[: count - away], np.inf)
            closer = apart < least[here]
            which[here] = np.where(closer, index[other], which[here])
            least[here] = np.where(closer, apart, least[here])
    return least, which


def from_kept(those: Sequence[bytes | None], kept: Sequence[bytes | None]) -> NDArray[np.float32]:
    """How different each is from the nearest of those kept, 0…1."""
    table = likeness.as_table(list(those))
    held = likeness.as_table(list(kept))
    rows = [known(likeness.distances(held[k : k + 1], table)) for k in range(len(kept))]
    least: NDArray[np.float32] = np.stack(rows).min(0) if rows else np.ones(len(those), np.float32)
    return least


def known(apart: NDArray[np.float32]) -> NDArray[np.float32]:
    """Distances, where what isn't known counts as altogether different."""
    return np.where(np.isnan(apart), np.float32(1), apart)
