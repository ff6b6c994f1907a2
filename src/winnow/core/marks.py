"""Marks and the changes that make them: decision, stars and label of a frame."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import Final, NamedTuple

from winnow.core.counts import counted
from winnow.core.files.texts import TextStep
from winnow.core.groups.edits import HandEdit
from winnow.say import say


class Decision(StrEnum):
    """The answer of the first pass. Undecided is an answer too."""

    UNDECIDED = "undecided"
    PICK = "pick"
    REJECT = "reject"


MAX_STARS: Final = 5


@dataclass(frozen=True, slots=True)
class Mark:
    """What the person said of one frame.

    ``stars`` is 0 to 5; ``label`` is the letter of one of the label set, or None.
    """

    decision: Decision = Decision.UNDECIDED
    stars: int = 0
    label: str | None = None

    def __post_init__(self) -> None:
        if not 0 <= self.stars <= MAX_STARS:
            raise ValueError(f"stars must be 0 to {MAX_STARS}, not {self.stars}")


UNMARKED: Final = Mark()


# There are few different marks, and often thousands of frames.
@lru_cache(1024)
def mark_of(decision: str, stars: int, label: str | None) -> Mark:
    """The mark with these parts, as they are stored."""
    return Mark(Decision(decision), stars, label)


@dataclass(frozen=True, slots=True)
class Edit:
    """What to set; None leaves that part as it is. ``label`` "" takes the label off."""

    decision: Decision | None = None
    stars: int | None = None
    label: str | None = None

    def __post_init__(self) -> None:
        if self.decision is None and self.stars is None and self.label is None:
            raise ValueError("an edit sets a decision, stars or a label")

    def applied_to(self, mark: Mark) -> Mark:
        """Return the mark with this edit made; the same mark if it says so already."""
        if self.decision is not None:
            mark = replace(mark, decision=self.decision)
        if self.stars is not None:
            mark = replace(mark, stars=self.stars)
        if self.label is not None:
            mark = replace(mark, label=self.label or None)
        return mark


class MarkStep(NamedTuple):
    """One frame's mark before and after. A tuple: a change may have a hundred thousand of them."""

    frame: int
    before: Mark
    after: Mark


@dataclass(frozen=True, slots=True)
class GroupStep:
    """What was said of groups by hand: edits that are new, and edits that no longer hold."""

    new: frozenset[HandEdit]
    out: frozenset[HandEdit]


@dataclass(frozen=True, slots=True)
class Change:
    """One step of the history: what was done, on which frames or groups, from what to what.

    ``steps`` are of marks, ``texts`` of what is written about frames. ``by_hints``: the kinds of
    hint by which it was done in bulk.
    """

    sentence: str
    steps: tuple[MarkStep, ...] = ()
    groups: GroupStep | None = None
    by_hints: tuple[str, ...] = ()
    texts: tuple[TextStep, ...] = ()

    def reversed(self) -> Change:
        """The change that takes this one back."""
        return Change(
            self.sentence,
            tuple(MarkStep(s.frame, s.after, s.before) for s in self.steps),
            GroupStep(self.groups.out, self.groups.new) if self.groups else None,
            self.by_hints,
            tuple(TextStep(s.frame, s.after, s.before) for s in self.texts),
        )


def sentence_for(edit: Edit, where: str, label_names: Mapping[str, str]) -> str:
    """Say what an edit did, for the undo button and the history.

    ``where``: the frame or frames that really changed; ``label_names`` maps a label's letter to its
    name. Example: "picked QH2_0412", "3 stars on 12 frames".
    """
    parts = []
    if edit.decision is not None:
        parts.append(
            {
                Decision.PICK: say("picked {where}", where=where),
                Decision.REJECT: say("rejected {where}", where=where),
                Decision.UNDECIDED: say("left {where} undecided", where=where),
            }[edit.decision]
        )
    if edit.stars is not None:
        stars = counted(edit.stars, "star") if edit.stars else say("no stars")
        parts.append(say("{stars} on {where}", stars=stars, where=where))
    if edit.label is not None:
        name = label_names.get(edit.label, edit.label)
        parts.append(
            say("{name} on {where}", name=name, where=where)
            if edit.label
            else say("no label on {where}", where=where)
        )
    return ", ".join(parts)


def plan_decisions(
    wanted: Mapping[int, Decision], marks: Mapping[int, Mark], sentence: str
) -> Change | None:
    """Turn decisions on some frames into one change; None when every frame says so already.

    ``marks``: present ones.
    """
    steps = tuple(
        MarkStep(frame, mark, replace(mark, decision=wanted[frame]))
        for frame, mark in marks.items()
        if mark.decision is not wanted[frame]
    )
    return Change(sentence, steps) if steps else None


def plan_edit(
    edit: Edit,
    marks: Mapping[int, Mark],
    name_of: Callable[[int], str],
    label_names: Mapping[str, str],
) -> Change | None:
    """Turn an edit of some frames into a change; None when every frame says so already.

    ``marks`` holds the present mark of each frame that the edit is for, in order. ``name_of`` is
    asked for the name of a frame that changes alone.
    """
    # Thousands of frames have few different marks.
    after = {mark: edit.applied_to(mark) for mark in set(marks.values())}
    after = {before: mark for before, mark in after.items() if mark != before}
    steps = tuple(
        MarkStep(frame, mark, new)
        for frame, mark in marks.items()
        if (new := after.get(mark)) is not None
    )
    if not steps:
        return None
    where = name_of(steps[0].frame) if len(steps) == 1 else counted(len(steps), "frame")
    return Change(sentence_for(edit, where, label_names), steps)
