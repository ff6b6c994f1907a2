"""Groups: runs of neighbours that show the same thing."""

import numpy as np
import pytest
from PIL import ImageEnhance

from tests.pictures import scene
from winnow.core.groups.runs import LOOKS_BACK, group_numbers
from winnow.core.measure import likeness
from winnow.core.measure.likeness import (
    as_table,
    distances,
    distances_between_neighbours,
    reframed,
    signature,
)


def numbers(
    times: list[float], distances: list[float], upright: list[bool] | None = None
) -> list[int]:
    turned = np.array(upright or [False] * len(times))
    return group_numbers(np.array(times), np.array(distances, np.float32), turned).tolist()


def test_like_frames_are_together_and_unlike_ones_apart() -> None:
    assert numbers([0, 5, 10, 15], [0.1, 0.6, 0.1]) == [0, 0, 1, 1]


def test_the_longer_the_pause_the_more_alike_they_must_be() -> None:
    assert numbers([0, 5], [0.25]) == [0, 0]
    assert numbers([0, 600], [0.25]) == [0, 1]
    assert numbers([0, 5000], [0.0]) == [0, 1]


def test_without_pictures_only_bursts_are_groups() -> None:
    nothing = float("nan")
    assert numbers([0, 1, 10, 11], [nothing] * 3) == [0, 0, 1, 1]


def of_kinds(kinds: str, pause: float = 1.0, threshold: float = 0.32) -> list[int]:
    """Groups of frames of which those with the same letter show the same thing."""
    back = np.full((len(kinds) - 1, LOOKS_BACK), np.nan, np.float32)
    for n in range(1, len(kinds)):
        for away in range(1, min(n, LOOKS_BACK) + 1):
            back[n - 1, away - 1] = 0.1 if kinds[n] == kinds[n - away] else 0.7
    times = np.array([pause * n for n in range(len(kinds))])
    return group_numbers(times, back, np.zeros(len(kinds), np.bool_), threshold).tolist()


def test_an_odd_frame_does_not_end_what_goes_on_behind_it() -> None:
    assert of_kinds("aaxaabb") == [0, 0, 0, 0, 0, 1, 1]
    assert of_kinds("aaxyzaab") == [0, 0, 0, 0, 0, 0, 0, 1]
    # Two that show the same are no odd frames.
    assert of_kinds("aabbaa") == [0, 0, 1, 1, 2, 2]
    # Longer away, it is another time.
    assert len(set(of_kinds("aawxyzaa"))) == 6
    # So after a pause.
    assert of_kinds("axa", pause=15) == [0, 1, 2]
    # What comes only once on either side stays by itself.
    assert of_kinds("aabcc") == [0, 0, 1, 2, 2]


def test_a_tighter_slider_is_tighter_over_others_too() -> None:
    assert of_kinds("aaxaa", threshold=0.1) == [0, 0, 1, 2, 2]


def test_an_upright_retake_right_after_stays() -> None:
    assert numbers([0, 3, 60], [0.9, 0.9], [False, True, False]) == [0, 0, 1]


def test_while_the_shutter_is_held_down_a_group_goes_on() -> None:
    # Somebody runs past, and the camera follows.
    assert numbers([0, 0.2, 0.4, 3], [0.9, 0.9, 0.9]) == [0, 0, 0, 1]
    times, apart = np.array([0, 0.2, 0.4]), np.full(2, 0.9, np.float32)

    def by(*cameras: int) -> list[int]:
        upright = np.zeros(3, np.bool_)
        return group_numbers(times, apart, upright, cameras=np.array(cameras, np.int32)).tolist()

    # Two photographers press at once, each at something else.
    assert by(0, 1, 0) == [0, 1, 2]
    # Copied at once, scans have nearly one time: that says nothing.
    assert by(-1, -1, -1) == [0, 1, 2]


def test_a_held_shutter_is_known_by_whole_seconds_too() -> None:
    """Many cameras state no fractions: how many there were in a second tells."""
    assert numbers([0, 0, 0, 1, 1, 1, 5], [0.9] * 6) == [0, 0, 0, 0, 0, 0, 1]
    # The burst ended within the next second, or began late in this one.
    assert numbers([0, 0, 0, 1], [0.9] * 3) == [0, 0, 0, 0]
    assert numbers([0, 1, 1, 1], [0.9] * 3) == [0, 0, 0, 0]
    # Two in a second are no burst: a second later it may be something else.
    assert numbers([0, 0, 1, 1], [0.9] * 3) == [0, 0, 1, 1]
    # Where fractions are stated, a second's pause is one.
    assert numbers([0, 0.1, 0.2, 1.2, 1.3, 1.4], [0.9] * 5) == [0, 0, 0, 1, 1, 1]
    times, apart = np.array([0, 0, 0, 1, 1, 1.0]), np.full(5, 0.9, np.float32)
    turns, upright = np.array([0, 0, 0, 1, 1, 1], np.int32), np.zeros(6, np.bool_)
    assert group_numbers(times, apart, upright, cameras=turns).tolist() == [0, 0, 0, 1, 1, 1]


def test_cameras_that_take_turns_are_compared_each_with_itself() -> None:
    times = np.array([0, 2, 4, 6, 8, 10.0])
    back = np.full((5, LOOKS_BACK), 0.7, np.float32)
    back[1:, 1] = 0.33  # of every other frame
    upright, turns = np.zeros(6, np.bool_), np.array([0, 1] * 3, np.int32)
    assert group_numbers(times, back, upright).tolist() == [0, 1, 2, 3, 4, 5]
    assert group_numbers(times, back, upright, cameras=turns).tolist() == [0] * 6
    # What one camera took long after belongs to nothing in between.
    late = np.array([0, 2, 60, 62, 120, 122.0])
    assert len(set(group_numbers(late, back, upright, cameras=turns).tolist())) == 6


def test_empty_and_single() -> None:
    assert numbers([], []) == []
    assert numbers([0], []) == [0]


def of(*pictures: object) -> list[float]:
    return distances_between_neighbours([signature(np.asarray(p)) for p in pictures]).tolist()


def test_a_picture_framed_anew_is_like_the_one_before_it() -> None:
    first = scene(1).resize((600, 400))
    left, right = (np.asarray(first.crop((x, 0, x + 480, 400))) for x in (0, 60))
    moved = as_table([signature(left), signature(right)])
    other = as_table([signature(left), signature(np.asarray(scene(2).resize((480, 400))))])
    assert reframed(moved[:1], moved[1:])[0] < 0.36 < 0.6 < reframed(other[:1], other[1:])[0]
    assert reframed(moved[:1], moved[1:]) < distances(moved[:1], moved[1:])
    assert reframed(moved, moved).tolist() == [0, 0]
    assert np.isnan(reframed(as_table([None]), moved[:1])).all()


def test_what_was_compared_before_is_not_compared_again(monkeypatch: pytest.MonkeyPatch) -> None:
    rows = [signature(np.asarray(scene(n))) for n in range(8)]
    before = as_table([*rows[:3], *rows[4:]])
    known = before, likeness.distances_back(before, LOOKS_BACK)
    table = as_table(rows)
    anew = likeness.distances_back(table, LOOKS_BACK)
    asked: list[int] = []
    whole = likeness.reframed

    def counted(first: np.ndarray, second: np.ndarray) -> np.ndarray:
        asked.append(len(first))
        return whole(first, second)

    monkeypatch.setattr(likeness, "reframed", counted)
    np.testing.assert_array_equal(likeness.distances_back(table, LOOKS_BACK, known), anew)
    # Of 7 + 6 + 5 + 4 pairs those that the new frame is in, or lies between.
    assert asked == [2, 3, 4, 4]
    asked.clear()
    likeness.distances_back(table, LOOKS_BACK, (table, anew))
    assert not sum(asked)


def test_distance_is_small_for_one_scene_and_large_for_another() -> None:
    first, other = scene(1), scene(2)
    assert of(first, first) == [0]
    brighter = ImageEnhance.Brightness(first).enhance(1.3)
    moved = first.crop((20, 10, 480, 320)).resize((480, 320))
    close = of(first, brighter)[0], of(first, moved)[0]
    assert max(close) < 0.25
    assert of(first, other)[0] > 2 * max(close)


def test_unknown_pictures_have_no_distance() -> None:
    known = signature(np.asarray(scene(1)))
    assert np.isnan(distances_between_neighbours([known, None, known])).all()


def test_the_strongest_colour_difference_does_not_overflow() -> None:
    blue, yellow = (np.full((16, 16, 3), c, np.uint8) for c in ((0, 0, 255), (255, 255, 0)))
    (distance,) = of(blue, yellow)
    assert 0.3 < distance <= 1
