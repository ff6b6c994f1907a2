"""What deliveries and bringings-in share: a journal's state, written before and after each step."""

from __future__ import annotations

import time
from typing import Literal

from winnow.store.db import Database

Journal = Literal["delivery", "bringing"]


def keep_state(db: Database, journal: Journal, id: int, state: str, notice: str = "") -> None:
    """Record how one stands: planned, running, stopped, done; of a delivery also cancelled,
    returning, returned."""
    ended = time.time() if state not in ("planned", "running", "returning") else None
    with db.write() as conn:
        conn.execute(
            f"UPDATE {journal} SET state = ?, notice = ?, ended_at = ? WHERE id = ?",
            (state, notice, ended, id),
        )


def note_interrupted(db: Database, journal: Journal) -> int:
    """At start: what was running when the server ended is stopped now. Returns how many."""
    with db.write() as conn:
        cursor = conn.execute(
            f"""
            UPDATE {journal} SET state = 'stopped', ended_at = ?,
                notice = 'Winnow ended before it was through.'
            WHERE state IN ('planned', 'running', 'returning')
            """,
            (time.time(),),
        )
        return cursor.rowcount
