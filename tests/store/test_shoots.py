"""Shoots as they are stored."""

from __future__ import annotations

from winnow.store import shoots
from winnow.store.db import Database


def test_the_last_opened_one_is_none_that_was_archived(db: Database) -> None:
    assert shoots.last_opened(db) is None
    harbour, market = (shoots.make(db, name, [f"/{name}"]) for name in ("harbour", "market"))
    with db.write() as conn:
        conn.execute("UPDATE shoot SET opened_at = id")
    assert shoots.last_opened(db) == market
    shoots.touch(db, harbour)
    assert shoots.last_opened(db) == harbour
    shoots.archive(db, harbour, archived=True)
    assert shoots.last_opened(db) == market
