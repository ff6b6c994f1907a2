"""The values of a fact in a shoot, with how many frames have each: what a filter offers to
click."""

from __future__ import annotations

from collections import Counter

from winnow.core.facts import BY_NAME, Fact
from winnow.core.filters.conditions import Flag
from winnow.core.filters.filter import Filter
from winnow.core.verdict.hints import KINDS
from winnow.store.db import Database
from winnow.store.filter_sql import COMPUTED, Sql, condition_sql, named_sql, where_for

# Of facts that are not a column of their own: their value in SQL.
_VALUES = {
    "label": "coalesce(label, '')",
    "caption": "CASE WHEN NOT EXISTS (SELECT 1 FROM text WHERE frame_id = frame.id AND caption != "
    "'') THEN '' END",
}


def _value_of(fact: Fact) -> Sql:
    """What a fact is counted by. NULL: it isn't known of the frame."""
    if fact.flags:
        tests = [(name, condition_sql(Flag(name))) for name in fact.flags]
        cases = " ".join(f"WHEN {sql} THEN '{name}'" for name, (sql, _) in tests)
        return f"CASE {cases} END", [value for _, (_, values) in tests for value in values]
    value = _VALUES.get(fact.name) or COMPUTED.get(fact.column, fact.column)
    if fact.kind == "text" and fact.name not in _VALUES:
        value = f"nullif({value}, '')"
    if fact.bins is not None:
        value = f"CAST({value} / {fact.bins} AS INTEGER) * {fact.bins}"
    elif fact.places is not None:
        value = f"round({value}, {fact.places})"
    return value, []


def counted_values(
    db: Database, shoot_id: int, wanted: Filter, fact: str
) -> tuple[dict[float | str, int], float | None]:
    """How many of the frames that pass a filter have each value of a fact; frames without it are
    left out.

    Returns the numbers, and the width of a bin where a value stands for those from it up to the
    next.
    """
    if fact == "hint":
        return _named(db, shoot_id, wanted), None
    if fact == "keyword":
        return _keywords(db, shoot_id, wanted), None
    value, bound = _value_of(BY_NAME[fact])
    where, values = where_for(wanted)
    rows = db.read.execute(
        f"""
        SELECT {value} AS value, count(*) AS number FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ?{where} GROUP BY 1 HAVING value IS NOT NULL ORDER BY 1
        """,
        (*bound, shoot_id, *values),
    )
    return {row["value"]: row["number"] for row in rows}, BY_NAME[fact].bins


def _named(db: Database, shoot_id: int, wanted: Filter) -> dict[float | str, int]:
    """How many of the frames that pass a filter each kind of hint names; "" for those without a
    fault."""
    where, values = where_for(wanted)
    sums, more = [], []  # type: list[str], list[object]
    for kind in KINDS:
        sql, bound = named_sql(kind)
        sums.append(f"coalesce(sum({sql}), 0)")
        more += bound
    sums.append(f"coalesce(sum(NOT {named_sql(None)[0]}), 0)")
    row = db.read.execute(
        f"""
        SELECT {", ".join(sums)} FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ?{where}
        """,
        (*more, shoot_id, *values),
    ).fetchone()
    return {kind: number for kind, number in zip([*KINDS, ""], row, strict=True) if number}


def _keywords(db: Database, shoot_id: int, wanted: Filter) -> dict[float | str, int]:
    """How many of the frames that pass a filter have each keyword; "" for those without any."""
    where, values = where_for(wanted)
    counts: Counter[float | str] = Counter()
    for row in db.read.execute(
        f"""
        SELECT coalesce(text.keywords, '') AS keywords, count(*) AS number
        FROM frame JOIN mark ON mark.frame_id = frame.id LEFT JOIN text ON text.frame_id = frame.id
        WHERE shoot_id = ?{where} GROUP BY 1
        """,
        (shoot_id, *values),
    ):
        for word in row["keywords"].split("\n"):
            counts[word] += row["number"]
    return dict(counts)
