"""How sharp frames are against each other: figures and order agree, and what nobody can tell apart
is tied."""

import numpy as np
import pytest

from winnow.core.measure.focus_map import FocusMap
from winnow.core.verdict.order import Standing, compared, standings

MIDDLE = (480.0, 320.0)
NOTHING = FocusMap(np.full((40, 60), np.nan, np.float32), np.zeros((40, 60), np.uint8), 16, 1)


def map_of(blur: float, seed: int = 1, cell: int = 16) -> FocusMap:
    rng = np.random.default_rng(seed)
    cells = (blur * rng.uniform(0.8, 1.25, (40, 60))).astype(np.float32)
    return FocusMap(cells, np.zeros(cells.shape, np.uint8), cell, 1)


def test_the_sharper_comes_first_and_equals_are_tied() -> None:
    found = compared([map_of(1.0), map_of(1.0, 2), map_of(2.0, 3)], [MIDDLE] * 3, 200)
    assert [(standing.state, standing.tied) for standing in found] == [
        ("tied", 1),
        ("tied", 1),
        ("softer", 0),
    ]
    assert [standing.words for standing in found[1:]] == [
        "as sharp as 1 other",
        "softer than the best (2.0×)",
    ]
    assert [standing.short for standing in found[1:]] == ["sharp", "2.0×"]


def test_without_an_edge_there_is_no_figure() -> None:
    found = compared([map_of(1.0), NOTHING, map_of(2.0)], [MIDDLE] * 3, 200)
    assert [standing.state for standing in found] == ["sharpest", "no edge", "softer"]
    assert found[1].blur is None
    assert found[1].words == "no edge to measure: very soft, shaken or dark"


def test_a_few_thin_edges_in_a_smear_are_no_small_figure() -> None:
    # Alone it reads as the sharpest; its edges, each compared with itself, are softer, or gone.
    found = standings([0.2, 0.9, 1.0], [float("inf"), 0.0, 0.02])
    assert (found[0].blur, found[0].state) == (None, "no edge")
    softer = standings([0.2, 0.9, 1.0], [1.0, 0.0, 0.02])
    assert softer[0].blur == pytest.approx(0.94 * np.e, rel=0.02)
    assert (softer[0].state, round(softer[0].times, 1)) == ("softer", 2.7)


def test_the_order_by_figures_is_the_order_by_standing() -> None:
    rng = np.random.default_rng(4)
    for _ in range(200):
        softer = np.abs(rng.normal(0, 0.5, 6))
        softer -= softer.min()
        found = standings((rng.uniform(0.3, 3) * rng.uniform(0.5, 2, 6)).tolist(), softer.tolist())
        blurs = [standing.blur or 0.0 for standing in found]
        assert np.array_equal(np.argsort(blurs), np.argsort(softer))
        top = [standing for standing in found if standing.state in ("sharpest", "tied")]
        assert {standing.tied for standing in top} == {len(top) - 1}
        assert max(standing.blur or 0.0 for standing in top) <= min(
            (standing.blur or 0.0 for standing in found if standing.state == "softer"),
            default=np.inf,
        )


def test_what_cannot_be_compared_has_its_own_figure_and_no_standing() -> None:
    found = compared([map_of(1.0), map_of(1.0, cell=32)], [MIDDLE] * 2, 200)
    assert [standing.state for standing in found] == ["", ""]
    assert all(standing.blur and standing.words == "" for standing in found)
    assert compared([NOTHING], [MIDDLE], 200) == [Standing(None, "no edge")]
    assert compared([], [], 1) == []
    assert standings([None, 1.0], [None, None]) == [Standing(None, "no edge"), Standing(1.0)]
