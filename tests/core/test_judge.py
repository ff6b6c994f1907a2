"""Judging a group: what matters in it, where that is, and how each frame differs from the
others."""

from dataclasses import replace
from functools import partial

import cv2
import numpy as np
import pytest
import skimage.data

from tests.core.test_faces import face
from winnow.core.measure import extra_blur, softness
from winnow.core.measure.focus_map import FocusMap
from winnow.core.verdict import judge
from winnow.core.verdict.what_matters import Seen

ROWS, COLUMNS, CELL = 80, 120, 16.0
WIDTH, HEIGHT = int(COLUMNS * CELL), int(ROWS * CELL)


def map_of(blur: np.ndarray | float, seed: int = 1, spread: float = 0.2) -> FocusMap:
    """Edges of all directions, blurred by this (in px) with some spread."""
    rng = np.random.default_rng(seed)
    cells = np.broadcast_to(blur, (ROWS, COLUMNS)) * np.exp(rng.normal(0, spread, (ROWS, COLUMNS)))
    cells = cells.astype(np.float32)
    cells[rng.random(cells.shape) < 0.3] = np.nan
    return FocusMap(cells, rng.integers(0, 32, cells.shape).astype(np.uint8), CELL, 1.0)


def subject_in_front(subject: float, behind: float, seed: int = 1) -> FocusMap:
    """A map with one blur in the middle third, another around it."""
    blur = np.full((ROWS, COLUMNS), behind)
    blur[20:60, 40:80] = subject
    return map_of(blur, seed)


def seen(focus_map: FocusMap, **known: object) -> Seen:
    plain = Seen(WIDTH, HEIGHT, focus_map, [], None, lambda: GRAY)
    return replace(plain, **known)  # type: ignore[arg-type]


# The same picture in every frame (scikit-image's coffee, CC0): nothing moved.
GRAY = cv2.resize(
    cv2.cvtColor(skimage.data.coffee(), cv2.COLOR_RGB2GRAY), (WIDTH // 2, HEIGHT // 2)
)


FULL = cv2.resize(GRAY, (WIDTH, HEIGHT), interpolation=cv2.INTER_AREA)
FULL[HEIGHT // 2 - 256 : HEIGHT // 2 + 256, WIDTH // 2 - 256 : WIDTH // 2 + 256] = (
    skimage.data.camera()
)


def test_eyes_matter_first_then_the_focus_point_then_what_is_sharp() -> None:
    maps = [subject_in_front(1, 4, n) for n in range(3)]
    portrait = [face(0.5, 0.5, 0.3)]
    found = judge.judge([seen(m, faces=portrait, focus_point=(0.1, 0.1)) for m in maps])
    assert {judged.at for judged in found} == {"eyes"}
    assert (found[0].x, found[0].y) == pytest.approx((0.5, 0.5))
    found = judge.judge([seen(m, focus_point=(0.45, 0.5)) for m in maps])
    assert {judged.at for judged in found} == {"focus point"}
    assert (found[0].x, found[0].y) == pytest.approx((0.45, 0.5))
    found = judge.judge([seen(m) for m in maps])
    assert {judged.at for judged in found} == {"sharpest part"}
    assert 0.33 < found[0].x < 0.67
    assert found[0].sharpest == pytest.approx(0.9, rel=0.2)


def test_a_soft_frame_and_one_that_is_focused_elsewhere_are_told_apart() -> None:
    good = [subject_in_front(1, 4, n) for n in range(4)]
    soft, elsewhere = subject_in_front(2.5, 8, 8), subject_in_front(4, 1, 9)
    found = judge.judge([seen(m) for m in [*good, soft, elsewhere]])
    assert all(abs(judged.softer or 0) < 0.15 for judged in found[:4])
    assert found[4].softer == pytest.approx(np.log(2.5), abs=0.2)
    assert (found[4].elsewhere or 0) < 0.03
    assert (found[5].softer or 0) > 1
    assert (found[5].elsewhere or 0) > 0.5
    # The one that is sharp in the background alone is outvoted over what matters.
    assert 0.33 < found[5].x < 0.67


def test_where_one_is_sharp_all_others_are_soft_against_it() -> None:
    maps = [map_of(1), *[map_of(2.5, n) for n in range(2, 7)]]
    first, *others = judge.judge([seen(m, focus_point=(0.5, 0.5)) for m in maps])
    assert first.softer == 0
    assert [other.softer for other in others] == pytest.approx([np.log(2.5)] * 5, abs=0.15)
    assert {first.state, *(other.state for other in others)} == {"sharpest", "softer"}
    # As well where nobody says what matters.
    untold = judge.judge([seen(m) for m in maps])
    assert untold[0].softer == 0
    assert [other.softer for other in untold[1:]] == pytest.approx([np.log(2.5)] * 5, abs=0.15)


def test_one_that_is_focused_elsewhere_does_not_make_the_others_soft() -> None:
    """Where it is softer than most, there is what most of them mean."""
    good = [subject_in_front(1.6, 1.3, seed) for seed in range(1, 6)]
    # Grass behind the subject reads sharper than it is: there it is sharper than any of them.
    elsewhere = subject_in_front(4, 0.5, 9)
    *others, missed = judge.judge([seen(m) for m in [*good, elsewhere]])
    assert all((judged.softer or 0) < 0.2 and judged.state == "tied" for judged in others)
    assert (missed.softer or 0) > 0.5
    assert missed.state == "softer"
    middle = np.array([(place.x, place.y) for place in others]).mean(0)
    assert middle == pytest.approx((0.5, 0.5), abs=0.15)


def test_motion_shows_in_the_edges_across_it() -> None:
    still = [map_of(0.8, n) for n in range(4)]
    moved = map_of(0.8, 9)
    across = np.cos(np.radians(moved.direction.astype(float) * 180 / 32 - 30)) ** 2
    length = 12.0
    blur = np.sqrt(moved.blur**2 + across * length**2 / 12).astype(np.float32)
    found = judge.judge([seen(m) for m in [*still, replace(moved, blur=blur)]])
    judged = found[4]
    assert judged.angle == pytest.approx(30, abs=10)
    assert judged.length == pytest.approx(length, rel=0.2)
    assert (judged.lean or 0) > 0.35
    assert all((other.lean or 0) < 0.1 for other in found[:4])


def closely(sharp: FocusMap, soft: FocusMap, kernel: np.ndarray) -> list[judge.Judged]:
    """Three sharp frames and one whose picture at full size went through a kernel."""
    asked: list[int] = []

    def close(n: int, x: float, y: float, reach: int) -> np.ndarray | None:
        asked.append(n)
        light = FULL.astype(np.float32)
        if n == 3:
            light = cv2.filter2D(light, -1, kernel)
        noise = np.random.default_rng(n).normal(0, 1, light.shape)
        return extra_blur.cut(np.clip(light + noise, 0, 255).astype(np.uint8), x, y, reach)

    maps = [replace(sharp, direction=map_of(1, n).direction) for n in range(3)]
    point = (0.5, 0.5)
    found = judge.judge(
        [
            seen(focus, focus_point=point, close=partial(close, n))
            for n, focus in enumerate([*maps, soft])
        ]
    )
    # Those that look as sharp as the sharpest are not opened for it.
    assert len(set(asked)) == 2
    assert 3 in asked
    return found


def test_a_motion_is_seen_at_full_size_though_edges_hardly_tell_it() -> None:
    across = np.zeros((15, 15), np.float32)
    across[7, 3:12] = 1 / 9
    *still, moved = closely(map_of(0.7), map_of(0.78), across)
    assert moved.moved
    assert moved.length == pytest.approx(9, rel=0.2)
    assert abs(((moved.angle or 0) + 90) % 180 - 90) < 8
    assert (moved.softer or 0) > 0.5
    assert moved.state == "softer"
    assert not any(judged.moved for judged in still)


def test_out_of_focus_at_full_size_is_no_motion() -> None:
    even = cv2.getGaussianKernel(21, 2)
    *still, soft = closely(map_of(0.7), map_of(1.5), even @ even.T)
    assert not soft.moved
    assert soft.length is None
    # σ of 2 px beside one of 0.7.
    assert soft.softer == pytest.approx(np.log(np.hypot(2, 0.7) / 0.7), abs=0.25)
    # Both figures in px are of one measure.
    assert soft.blur is not None
    assert still[0].blur is not None
    assert soft.blur == pytest.approx(np.hypot(2, still[0].blur), rel=0.15)


def test_edges_that_look_soft_in_a_frame_that_is_not_are_outvoted_by_its_pixels() -> None:
    nothing = np.ones((1, 1), np.float32)
    *_, judged = closely(map_of(0.7), map_of(0.85), nothing)
    assert judged.softer == 0
    assert judged.state == "tied"


def test_without_edges_or_alone_nothing_is_compared() -> None:
    nothing = FocusMap(
        np.full((ROWS, COLUMNS), np.nan, np.float32), np.zeros((ROWS, COLUMNS), np.uint8), CELL, 1
    )
    found = judge.judge([seen(nothing), seen(nothing)])
    assert all(judged.softer is None and judged.sharpest is None for judged in found)
    (alone,) = judge.judge([seen(map_of(1))])
    assert alone.of == 0
    assert alone.softer is None
    assert alone.blur is not None
    (without,) = judge.judge([replace(seen(nothing), map=None)])
    assert without.blur is None


def test_a_frame_whose_face_was_not_found_is_looked_at_in_the_same_place() -> None:
    maps = [subject_in_front(1, 4, n) for n in range(3)]
    portrait = [face(0.5, 0.5, 0.3)]
    found = judge.judge(
        [seen(maps[0], faces=portrait), seen(maps[1]), seen(maps[2], faces=portrait)]
    )
    assert (found[1].x, found[1].y) == pytest.approx((0.5, 0.5), abs=0.01)
    assert found[1].at == "eyes"


def test_frames_that_cannot_be_compared_say_nothing() -> None:
    few = map_of(np.nan)
    assert np.isnan(softness.against_group([few, few], [(900, 600)] * 2, 500)[0].softer)


def test_a_part_that_most_frames_do_not_show_as_the_first_does_is_looked_for_from_another() -> None:
    """The sharpest of three is so dark that nothing of it is found in the others."""
    dark = np.zeros_like(GRAY)
    sharp, good = map_of(0.6, 1), [map_of(1.0, n) for n in (2, 3)]
    point = (0.45, 0.5)
    group = [
        seen(sharp, focus_point=point, gray=lambda: dark),
        *(seen(focus, focus_point=point) for focus in good),
    ]
    found = judge.judge(group)
    assert [judged.sure for judged in found] == [False, True, True]
    assert found[1].state == "tied"
    assert found[0].state == "not found"
