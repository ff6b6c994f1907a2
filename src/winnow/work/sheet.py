"""A filter's result with its counts, and its choices with theirs."""

from __future__ import annotations

from dataclasses import dataclass, replace

from winnow.core import filter_parts, filters
from winnow.core.filters import Counts, Filter
from winnow.core.written import Not, value_in_words
from winnow.store import choices as store_choices
from winnow.store import frames, labels, marks, shoots
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Found:
    """The frames that pass a filter, in order, what it is in words, and what its choices leave."""

    ids: list[int]
    words: str
    counts: Counts


def matching(db: Database, shoot_id: int, wanted: Filter) -> list[int]:
    """Ids of the frames that pass a filter, in order."""
    return frames.filtered(db, shoot_id, wanted)


def find(db: Database, shoot_id: int, wanted: Filter) -> Found:
    """Filter a shoot, and remember the filter as its last one."""
    names = labels.label_names(db)
    tally = marks.tally(db, shoot_id, wanted.where)
    counts = filters.count(wanted, tally, list(names))
    if wanted.where is not None:
        total = sum(marks.tally(db, shoot_id).values())
        counts = replace(counts, total=total)
    found = Found(matching(db, shoot_id, wanted), filters.in_words(wanted, names), counts)
    shoot = shoots.get(db, shoot_id)
    if shoot is not None and shoot.filter != wanted:
        shoots.keep_filter(db, shoot_id, wanted)
    return found


@dataclass(frozen=True, slots=True)
class Choice:
    """A value of a fact, or a bin up to ``high``, and how many frames the filter leaves with it alone."""

    value: str | float
    high: float | None
    words: str
    count: int


def choices(db: Database, shoot_id: int, wanted: Filter, fact: str) -> list[Choice]:
    """The values of a fact, in order: what each would leave as the only one wanted of this fact.

    Where any of the conditions is enough, this is what the others leave and what the value adds.
    """
    names = labels.label_names(db)
    joined, _ = filter_parts.parts_of(wanted.where)
    others = filter_parts.without_fact(wanted.where, fact)
    base = 0
    if joined == "any" and others is not None:
        base = len(matching(db, shoot_id, replace(wanted, where=others)))
        others = Not(others)
    found, width = store_choices.counted_values(db, shoot_id, replace(wanted, where=others), fact)
    # Values that no frame has any more are still there to be taken off.
    for part in filter_parts.parts_of(wanted.where)[1]:
        if part.fact == fact and width is None:
            for value in part.values:
                found.setdefault(value, 0)
    in_order = sorted(found.items(), key=lambda item: (isinstance(item[0], str), item[0]))
    return [
        Choice(
            value,
            None if width is None else float(value) + width,
            value_in_words(fact, value, names),
            base + number,
        )
        for value, number in in_order
    ]
