"""Profiles shown by example: how marks are written under one, and as what they are read again."""

from __future__ import annotations

from winnow.core.files.profiles import FileMark, Profile, read, to_file, writing
from winnow.core.marks import UNMARKED, Decision, Mark
from winnow.store import labels, marks
from winnow.store.db import Database


def label_set(db: Database) -> list[tuple[str, str]]:
    """The letters of the label set with their texts in files."""
    return [(label.letter, label.written_as) for label in labels.labels(db)]


def preview(
    db: Database, shoot_id: int, profile: Profile
) -> tuple[list[tuple[Mark, FileMark, Mark]], int]:
    """Example marks, each as it is written and as another shoot would read it; and how many frames
    of this shoot would be read as picks and are none. Raises ProfileError."""
    pairs = label_set(db)
    how = writing(profile, pairs, {})
    examples = [
        Mark(Decision.PICK),
        Mark(Decision.PICK, 3),
        Mark(Decision.REJECT),
        Mark(Decision.UNDECIDED, 2),
        *(Mark(label=letter) for letter, _ in pairs),
        *(Mark(Decision.PICK, label=letter) for letter, _ in pairs[:1]),
    ]
    shown = []
    for mark in examples:
        stated = to_file(mark, FileMark(), how)
        shown.append((mark, stated, read(stated, how).over(UNMARKED)))
    wrong = sum(
        number
        for mark, number in marks.tally(db, shoot_id).items()
        if mark.decision is not Decision.PICK
        and read(to_file(mark, FileMark(), how), how).decision is Decision.PICK
    )
    return shown, wrong
