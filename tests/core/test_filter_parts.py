"""Clicking in a written filter: parts found, changed, and written so that they read the same."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_parser import LABELS
from winnow.core.filters import parts
from winnow.core.filters.conditions import All, Any_, Between, Compare, Condition, Flag, Not
from winnow.core.filters.parser import WrittenError, parse
from winnow.core.verdict.hints import KINDS

_words = st.text(st.sampled_from(list('aB1 "-()')), min_size=1, max_size=6)
_leaves: st.SearchStrategy[Condition] = st.one_of(
    st.sampled_from(["pick", "reject", "flash", "upright"]).map(Flag),
    st.builds(Compare, st.just("iso"), st.sampled_from(["=", "<", ">="]), st.integers(0,
    6400).map(float)),
    st.builds(Compare, st.just("shutter"), st.just("="), st.sampled_from([1 / 250, 0.5, 2.0])),
    st.builds(Compare, st.sampled_from(["camera", "name"]), st.sampled_from(["=", "~"]), _words),
    st.builds(Compare, st.just("label"), st.just("="), st.sampled_from(["", *LABELS])),
    st.builds(Compare, st.just("hint"), st.just("="), st.sampled_from(["", *KINDS])),
    st.builds(Between, st.just("time"), st.integers(0, 86399).map(float), st.integers(0,
    86399).map(float)),
)  # fmt: skip
conditions = st.recursive(
    _leaves,
    lambda inner: st.one_of(
        inner.map(Not),
        st.lists(inner, min_size=2, max_size=3).map(lambda found: All(tuple(found))),
        st.lists(inner, min_size=2, max_size=3).map(lambda found: Any_(tuple(found))),
    ),
    max_leaves=8,
)


@given(conditions)
def test_what_is_written_reads_as_the_same(condition: Condition) -> None:
    assert parse(parts.text_of(condition), LABELS) == condition


@given(conditions)
def test_parts_put_together_are_the_whole(condition: Condition) -> None:
    joined, _ = parts.parts_of(condition)
    assert parts.joined_by(condition, joined) == condition


def clicked(text: str, *clicks: tuple[str, str | float]) -> str:
    condition = parse(text, LABELS)
    for fact, value in clicks:
        condition = parts.toggled(condition, fact, value)
    return parts.text_of(condition)


@pytest.mark.parametrize(
    ("before", "clicks", "after"),
    [
        ("", [("camera", "Quillon H2")], 'camera="Quillon H2"'),
        ("", [("iso", 800.0), ("iso", 1600.0)], "iso 800 or iso 1600"),
        ("pick", [("iso", 800.0), ("iso", 1600.0)], "pick (iso 800 or iso 1600)"),
        ("pick iso 800", [("iso", 800.0)], "pick"),
        ("not iso 800 flash", [("iso", 1600.0)], "not (iso 800 or iso 1600) flash"),
        ("iso 800..1600", [("iso", 100.0)], "iso 100"),
        ("iso 800", [("iso", 800.0)], ""),
        ("", [("orientation", "upright"), ("decision", "pick")], "upright pick"),
        ("iso 800 or flash", [("f", 2.8)], "iso 800 or flash or f 2.8"),
        ("iso 800 or iso 1600", [("iso", 100.0)], "iso 800 or iso 1600 or iso 100"),
    ],
)
def test_values_are_clicked(before: str, clicks: list[tuple[str, str | float]], after: str) -> None:
    assert clicked(before, *clicks) == after


def test_ranges_opposites_and_joining() -> None:
    drawn = parts.ranged(parse("pick", LABELS), "iso", 800, 3200)
    assert parts.text_of(drawn) == "pick iso 800..3200"
    assert parts.text_of(parts.ranged(drawn, "iso", None, 1600)) == "pick iso<= 1600"
    assert parts.text_of(parts.ranged(drawn, "iso", None, None)) == "pick"
    assert parts.text_of(parts.turned(drawn, 1)) == "pick not iso 800..3200"
    assert parts.text_of(parts.joined_by(drawn, "any")) == "pick or iso 800..3200"
    assert parts.text_of(parts.without(drawn, 0)) == "iso 800..3200"
    assert parts.text_of(parts.without_fact(drawn, "iso")) == "pick"


@pytest.mark.parametrize("value", [1.5, "", "upright", "unpicked "])
def test_a_fact_that_is_so_or_not_has_no_other_values(value: str | float) -> None:
    assert parts.toggled(None, "unpicked", "unpicked") == Flag("unpicked")
    with pytest.raises(WrittenError, match="says nothing about unpicked"):
        parts.toggled(None, "unpicked", value)
