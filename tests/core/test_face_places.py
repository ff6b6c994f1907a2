"""Where a hint about a face is seen."""

from dataclasses import replace

import pytest

from tests.core.test_faces import RATIO, face
from winnow.core.measure.faces import CLOSED_BELOW, Face, Point
from winnow.core.verdict.face_places import places

LEFT, RIGHT = face(0.3, 0.5, 0.3, seed=1), face(0.7, 0.5, 0.3, seed=2)


def seen(kind: str, here: list[Face], there: list[Face]) -> tuple[Point, Point | None] | None:
    return places(kind, here, there, RATIO, CLOSED_BELOW)


def test_closed_eyes_are_seen_at_the_eye_that_is_less_open_and_the_same_one_beside() -> None:
    first, second = RIGHT.eyes
    blinks = replace(RIGHT, eyes=(first, replace(second, gap=0.05)))
    found = seen("eyes_closed", [LEFT, blinks], [LEFT, RIGHT])
    assert found == ((second.x, second.y), (second.x, second.y))
    # A face that isn't in the other frame has nothing beside it.
    assert seen("eyes_closed", [LEFT, blinks], []) == ((second.x, second.y), None)
    assert seen("eyes_closed", [], [LEFT]) is None


def test_half_closed_ones_are_those_that_the_other_frame_has_more_open() -> None:
    narrow_by_nature = face(0.3, 0.5, 0.3, gap=0.19, seed=1)
    less = face(0.7, 0.5, 0.3, gap=0.22, seed=2)
    for other in (narrow_by_nature, face(0.3, 0.5, 0.3, gap=0.05, seed=1)):  # closed is no half
        found = seen("half_closed", [other, less], [narrow_by_nature, RIGHT])
        assert found is not None
        assert found[0][0] == pytest.approx(less.eyes[0].x)


def test_gaze_is_seen_at_an_eye_and_speech_at_the_mouth() -> None:
    aside = replace(RIGHT, gaze=-0.2)
    found = seen("gaze", [replace(LEFT, gaze=0.02), aside], [LEFT, RIGHT])
    assert found is not None
    assert found[0][0] == pytest.approx(aside.eyes[0].x)
    speaks = replace(LEFT, mouth=(0.3, 0.5))
    found = seen("speech", [speaks, replace(RIGHT, mouth=(0.02, 0.5))], [LEFT, RIGHT])
    assert found is not None
    x, y = found[0]
    assert x == pytest.approx(LEFT.middle[0])
    # Below the eyes, within the face.
    assert speaks.between_eyes[1] + 0.05 < y < speaks.box[3]
    assert seen("speech", [LEFT], [RIGHT]) is None
