"""Faces: which count, which are one person's, and what is said of their eyes."""

from dataclasses import replace

import numpy as np
import pytest

from winnow.core.measure import expression, faces
from winnow.core.measure.faces import Eye, Face
from winnow.core.measure.focus_map import FocusMap

RATIO = 1.5


def face(
    x: float,
    y: float,
    size: float = 0.2,
    gap: float | None = 0.3,
    blur: float | None = 1.0,
    seed: int = 1,
) -> Face:
    """A face of this height around a point, 0…1 of a picture half as wide again as high."""
    width = 0.75 * size / RATIO
    eyes = tuple(Eye(x + side * 0.25 * width, y - 0.1 * size, gap, blur) for side in (-1, 1))
    look = faces.standardised(np.random.default_rng(seed).random(faces.LOOK_SHAPE))
    box = (x - width / 2, y - size / 2, x + width / 2, y + size / 2)
    return Face(box, (eyes[0], eyes[1]), 2.0, 0.9, look)


def test_eyes_are_open_or_closed_by_the_gap_between_the_lids() -> None:
    assert faces.openness(0.3) > 0.99
    assert faces.openness(0.08) < 0.01
    assert faces.openness(faces.CLOSED_BELOW) == pytest.approx(0.5)
    assert faces.are_closed(face(0.5, 0.5, gap=0.1), faces.CLOSED_BELOW) is True
    assert faces.are_closed(face(0.5, 0.5, gap=0.25), faces.CLOSED_BELOW) is False
    assert faces.are_closed(face(0.5, 0.5, gap=None), faces.CLOSED_BELOW) is None
    winks = face(0.5, 0.5)
    winks = Face(winks.box, (Eye(0.4, 0.4, 0.05), winks.eyes[1]), 0, 0.9, winks.look)
    assert faces.are_closed(winks, faces.CLOSED_BELOW) is True


def test_a_mouth_is_open_by_the_gap_between_the_lips_unless_it_smiles() -> None:
    def mouth(gap: float, wide: float, turned: float = 0) -> float | None:
        return expression.mouth_gap(replace(face(0.5, 0.5), mouth=(gap, wide), turned=turned))

    assert mouth(0.02, 0.6) == 0.02
    assert mouth(0.15, 0.6) == 0.15
    # Open and broad: a laugh. Broad and closed is a smile, which is no speech either.
    assert mouth(0.15, 0.75) is None
    assert mouth(0.02, 0.75) == 0.02
    assert mouth(0.15, 0.6, turned=50) is None
    assert expression.mouth_gap(face(0.5, 0.5)) is None


def test_a_face_smiles_where_it_looks_happy_and_its_mouth_has_that_shape() -> None:
    def smiles(happy: float, shape: float, turned: float = 0) -> bool | None:
        return expression.smiles(replace(face(0.5, 0.5), smile=(happy, shape), turned=turned))

    assert smiles(0.9, 0.75) is True
    assert smiles(0.1, 0.55) is False
    # Open lips in speech look happy to the network; wide lips alone are no smile.
    assert smiles(0.97, 0.55) is None
    assert smiles(0.1, 0.75) is None
    assert smiles(0.9, 0.75, turned=50) is None
    assert expression.smiles(face(0.5, 0.5)) is None
    some = [replace(face(0.5, 0.5), smile=sign) for sign in ((1.0, 0.8), (0.0, 0.5), (1.0, 0.5))]
    assert expression.smiling_of(some) == (1, 1)


def test_a_face_looks_beside_the_camera_by_its_irises_and_its_head() -> None:
    # Both irises a tenth of the eye to the right: with the head straight that is beside the camera.
    assert expression.aside((0.1, 0.1), 0) == pytest.approx(0.1)
    # With the head turned by 27 degrees it is where the camera is.
    assert expression.aside((0.1, 0.1), 27) == pytest.approx(0, abs=0.01)

    def looks(gaze: float | None, gap: float | None = 0.3) -> float | None:
        return expression.looks_aside(
            replace(face(0.5, 0.5, gap=gap), gaze=gaze), faces.CLOSED_BELOW
        )

    assert looks(-0.12) == 0.12
    # Of closed and half-closed eyes, and of those that aren't seen, nothing is said.
    assert looks(-0.12, gap=0.1) is None
    assert looks(-0.12, gap=0.2) is None
    assert looks(None) is None


def test_of_blurred_faces_mouth_and_gaze_are_not_told() -> None:
    cells = np.full((80, 120), 1.0, np.float32)
    speaking = replace(face(0.5, 0.5, size=0.6), mouth=(0.1, 0.6), gaze=0.1)
    (sharp,) = faces.with_eyes_measured(
        [speaking], FocusMap(cells, np.zeros(cells.shape, np.uint8), 16, 1)
    )
    assert (sharp.mouth, sharp.gaze) == ((0.1, 0.6), 0.1)
    (soft,) = faces.with_eyes_measured(
        [speaking], FocusMap(cells * 30, np.zeros(cells.shape, np.uint8), 16, 1)
    )
    assert (soft.mouth, soft.gaze) == (None, None)
    assert faces.unpack(faces.pack([sharp]))[0].mouth == (0.1, 0.6)
    assert faces.unpack(faces.pack([soft]))[0].gaze is None


def test_the_largest_comes_first_and_of_one_size_the_sharper() -> None:
    large, soft, sharp = (
        face(0.2, 0.5, 0.4),
        face(0.5, 0.5, 0.2, blur=3),
        face(0.8, 0.5, 0.2, blur=1),
    )
    assert faces.ordered([soft, sharp, large]) == [large, sharp, soft]


def test_tiny_and_blurred_faces_behind_do_not_count() -> None:
    near = face(0.3, 0.5, 0.4, blur=1)
    other = face(0.5, 0.5, 0.3, blur=1.6)
    tiny = face(0.7, 0.5, 0.1, blur=1)
    behind = face(0.9, 0.5, 0.25, blur=8)
    assert faces.counting([near, other, tiny, behind], RATIO) == [0, 1]
    # A frame that is soft all over still has faces that count.
    assert faces.counting([face(0.5, 0.5, 0.3, blur=9)], RATIO) == [0]
    assert faces.counting([face(0.5, 0.5, 0.01)], RATIO) == []
    assert faces.counting([], RATIO) == []


def test_each_person_has_a_row_whatever_the_order_in_the_frame() -> None:
    def frame(*places: tuple[float, int]) -> list[Face]:
        return [face(x, 0.5, seed=seed) for x, seed in places]

    first = frame((0.2, 1), (0.5, 2), (0.8, 3))
    reframed = frame((0.9, 3), (0.3, 1), (0.6, 2))
    without = frame((0.22, 1), (0.82, 3))
    came = frame((0.2, 1), (0.5, 2), (0.8, 3), (0.35, 4))
    assert faces.rows([first, reframed, without, came], RATIO) == [
        [0, 1, 0, 0], [1, 2, None, 1], [2, 0, 1, 2], [None, None, None, 3],
    ]  # fmt: skip
    assert faces.rows([[], []], RATIO) == []


def test_two_who_change_places_are_told_apart_by_their_look() -> None:
    before = [face(0.4, 0.5, seed=1), face(0.55, 0.5, seed=2)]
    after = [face(0.42, 0.5, seed=2), face(0.53, 0.5, seed=1)]
    assert sorted(faces.rows([before, after], RATIO)) == [[0, 1], [1, 0]]


def test_a_point_is_carried_over_by_the_line_between_the_eyes() -> None:
    before, after = face(0.4, 0.4, 0.2), face(0.6, 0.5, 0.4)
    mouth = (0.4, 0.4 + 0.05)
    x, y = faces.carried_over(mouth, before, after, RATIO)
    assert (x, y) == pytest.approx((0.6, 0.6))
    for n in (0, 1):
        own = before.eyes[n].x, before.eyes[n].y
        there = after.eyes[n].x, after.eyes[n].y
        assert faces.carried_over(own, before, after, RATIO) == pytest.approx(there)


def test_the_face_at_a_point_is_the_smallest() -> None:
    large, small = face(0.5, 0.5, 0.6), face(0.55, 0.5, 0.15)
    assert faces.face_at([large, small], (0.55, 0.5)) == 1
    assert faces.face_at([large, small], (0.4, 0.3)) == 0
    assert faces.face_at([large, small], (0.05, 0.05)) is None


def test_stored_faces_come_back() -> None:
    kept = [face(0.3, 0.4), face(0.7, 0.4, gap=None, blur=None)]
    back = faces.unpack(faces.pack(kept))
    assert [kept_face.box for kept_face in back] == [
        pytest.approx(kept_face.box, abs=1e-4) for kept_face in kept
    ]
    assert back[0].gap == pytest.approx(0.3)
    assert back[1].gap is None
    assert back[1].blur is None
    assert faces.unlikeness(back[0].look, kept[0].look) < 0.01
    for wrong in ("{", '[{"box": 3}]', "[3]"):
        with pytest.raises(ValueError, match=r".*"):
            faces.unpack(wrong)


def test_eyes_are_measured_where_they_are() -> None:
    blur = np.full((80, 120), 6.0, np.float32)
    alone = face(0.5, 0.5, 0.5)
    x, y = alone.eyes[1].x * 120, alone.eyes[1].y * 80
    blur[int(y) - 9 : int(y) + 10, int(x) - 7 : int(x) + 8] = 1.2
    focus_map = FocusMap(blur, np.zeros((80, 120), np.uint8), 16.0, 1.0)
    (measured,) = faces.with_eyes_measured([alone], focus_map)
    assert measured.eyes[1].blur == pytest.approx(1.2, rel=0.05)
    assert measured.eyes[0].blur == pytest.approx(6, rel=0.05)
    assert measured.blur == measured.eyes[1].blur
    nothing = FocusMap(np.full((80, 120), np.nan, np.float32), focus_map.direction, 16.0, 1.0)
    assert faces.with_eyes_measured([alone], nothing)[0].blur is None
