"""Answers that say what is different to the last one."""

from hypothesis import given
from hypothesis import strategies as st

from winnow.work.found import Answers, Difference

ORDER = [n * 37 % 101 for n in range(1, 100)]


@given(st.sets(st.sampled_from(ORDER)), st.sets(st.sampled_from(ORDER)))
def test_a_difference_leads_from_one_list_to_the_next(before: set[int], now: set[int]) -> None:
    answers = Answers()
    first = [n for n in ORDER if n in before]
    second = [n for n in ORDER if n in now]
    since, none = answers.said(1, first)
    assert none is None
    name, different = answers.said(1, second, since)
    assert (name == since) == (first == second)
    if different is not None:
        there = (before - set(different.gone)) | set(different.came)
        assert [n for n in ORDER if n in there] == second
        assert len(different.came) + len(different.gone) <= len(second)
    else:
        assert len(before ^ now) > len(now) / 2


def test_another_order_is_said_whole() -> None:
    answers = Answers()
    since, _ = answers.said(1, [1, 2, 3, 4, 5])
    assert answers.said(1, [1, 3, 2, 4, 5], since)[1] is None
    assert answers.said(1, [1, 3, 2, 4, 5, 6], since)[1] is None
    assert answers.said(1, [1, 2, 6, 3, 5], since)[1] == Difference([6], [4])


def test_an_answer_of_another_shoot_or_long_ago_is_not_known() -> None:
    answers = Answers()
    since, _ = answers.said(1, [1, 2, 3, 4])
    assert answers.said(2, [1, 2, 3, 4], since)[1] is None
    assert answers.said(1, [1, 2, 3, 4], "another")[1] is None
    for n in range(100):
        answers.said(1, [n])
    assert answers.said(1, [1, 2, 3], since)[1] is None
