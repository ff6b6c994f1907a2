"""Deliveries and their journals."""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from winnow.core.deliver.ways import How
from winnow.store.db import Database
from winnow.store.filter_sql import DELIVERED

ItemKind = How | Literal["sidecar", "manifest"]


@dataclass(frozen=True, slots=True)
class Item:
    """One file of a delivery. ``source`` is absolute; ``name`` is in the target folder."""

    frame: int
    kind: ItemKind
    source: Path
    name: str
    size: int
    number: int = 0
    state: str = "planned"
    hash: str | None = None
    notice: str = ""


@dataclass(frozen=True, slots=True)
class Delivery:
    """A delivery and how it stands.

    Times are seconds since 1970; sizes are bytes. ``mount``: where the target's disk is mounted, ""
    where that is not known.
    """

    id: int
    shoot_id: int
    target: str
    mount: str
    how: How
    made_at: float
    ended_at: float | None
    state: str
    notice: str
    files: int
    size: int
    done: int
    already_there: int
    failed: int
    back: int
    size_done: int


def make(
    db: Database,
    shoot_id: int,
    target: str,
    items: Sequence[Item],
    how: How = "copy",
    mount: str = "",
) -> int:
    """Write the whole intent down; returns the delivery's id."""
    with db.write() as conn:
        cursor = conn.execute(
            """
            INSERT INTO delivery (shoot_id, target, mount, made_at, state, how) VALUES (?, ?, ?, ?,
            'planned', ?)
            """,
            (shoot_id, target, mount, time.time(), how),
        )
        delivery = cursor.lastrowid
        assert delivery is not None
        conn.executemany(
            """
            INSERT INTO delivery_item (delivery_id, number, frame_id, kind, source, name, size)
            VALUES (?, ?, ?, ?, ?, ?, ?)
            """,
            [
                (delivery, number, item.frame, item.kind, os.fsencode(item.source),
                 os.fsencode(item.name), item.size)
                for number, item in enumerate(items)
            ],
        )  # fmt: skip
    return delivery


def targets(db: Database) -> list[Path]:
    """Every folder that something was delivered into."""
    return [Path(row["target"]) for row in db.read.execute("SELECT DISTINCT target FROM delivery")]


def get(db: Database, delivery_id: int) -> Delivery | None:
    """One delivery with its counts."""
    row = db.read.execute(f"{_WITH_COUNTS} WHERE delivery.id = ?", (delivery_id,)).fetchone()
    return _delivery(row) if row else None


def of_shoot(db: Database, shoot_id: int) -> list[Delivery]:
    """A shoot's deliveries, the last one first."""
    rows = db.read.execute(
        f"{_WITH_COUNTS} WHERE shoot_id = ? ORDER BY delivery.id DESC", (shoot_id,)
    )
    return [_delivery(row) for row in rows]


_WITH_COUNTS = """
    SELECT delivery.*, counts.* FROM delivery JOIN (
        SELECT delivery_id, count(*) AS files, sum(size) AS size,
               sum(state = 'done') AS done, sum(state = 'there') AS already_there,
               sum(state = 'failed') AS failed, sum(state = 'back') AS back,
               sum(CASE WHEN state IN ('done', 'there') THEN size ELSE 0 END) AS size_done
        FROM delivery_item GROUP BY delivery_id
    ) AS counts ON counts.delivery_id = delivery.id
"""


def _delivery(row: sqlite3.Row) -> Delivery:
    return Delivery(**{name: row[name] for name in Delivery.__slots__})


def items(db: Database, delivery_id: int, states: Sequence[str] = ()) -> list[Item]:
    """The files of a delivery, only those in these states if any are named."""
    where = f" AND state IN ({', '.join('?' * len(states))})" if states else ""
    rows = db.read.execute(
        f"SELECT * FROM delivery_item WHERE delivery_id = ?{where} ORDER BY number",
        (delivery_id, *states),
    )
    return [
        Item(
            frame=row["frame_id"],
            kind=row["kind"],
            source=Path(os.fsdecode(row["source"])),
            name=os.fsdecode(row["name"]),
            size=row["size"],
            number=row["number"],
            state=row["state"],
            hash=row["hash"],
            notice=row["notice"],
        )
        for row in rows
    ]


def delivered(db: Database, shoot_id: int) -> int:
    """How many frames of a shoot were delivered."""
    row = db.read.execute(
        f"SELECT count(*) AS number FROM frame WHERE shoot_id = ? AND {DELIVERED}", (shoot_id,)
    ).fetchone()
    return int(row["number"])


def keep_item(
    db: Database, delivery_id: int, number: int, state: str, hash: str | None, notice: str
) -> None:
    """Record what became of one file."""
    with db.write() as conn:
        conn.execute(
            """
            UPDATE delivery_item SET state = ?, hash = ?, notice = ?
            WHERE delivery_id = ? AND number = ?
            """,
            (state, hash, notice, delivery_id, number),
        )
