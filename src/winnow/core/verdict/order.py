"""The order of frames by sharpness: who is clearly sharper at one place, and who can't be told apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from winnow.core.measure import focus_map, softness
from winnow.core.measure.focus_map import FocusMap

# Differences that nobody sees are ties: of blur in logarithms, and in px at 100 %.
TIE: Final = 0.06
TIE_PX: Final = 0.15


@dataclass(frozen=True, slots=True)
class Rank:
    """``blur``: px at 100 %, None where there is no edge; ``rank``: one more than are clearly sharper, of ``of`` frames, None
    where it can't be compared; ``tie``: not to be told from another."""

    blur: float | None = None
    rank: int | None = None
    of: int = 0
    tie: bool = False


def ranks(
    maps: Sequence[FocusMap], spots: Sequence[tuple[float, float]], radius: float
) -> list[Rank]:
    """The ranks of frames at a place of each, in px at 100 %; focus counts within ``radius`` px around it. Maps of
    different cells can't be compared."""
    if len({round(one.cell, 3) for one in maps}) > 1:
        return [Rank() for _ in maps]
    figures = [focus_map.figure_at(one, *at, radius) for one, at in zip(maps, spots, strict=True)]
    blurs = [figure.blur if figure else None for figure in figures]
    softer = softness.compared(list(maps), list(spots), radius) if maps else np.empty(0)
    known = [n for n, soft in enumerate(softer) if np.isfinite(soft)]

    def sharper(one: int, other: int) -> bool:
        first, second = blurs[one], blurs[other]
        seen = first is None or second is None or second - first > TIE_PX
        return bool(seen and softer[one] < softer[other] - TIE)

    def rank(n: int) -> Rank:
        if n not in known:
            return Rank(blurs[n])
        better = sum(sharper(one, n) for one in known)
        worse = sum(sharper(n, one) for one in known)
        return Rank(blurs[n], better + 1, len(known), better + worse + 1 < len(known))

    return [rank(n) for n in range(len(maps))]
