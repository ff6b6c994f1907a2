"""On the way to the number: what is easiest to lose goes first, what is missing most comes
first."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_draft import PICK, REJECT, SIGNATURES, frame
from winnow.core.draft.number import fill, trim
from winnow.core.marks import Decision

SAME, OTHER, FAR = SIGNATURES[:3]


def test_a_pick_that_is_nearly_the_same_as_another_of_its_group_goes_first() -> None:
    shoot = [
        frame(1, 0, 1, decision=PICK, signature=OTHER),
        frame(2, 1, 1, decision=PICK, signature=SAME),
        frame(3, 1, 2, decision=PICK, signature=SAME),
        frame(4, 1, 3, signature=SAME),
        frame(5, 2, 1, decision=PICK, signature=SAME),
    ]
    first, second = trim(shoot, 2)
    # The worse of the two; it may be turned round.
    assert (first.frame, first.beside, first.others) == (3, 2, (2,))
    assert first.words == "nearly the same as another pick of its group"
    # Then one of two groups that look the same: each is the only pick of its moment.
    assert (second.frame, second.beside) == (5, 2)
    assert second.words == "the only pick of group 3: its moment would be lost"


def test_stars_and_what_is_settled_stay() -> None:
    shoot = [
        frame(1, 0, 1, decision=PICK, signature=SAME, stars=0),
        frame(2, 0, 2, decision=PICK, signature=SAME, stars=3),
        frame(3, 0, 3, decision=PICK, signature=SAME, stars=1),
    ]
    assert [question.frame for question in trim(shoot, 3)] == [1, 3, 2]
    assert [question.frame for question in trim(shoot, 3, settled={1})] == [3, 2]
    assert trim(shoot, 3, settled={1, 2, 3}) == []
    assert trim(shoot, 0) == []
    # What may go instead is not what is settled.
    assert trim(shoot, 1, settled={2, 3})[0].others == ()


def test_of_what_is_missing_groups_without_a_pick_come_first() -> None:
    shoot = [
        frame(1, 0, 1, decision=PICK, signature=SAME),
        frame(2, 0, 1, signature=FAR),
        frame(3, 1, 2, signature=OTHER), frame(4, 1, 1, signature=OTHER),
        frame(5, 2, 1, decision=REJECT, signature=FAR),
        frame(6, 2, 2, decision=REJECT, usable=False, signature=FAR),
        frame(7, 0, 2, signature=SAME),
        frame(8, 3, 1, usable=False, signature=FAR),
    ]  # fmt: skip
    shoot.sort(key=lambda candidate: candidate.group)
    first, second, third = fill(shoot, 9)
    assert (first.frame, first.others) == (4, (3,))
    assert first.words == "nothing of group 2 is picked yet"
    assert (second.frame, second.words) == (
        2,
        "a second of group 1 that differs from what is picked",
    )
    assert third.frame == 5
    assert third.words == "group 3 is rejected whole: its best frame that can be used"
    # What can't be used, and what is the same as a pick, is never offered.
    assert [question.frame for question in fill(shoot, 9, settled={4, 2, 5})] == [3]
    assert [question.frame for question in fill(shoot, 1)] == [4]


shoots = st.lists(
    st.tuples(
        st.integers(0, 1), st.sampled_from(list(Decision)), st.integers(0, 4), st.booleans(),
        st.integers(0, 11), st.integers(0, 2),
    ),
    max_size=24,
)  # fmt: skip


@given(shoots, st.integers(0, 9))
def test_the_number_is_met_where_it_can_be_and_no_mark_is_asked_for_twice(
    rows: list[tuple[int, Decision, int, bool, int, int]], number: int
) -> None:
    group, shoot = 0, []
    for n, (step, decision, place, usable, likes, stars) in enumerate(rows):
        group += step
        made = frame(n, group, place, decision=decision, usable=usable, stars=stars)
        shoot.append(replace(made, signature=SIGNATURES[likes]))
    picks = {candidate.frame for candidate in shoot if candidate.decision is Decision.PICK}
    gone = [question.frame for question in trim(shoot, max(0, len(picks) - number), most=99)]
    assert len(set(gone)) == len(gone) == max(0, len(picks) - number)
    assert set(gone) <= picks
    added = [question.frame for question in fill(shoot, max(0, number - len(picks)), most=99)]
    assert len(set(added)) == len(added) <= max(0, number - len(picks))
    can = {candidate.frame for candidate in shoot if candidate.usable}
    assert set(added) <= can - picks
    # A moment that has something usable is not left out while a second is added.
    if len(picks) + len(added) < number:
        shown = {candidate.group for candidate in shoot if candidate.frame in picks | set(added)}
        assert {candidate.group for candidate in shoot if candidate.usable} <= shown
