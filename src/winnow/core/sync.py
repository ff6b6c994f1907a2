"""Marks here and marks in a file: a merge against what both said when they last agreed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from winnow.core.marks import UNMARKED, Decision, Mark


@dataclass(frozen=True, slots=True)
class FileMark:
    """A mark as XMP states it (ISO 16684-1): rating −1 to 5 or None, label text, good or not."""

    rating: int | None = None
    label: str | None = None
    good: bool | None = None


def from_file(stated: FileMark, here: Mark, letters: Mapping[str, str]) -> Mark:
    """Read a file's statement as a mark.

    A rating of −1 is a reject; it leaves no room for stars, so those here stay. ``letters`` maps a
    label's written text, casefolded, to its letter; an unknown text reads as no label.
    """
    if stated.rating == -1:
        decision, stars = Decision.REJECT, here.stars
    else:
        decision = Decision.PICK if stated.good else Decision.UNDECIDED
        stars = stated.rating or 0
    return Mark(decision, stars, letters.get((stated.label or "").casefold()))


def to_file(mark: Mark, present: FileMark, texts: Mapping[str, str]) -> FileMark:
    """State a mark for a file that says ``present`` now; ``texts`` maps letters to written texts.

    A label text that Winnow doesn't know stays while the frame has no label here.
    """
    if mark.decision is Decision.REJECT:
        rating: int | None = -1
    else:
        rating = mark.stars if mark.stars or present.rating is not None else None
    good = True if mark.decision is Decision.PICK else (False if present.good is False else None)
    known = (present.label or "").casefold() in {text.casefold() for text in texts.values()}
    kept = None if known else present.label
    return FileMark(rating, texts[mark.label] if mark.label else kept, good)


class Outcome(StrEnum):
    """What the merge found."""

    SAME = "same"
    TAKE_FILE = "take the file's"
    KEEP_HERE = "keep ours"
    CONFLICT = "conflict"


@dataclass(frozen=True, slots=True)
class Merged:
    """The mark after the merge; in a conflict it is the one here, and the file's is kept too."""

    outcome: Outcome
    mark: Mark
    in_file: Mark


def merge(agreed: Mark | None, here: Mark, in_file: Mark) -> Merged:
    """Merge one frame's mark with its file's, part by part (decision, stars, label).

    ``agreed`` is what both said when they were last read or written; None when never, which
    counts as unmarked. A part changed on one side only is taken from there. A part changed on both
    sides to different values is a conflict, and then nothing is taken over.
    """
    base = agreed or UNMARKED
    parts: dict[str, object] = {}
    took = kept = False
    for part in ("decision", "stars", "label"):
        was, ours, theirs = getattr(base, part), getattr(here, part), getattr(in_file, part)
        if ours == theirs:
            parts[part] = ours
        elif ours == was:
            parts[part] = theirs
            took = True
        elif theirs == was:
            parts[part] = ours
            kept = True
        else:
            return Merged(Outcome.CONFLICT, here, in_file)
    merged = Mark(**parts)  # type: ignore[arg-type]
    if took:
        return Merged(Outcome.TAKE_FILE, merged, in_file)
    return Merged(Outcome.KEEP_HERE if kept else Outcome.SAME, merged, in_file)
