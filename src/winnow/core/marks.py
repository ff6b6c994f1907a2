"""Marks and the changes that make them: decision, stars and label of a frame."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Final

from winnow.core.group_edits import HandEdit
from winnow.core.texts import TextStep
from winnow.core.words import counted
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


@dataclass(frozen=True, slots=True)
class Step:
    """One frame's mark before and after."""

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

    ``steps`` are of marks, ``texts`` of what is written about frames. ``by_hints``: the kinds of hint by
    which it was done in bulk.
    """

    sentence: str
    steps: tuple[Step, ...] = ()
    groups: GroupStep | None = None
    by_hints: tuple[str, ...] = ()
    texts: tuple[TextStep, ...] = ()

    def reversed(self) -> Change:
        """The change that takes this one back."""
        return Change(
            self.sentence,
            tuple(Step(s.frame, s.after, s.before) for s in self.steps),
            GroupStep(self.groups.out, self.groups.new) if self.groups else None,
            self.by_hints,
            tuple(TextStep(s.frame, s.after, s.before) for s in self.texts),
        )


def sentence_for(edit: Edit, names: Sequence[str], label_names: Mapping[str, str]) -> str:
    """Say what an edit did, for the undo button and the history.

    ``names`` are those of the frames that really changed; ``label_names`` maps a label's
    letter to its name. Example: "picked QH2_0412", "3 stars on 12 frames".
    """
    where = names[0] if len(names) == 1 else counted(len(names), "frame")
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


def plan_edit(
    edit: Edit,
    marks: Mapping[int, Mark],
    names: Mapping[int, str],
    label_names: Mapping[str, str],
) -> Change | None:
    """Turn an edit of some frames into a change; None when every frame says so already.

    ``marks`` holds the present mark of each frame that the edit is for, in order.
    """
    # Thousands of frames have few different marks.
    after = {mark: edit.applied_to(mark) for mark in set(marks.values())}
    steps = tuple(
        Step(frame, mark, after[mark]) for frame, mark in marks.items() if after[mark] != mark
    )
    if not steps:
        return None
    return Change(sentence_for(edit, [names[s.frame] for s in steps], label_names), steps)
