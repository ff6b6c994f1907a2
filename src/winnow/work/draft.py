"""The draft of a shoot, made of what is stored."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass

from winnow.core.draft.draft import Agreement, Candidate, Draft, agreement, draft
from winnow.core.draft.number import Question, fill, trim
from winnow.core.marks import Decision
from winnow.store import frames, groups, hints, people
from winnow.store.db import Database
from winnow.store.frames import State


@dataclass(frozen=True, slots=True)
class Made:
    """A draft, how many picks there are that it could not propose, and how the picks compare with
    the verdicts."""

    draft: Draft
    away: int
    agreement: Agreement

    @property
    def picked(self) -> int:
        """How many frames are picks."""
        return self.draft.picked + self.away

    @property
    def kept(self) -> int:
        """How many frames would be kept in all."""
        return self.draft.kept + self.away


@dataclass(frozen=True, slots=True)
class ToNumber:
    """The way to the number that is to be kept.

    ``picked``: picks now; ``questions``: what may go, or be added.
    """

    picked: int
    questions: list[Question]


def make(db: Database, shoot_id: int, number: int | None) -> Made:
    """Propose what to keep of a shoot. ``number``: how many in all, None for one a group."""
    choice, away = candidates(db, shoot_id)
    made = draft(choice, None if number is None else max(0, number - away))
    return Made(made, away, agreement(choice))


def to_number(db: Database, shoot_id: int, number: int, settled: Collection[int]) -> ToNumber:
    """Which picks may go, or which frames may be added, until ``number`` are kept.

    ``settled``: frames that were asked for.
    """
    choice, away = candidates(db, shoot_id)
    picked = away + sum(candidate.decision is Decision.PICK for candidate in choice)
    if picked > number:
        return ToNumber(picked, trim(choice, picked - number, settled))
    return ToNumber(picked, fill(choice, number - picked, settled))


def candidates(db: Database, shoot_id: int) -> tuple[list[Candidate], int]:
    """The frames of a shoot that can be proposed, and how many picks are not among them.

    Frames that are set aside, moved out, missing or can't be shown are left out.
    """
    away = 0
    verdicts = hints.verdicts_of_shoot(db, shoot_id)
    known = groups.material(db, shoot_id)
    signatures = dict(zip(known.ids, known.signatures, strict=True))
    people_in: dict[int, set[int]] = defaultdict(set)
    for number, seen_in in people.frames_of(db, shoot_id).items():
        for frame in seen_in:
            people_in[frame].add(number)
    listed = []
    for row in frames.rows(db, shoot_id):
        if row.missing or row.held or row.moved_out or row.state is State.FAILED:
            away += row.mark.decision is Decision.PICK
            continue
        verdict = verdicts.get(row.id)
        no_edge = row.standing is not None and row.standing.state == "no edge"
        listed.append(
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
                frozenset(people_in.get(row.id, ())),
            )
        )
    return listed, away
