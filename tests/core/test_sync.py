"""Marks here and in files: neither side's change is ever dropped."""

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_marks import marks
from winnow.core.marks import Decision, Mark
from winnow.core.sync import FileMark, Outcome, from_file, merge, to_file

TEXTS = {"R": "Retouch", "A": "Album"}
LETTERS = {text.casefold(): letter for letter, text in TEXTS.items()}


@given(marks | st.none(), marks, marks)
def test_a_change_on_one_side_survives(agreed: Mark | None, here: Mark, in_file: Mark) -> None:
    base = agreed or Mark()
    merged = merge(agreed, here, in_file)
    if merged.outcome is Outcome.CONFLICT:
        assert merged.mark == here
        assert any(
            getattr(here, p) != getattr(base, p) and getattr(in_file, p) != getattr(base, p)
            for p in ("decision", "stars", "label")
        )
        return
    for part in ("decision", "stars", "label"):
        was, ours, theirs, now = (getattr(m, part) for m in (base, here, in_file, merged.mark))
        if ours != was:
            assert now == ours
        if theirs != was:
            assert now == theirs


def test_changes_of_different_parts_are_joined() -> None:
    merged = merge(Mark(), Mark(Decision.PICK), Mark(stars=4))
    assert merged.outcome is Outcome.TAKE_FILE
    assert merged.mark == Mark(Decision.PICK, 4)


@given(marks)
def test_what_is_stated_reads_back(mark: Mark) -> None:
    stated = to_file(mark, FileMark(), TEXTS)
    assert from_file(stated, mark, LETTERS) == mark


def test_a_reject_is_a_rating_of_minus_one_and_keeps_the_stars_here() -> None:
    assert to_file(Mark(Decision.REJECT, 3), FileMark(2), TEXTS).rating == -1
    assert from_file(FileMark(-1), Mark(stars=3), LETTERS) == Mark(Decision.REJECT, 3)


def test_a_label_text_of_others_stays_until_the_frame_gets_a_label_here() -> None:
    theirs = FileMark(label="Zweite Wahl")
    assert to_file(Mark(stars=2), theirs, TEXTS).label == "Zweite Wahl"
    assert to_file(Mark(label="A"), theirs, TEXTS).label == "Album"
    assert to_file(Mark(), FileMark(label="album"), TEXTS).label is None


def test_nothing_is_stated_for_an_unmarked_frame() -> None:
    assert to_file(Mark(), FileMark(), TEXTS) == FileMark()
    assert to_file(Mark(), FileMark(rating=3, good=False), TEXTS) == FileMark(rating=0, good=False)
