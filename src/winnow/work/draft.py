"""The draft of a shoot, made of what is stored, and taking of it what a person agreed with."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from winnow.core.counts import counted
from winnow.core.draft.draft import Candidate, Draft, draft
from winnow.core.marks import Change, Decision, plan_decisions
from winnow.say import say
from winnow.store import frames, groups, hints, marks
from winnow.store.db import Database
from winnow.store.frames import State


def make(db: Database, shoot_id: int, number: int | None) -> Draft:
    """Propose what to keep of a shoot. ``number``: how many in all, None for one a group.

    Frames that are set aside, moved out, missing or can't be shown are left out.
    """
    verdicts = hints.verdicts_of_shoot(db, shoot_id)
    known = groups.material(db, shoot_id)
    signatures = dict(zip(known.ids, known.signatures, strict=True))
    candidates = []
    for row in frames.rows(db, shoot_id):
        if row.missing or row.held or row.moved_out or row.state is State.FAILED:
            continue
        verdict = verdicts.get(row.id)
        no_edge = row.standing is not None and row.standing.state == "no edge"
        candidates.append(
            Candidate(
                row.id,
                row.group,
                row.mark.decision,
                row.mark.stars,
                verdict.place if verdict else 0,
                bool(verdict and verdict.best),
                verdict.usable if verdict else not (no_edge or row.notice),
                verdict.words if verdict else "",
                signatures.get(row.id),
            )
        )
    return draft(candidates, number)


@dataclass(frozen=True, slots=True)
class Taken:
    """What a person takes of a group's proposal, maybe changed: frames to pick, and to reject."""

    keep: Sequence[int]
    out: Sequence[int]


def take(db: Database, shoot_id: int, wanted: Sequence[Taken], by: str = "") -> Change | None:
    """Pick and reject frames of groups, as one step of the history. Raises KeyError when one of them is not in this shoot."""
    decisions = {frame: Decision.REJECT for one in wanted for frame in one.out}
    decisions |= {frame: Decision.PICK for one in wanted for frame in one.keep}
    picked = sum(one is Decision.PICK for one in decisions.values())

    def plan() -> Change | None:
        present = marks.marks_of(db, shoot_id, list(decisions))
        if len(present) < len(decisions):
            raise KeyError("a frame")
        return plan_decisions(decisions, present, _sentence(db, wanted, picked, len(decisions)))

    return marks.apply(db, shoot_id, plan, by)


def _sentence(db: Database, wanted: Sequence[Taken], picked: int, in_all: int) -> str:
    rejected = in_all - picked
    alone = len(wanted) == 1 and picked == 1
    what = frames.name_of(db, wanted[0].keep[0]) if alone else counted(picked, "frame")
    if len(wanted) > 1:
        what = say("{what} of {groups}", what=what, groups=counted(len(wanted), "group"))
    said = say("picked {where}", where=what) if picked else ""
    if not rejected:
        return say("{said}, by the draft", said=said)
    left = say("rejected {where}", where=counted(rejected, "frame"))
    return say("{said}, by the draft", said=f"{said}, {left}" if said else left)
