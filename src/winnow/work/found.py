"""What was answered last to who asked which frames pass a filter: the next answer says only what is
different. Of 50,000 frames that pass, a mark changes one or none."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from blake3 import blake3
from cachetools import LRUCache
from numpy.typing import NDArray

# Windows that ask, and filters that they change between.
_KNOWN: Final = 32
# Where more than so much of it is different, the whole answer is as short.
_MOST_DIFFERENT: Final = 0.5


@dataclass(frozen=True, slots=True)
class Difference:
    """What came to a list of frames and what went from it, by ids, each in order."""

    came: list[int]
    gone: list[int]


class Answers:
    """Lists of frames that were answered, by names that their content gives them."""

    def __init__(self) -> None:
        self._known: LRUCache[tuple[int, str], NDArray[np.int64]] = LRUCache(_KNOWN)
        self._lock = threading.Lock()

    def said(
        self, shoot_id: int, ids: Sequence[int], since: str = ""
    ) -> tuple[str, Difference | None]:
        """Keep a list of a shoot; returns its name, and what is different to the one
        named ``since``.

        That is None where this one isn't known any more, too much is different, or what stayed is
        in another order.
        """
        now = np.array(ids, np.int64)
        name = blake3(now.tobytes()).hexdigest(8)
        with self._lock:
            before = self._known.get((shoot_id, since))
            self._known[shoot_id, name] = now
        if before is None:
            return name, None
        new = ~np.isin(now, before, assume_unique=True)
        lost = ~np.isin(before, now, assume_unique=True)
        if not np.array_equal(now[~new], before[~lost]):
            return name, None
        came, gone = now[new], before[lost]
        if len(came) + len(gone) > _MOST_DIFFERENT * len(now):
            return name, None
        return name, Difference(came.tolist(), gone.tolist())
