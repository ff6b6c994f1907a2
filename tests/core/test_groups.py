"""Groups: runs of neighbours that show the same thing."""

import numpy as np
from PIL import ImageEnhance

from tests.pictures import scene
from winnow.core.groups.runs import group_numbers
from winnow.core.measure.likeness import distances_between_neighbours, signature


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


def test_an_upright_retake_right_after_stays() -> None:
    assert numbers([0, 3, 60], [0.9, 0.9], [False, True, False]) == [0, 0, 1]


def test_empty_and_single() -> None:
    assert numbers([], []) == []
    assert numbers([0], []) == [0]


def of(*pictures: object) -> list[float]:
    return distances_between_neighbours([signature(np.asarray(p)) for p in pictures]).tolist()


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
