"""Marks, edits and changes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.marks import (
    UNMARKED,
    Change,
    Decision,
    Edit,
    Mark,
    MarkStep,
    plan_edit,
    sentence_for,
)

LABELS = {"R": "Retouch", "A": "Album"}

marks = st.builds(
    Mark,
    st.sampled_from(Decision),
    st.integers(0, 5),
    st.sampled_from([None, *LABELS]),
)
edits = st.builds(
    Edit,
    st.sampled_from(Decision),
    st.none() | st.integers(0, 5),
    st.sampled_from([None, "", *LABELS]),
)


def after(change: Change) -> dict[int, Mark]:
    return {step.frame: step.after for step in change.steps}


def test_parts_are_independent() -> None:
    mark = Edit(stars=3).applied_to(Mark(Decision.REJECT, 1, "A"))
    assert mark == Mark(Decision.REJECT, 3, "A")
    assert Edit(label="").applied_to(mark) == Mark(Decision.REJECT, 3, None)


def test_an_edit_must_set_something() -> None:
    with pytest.raises(ValueError, match="decision, stars or a label"):
        Edit()


@pytest.mark.parametrize("stars", [-1, 6])
def test_stars_have_a_range(stars: int) -> None:
    with pytest.raises(ValueError, match="0 to 5"):
        Mark(stars=stars)


@given(marks, edits)
def test_the_same_again_is_no_change(mark: Mark, edit: Edit) -> None:
    after = edit.applied_to(mark)
    assert plan_edit(edit, {1: after}, str, LABELS) is None


@given(st.dictionaries(st.integers(1, 9), marks, min_size=1), st.lists(edits, max_size=8))
def test_changes_taken_back_in_turn_restore_every_mark(
    start: dict[int, Mark], wanted: list[Edit]
) -> None:
    now = dict(start)
    done: list[Change] = []
    for edit in wanted:
        change = plan_edit(edit, now, str, LABELS)
        if change:
            done.append(change)
            now |= after(change)
    for change in reversed(done):
        now |= after(change.reversed())
    assert now == start


def test_only_frames_that_change_are_in_the_change() -> None:
    change = plan_edit(
        Edit(Decision.PICK), {1: UNMARKED, 2: Mark(Decision.PICK)}, "QH_{}".format, LABELS
    )
    assert change == Change("picked QH_1", (MarkStep(1, UNMARKED, Mark(Decision.PICK)),))


@pytest.mark.parametrize(
    ("edit", "where", "sentence"),
    [
        (Edit(Decision.REJECT), "QH_1", "rejected QH_1"),
        (Edit(stars=1), "1,200 frames", "1 star on 1,200 frames"),
        (Edit(stars=0), "QH_1", "no stars on QH_1"),
        (Edit(label="R"), "2 frames", "Retouch on 2 frames"),
        (Edit(label=""), "QH_1", "no label on QH_1"),
        (Edit(Decision.UNDECIDED, 2), "QH_1", "left QH_1 undecided, 2 stars on QH_1"),
    ],
)
def test_sentences(edit: Edit, where: str, sentence: str) -> None:
    assert sentence_for(edit, where, LABELS) == sentence
