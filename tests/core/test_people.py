"""Faces put together by likeness."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from tests.core.test_faces import face
from winnow.core import people


def cloud(counts: list[int], spread: float = 0.02, seed: int = 1) -> NDArray[np.float32]:
    """So many faces of each of some people, who lie about 0.8 apart."""
    rng = np.random.default_rng(seed)
    middles = rng.normal(0, 0.05, (len(counts), 128))
    rows = [middles[k] + rng.normal(0, spread, (n, 128)) for k, n in enumerate(counts)]
    return np.concatenate(rows).astype(np.float32)


def test_faces_near_each_other_are_one_person() -> None:
    groups = people.put_together(cloud([4, 3, 2]), range(9))
    assert groups[:4] == [groups[0]] * 4
    assert groups[4:7] == [groups[4]] * 3
    assert len(set(groups)) == 3


def test_two_faces_of_one_frame_are_never_one_person() -> None:
    groups = people.put_together(cloud([4]), [1, 1, 2, 2])
    assert groups[0] != groups[1]
    assert groups[2] != groups[3]
    assert len(set(groups)) == 2


def test_a_face_that_says_too_little_joins_nobody_but_by_hand() -> None:
    numbers = cloud([3, 3])
    numbers[0] = np.nan
    groups = people.put_together(numbers, range(6))
    assert groups.count(groups[0]) == 1
    groups = people.put_together(numbers, range(6), joined=[(0, 3)])
    assert groups[0] == groups[3] == groups[4] != groups[1]


def test_what_somebody_said_holds_whatever_the_faces_look_like() -> None:
    groups = people.put_together(cloud([3, 3]), range(6), joined=[(0, 5)])
    assert len(set(groups)) == 1


def test_nobody_is_no_error() -> None:
    assert people.put_together(np.zeros((0, 128), np.float32), []) == []
    assert people.told_apart(np.zeros((0, 128), np.float32), [], []) == []


def test_who_is_seen_once_is_nobody_yet() -> None:
    told = people.told_apart(cloud([3, 1, 2]), range(6), [None] * 6)
    assert told == [1, 1, 1, None, 2, 2]


def test_person_3_stays_person_3_when_others_are_seen_more_often() -> None:
    assert people.numbered([7, 7, 7, 5, 5], [None] * 5) == [1, 1, 1, 2, 2]
    assert people.numbered([7, 5, 5, 5, 9], [3, 1, 1, None, None]) == [3, 1, 1, 1, 4]
    # Two that are joined keep the number of the larger one, and the other's is not given again.
    assert people.numbered([7, 7, 7, 2], [3, 1, 1, None]) == [1, 1, 1, 2]


@pytest.mark.parametrize(
    ("between", "turned", "blur", "tells"),
    [
        (40.0, 10.0, 1.0, True),
        (12.0, 10.0, 1.0, False),
        (40.0, 70.0, 1.0, False),
        (40.0, 10.0, 9.0, False),
        (40.0, 10.0, None, True),
    ],
)
def test_small_turned_and_blurred_faces_do_not_tell(
    between: float, turned: float, blur: float | None, tells: bool
) -> None:
    assert people.can_tell(replace(face(0.5, 0.5), turned=turned), between, blur) is tells


def test_who_may_be_the_same_is_offered_unless_they_stand_beside_each_other() -> None:
    def at(x: float) -> list[np.ndarray]:
        return [np.full(128, x / np.sqrt(128), np.float32)] * 2

    numbers = {1: at(0.0), 2: at(0.2), 3: at(0.3), 4: at(0.9), 5: []}
    apart = {1: {10}, 2: {11}, 3: {12}, 4: {13}, 5: {14}}
    maybe = people.maybe_the_same(numbers, apart)
    assert maybe == {1: [2, 3], 2: [3, 1], 3: [2, 1], 4: []}
    # In one frame they can't be one person.
    assert people.maybe_the_same(numbers, {**apart, 2: {10, 11}})[1] == [3]
