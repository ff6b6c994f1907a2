"""A filter's result with its counts, and its choices with theirs."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from winnow.core.filters import filter as filters
from winnow.core.filters import parts
from winnow.core.filters.condition_words import value_in_words
from winnow.core.filters.conditions import (
    All,
    Among,
    Any_,
    Compare,
    Condition,
    Not,
    looked_up,
)
from winnow.core.filters.filter import Counts, Filter
from winnow.store import choices as store_choices
from winnow.store import frames, labels, people, shoots, text_index
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


def _within(
    db: Database, shoot_id: int, columns: Columns, where: Condition | None
) -> NDArray[np.bool_] | None:
    return None if where is None else _mask(db, shoot_id, columns, where)


def _mask(db: Database, shoot_id: int, columns: Columns, where: Condition) -> NDArray[np.bool_]:
    """Which frames meet a condition, in the columns' order.

    Texts are compared in memory and people elsewhere; what the database answers is asked at once.
    """
    match where:
        case Compare() if _elsewhere(where):
            return columns.mask(_found(db, shoot_id, where))
        case Not(inner) if _elsewhere(inner):
            return ~_mask(db, shoot_id, columns, inner)
        case All(parts) | Any_(parts) if _elsewhere(where):
            here = tuple(part for part in parts if not _elsewhere(part))
            masks = [_mask(db, shoot_id, columns, part) for part in parts if _elsewhere(part)]
            if here:
                masks.append(_mask(db, shoot_id, columns, type(where)(here)))
            both = np.logical_and if isinstance(where, All) else np.logical_or
            mask: NDArray[np.bool_] = both.reduce(masks)
            return mask
    return columns.mask(np.array(frames.meeting(db, shoot_id, where), np.int64))


def _elsewhere(where: Condition) -> bool:
    """Whether any part of a condition is not answered by the database."""
    match where:
        case Compare(fact):
            return fact == "person" or bool(text_index.columns_of(where))
        case Not(inner):
            return _elsewhere(inner)
        case All(parts) | Any_(parts):
            return any(map(_elsewhere, parts))
    return False


def _found(db: Database, shoot_id: int, asked: Compare) -> NDArray[np.int64]:
    """The frames of which a comparison is true that the database doesn't answer."""
    if asked.fact == "person":
        found = people.frames_of(db, shoot_id).get(round(float(asked.value)), set())
        return np.array(sorted(found), np.int64)
    return db.texts.of(db.read, shoot_id, text_index.columns_of(asked)).meeting(asked)


def for_database(db: Database, shoot_id: int, where: Condition | None) -> Condition | None:
    """A condition for the database alone: the frames stand in it that other parts are met by."""

    def look_up(asked: Compare) -> Condition:
        if not _elsewhere(asked):
            return asked
        return Among(frozenset(_found(db, shoot_id, asked).tolist()))

    return None if where is None else looked_up(where, look_up)


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
    meant = replace(wanted, where=for_database(db, shoot_id, others))
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
