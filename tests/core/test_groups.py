"""Groups: runs of neighbours that show the same thing."""

import numpy as np
from PIL import ImageEnhance

from tests.pictures import scene
from winnow.core.groups.runs import LOOKS_BACK, group_numbers
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
