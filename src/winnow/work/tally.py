"""The end of a cull in numbers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from winnow.core import pace
from winnow.core.marks import Decision
from winnow.core.tally import Bar, funnel, nearly_the_same
from winnow.store import deletions, deliveries, groups, history, labels, marks
from winnow.store.db import Database

_PARTS: Final = 24  # of the time worked


@dataclass(frozen=True, slots=True)
class Tallied:
    """The funnel; how many groups there are, and without a pick; runs of picks that look nearly the
    same; the pace, the time worked in s, and decisions in equal parts of it."""

    bars: list[Bar]
    groups: int
    without_pick: int
    alike: list[list[int]]
    a_minute: float | None
    worked_s: float
    pace: list[int]


def tally(db: Database, shoot_id: int) -> Tallied:
    """Count a shoot as it stands."""
    known = groups.material(db, shoot_id)
    here = marks.marks_of(db, shoot_id, known.ids)
    picks = {frame for frame, mark in here.items() if mark.decision is Decision.PICK}
    picked = {
        number for frame, number in zip(known.ids, known.numbers, strict=True) if frame in picks
    }
    decided_at = history.decided_at(db, shoot_id)
    said = pace.pace(decided_at)
    letters = list(labels.label_names(db))
    return Tallied(
        bars=funnel(
            marks.tally(db, shoot_id),
            letters,
            deliveries.delivered(db, shoot_id),
            deletions.deleted(db, shoot_id),
        ),
        groups=len(set(known.numbers)),
        without_pick=len(set(known.numbers) - picked),
        alike=nearly_the_same(known.ids, known.numbers, known.signatures, picks),
        a_minute=said.a_minute,
        worked_s=said.worked_s,
        pace=pace.over_time(decided_at, _PARTS),
    )
