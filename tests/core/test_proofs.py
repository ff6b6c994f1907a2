"""Answers of clients: read, and refused in words."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from winnow.core.deliver.proofs import AnswerError, as_file, instruction, read_answer

GOOD = {
    "kind": "proof answer",
    "version": 1,
    "proof": "abc",
    "client": " Ann ",
    "note": "thank\r\nyou",
    "picks": [3, 1, 3],
    "comments": {"3": " lighter ", "4": "  "},
}


def test_an_answer_is_read() -> None:
    found = read_answer(json.dumps(GOOD).encode())
    assert (found.token, found.client, found.note) == ("abc", "Ann", "thank\nyou")
    assert found.picks == (3, 1)
    assert found.comments == {3: "lighter"}
    assert read_answer(b"\xef\xbb\xbf" + json.dumps(GOOD).encode()) == found


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"kind": "list"}, "not an answer"),
        ({"version": 2}, "newer"),
        ({"picks": ["a"]}, "can’t be understood"),
        ({"picks": [True]}, "can’t be understood"),
        ({"picks": 3}, "can’t be understood"),
        ({"comments": ["a"]}, "can’t be understood"),
        ({"comments": {"1": 3}}, "can’t be understood"),
        ({"comments": {"٣": "a"}}, "can’t be understood"),
        ({"proof": None}, "can’t be understood"),
    ],
)
def test_other_files_are_refused(change: dict[str, object], words: str) -> None:
    with pytest.raises(AnswerError, match=words):
        read_answer(json.dumps({**GOOD, **change}).encode())


@pytest.mark.parametrize("data", [b"", b"\xff\xfe", b"[" * 100_000, b"[1]", b"x" * 5_000_001])
def test_no_file_breaks_it(data: bytes) -> None:
    with pytest.raises(AnswerError):
        read_answer(data)


@given(
    st.dictionaries(
        st.sampled_from([*GOOD, "other"]),
        st.recursive(
            st.none() | st.integers() | st.text() | st.booleans(),
            lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
        ),
    )
)
def test_any_content_is_an_answer_or_refused(change: dict[str, object]) -> None:
    try:
        found = read_answer(json.dumps({**GOOD, **change}).encode())
    except AnswerError:
        return
    assert all(isinstance(number, int) for number in (*found.picks, *found.comments))


def test_what_the_stand_in_writes_is_read() -> None:
    found = read_answer(as_file("t", "Ann", [2, 5], {5: "crop"}))
    assert (found.token, found.picks, found.comments) == ("t", (2, 5), {5: "crop"})


def test_comments_are_added_to_instructions_once() -> None:
    once = instruction("crop it", "Ann", "lighter")
    assert once == "crop it\nAnn: lighter"
    assert instruction(once, "Ann", "lighter") == once
    assert instruction("", "", "lighter") == "lighter"
