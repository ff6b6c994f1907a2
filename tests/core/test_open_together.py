"""Frames in which together everybody's eyes are open, where no frame alone has that."""

from __future__ import annotations

from collections.abc import Sequence

from tests.core.test_faces import RATIO, face
from winnow.core.measure.faces import CLOSED_BELOW
from winnow.core.verdict.open_together import of_faces, open_together

_, X = True, False


def found(people: Sequence[Sequence[bool]]) -> list[int]:
    return open_together(people, range(len(people[0]) if people else 0))


def test_two_frames_together_show_everybody() -> None:
    assert found([[X, _, X, _], [_, X, _, X], [_, _, X, _]]) == [0, 1]


def test_one_frame_that_shows_everybody_needs_no_other() -> None:
    assert found([[_, X], [_, X]]) == []


def test_three_where_no_two_do() -> None:
    assert found([[_, X, X], [X, _, X], [X, X, _]]) == [0, 1, 2]


def test_who_blinks_in_all_of_them_cannot_be_helped() -> None:
    assert found([[X, X, X], [_, _, _]]) == []
    assert found([]) == []
    assert found([[X] * 4, [_] * 4]) == []


def test_of_sets_as_small_the_one_with_the_better_frames_is_taken() -> None:
    people = [[X, _, X, _], [_, X, _, X]]
    assert open_together(people, [3, 2, 1, 0]) == [2, 3]


def test_a_frame_that_cannot_be_used_is_in_no_set_and_helps_nobody() -> None:
    # Alone it would show everybody.
    assert open_together([[_, _, X], [_, X, _]], [1, 2]) == [1, 2]
    assert open_together([[_, X, X], [_, X, _]], [1, 2]) == []


def test_faces_are_matched_and_who_walks_through_is_not_waited_for() -> None:
    left, right = face(0.3, 0.5, seed=1), face(0.7, 0.5, seed=2)
    blinks_left, blinks_right = (
        face(0.3, 0.5, gap=0.05, seed=1),
        face(0.7, 0.5, gap=0.05, seed=2),
    )
    frames = [[left, blinks_right], [blinks_left, right], [left, blinks_right]]
    assert of_faces(frames, RATIO, CLOSED_BELOW, range(3)) == [0, 1]
    # Nobody blinks; that each is in one of them only is another matter.
    assert of_faces([[left], [right], [left], [right]], RATIO, CLOSED_BELOW, range(4)) == []
    walks_by = face(0.5, 0.2, gap=0.05, seed=3)
    passed = [[left, blinks_right, walks_by], frames[1], frames[2]]
    assert of_faces(passed, RATIO, CLOSED_BELOW, range(3)) == [0, 1]
