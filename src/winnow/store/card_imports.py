"""Bringings-in from cards, and their journals."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from winnow.core.deliver.card_import import Outcome
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Item:
    """One file. ``path`` is on the card; ``name`` is relative to the target and the second
    place."""

    path: str
    size: int
    mtime_ns: int
    fingerprint: str
    name: str
    state: str
    second_state: str
    number: int = 0
    hash: str | None = None
    notice: str = ""


@dataclass(frozen=True, slots=True)
class Bringing:
    """A bringing-in and how it stands. Times are seconds since 1970; sizes are bytes.

    ``mount``, ``second_mount``: where the disks are mounted; ``twice``: every file is read from the
    card a second time. ``left_out``: how many files were left on the card on
    wish. ``to_copy``: the size of what was not on the disk when it began; ``copied``:
    of that.
    """

    id: int
    shoot_id: int | None
    source: str
    target: str
    second: str
    mount: str
    second_mount: str
    twice: int
    outside: int
    left_out: int
    made_at: float
    ended_at: float | None
    state: str
    notice: str
    files: int
    done: int
    already_there: int
    failed: int
    to_copy: int
    copied: int


def make(
    db: Database,
    shoot_id: int | None,
    source: str,
    target: str,
    second: str,
    outside: int,
    items: Sequence[Item],
    mounts: tuple[str, str] = ("", ""),
    *,
    twice: bool = False,
    left: int = 0,
) -> int:
    """Write the whole intent down; returns its id."""
    with db.write() as conn:
        cursor = conn.execute(
            """
            INSERT INTO bringing (
                shoot_id, source, target, second, mount, second_mount, twice, outside, left_out,
                made_at, state
            ) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'planned')
            """,
            (shoot_id, source, target, second, *mounts, twice, outside, left, time.time()),
        )
        bringing = cursor.lastrowid
        assert bringing is not None
        conn.executemany(
            "INSERT INTO bringing_item VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
            [
                (bringing, n, os.fsencode(i.path), i.size, i.mtime_ns, i.fingerprint,
                os.fsencode(i.name),
                 i.state, i.second_state, i.hash, i.notice)
                for n, i in enumerate(items)
            ],
        )  # fmt: skip
    return bringing


_WITH_COUNTS = """
    SELECT bringing.*, counts.* FROM bringing JOIN (
        SELECT bringing_id, count(*) AS files, sum(state = 'done') AS done,
               sum(state = 'there') AS already_there,
               sum(state = 'failed' OR second_state = 'failed') AS failed,
               sum(size * (state != 'there' OR second_state NOT IN ('', 'there'))) AS to_copy,
               sum(size * (state = 'done' AND second_state != 'planned'
                           OR state = 'there' AND second_state = 'done')) AS copied
        FROM bringing_item GROUP BY bringing_id
    ) AS counts ON counts.bringing_id = bringing.id
"""


def _bringing(row: sqlite3.Row) -> Bringing:
    return Bringing(**{name: row[name] for name in Bringing.__slots__})


def get(db: Database, bringing_id: int) -> Bringing | None:
    """One bringing-in with its counts."""
    row = db.read.execute(f"{_WITH_COUNTS} WHERE bringing.id = ?", (bringing_id,)).fetchone()
    return _bringing(row) if row else None


def latest(db: Database, most: int = 10) -> list[Bringing]:
    """The last ones, the newest first."""
    rows = db.read.execute(f"{_WITH_COUNTS} ORDER BY bringing.id DESC LIMIT ?", (most,))
    return [_bringing(row) for row in rows]


def items(db: Database, bringing_id: int, *, unfinished: bool = False) -> list[Item]:
    """The files of a bringing-in; only those that are not through, if asked."""
    where = (
        " AND (state IN ('planned', 'failed') OR second_state IN ('planned', 'failed'))"
        if unfinished
        else ""
    )
    rows = db.read.execute(
        f"SELECT * FROM bringing_item WHERE bringing_id = ?{where} ORDER BY number", (bringing_id,)
    )
    return [
        Item(
            path=os.fsdecode(row["path"]),
            size=row["size"],
            mtime_ns=row["mtime_ns"],
            fingerprint=row["print"],
            name=os.fsdecode(row["name"]),
            state=row["state"],
            second_state=row["second_state"],
            number=row["number"],
            hash=row["hash"],
            notice=row["notice"],
        )
        for row in rows
    ]


def outcomes(db: Database, bringing_id: int) -> list[Outcome]:
    """What became of each file."""
    rows = db.read.execute(
        "SELECT state, second_state FROM bringing_item WHERE bringing_id = ?", (bringing_id,)
    )
    return [Outcome(row["state"], row["second_state"]) for row in rows]


def copies(db: Database, prints: Iterable[str]) -> dict[str, list[tuple[Path, int]]]:
    """Where verified copies of these contents were put, and their sizes; newest first."""
    places: dict[str, list[tuple[Path, int]]] = {}
    for fingerprint in prints:
        rows = db.read.execute(
            """
            SELECT target, second, name, size, bringing_item.state AS first_state, second_state
            FROM bringing_item JOIN bringing ON bringing.id = bringing_id
            WHERE print = ? ORDER BY bringing_id DESC
            """,
            (fingerprint,),
        )
        for row in rows:
            name = os.fsdecode(row["name"])
            for root, state in (
                (row["target"], row["first_state"]),
                (row["second"], row["second_state"]),
            ):
                if state == "done":
                    places.setdefault(fingerprint, []).append((Path(root) / name, row["size"]))
    return places


def keep_item(db: Database, bringing_id: int, item: Item) -> None:
    """Record what became of one file, and under which name."""
    with db.write() as conn:
        conn.execute(
            """
            UPDATE bringing_item SET name = ?, print = ?, state = ?, second_state = ?,
            hash = coalesce(?, hash),
                notice = ? WHERE bringing_id = ? AND number = ?
            """,
            (
                os.fsencode(item.name), item.fingerprint, item.state, item.second_state, item.hash,
                item.notice,
                bringing_id, item.number,
            ),
        )  # fmt: skip
