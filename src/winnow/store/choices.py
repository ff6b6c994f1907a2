"""The values of a fact in a shoot, with how many frames have each: what a filter offers to click."""

from __future__ import annotations

from collections import Counter

from winnow.core.filters.filter import Filter
from winnow.core.verdict.hints import KINDS
from winnow.store.db import Database
from winnow.store.filter_sql import (
    DELIVERED,
    GROUP_SIZE,
    TIME_OF_DAY,
    UNPICKED,
    named_sql,
    where_for,
)
from winnow.store.moved_files import ASIDE

# How a fact is counted: its value in SQL, and the width of the bins of one that runs on.
_COUNTED = {
    "camera": ("nullif(camera, '')", None),
    "lens": ("nullif(lens, '')", None),
    "mm": ("round(focal_mm, 1)", None),
    "f": ("round(aperture, 2)", None),
    "shutter": ("shutter_s", None),
    "iso": ("iso", None),
    "type": ("kind", None),
    "flash": ("CASE WHEN flash THEN 'flash' END", None),
    "orientation": (
        "CASE sign(coalesce(width, 0) - coalesce(height, 0)) WHEN 1 THEN 'wide' WHEN -1 THEN 'upright' END",
        None,
    ),
    "decision": ("decision", None),
    "stars": ("stars", None),
    "label": ("coalesce(label, '')", None),
    "blur": ("coalesce(matters_px, blur_px)", 0.25),
    "group": (GROUP_SIZE, None),
    "unpicked": (f"CASE WHEN {UNPICKED} THEN 'unpicked' END", None),
    "delivered": (f"CASE WHEN {DELIVERED} THEN 'delivered' END", None),
    "aside": (f"CASE WHEN {ASIDE} THEN 'aside' END", None),
    "caption": (
        "CASE WHEN NOT EXISTS (SELECT 1 FROM text WHERE frame_id = frame.id AND caption != '') THEN '' END",
        None,
    ),
    "faces": ("faces", None),
    "time": (TIME_OF_DAY, 900),
}  # fmt: skip


def counted_values(
    db: Database, shoot_id: int, wanted: Filter, fact: str
) -> tuple[dict[float | str, int], float | None]:
    """How many of the frames that pass a filter have each value of a fact; frames without it are left out.

    Returns the numbers, and the width of a bin where a value stands for those from it up to the next.
    """
    if fact == "hint":
        return _named(db, shoot_id, wanted), None
    if fact == "keyword":
        return _keywords(db, shoot_id, wanted), None
    value, width = _COUNTED[fact]
    if width is not None:
        value = f"CAST({value} / {width} AS INTEGER) * {width}"
    where, values = where_for(wanted)
    rows = db.read.execute(
        f"""
        SELECT {value} AS value, count(*) AS number FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ?{where} AND {value} IS NOT NULL GROUP BY 1 ORDER BY 1
        """,
        (shoot_id, *values),
    )
    return {row["value"]: row["number"] for row in rows}, width


def _named(db: Database, shoot_id: int, wanted: Filter) -> dict[float | str, int]:
    """How many of the frames that pass a filter each kind of hint names; "" for those without a fault."""
    where, values = where_for(wanted)
    sums, more = [], []  # type: list[str], list[object]
    for kind in KINDS:
        sql, own = named_sql(kind)
        sums.append(f"coalesce(sum({sql}), 0)")
        more += own
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
