from __future__ import annotations

from winnow.core.verdict.open_together import open_together

_, X = True, False


def test_two_frames_together_show_everybody() -> None:
    assert open_together([[X, _, X, _], [_, X, _, X], [_, _, X, _]]) == [0, 1]


def test_one_frame_that_shows_everybody_needs_no_other() -> None:
    assert open_together([[_, X], [_, X]]) == []


def test_three_where_no_two_do() -> None:
    assert open_together([[_, X, X], [X, _, X], [X, X, _]]) == [0, 1, 2]


def test_who_blinks_in_all_of_them_cannot_be_helped() -> None:
    assert open_together([[X, X, X], [_, _, _]]) == []
    assert open_together([]) == []
    assert open_together([[X] * 4, [_] * 4]) == []
