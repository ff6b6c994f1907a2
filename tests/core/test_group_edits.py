"""Groups by hand: they hold wherever the slider stands, and whatever comes in."""

from functools import cache

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import soak
from winnow.core.groups.edits import (
    Grouping,
    HandEdit,
    grouped,
    join_with_next,
    move,
    split,
)
from winnow.core.groups.runs import DEFAULT_THRESHOLD, threshold_for
from winnow.core.measure import likeness
from winnow.core.measure.likeness import distances_between_neighbours, signature

ALIKE = signature(np.zeros((64, 64, 3), np.uint8))
LENGTH = len(ALIKE)


@cache
def picture(seed: int) -> bytes:
    rng = np.random.default_rng(seed)
    return signature(rng.integers(0, 255, (8, 8, 3), np.uint8).repeat(8, 0).repeat(8, 1))


class Shoot:
    """Frames in order of time, to be grouped and edited."""

    def __init__(self, seeds: list[int], edits: frozenset[HandEdit] = frozenset()) -> None:
        self.frames = [(n + 1, float(10 * n), seed) for n, seed in enumerate(seeds)]
        self.edits = edits
        self.looseness = 0.5

    def add(self, at: float, seed: int) -> None:
        self.frames.append((len(self.frames) + 1, at, seed))
        self.frames.sort(key=lambda frame: (frame[1], frame[0]))

    @property
    def grouping(self) -> Grouping:
        ids = [frame for frame, _, _ in self.frames]
        numbers = grouped(
            ids,
            np.array([at for _, at, _ in self.frames]),
            distances_between_neighbours([picture(seed) for _, _, seed in self.frames]),
            np.zeros(len(ids), np.bool_),
            threshold_for(self.looseness),
            self.edits,
        )
        return Grouping(ids, numbers.tolist(), self.edits)

    @property
    def groups(self) -> list[list[int]]:
        grouping = self.grouping
        return [grouping.members(n) for n in range(max(grouping.numbers) + 1)]


def test_the_slider_goes_from_tighter_over_the_usual_to_looser() -> None:
    assert threshold_for(0.5) == DEFAULT_THRESHOLD
    assert threshold_for(0) < threshold_for(0.4) < threshold_for(1)


def test_split_join_move_and_alone() -> None:
    shoot = Shoot([1, 1, 1, 1, 2, 2])
    assert shoot.groups == [[1, 2, 3, 4], [5, 6]]
    shoot.edits = split(shoot.grouping, 3)
    assert shoot.groups == [[1, 2], [3, 4], [5, 6]]
    shoot.edits = join_with_next(shoot.grouping, 4)
    assert shoot.groups == [[1, 2], [3, 4, 5, 6]]
    shoot.edits = move(shoot.grouping, [5], 1)
    assert shoot.groups == [[1, 2, 5], [3, 4, 6]]
    shoot.edits = move(shoot.grouping, [2], None)
    assert shoot.groups == [[1, 5], [2], [3, 4, 6]]
    shoot.edits = join_with_next(shoot.grouping, 1)
    assert shoot.groups == [[1, 2, 5], [3, 4, 6]]
    # Splitting within what was joined keeps the rest joined.
    shoot.edits = split(shoot.grouping, 4)
    assert shoot.groups == [[1, 2, 5], [3], [4, 6]]


def test_a_group_whose_anchor_goes_away_stays_together() -> None:
    shoot = Shoot([1, 2, 3])
    shoot.edits = move(shoot.grouping, [1, 3], 2)
    assert shoot.groups == [[1, 2, 3]]
    shoot.edits = move(shoot.grouping, [2], None)
    assert shoot.groups == [[1, 3], [2]]


def test_joining_over_a_frame_of_another_group_leaves_it_there() -> None:
    shoot = Shoot([1, 1, 1, 2, 1, 1])
    shoot.edits = move(shoot.grouping, [1], 4)
    assert shoot.groups == [[1, 4], [2, 3], [5, 6]]
    shoot.edits = join_with_next(shoot.grouping, 2)
    assert shoot.groups == [[1, 4], [2, 3, 5, 6]]


def test_frames_that_were_moved_one_to_the_other_stay_together_when_the_first_goes() -> None:
    shoot = Shoot([1] * 8)
    for frame, to in ((3, None), (2, 3), (1, 2)):
        shoot.edits = move(shoot.grouping, [frame], to)
    shoot.edits = split(shoot.grouping, 3)
    assert sorted(map(sorted, shoot.groups)) == [[1, 2], [3], [4, 5, 6, 7, 8]]


def together(shoot: Shoot, one: int, other: int) -> bool:
    grouping = shoot.grouping
    return grouping.number_of(one) == grouping.number_of(other)


edits = st.lists(
    st.tuples(
        st.sampled_from(["split", "join", "move", "alone"]), st.integers(0, 7), st.integers(0, 7)
    ),
    min_size=1,
    max_size=7,
)


@settings(max_examples=soak.rounds(60))
@given(
    st.lists(st.integers(1, 3), min_size=8, max_size=8),
    edits,
    st.lists(st.tuples(st.floats(-5, 80), st.integers(1, 4)), max_size=4),
    st.floats(0, 1),
)
def test_what_was_said_last_by_hand_holds(
    seeds: list[int],
    said: list[tuple[str, int, int]],
    added: list[tuple[float, int]],
    looseness: float,
) -> None:
    shoot = Shoot(seeds)
    for kind, one, other in said:
        frame = one + 1
        before = shoot.groups
        at = shoot.grouping.number_of(frame)
        if kind == "split":
            shoot.edits = split(shoot.grouping, frame)
            where = before[at].index(frame)
            parts = [before[at][:where], before[at][where:]] if where else [before[at]]
            expected = before[:at] + parts + before[at + 1 :]
        elif kind == "join":
            shoot.edits = join_with_next(shoot.grouping, frame)
            expected = [
                *before[:at],
                [m for g in before[at : at + 2] for m in g],
                *before[at + 2 :],
            ]
        else:
            to = other + 1 if kind == "move" else None
            shoot.edits = move(shoot.grouping, [frame], to)
            if to == frame or (to and to in before[at]):
                expected = before
            else:
                expected = [[m for m in g if m != frame] for g in before]
                expected = [[*g, frame] if to in g else g for g in expected]
                expected += [[frame]] if to is None else []
        # Each says exactly what it says, and leaves all other groups as they are.
        assert sorted(map(sorted, shoot.groups)) == sorted(sorted(g) for g in expected if g)
    shoot.looseness = looseness
    for at_s, seed in added:
        shoot.add(at_s, seed)
    standing = shoot.grouping.stand(shoot.grouping.ids)
    for edit in shoot.edits:
        if edit.kind == "move":
            assert together(shoot, edit.frame, edit.other)
        if edit.kind == "join" and {edit.frame, edit.other} <= set(standing):
            assert together(shoot, edit.frame, edit.other)
        if edit.kind == "split" and edit.frame in standing[1:]:
            assert not together(shoot, standing[standing.index(edit.frame) - 1], edit.frame)


def test_signatures_of_another_length_are_unknown() -> None:
    assert np.isnan(likeness.distances_between_neighbours([ALIKE, b"old"])).all()
