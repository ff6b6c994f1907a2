"""What is said here and in files: neither side's change is ever dropped."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from winnow.core.files import merge as sync
from winnow.core.files.merge import (
    PARTS,
    Agreed,
    Said,
    Stated,
    from_files,
    merge,
    parts_of,
    to_files,
)
from winnow.core.files.profiles import FileMark, Profile, Writing, read, to_file, writing
from winnow.core.files.texts import Texts, cleaned
from winnow.core.marks import Decision, Mark

SET = [("R", "Retouch"), ("A", "Album")]
HOW = writing(Profile("Standard"), SET, {})

words = st.sampled_from(["", "quay", "Ünï 灯", "two words"])
entries = st.lists(st.sampled_from(["a", "b", "c", "d"]), unique=True, max_size=4).map(tuple)
texts = st.builds(
    Texts, title=words, caption=words, keywords=entries, creators=entries, rights=words, city=words
)
in_set = st.builds(
    Mark, st.sampled_from(Decision), st.integers(0, 5), st.sampled_from([None, "R", "A"])
)
saids = st.builds(Said, in_set, texts)
profiles = st.builds(
    Profile,
    st.just("own"),
    pick_good=st.booleans(),
    pick_stars=st.integers(0, 5),
    pick_label=st.sampled_from(["", "Chosen"]),
    reject_rating=st.booleans(),
    reject_label=st.sampled_from(["", "Out"]),
    labels=st.sampled_from([{}, {"A": "Zwei"}]),
).map(lambda profile: writing(profile, SET, {}))


@given(saids, saids, saids)
def test_a_change_on_one_side_survives(base: Said, here: Said, in_file: Said) -> None:
    merged = merge(base, here, in_file)
    was, ours, theirs, now = (parts_of(said) for said in (base, here, in_file, merged.said))
    for part in PARTS:
        if part == "keywords":
            assert_joined(was[part], ours[part], theirs[part], now[part])
        elif part in merged.conflicts:
            assert was[part] != ours[part] != theirs[part] != was[part]
            assert now[part] == ours[part]
        else:
            assert now[part] == (ours[part] if ours[part] != was[part] else theirs[part])


def assert_joined(was: Any, ours: Any, theirs: Any, now: Any) -> None:
    """Each keyword that either side added is there, each that either took out is not."""
    for word in {*was, *ours, *theirs}:
        if word in was:
            assert (word in now) == (word in ours and word in theirs)
        else:
            assert word in now


@given(saids, saids, saids, st.sampled_from(["here", "file"]))
def test_a_decided_conflict_is_as_decided(base: Said, here: Said, in_file: Said, side: Any) -> None:
    open_ones = merge(base, here, in_file).conflicts
    merged = merge(base, here, in_file, lambda part: side)
    assert not merged.conflicts
    wanted = parts_of(here if side == "here" else in_file)
    for part in open_ones:
        assert parts_of(merged.said)[part] == wanted[part]


@given(saids, profiles)
def test_what_was_written_reads_as_what_is_said(said: Said, how: Writing) -> None:
    """Whatever a profile can't express: a file that nobody changed says what was agreed."""
    said = Said(said.mark, cleaned(said.texts))
    stated = to_files(said, Stated(), how)
    assert from_files(stated, Agreed(said, stated), how) == said


@given(saids, saids, profiles, st.sampled_from([None, -1, 0, 1, 2, 3, 4, 5]))
def test_a_mark_made_here_survives_a_file_that_nobody_changed(
    agreed: Said, here: Said, how: Writing, rating: int | None
) -> None:
    stated = to_files(agreed, Stated(FileMark(rating)), how)
    in_file = from_files(stated, Agreed(agreed, stated), how)
    merged = merge(agreed, here, in_file)
    assert (merged.said, merged.took, merged.conflicts) == (here, (), ())


@given(in_set)
def test_the_standard_profile_says_all_but_a_rejects_stars(mark: Mark) -> None:
    again = read(to_file(mark, FileMark(), HOW), HOW).over(Mark())
    stars = 0 if mark.decision is Decision.REJECT else mark.stars
    assert again == Mark(mark.decision, stars, mark.label)


def test_changes_of_different_parts_are_joined() -> None:
    merged = merge(Said(), Said(Mark(Decision.PICK)), Said(Mark(stars=4), Texts(title="Quay")))
    assert merged.said == Said(Mark(Decision.PICK, 4), Texts(title="Quay"))
    assert (merged.took, merged.kept) == (("stars", "title"), ("decision",))


def test_a_reject_is_a_rating_of_minus_one_and_keeps_the_stars_here() -> None:
    said = Said(Mark(Decision.REJECT, 3))
    stated = to_files(said, Stated(FileMark(2)), HOW)
    assert stated.mark.rating == -1
    assert from_files(stated, Agreed(said, stated), HOW) == said


def test_a_label_text_of_others_stays_until_the_frame_gets_a_label_here() -> None:
    theirs = FileMark(label="Zweite Wahl")
    assert to_file(Mark(stars=2), theirs, HOW).label == "Zweite Wahl"
    assert to_file(Mark(label="A"), theirs, HOW).label == "Album"
    assert to_file(Mark(), FileMark(label="album"), HOW).label is None


def test_nothing_is_stated_for_an_unmarked_frame() -> None:
    assert to_file(Mark(), FileMark(), HOW) == FileMark()
    assert to_file(Mark(), FileMark(3, good=False), HOW) == FileMark(0, good=False)


@given(st.builds(Stated, st.builds(FileMark, st.integers(-1, 5), words), texts))
def test_what_a_file_states_is_stored_and_read_again(stated: Stated) -> None:
    known = sync.from_dict(sync.as_dict(stated))
    assert known.texts == stated.texts
    assert known.mark.rating == stated.mark.rating


def test_a_sidecars_word_counts_before_the_pictures() -> None:
    sidecar = Stated(FileMark(4), Texts(title="Own"))
    embedded = Stated(FileMark(1, "Album"), Texts("Below", keywords=("quay",)))
    assert sync.over(sidecar, embedded) == Stated(
        FileMark(4, "Album"), Texts("Own", keywords=("quay",))
    )
    assert sync.over(None, embedded) == embedded


def test_a_letter_that_the_label_set_lost_is_written_as_no_label() -> None:
    assert to_file(Mark(label="Z"), FileMark(), HOW).label is None
