"""What is looked at close, and where the same part of a face is."""

from dataclasses import replace

import numpy as np
import pytest

from tests.core.test_faces import face
from winnow.core.measure.faces import Eye
from winnow.core.measure.focus_map import FocusMap
from winnow.core.measure.subject_lock import Place
from winnow.core.verdict import point_of_interest

SIZE = (1920, 1280)


def test_the_sharper_eye_of_the_largest_face_then_the_focus_point_then_what_is_sharp() -> None:
    near, far = face(0.3, 0.4, 0.4), face(0.7, 0.4, 0.3)
    near = replace(near, eyes=(Eye(0.25, 0.35, 0.3, 2.0), Eye(0.35, 0.35, 0.3, 1.0)))
    assert point_of_interest.point([near, far], None, None, SIZE) == (0.35, 0.35)
    # The camera focused on the other one.
    assert point_of_interest.point([near, far], (0.7, 0.4), None, SIZE) in [
        (e.x, e.y) for e in far.eyes
    ]
    assert point_of_interest.point([near, far], (0.1, 0.9), None, SIZE) == (0.35, 0.35)
    assert point_of_interest.point([], (0.1, 0.9), None, SIZE) == (0.1, 0.9)
    blur = np.full((80, 120), 5.0, np.float32)
    blur[10:30, 90:110] = 1
    sharp = FocusMap(blur, np.zeros((80, 120), np.uint8), 16.0, 1.0)
    x, y = point_of_interest.point([], None, sharp, SIZE)
    assert 0.7 < x < 0.95
    assert 0.1 < y < 0.4
    assert point_of_interest.point([], None, None, SIZE) == (0.5, 0.5)
    assert point_of_interest.point([], None, sharp, (0, 0)) == (0.5, 0.5)


def test_a_point_on_a_face_is_found_on_the_same_face() -> None:
    first = [face(0.3, 0.4, 0.3, seed=1), face(0.7, 0.4, 0.3, seed=2)]
    moved = [face(0.72, 0.45, 0.3, seed=2), face(0.32, 0.45, 0.3, seed=1)]
    found = point_of_interest.at_faces([first, moved, []], [1.5] * 3, (0.3, 0.4))
    assert found[1] is not None
    assert (found[1][0].x, found[1][0].y) == pytest.approx((0.32, 0.45))
    assert found[2] is None
    assert point_of_interest.at_faces([first, moved], [1.5] * 2, (0.5, 0.9)) == [None, None]
    # An upright frame can't be compared by places of a wide one.
    assert point_of_interest.at_faces([first, moved], [1.5, 0.67], (0.3, 0.4))[1] is None


def test_the_picture_is_more_exact_where_it_agrees_with_the_face() -> None:
    by_face = Place(0.5, 0.5, 1, 0, 0.75), 0.2
    near, far = Place(0.51, 0.5, 1, 0, 0.9), Place(0.7, 0.5, 1, 0, 0.9)
    assert point_of_interest.of_both(near, by_face) == near
    assert point_of_interest.of_both(far, by_face) == by_face[0]
    assert point_of_interest.of_both(replace(near, confidence=0.2), by_face) == by_face[0]
