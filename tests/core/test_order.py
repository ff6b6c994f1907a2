"""Ranks by sharpness: a clearly softer frame comes after, what nobody can tell apart is tied."""

import numpy as np

from winnow.core.measure.focus_map import FocusMap
from winnow.core.verdict.order import Rank, ranks

MIDDLE = (480.0, 320.0)


def map_of(blur: float, seed: int = 1, cell: int = 16) -> FocusMap:
    rng = np.random.default_rng(seed)
    cells = (blur * rng.uniform(0.8, 1.25, (40, 60))).astype(np.float32)
    return FocusMap(cells, np.zeros(cells.shape, np.uint8), cell, 1)


def test_the_sharper_comes_first_and_equals_are_tied() -> None:
    found = ranks([map_of(1.0), map_of(1.0, 2), map_of(2.0, 3)], [MIDDLE] * 3, 200)
    assert [(one.rank, one.of, one.tie) for one in found] == [
        (1, 3, True),
        (1, 3, True),
        (3, 3, False),
    ]


def test_what_cannot_be_compared_has_no_rank() -> None:
    nothing = FocusMap(np.full((40, 60), np.nan, np.float32), np.zeros((40, 60), np.uint8), 16, 1)
    found = ranks([map_of(1.0), nothing, map_of(2.0)], [MIDDLE] * 3, 200)
    assert [one.rank for one in found] == [1, None, 2]
    assert ranks([map_of(1.0), map_of(1.0, cell=32)], [MIDDLE] * 2, 200) == [Rank(), Rank()]
    assert ranks([], [], 1) == []
