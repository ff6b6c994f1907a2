"""Filters: what passes, in words, and counts."""

from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_marks import LABELS, marks
from winnow.core.filters.filter import Filter, count, in_words
from winnow.core.marks import Decision, Mark

filters = st.builds(
    Filter,
    st.lists(st.sampled_from(Decision), unique=True).map(tuple),
    st.sampled_from(["at_least", "exactly", "at_most"]),
    st.none() | st.integers(0, 5),
    st.lists(st.sampled_from(["", *LABELS]), unique=True).map(tuple),
)


@pytest.mark.parametrize(
    ("wanted", "words"),
    [
        (Filter(), "All frames"),
        (Filter(tuple(Decision)), "All frames"),
        (
            Filter((Decision.UNDECIDED, Decision.PICK), stars=2),
            "Picks and undecided, 2 stars or more",
        ),
        (Filter(stars=0), "All frames"),
        (Filter(stars=0, stars_rule="exactly"), "No stars"),
        (Filter(stars=1, stars_rule="at_most"), "1 star or fewer"),
        (Filter(labels=("R", "")), "Retouch or no label"),
    ],
)
def test_in_words(wanted: Filter, words: str) -> None:
    assert in_words(wanted, LABELS) == words


@given(filters, st.lists(marks, max_size=30))
def test_each_count_is_what_the_choice_would_leave(wanted: Filter, held: list[Mark]) -> None:
    counts = count(wanted, Counter(held), list(LABELS))
    assert counts.total == len(held)
    assert counts.shown == sum(wanted.passes(mark) for mark in held)
    for decision in Decision:
        single = Filter((decision,), wanted.stars_rule, wanted.stars, wanted.labels)
        assert counts.decisions[decision] == sum(map(single.passes, held))
    for stars in range(6):
        single = Filter(wanted.decisions, wanted.stars_rule, stars, wanted.labels)
        assert counts.stars[stars] == sum(map(single.passes, held))
    for label in ("", *LABELS):
        single = Filter(wanted.decisions, wanted.stars_rule, wanted.stars, (label,))
        assert counts.labels[label] == sum(map(single.passes, held))
