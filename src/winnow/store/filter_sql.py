"""A filter as SQL over the tables frame and mark."""

from __future__ import annotations

import json

from winnow.core.deliver.ways import WAYS
from winnow.core.filters.conditions import (
    FACTS,
    All,
    Among,
    Any_,
    Between,
    Compare,
    Condition,
    Flag,
    Not,
    bounds,
)
from winnow.core.filters.filter import Filter
from winnow.core.verdict.hints import KINDS, gaze
from winnow.store.frame_order import COMMON_TIME
from winnow.store.moved_files import ASIDE

_COMPARISONS = {"at_least": ">=", "exactly": "=", "at_most": "<="}
_IN_GROUP = "other.shoot_id = frame.shoot_id AND other.group_no = frame.group_no"
_GROUP_SIZE = f"(SELECT count(*) FROM frame AS other WHERE {_IN_GROUP})"
_UNPICKED = f"""(NOT EXISTS (SELECT 1 FROM frame AS other JOIN mark AS own
    ON own.frame_id = other.id WHERE {_IN_GROUP} AND own.decision = 'pick'))"""
DELIVERED = f"""(EXISTS (SELECT 1 FROM delivery_item WHERE delivery_item.frame_id = frame.id
    AND kind IN {tuple(WAYS)} AND delivery_item.state IN ('done', 'there')))"""
_LINKED = """(frame.id IN (SELECT frame_id FROM group_edit WHERE kind = 'link'
    UNION SELECT other_id FROM group_edit WHERE kind = 'link'))"""
# What is asked with a word; the others are decisions.
_FLAGS = {
    "flash": "coalesce(flash, 0)",
    "unpicked": _UNPICKED,
    "seen": "seen",
    "delivered": DELIVERED,
    "aside": ASIDE,
    "linked": _LINKED,
    "smiling": "(smiles > 0)",
    "upright": "(coalesce(height, 0) > coalesce(width, 0))",
    "wide": "(coalesce(width, 0) > coalesce(height, 0))",
}
# Seconds of the day; NULL, which passes no comparison, where the file doesn't say when it was
# taken.
_TIME_OF_DAY = f"(CASE WHEN dated THEN CAST({COMMON_TIME} AS INTEGER) % 86400 END)"
# At the part that matters once a frame is judged, and NULL where there is no edge; until then in
# its sharpest part.
BLUR = "(CASE WHEN standing IS NULL THEN blur_px ELSE matters_px END)"
# Of facts that are no column of the table of frames: their value in SQL.
COMPUTED = {
    "time_s": _TIME_OF_DAY,
    "day": f"(CASE WHEN dated THEN date(CAST({COMMON_TIME} AS INTEGER), 'unixepoch') END)",
    "subfolder": "folder_of(frame.path)",
    "group_size": _GROUP_SIZE,
    "blur_px": BLUR,
}
Sql = tuple[str, list[object]]


def where_for(wanted: Filter) -> Sql:
    """A filter as SQL. Example: (" AND decision IN (?) AND stars >= ?", ["pick", 2])."""
    where, values = "", []  # type: tuple[str, list[object]]
    if wanted.decisions:
        where += f" AND decision IN ({', '.join('?' * len(wanted.decisions))})"
        values += wanted.decisions
    if wanted.stars is not None:
        where += f" AND stars {_COMPARISONS[wanted.stars_rule]} ?"
        values.append(wanted.stars)
    if wanted.labels:
        where += f" AND coalesce(label, '') IN ({', '.join('?' * len(wanted.labels))})"
        values += wanted.labels
    if wanted.where is not None:
        part, more = condition_sql(wanted.where)
        where += f" AND {part}"
        values += more
    return where, values


def condition_sql(condition: Condition) -> Sql:  # noqa: C901
    """A condition as SQL that is 0 or 1, never NULL.

    Texts and people stand elsewhere: what is compared with them is looked up before.
    """
    match condition:
        case All(parts):
            return _joined(" AND ", parts)
        case Any_(parts):
            return _joined(" OR ", parts)
        case Not(inner):
            sql, values = condition_sql(inner)
            return f"(NOT {sql})", values
        case Flag("facing"):
            named, values = named_sql(gaze.KIND.name)
            return f"(gazes > 0 AND NOT {named})", values
        case Flag(name):
            return (_FLAGS[name], []) if name in _FLAGS else ("(decision = ?)", [name])
        case Compare("label", _, value):
            return "(coalesce(label, '') = ?)", [value]
        case Among(ids):
            return "(frame.id IN (SELECT value FROM json_each(?)))", [json.dumps(sorted(ids))]
        case Compare("hint", _, str(value)):
            return named_sql(value) if value else (f"(NOT {named_sql(None)[0]})", [])
        case Compare("day", operator, str(value)):
            day = f"coalesce({COMPUTED['day']}, '')"
            return (f"({day} = ?)" if operator == "=" else f"(instr({day}, ?) > 0)"), [value]
        case Between(fact, low, high) if low > high:
            column = COMPUTED.get(FACTS[fact].column, FACTS[fact].column)
            return f"coalesce({column} >= ? OR {column} <= ?, 0)", [low, high]
        case Compare(fact) | Between(fact):
            low, high, with_low, with_high = bounds(condition)
            column = COMPUTED.get(FACTS[fact].column, FACTS[fact].column)
            above, below = (">=" if with_low else ">"), ("<=" if with_high else "<")
            return f"coalesce({column} {above} ? AND {column} {below} ?, 0)", [low, high]
    raise AssertionError(condition)


def named_sql(kind: str | None) -> Sql:
    """Whether a hint of this kind names a frame, by the thresholds of its shoot; None: any kind
    that speaks against it."""
    which, values = ("own.kind = ?", [kind]) if kind else (f"own.kind IN ({_FAULTS})", [])
    return (
        f"""EXISTS (SELECT 1 FROM hint AS own LEFT JOIN hint_threshold AS moved
            ON moved.shoot_id = frame.shoot_id AND moved.kind = own.kind
            WHERE own.frame_id = frame.id AND {which} AND {_NAMES})""",
        list(values),
    )


_FAULTS = ", ".join(f"'{name}'" for name, kind in KINDS.items() if kind.fault)
_NAMES = "CASE own.kind {} END".format(
    " ".join(
        f"WHEN '{name}' THEN own.figure {'<=' if kind.limit.below else '>='} "
        f"coalesce(moved.threshold, {kind.limit.usual})"
        for name, kind in KINDS.items()
    )
)


def _joined(word: str, parts: tuple[Condition, ...]) -> Sql:
    made = [condition_sql(part) for part in parts]
    return f"({word.join(sql for sql, _ in made)})", [value for _, bound in made for value in bound]
