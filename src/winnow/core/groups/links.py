"""Frames that are linked as parts of one picture, which is put together later.

A link is said by hand and holds until it is taken back. The parts of a picture are decided
together; which frames those are follows from the links, so that it is never stored twice.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import combinations
from typing import Final

from winnow.core.counts import counted
from winnow.core.groups.edits import HandEdit
from winnow.core.marks import Change, Decision, Mark, MarkStep
from winnow.say import say

_KINDER: Final = (Decision.PICK, Decision.UNDECIDED, Decision.REJECT)


def linked(edits: Iterable[HandEdit]) -> list[tuple[int, ...]]:
    """The frames of each picture, by ids; each set ascending, as the sets are."""
    set_of: dict[int, set[int]] = {}
    for edit in edits:
        if edit.kind == "link":
            parts = set_of.get(edit.frame, {edit.frame}) | set_of.get(edit.other, {edit.other})
            set_of |= dict.fromkeys(parts, parts)
    return sorted({tuple(sorted(parts)) for parts in set_of.values()})


def link(edits: frozenset[HandEdit], frames: Collection[int]) -> frozenset[HandEdit]:
    """The edits with these frames as parts of one picture, with what each was a part of before."""
    parts = set(frames).union(*(own for own in linked(edits) if not set(own).isdisjoint(frames)))
    # Each with each, so that those that stay are still linked when a file of one is deleted.
    each = combinations(sorted(parts), 2)
    return _without(edits, parts) | {HandEdit("link", first, other) for first, other in each}


def unlink(edits: frozenset[HandEdit], frame: int) -> frozenset[HandEdit]:
    """The edits with the picture that a frame is a part of taken apart."""
    parts = next((own for own in linked(edits) if frame in own), ())
    return _without(edits, parts)


def _without(edits: frozenset[HandEdit], parts: Collection[int]) -> frozenset[HandEdit]:
    return frozenset(e for e in edits if e.kind != "link" or e.frame not in parts)


def with_parts(pairs: Iterable[Sequence[int]], frames: Iterable[int]) -> list[int]:
    """Frames in their order, and behind each of them the other parts of its picture."""
    parts_of = {frame: parts for parts in pairs for frame in parts}
    return list(
        dict.fromkeys(part for frame in frames for part in (frame, *parts_of.get(frame, ())))
    )


def decided_together(
    change: Change, pairs: Iterable[Sequence[int]], marks: Mapping[int, Mark]
) -> Change:
    """A change in which what is decided of one part of a picture is decided of its other parts.

    ``marks``: present ones of the frames of these pictures. Where a change says one thing of one
    part and another of the next, the kinder holds for all: who takes a group's best and rejects the
    rest keeps the whole picture.
    """
    decided = {
        step.frame: step.after.decision
        for step in change.steps
        if step.before.decision is not step.after.decision
    }
    steps = {step.frame: step for step in change.steps}
    added: set[int] = set()
    for parts in pairs:
        said = [decided[part] for part in parts if part in decided]
        if not said:
            continue
        decision = min(said, key=_KINDER.index)
        for part in parts:
            mark = steps[part].after if part in steps else marks.get(part)
            if mark is None or mark.decision is decision:
                continue
            if part not in decided:
                added.add(part)
            before = steps[part].before if part in steps else mark
            steps[part] = MarkStep(part, before, replace(mark, decision=decision))
    sentence = change.sentence
    if added:
        parts_added = counted(len(added), "frame")
        sentence = say(
            "{sentence}, with {parts} linked to it", sentence=sentence, parts=parts_added
        )
    changed = tuple(step for step in steps.values() if step.before != step.after)
    return replace(change, sentence=sentence, steps=changed)
