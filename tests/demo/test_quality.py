"""Winnow's figures against what is true of the demo, or of a few of its groups; they are made for
it, in two processes."""

from pathlib import Path

import numpy as np
import pytest

from tests import soak
from winnow.core.measure import focus_map, softness
from winnow.core.measure.focus_map import FocusMap
from winnow.demo import quality, scores

# Every eighth group from the second on has focus misses, shakes, motion, faces and closed eyes
# among them.
EVERY = 8


@pytest.mark.soak
@pytest.mark.demo
def test_groups_soft_frames_faces_and_hints_are_found(tmp_path: Path) -> None:
    every = max(1, EVERY // soak.rounds(1))
    found = quality.measure(tmp_path / "evening", every)
    # Among few frames a single one is a tenth.
    slack = 0 if every == 1 else 0.1
    assert found.best_right >= 0.97 - slack
    assert found.drafted_right >= 0.97 - slack
    assert found.pair_f1 >= 0.95 - slack
    assert found.b_cubed_f1 >= 0.95 - slack
    # By the map alone: frames at the very threshold are called soft under one noise, not another.
    assert found.soft_precision >= 0.92 - slack
    assert found.soft_recall >= 0.95 - slack
    assert found.lock_found >= 0.95 - slack
    assert found.lock_within_8_px >= 0.95 - slack
    assert found.lock_median_px <= 1
    assert found.face_precision >= 0.95 - slack
    assert found.face_recall >= 0.95 - slack
    assert found.closed_precision >= 0.95 - slack
    assert found.closed_recall >= 0.95 - slack
    assert found.half_precision >= 0.9 - 3 * slack
    assert found.half_recall >= 0.9 - slack
    # Of few faces that look past the camera, one or two are missed.
    assert found.away_precision >= 0.9 - slack
    assert found.away_recall >= 0.7 - 3 * slack
    assert found.speech_precision >= 0.9 - slack
    assert found.speech_recall >= 0.9 - slack
    assert found.head_off_deg <= 3
    if not slack:  # in few groups nobody is turned
        assert found.turned_precision >= 0.9
        assert found.turned_recall >= 0.9
    assert found.people_b_cubed >= 0.97 - slack
    assert found.people_told >= 0.9 - slack
    assert found.hint_precision >= 0.95 - slack
    assert found.hint_recall >= 0.95 - slack
    # A subject that moves before a still background: by the camera's focus point alone.
    assert found.moved_recall >= 0.9 - slack
    assert found.motion_precision >= 0.95 - slack
    assert found.elsewhere_precision >= 0.95 - slack
    assert found.motion_off_deg <= 9 + 30 * slack
    assert found.motion_off_length <= 0.2 + slack
    assert found.untold_precision >= 0.9 - slack
    assert found.untold_recall >= 0.95 - slack


def test_scores_of_groupings() -> None:
    """By hand: of six frames in 3 + 3, one moved over (Bagga and Baldwin 1998 for B-cubed)."""
    true, ours = np.array([0, 0, 0, 1, 1, 1]), np.array([0, 0, 1, 1, 1, 1])
    assert scores.pairwise_f1(true, true) == 1
    assert scores.pairwise_f1(ours, true) == pytest.approx(2 * 4 / (7 + 6))
    precision = (1 + 1 + 1 / 4 + 3 * 3 / 4) / 6
    recall = (2 / 3 + 2 / 3 + 1 / 3 + 3) / 6
    f1 = 2 * precision * recall / (precision + recall)
    assert scores.b_cubed_f1(ours, true) == pytest.approx(f1)


def map_of(blur: float, seed: int = 1) -> FocusMap:
    rng = np.random.default_rng(seed)
    cells = (blur * rng.uniform(0.7, 1.4, (40, 60))).astype(np.float32)
    cells[rng.random(cells.shape) < 0.4] = np.nan
    return FocusMap(cells, np.zeros(cells.shape, np.uint8), 16, 1)


def test_softness_is_against_the_sharpest_of_the_group() -> None:
    maps = [map_of(blur, seed) for seed, blur in enumerate((0.8, 0.8, 0.8, 1.6, 0.8))]
    found = softness.compared(maps, [(480, 320)] * 5, 150)
    assert found[3] == pytest.approx(np.log(2), abs=0.15)
    assert (found[[0, 1, 2, 4]] < softness.SOFT).all()
    assert found[3] > softness.SOFT


def test_a_subject_that_moved_is_compared_with_itself() -> None:
    still = map_of(0.8)
    cells = np.full(still.blur.shape, 5, np.float32)
    cells[10:30, 20:40] = still.blur[12:32, 24:44]
    moved = focus_map.FocusMap(cells, still.direction, 16, 1)
    found = softness.compared([still, moved], [(34.5 * 16, 22.5 * 16), (30.5 * 16, 20.5 * 16)], 100)
    assert np.abs(found).max() < 0.1


def test_what_cannot_be_compared_says_so() -> None:
    empty = FocusMap(np.full((40, 60), np.nan, np.float32), np.zeros((40, 60), np.uint8), 16, 1)
    assert np.isnan(softness.compared([empty, empty], [(480, 320)] * 2, 150)).all()
    found = softness.compared([map_of(1), map_of(1, 2), empty], [(480, 320)] * 3, 150)
    assert np.isinf(found[2])
    assert np.isfinite(found[:2]).all()
