"""Marks as they are stored. Every change of a mark comes through ``apply``, or through the
history."""

from __future__ import annotations

import json
import sqlite3
import time
from collections.abc import Callable, Iterable, Sequence
from typing import Final

from winnow.core.groups import links
from winnow.core.marks import Change, Mark, MarkStep, mark_of
from winnow.store import groups, texts
from winnow.store.db import Database

# From here on it is quicker to look at the marks of the whole shoot in memory.
_MANY: Final = 500


def mark_from(row: sqlite3.Row, suffix: str = "") -> Mark:
    """The mark in the columns decision, stars and label of a row."""
    return mark_of(row[f"decision{suffix}"], row[f"stars{suffix}"], row[f"label{suffix}"])


def marks_of(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, Mark]:
    """Present marks of these frames of a shoot, in the order asked; others are left out."""
    wanted = list(dict.fromkeys(frame_ids))
    if len(wanted) > _MANY:
        return db.columns.of(db.read, shoot_id).marks_of(wanted)
    marks = {
        frame: mark_of(decision, stars, label)
        for frame, decision, stars, label in db.read.execute(
            """
            SELECT frame_id, decision, stars, label FROM json_each(?) AS wanted
            CROSS JOIN mark ON mark.frame_id = wanted.value
            CROSS JOIN frame ON frame.id = mark.frame_id
            WHERE shoot_id = ?
            """,
            # CROSS JOIN keeps this order: from the few frames asked for, not through the shoot.
            (json.dumps(wanted), shoot_id),
        )
    }
    return {frame: marks[frame] for frame in wanted if frame in marks}


def tally(db: Database, shoot_id: int) -> dict[Mark, int]:
    """How many frames of a shoot have each mark."""
    return {
        mark_from(row): row["number"]
        for row in db.read.execute(
            """
            SELECT decision, stars, label, count(*) AS number
            FROM frame JOIN mark ON mark.frame_id = frame.id
            WHERE shoot_id = ? GROUP BY decision, stars, label
            """,
            (shoot_id,),
        )
    }


def apply(
    db: Database, shoot_id: int, plan: Callable[[], Change | None], by: str = ""
) -> Change | None:
    """Plan a change and make it, in one transaction; None when it changes nothing.

    ``by``: the guest who makes it. The plan is made under the write lock, so that it starts from
    marks that nobody changes meanwhile. What is decided of one part of a picture is decided of its
    other parts. What was undone before is redone by ``redo`` no more; the history still leads
    there.
    """
    with db.write() as conn:
        change = plan()
        if change is None:
            return None
        if pairs := groups.pairs(db, shoot_id):
            parts = [part for parts in pairs for part in parts]
            change = links.decided_together(change, pairs, marks_of(db, shoot_id, parts))
        keep(conn, shoot_id, change, by)
    return change


def keep(conn: sqlite3.Connection, shoot_id: int, change: Change, by: str = "") -> int:
    """Make a change and put it at the end of the history; returns its id.

    What is undone there becomes a branch that was left.
    """
    conn.execute("UPDATE change SET undone = 2 WHERE shoot_id = ? AND undone = 1", (shoot_id,))
    cursor = conn.execute(
        """
        INSERT INTO change (shoot_id, made_at, sentence, group_edits, by_hints, by, parent_id)
        SELECT ?1, ?2, ?3, ?4, ?5, ?6, max(id) FROM change WHERE shoot_id = ?1 AND undone = 0
        """,
        (
            shoot_id, time.time(), change.sentence, groups.step_as_json(change.groups),
            ",".join(change.by_hints), by,
        ),
    )  # fmt: skip
    change_id = cursor.lastrowid or 0
    for before, after, same in _alike(change.steps):
        conn.execute(
            "INSERT INTO change_step SELECT ?, value, ?, ?, ?, ?, ?, ? FROM json_each(?)",
            (
                change_id, before.decision, before.stars, before.label,
                after.decision, after.stars, after.label, json.dumps(sorted(same)),
            ),
        )  # fmt: skip
    texts.keep_steps(conn, change_id, change.texts)
    put(conn, shoot_id, change)
    if not by:  # what the owner is asked no guest answers
        _settle(conn, shoot_id, [frame for frame, _, _ in change.steps])
    return change_id


def note_same(db: Database, shoot_id: int, frames: Sequence[int]) -> None:
    """Frames were marked as they were: their marks are for the pictures that they have now."""
    wanted = "SELECT 1 FROM picture_before WHERE frame_id IN (SELECT value FROM json_each(?))"
    if db.read.execute(wanted, (json.dumps(frames),)).fetchone():
        with db.write() as conn:
            _settle(conn, shoot_id, frames)


def _settle(conn: sqlite3.Connection, shoot_id: int, frames: Sequence[int]) -> None:
    """What these frames showed before is asked about no longer."""
    settled = conn.execute(
        "DELETE FROM picture_before WHERE frame_id IN (SELECT value FROM json_each(?))",
        (json.dumps(frames),),
    )
    if settled.rowcount:
        conn.execute("UPDATE shoot SET hints_stale = 1 WHERE id = ?", (shoot_id,))


def _alike(steps: Iterable[MarkStep]) -> Iterable[tuple[Mark, Mark, list[int]]]:
    """The frames of steps by their marks before and after: thousands of steps need few
    statements."""
    alike: dict[tuple[int, int], tuple[Mark, Mark, list[int]]] = {}
    for frame, before, after in steps:
        # Marks that are read or planned are the same objects where they are equal.
        key = (id(before), id(after))
        if key not in alike:
            alike[key] = (before, after, [])
        alike[key][2].append(frame)
    return alike.values()


def put(conn: sqlite3.Connection, shoot_id: int, change: Change) -> None:
    """Write marks, texts and groups as they are after a change."""
    if change.groups is not None:
        groups.put(conn, shoot_id, change.groups)
    for _, mark, same in _alike(change.steps):
        conn.execute(
            """
            UPDATE mark SET decision = ?, stars = ?, label = ?, unwritten = 1
            WHERE frame_id IN (SELECT value FROM json_each(?))
            """,
            (mark.decision, mark.stars, mark.label, json.dumps(same)),
        )
    texts.put(conn, change.texts)
    conn.executemany(
        "UPDATE mark SET unwritten = 1 WHERE frame_id = ?", [(s.frame,) for s in change.texts]
    )
