"""Frames linked as parts of one picture, and what is decided of them together."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from winnow.core.groups.edits import HandEdit
from winnow.core.groups.links import decided_together, link, linked, unlink, with_parts
from winnow.core.marks import UNMARKED, Change, Decision, Mark, MarkStep

NOTHING: frozenset[HandEdit] = frozenset()
PICK, REJECT = Mark(Decision.PICK), Mark(Decision.REJECT)


def test_linked_frames_are_told_picture_by_picture() -> None:
    edits = link(link(NOTHING, [7, 4]), [2, 9, 3])
    assert linked(edits) == [(2, 3, 9), (4, 7)]
    assert linked(NOTHING) == []


def test_linking_a_part_brings_along_what_it_is_linked_with() -> None:
    assert linked(link(link(NOTHING, [1, 2]), [2, 5])) == [(1, 2, 5)]


def test_those_that_stay_are_linked_when_the_file_of_one_is_deleted() -> None:
    edits = link(NOTHING, [1, 2, 3])
    for gone in (1, 2, 3):
        left = [edit for edit in edits if gone not in (edit.frame, edit.other)]
        assert linked(left) == [tuple(n for n in (1, 2, 3) if n != gone)]


def test_taking_a_picture_apart_leaves_the_others_and_what_was_said_of_groups() -> None:
    split = HandEdit("split", 4, 4)
    edits = link(link(frozenset({split}), [1, 2, 3]), [4, 5])
    assert unlink(edits, 2) == link(frozenset({split}), [4, 5])
    assert unlink(edits, 99) == edits


@given(st.lists(st.lists(st.integers(0, 12), min_size=2, max_size=4, unique=True), max_size=6))
def test_no_frame_is_ever_a_part_of_two_pictures(wanted: list[list[int]]) -> None:
    edits = NOTHING
    for frames in wanted:
        edits = link(edits, frames)
        assert any(set(frames) <= set(parts) for parts in linked(edits))
    parts = [part for picture in linked(edits) for part in picture]
    assert len(parts) == len(set(parts))


def test_frames_come_with_the_other_parts_of_their_pictures() -> None:
    assert with_parts([(2, 6)], [1, 6, 3, 2]) == [1, 6, 2, 3]
    assert with_parts([], [3, 1]) == [3, 1]


def test_what_is_decided_of_one_part_is_decided_of_the_others() -> None:
    change = Change("picked A", (MarkStep(1, UNMARKED, PICK),))
    marks = {1: UNMARKED, 2: Mark(stars=3), 3: PICK}
    made = decided_together(change, [(1, 2, 3)], marks)
    assert made.sentence == "picked A, with 1 frame linked to it"
    assert made.steps == (*change.steps, MarkStep(2, Mark(stars=3), Mark(Decision.PICK, 3)))


def test_where_parts_are_told_apart_the_kinder_decision_holds() -> None:
    change = Change("picked A", (MarkStep(1, UNMARKED, PICK), MarkStep(2, UNMARKED, REJECT)))
    made = decided_together(change, [(1, 2)], {1: UNMARKED, 2: UNMARKED})
    assert made.steps == (MarkStep(1, UNMARKED, PICK), MarkStep(2, UNMARKED, PICK))


def test_stars_and_labels_are_of_one_part_only() -> None:
    change = Change("3 stars", (MarkStep(1, UNMARKED, Mark(stars=3)),))
    assert decided_together(change, [(1, 2)], {1: UNMARKED, 2: UNMARKED}) == change
