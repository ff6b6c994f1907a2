"""Profiles: what is written for a mark, and what is read again."""

import pytest

from winnow.core.files.profiles import (
    FileMark,
    Profile,
    ProfileError,
    check,
    read,
    to_file,
    writing,
)
from winnow.core.marks import Decision, Mark

SET = [("R", "Retouch"), ("A", "Album")]
PICK, REJECT = Decision.PICK, Decision.REJECT


@pytest.mark.parametrize(
    ("profile", "mark", "stated"),
    [
        (Profile("-"), Mark(PICK, 2), FileMark(2, None, True)),
        (Profile("-", pick_stars=5), Mark(PICK, 2), FileMark(5, None, True)),
        (Profile("-", pick_stars=1, pick_good=False), Mark(PICK), FileMark(1)),
        (Profile("-", pick_stars=1), Mark(PICK, 3), FileMark(3, None, True)),
        (Profile("-", pick_label="Chosen"), Mark(PICK), FileMark(None, "Chosen", True)),
        (Profile("-", pick_label="Chosen"), Mark(PICK, 0, "A"), FileMark(None, "Album", True)),
        (Profile("-"), Mark(REJECT, 3), FileMark(-1)),
        (Profile("-", reject_rating=False), Mark(REJECT, 3), FileMark(3)),
        (Profile("-", False, 0, "", False, "Out"), Mark(REJECT), FileMark(None, "Out")),
        (Profile("-", labels={"A": "Red"}), Mark(label="A"), FileMark(None, "Red")),
    ],
)
def test_how_marks_are_written(profile: Profile, mark: Mark, stated: FileMark) -> None:
    assert to_file(mark, FileMark(), writing(profile, SET, {})) == stated


@pytest.mark.parametrize(
    ("profile", "stated", "mark"),
    [
        (Profile("-", pick_stars=3), FileMark(4), Mark(PICK, 4)),
        (Profile("-", pick_stars=3), FileMark(2), Mark(stars=2)),
        (Profile("-", pick_stars=3), FileMark(4, good=False), Mark(stars=4)),
        (Profile("-", pick_label="Chosen"), FileMark(2, "chosen"), Mark(PICK, 2)),
        (Profile("-", reject_label="Out"), FileMark(2, "Out"), Mark(REJECT, 2)),
        (Profile("-", labels={"A": "Red"}), FileMark(label="red"), Mark(label="A")),
        # What was written before the profile changed still means the same.
        (Profile("-", labels={"A": "Red"}), FileMark(label="Album"), Mark(label="A")),
        (Profile("-"), FileMark(label="Green"), Mark()),
    ],
)
def test_how_files_are_read(profile: Profile, stated: FileMark, mark: Mark) -> None:
    assert read(stated, writing(profile, SET, {})).over(Mark()) == mark


def test_texts_that_others_write_can_be_given_a_meaning() -> None:
    how = writing(Profile("-"), SET, {"Green": "A", "Done": ""})
    assert read(FileMark(label="green"), how).label == "A"
    assert how.knows("done")
    assert read(FileMark(label="done"), how).label is None
    assert not how.knows("Blue")


def test_two_marks_can_not_be_written_alike() -> None:
    with pytest.raises(ProfileError, match="album"):
        writing(Profile("-", pick_label="ALBUM"), SET, {})
    with pytest.raises(ProfileError, match="retouch"):
        writing(Profile("-", labels={"A": "Retouch"}), SET, {})


def test_a_profile_needs_a_name_and_lawful_stars() -> None:
    with pytest.raises(ProfileError, match="name"):
        check(Profile(" "))
    with pytest.raises(ProfileError, match="0 to 5"):
        check(Profile("x", pick_stars=6))
