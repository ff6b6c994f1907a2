"""Whose face counts in a group, as somebody said it."""

from dataclasses import replace

import numpy as np

from tests.core.test_faces import RATIO, face
from tests.core.test_hints import SHARP, looked
from winnow.core.measure import faces
from winnow.core.measure.faces import Face, Weight
from winnow.core.verdict import hints, point_of_interest
from winnow.core.verdict.hints import Looked
from winnow.core.verdict.what_matters import Seen, places
from winnow.core.verdict.who_counts import Said, same_person, spread, weighted


def weighs(face_: Face, weight: Weight) -> Face:
    return replace(face_, weight=weight)


LEFT, RIGHT = face(0.3, 0.5, 0.4, seed=1), face(0.7, 0.5, 0.3, seed=2)


def test_what_was_said_holds_for_the_face_at_that_place() -> None:
    said = weighted([LEFT, RIGHT], [Said(0.71, 0.48, "most"), Said(0.5, 0.95, "none")])
    assert [face.weight for face in said] == ["", "most"]


def test_who_does_not_count_does_not_make_others_too_small() -> None:
    passer_by, small = weighs(face(0.3, 0.5, 0.6), "none"), face(0.7, 0.5, 0.2)
    assert faces.counting([passer_by, small], RATIO) == [1]
    assert faces.counting([replace(passer_by, weight=""), small], RATIO) == [0]
    # Somebody said so: however small or blurred it is.
    tiny = weighs(face(0.7, 0.5, 0.05, blur=9), "most")
    assert faces.counting([LEFT, tiny], RATIO) == [0, 1]
    assert faces.counting([passer_by], RATIO) == []


def test_the_frames_are_judged_where_it_counts_most() -> None:
    def seen(people: list[Face]) -> Seen:
        return Seen(3000, 2000, None, people, None, lambda: None)

    plain = [seen([LEFT, RIGHT])] * 3
    assert places(plain)[2][0].x == LEFT.middle[0]
    # It is enough that one of the row says so: of a new frame nothing was said yet.
    told = [seen([LEFT, weighs(RIGHT, "most")]), *plain[1:]]
    at, _, where = places(told)
    assert (at, {round(place.x, 3) for place in where}) == ("eyes", {round(RIGHT.middle[0], 3)})
    point = point_of_interest.point(told[0].faces, LEFT.middle, None, (3000, 2000))
    assert point in [(eye.x, eye.y) for eye in RIGHT.eyes]


def shut(face_: Face) -> Face:
    first, second = face_.eyes
    return replace(face_, eyes=(replace(first, gap=0.05), replace(second, gap=0.05)))


def group(weight: Weight) -> list[Looked]:
    """In one frame the right one blinks, in the other one both others."""
    third = face(0.5, 0.3, 0.3, seed=3)
    return [
        looked(1, faces=[LEFT, weighs(shut(RIGHT), weight), third]),
        looked(2, faces=[shut(LEFT), weighs(RIGHT, weight), shut(third)]),
    ]


def test_the_order_follows_who_counts_most() -> None:
    assert hints.in_order(group(""), hints.Shoot()) == [1, 2]
    best, other = hints.verdicts(group("most"), {})
    assert (best.frame, best.best) == (2, True)
    assert best.words == "best of 2: better in the face that counts most"
    assert other.words == "not the best: eyes closed in a face that counts most"


def test_of_who_counts_most_gaze_and_mouth_come_before_the_eyes_of_others() -> None:
    speaks = replace(weighs(RIGHT, "most"), mouth=(0.3, 0.6))
    frames = [looked(1, faces=[LEFT, speaks]), looked(2, faces=[shut(LEFT), weighs(RIGHT, "most")])]
    words = {verdict.frame: verdict.words for verdict in hints.verdicts(frames, {})}
    assert words[1] == ("not the best: looking away or mid-speech in a face that counts most")
    narrow = [weighs(face(0.7, 0.5, 0.3, gap=gap, seed=2), "most") for gap in (0.3, 0.31, 0.2)]
    frames = [looked(n, faces=[face]) for n, face in enumerate(narrow)]
    words = {verdict.frame: verdict.words for verdict in hints.verdicts(frames, {})}
    assert words[2] == "not the best: eyes less open in a face that counts most"


def test_where_everything_else_is_the_same_sharpness_decides_as_ever() -> None:
    soft = replace(SHARP, softer=0.5, blur=1.7)
    frames = [
        looked(1, judged=soft, faces=[weighs(LEFT, "most")]),
        looked(2, faces=[weighs(LEFT, "most")]),
    ]
    assert hints.verdicts(frames, {})[0].words == "best of 2: sharper by 0.7 px"


def test_a_person_is_found_in_the_frames_of_a_group() -> None:
    moved = [face(0.72, 0.5, 0.3, seed=2), face(0.32, 0.5, 0.4, seed=1)]
    assert same_person([[LEFT, RIGHT], moved, []], RATIO, 0, 1) == [(0, 1), (1, 0)]


def test_it_is_said_of_frames_that_come_later() -> None:
    frames = [[LEFT, RIGHT], [LEFT, RIGHT], [LEFT]]
    new = spread(frames, RATIO, {0: [Said(*RIGHT.middle, "none")]})
    assert [(n, said.weight) for n, said in new] == [(1, "none")]
    assert np.allclose((new[0][1].x, new[0][1].y), RIGHT.middle)
    assert spread(frames, RATIO, {n: [Said(*RIGHT.middle, "none")] for n in (0, 1)}) == []
    assert spread(frames, RATIO, {}) == []
    # What was said for the whole shoot is said so here as well: it is forgotten with the rest.
    new = spread(frames, RATIO, {0: [Said(*RIGHT.middle, "none", everywhere=True)]})
    assert [said.everywhere for _, said in new] == [True]
