"""Marks and the history of changes. Every change of a mark comes through ``apply``."""

from __future__ import annotations

import json
import sqlite3
import time
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from winnow.core.marks import Change, GroupStep, Mark, Step, mark_of
from winnow.core.texts import TextStep
from winnow.core.words import counted
from winnow.say import say
from winnow.store import groups, texts
from winnow.store.db import Database

# From here on it is quicker to look at the marks of the whole shoot in memory.
_MANY: Final = 500


@dataclass(frozen=True, slots=True)
class History:
    """What undo and redo would do, in words; None when there is nothing."""

    undo: str | None
    redo: str | None


def mark_from(row: sqlite3.Row, suffix: str = "") -> Mark:
    """The mark in the columns decision, stars and label of a row."""
    return mark_of(row[f"decision{suffix}"], row[f"stars{suffix}"], row[f"label{suffix}"])


def marks_of(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, Mark]:
    """Present marks of these frames of a shoot, in the order asked; others are left out."""
    wanted = list(dict.fromkeys(frame_ids))
    if len(wanted) > _MANY:
        return db.columns.of(db.read, shoot_id).marks_of(wanted)
    found = {
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
    return {frame: found[frame] for frame in wanted if frame in found}


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


def apply(db: Database, shoot_id: int, plan: Callable[[], Change | None]) -> Change | None:
    """Plan a change and make it, in one transaction; None when it changes nothing.

    The plan is made under the write lock, so that it starts from marks that nobody changes
    meanwhile. What was undone before can no longer be redone.
    """
    with db.write() as conn:
        change = plan()
        if change is None:
            return None
        conn.execute("DELETE FROM change WHERE shoot_id = ? AND undone", (shoot_id,))
        cursor = conn.execute(
            "INSERT INTO change (shoot_id, made_at, sentence, group_edits, by_hints) VALUES (?, ?, ?, ?, ?)",
            (
                shoot_id, time.time(), change.sentence, groups.step_as_json(change.groups),
                ",".join(change.by_hints),
            ),
        )  # fmt: skip
        for before, after, same in _alike(change.steps):
            conn.execute(
                "INSERT INTO change_step SELECT ?, value, ?, ?, ?, ?, ?, ? FROM json_each(?)",
                (
                    cursor.lastrowid, before.decision, before.stars, before.label,
                    after.decision, after.stars, after.label, json.dumps(sorted(same)),
                ),
            )  # fmt: skip
        texts.keep_steps(conn, cursor.lastrowid or 0, change.texts)
        _set(conn, shoot_id, change)
        _settle(conn, shoot_id, [frame for frame, _, _ in change.steps])
    return change


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


def _alike(steps: Iterable[Step]) -> Iterable[tuple[Mark, Mark, list[int]]]:
    """The frames of steps by their marks before and after: thousands of steps need few statements."""
    found: dict[tuple[int, int], tuple[Mark, Mark, list[int]]] = {}
    for frame, before, after in steps:
        # Marks that are read or planned are the same objects where they are equal.
        key = (id(before), id(after))
        if key not in found:
            found[key] = (before, after, [])
        found[key][2].append(frame)
    return found.values()


def _set(conn: sqlite3.Connection, shoot_id: int, change: Change) -> None:
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


def undo(db: Database, shoot_id: int) -> Change | None:
    """Take the last change back; returns what this did to the marks, None at the beginning."""
    return _walk(db, shoot_id, "NOT undone ORDER BY id DESC", undone=True)


def redo(db: Database, shoot_id: int) -> Change | None:
    """Make the last change that was taken back again; None when there is none."""
    return _walk(db, shoot_id, "undone ORDER BY id", undone=False)


def _walk(db: Database, shoot_id: int, which: str, *, undone: bool) -> Change | None:
    with db.write() as conn:
        row = conn.execute(
            f"SELECT * FROM change WHERE shoot_id = ? AND {which} LIMIT 1", (shoot_id,)
        ).fetchone()
        if row is None:
            return None
        steps = conn.execute("SELECT * FROM change_step WHERE change_id = ?", (row["id"],))
        change = Change(
            row["sentence"],
            tuple(
                Step(step["frame_id"], mark_from(step, "_before"), mark_from(step, "_after"))
                for step in steps
            ),
            groups.step_from_json(row["group_edits"]),
            tuple(filter(None, row["by_hints"].split(","))),
            tuple(texts.steps_of(conn, row["id"])),
        )
        if undone:
            change = change.reversed()
        _set(conn, shoot_id, change)
        conn.execute("UPDATE change SET undone = ? WHERE id = ?", (undone, row["id"]))
    return change


def history(db: Database, shoot_id: int) -> History:
    """What undo and redo would do now."""
    undo_row = db.read.execute(
        "SELECT sentence FROM change WHERE shoot_id = ? AND NOT undone ORDER BY id DESC LIMIT 1",
        (shoot_id,),
    ).fetchone()
    redo_row = db.read.execute(
        "SELECT sentence FROM change WHERE shoot_id = ? AND undone ORDER BY id LIMIT 1",
        (shoot_id,),
    ).fetchone()
    return History(
        undo_row["sentence"] if undo_row else None, redo_row["sentence"] if redo_row else None
    )


@dataclass(frozen=True, slots=True)
class PastChange:
    """One step of the history. ``made_at``: seconds since 1970; ``frames``: how many it changed."""

    id: int
    sentence: str
    made_at: float
    frames: int
    undone: bool


def past_changes(db: Database, shoot_id: int, most: int = 500) -> list[PastChange]:
    """The history, the newest change first, with those that were undone and can be redone."""
    rows = db.read.execute(
        """
        SELECT id, sentence, made_at, undone,
               (SELECT count(*) FROM (
                   SELECT frame_id FROM change_step WHERE change_id = change.id
                   UNION SELECT frame_id FROM text_step WHERE change_id = change.id
               )) AS frames
        FROM change WHERE shoot_id = ? ORDER BY id DESC LIMIT ?
        """,
        (shoot_id, most),
    )
    return [
        PastChange(r["id"], r["sentence"], r["made_at"], r["frames"], bool(r["undone"]))
        for r in rows
    ]


def go_to(db: Database, shoot_id: int, change_id: int | None) -> Change | None:
    """Undo or redo until a change is the last one that is made; None: until none is.

    Returns what this did to the marks as one change, None when it did nothing. Raises KeyError when
    there is no such change.
    """
    with db.write() as conn:
        known = [
            (row["id"], bool(row["undone"]), row["group_edits"])
            for row in conn.execute(
                "SELECT id, undone, group_edits FROM change WHERE shoot_id = ? ORDER BY id",
                (shoot_id,),
            )
        ]
        if change_id is not None and change_id not in {id for id, *_ in known}:
            raise KeyError(change_id)
        wanted = change_id or 0
        back = [(id, edits) for id, undone, edits in known if id > wanted and not undone]
        on = [(id, edits) for id, undone, edits in known if id <= wanted and undone]
        first: dict[int, Mark] = {}
        now: dict[int, Mark] = {}
        written: dict[int, TextStep] = {}
        regrouped: GroupStep | None = None
        for which, forwards in ((back[::-1], False), (on, True)):
            for number, edits in which:
                regrouped = groups.one_after_the_other(regrouped, edits, forwards=forwards)
                for step in conn.execute(
                    "SELECT * FROM change_step WHERE change_id = ?", (number,)
                ):
                    before, after = mark_from(step, "_before"), mark_from(step, "_after")
                    if not forwards:
                        before, after = after, before
                    first.setdefault(step["frame_id"], before)
                    now[step["frame_id"]] = after
                for text in texts.steps_of(conn, number):
                    old, new = (text.before, text.after) if forwards else (text.after, text.before)
                    start = written[text.frame].before if text.frame in written else old
                    written[text.frame] = TextStep(text.frame, start, new)
                conn.execute("UPDATE change SET undone = ? WHERE id = ?", (not forwards, number))
        if not back and not on:
            return None
        steps = counted(len(back) + len(on), "step")
        change = Change(
            say("{steps} undone", steps=steps) if back else say("{steps} redone", steps=steps),
            tuple(Step(frame, first[frame], after) for frame, after in now.items()),
            regrouped,
            texts=tuple(written.values()),
        )
        _set(conn, shoot_id, change)
    return change


def decided_at(db: Database, shoot_id: int) -> list[float]:
    """When decisions were made in a shoot, seconds since 1970, in order; undone ones are left out."""
    rows = db.read.execute(
        """
        SELECT made_at FROM change WHERE shoot_id = ? AND NOT undone AND EXISTS (
            SELECT 1 FROM change_step
            WHERE change_id = change.id AND decision_before != decision_after
        ) ORDER BY id
        """,
        (shoot_id,),
    )
    return [row["made_at"] for row in rows]
