"""Decisions on the frames of groups, each with its own, as one step of the history."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from winnow.core.counts import counted
from winnow.core.marks import Change, Decision, plan_decisions
from winnow.say import say
from winnow.store import frames, marks
from winnow.store.db import Database


class NotInShootError(LookupError):
    """A frame is asked for that is not in the shoot."""


@dataclass(frozen=True, slots=True)
class Taken:
    """What a person decides of a group: frames to pick, to reject, and to leave undecided."""

    keep: Sequence[int] = ()
    out: Sequence[int] = ()
    open: Sequence[int] = ()


def decide(
    db: Database, shoot_id: int, groups: Sequence[Taken], *, proposed: bool, by: str = ""
) -> Change | None:
    """Pick, reject and leave frames of groups.

    ``proposed``: as the draft has it; ``by``: the guest who does. Raises NotInShootError when one
    of the frames is not in this shoot.
    """
    wanted = {frame: Decision.UNDECIDED for group in groups for frame in group.open}
    wanted |= {frame: Decision.REJECT for group in groups for frame in group.out}
    wanted |= {frame: Decision.PICK for group in groups for frame in group.keep}

    def plan() -> Change | None:
        present = marks.marks_of(db, shoot_id, list(wanted))
        if len(present) < len(wanted):
            raise NotInShootError
        new = {
            frame: wanted[frame] for frame in wanted if present[frame].decision is not wanted[frame]
        }
        return plan_decisions(wanted, present, _sentence(db, new, len(groups), proposed))

    return marks.apply(db, shoot_id, plan, by)


def _sentence(db: Database, wanted: Mapping[int, Decision], groups: int, proposed: bool) -> str:
    """What becomes of the frames that change. Example: "picked QH2_0104, rejected 3 frames"."""
    many = Counter(wanted.values())

    def what(decision: Decision) -> str:
        if many[decision] == 1:
            return frames.name_of(db, next(frame for frame in wanted if wanted[frame] is decision))
        said = counted(many[decision], "frame")
        if groups > 1 and decision is Decision.PICK:
            return say("{what} of {groups}", what=said, groups=counted(groups, "group"))
        return said

    parts = []
    if many[Decision.PICK]:
        parts.append(say("picked {where}", where=what(Decision.PICK)))
    if many[Decision.REJECT]:
        parts.append(say("rejected {where}", where=what(Decision.REJECT)))
    if many[Decision.UNDECIDED]:
        parts.append(say("left {where} undecided", where=what(Decision.UNDECIDED)))
    said = ", ".join(parts)
    return say("{said}, by the draft", said=said) if proposed else said
