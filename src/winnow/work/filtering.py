"""A filter's result with its counts, and its choices with theirs."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from winnow.core.filters import filter as filters
from winnow.core.filters import parts
from winnow.core.filters.condition_words import value_in_words
from winnow.core.filters.conditions import Among, Compare, Condition, Not, looked_up
from winnow.core.filters.filter import Counts, Filter
from winnow.store import choices as store_choices
from winnow.store import frames, labels, people, shoots
from winnow.store.columns import Columns
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Filtered:
    """The frames that pass a filter, in order, what it is in words, and what its choices leave."""

    ids: list[int]
    words: str
    counts: Counts


def matching(db: Database, shoot_id: int, wanted: Filter) -> list[int]:
    """Ids of the frames that pass a filter, in order."""
    columns = db.columns.of(db.read, shoot_id)
    return columns.passing(wanted, _within(db, shoot_id, columns, wanted.where))


def _with_people(db: Database, shoot_id: int, where: Condition | None) -> Condition | None:
    """A condition in which numbers of people are the frames that they are in: who that is stands in
    no table of the database."""
    if where is None:
        return None

    def look_up(asked: Compare) -> Condition:
        if asked.fact != "person":
            return asked
        seen = people.frames_of(db, shoot_id)
        return Among(frozenset(seen.get(round(float(asked.value)), ())))

    return looked_up(where, look_up)


def _within(
    db: Database, shoot_id: int, columns: Columns, where: Condition | None
) -> NDArray[np.bool_] | None:
    meant = _with_people(db, shoot_id, where)
    if meant is None:
        return None
    return columns.mask(np.array(frames.meeting(db, shoot_id, meant), np.int64))


def find(db: Database, shoot_id: int, wanted: Filter) -> Filtered:
    """Filter a shoot, and remember the filter as its last one."""
    names = labels.label_names(db)
    columns = db.columns.of(db.read, shoot_id)
    within = _within(db, shoot_id, columns, wanted.where)
    counts = filters.count(wanted, columns.tally(within), list(names))
    if within is not None:
        counts = replace(counts, total=len(columns.ids))
    ids = columns.passing(wanted, within)
    answer = Filtered(ids, filters.in_words(wanted, names), counts)
    if shoots.filter_of(db, shoot_id) != wanted:
        shoots.keep_filter(db, shoot_id, wanted)
    return answer


@dataclass(frozen=True, slots=True)
class Choice:
    """A value of a fact, or a bin up to ``high``, and how many frames the filter leaves with it
    alone."""

    value: str | float
    high: float | None
    words: str
    count: int


def choices(db: Database, shoot_id: int, wanted: Filter, fact: str) -> list[Choice]:
    """The values of a fact, in order: what each would leave as the only one wanted of this fact.

    Where any of the conditions is enough, this is what the others leave and what the value adds.
    """
    names = labels.label_names(db)
    joined, _ = parts.parts_of(wanted.where)
    others = parts.without_fact(wanted.where, fact)
    base = 0
    if joined == "any" and others is not None:
        base = len(matching(db, shoot_id, replace(wanted, where=others)))
        others = Not(others)
    meant = replace(wanted, where=_with_people(db, shoot_id, others))
    counts, width = store_choices.counted_values(db, shoot_id, meant, fact)
    # Values that no frame has any more are still there to be taken off.
    for part in parts.parts_of(wanted.where)[1]:
        if part.fact == fact and width is None:
            for value in part.values:
                counts.setdefault(value, 0)
    in_order = sorted(counts.items(), key=lambda item: (isinstance(item[0], str), item[0]))
    return [
        Choice(
            value,
            None if width is None else float(value) + width,
            value_in_words(fact, value, names),
            base + number,
        )
        for value, number in in_order
    ]
