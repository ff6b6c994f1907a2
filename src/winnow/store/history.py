"""The history of a shoot: steps that are undone and made again, and branches that were left.

Each step knows the one after which it was made, so that every step ever made can be gone to.
"""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from winnow.core.counts import counted
from winnow.core.files.texts import TextStep
from winnow.core.marks import Change, GroupStep, Mark, MarkStep
from winnow.say import say
from winnow.store import groups, marks, texts
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class History:
    """What undo and redo would do, in words; None when there is nothing."""

    undo: str | None
    redo: str | None


@dataclass(frozen=True, slots=True)
class PastChange:
    """One step of the history.

    ``made_at``: seconds since 1970; ``frames``: how many it changed; ``by``: the guest who made it,
    "" for the owner; ``left``: on a branch that was left when something else was done.
    """

    id: int
    sentence: str
    made_at: float
    frames: int
    by: str
    undone: bool
    left: bool


def undo(db: Database, shoot_id: int) -> Change | None:
    """Take the last change back; returns what this did to the marks, None at the beginning."""
    return _walk(db, shoot_id, "undone = 0 ORDER BY id DESC", undone=True)


def redo(db: Database, shoot_id: int) -> Change | None:
    """Make the last change that was taken back again; None when there is none."""
    return _walk(db, shoot_id, "undone = 1 ORDER BY id", undone=False)


def _walk(db: Database, shoot_id: int, which: str, *, undone: bool) -> Change | None:
    with db.write() as conn:
        row = conn.execute(
            f"SELECT * FROM change WHERE shoot_id = ? AND {which} LIMIT 1", (shoot_id,)
        ).fetchone()
        if row is None:
            return None
        change = change_of(conn, row)
        if undone:
            change = change.reversed()
        marks.put(conn, shoot_id, change)
        conn.execute("UPDATE change SET undone = ? WHERE id = ?", (undone, row["id"]))
    return change


def change_of(conn: sqlite3.Connection, row: sqlite3.Row) -> Change:
    """The change that a row of the history tells of."""
    steps = conn.execute("SELECT * FROM change_step WHERE change_id = ?", (row["id"],))
    return Change(
        row["sentence"],
        tuple(
            MarkStep(
                step["frame_id"], marks.mark_from(step, "_before"), marks.mark_from(step, "_after")
            )
            for step in steps
        ),
        groups.step_from_json(row["group_edits"]),
        tuple(filter(None, row["by_hints"].split(","))),
        tuple(texts.steps_of(conn, row["id"])),
    )


def of(db: Database, shoot_id: int) -> History:
    """What undo and redo would do now."""
    rows = [
        db.read.execute(
            f"SELECT sentence, by FROM change WHERE shoot_id = ? AND {which} LIMIT 1", (shoot_id,)
        ).fetchone()
        for which in ("undone = 0 ORDER BY id DESC", "undone = 1 ORDER BY id")
    ]
    return History(*(said(row["sentence"], row["by"]) if row else None for row in rows))


def said(sentence: str, by: str) -> str:
    """A step in words, with the guest who made it."""
    return say("{name}: {sentence}", name=by, sentence=sentence) if by else sentence


def past_changes(db: Database, shoot_id: int, most: int = 500) -> list[PastChange]:
    """The history, the newest change first, with those that were undone or left and can be made
    again."""
    rows = db.read.execute(
        """
        SELECT id, sentence, made_at, undone, by,
               (SELECT count(*) FROM (
                   SELECT frame_id FROM change_step WHERE change_id = change.id
                   UNION SELECT frame_id FROM text_step WHERE change_id = change.id
               )) AS frames
        FROM change WHERE shoot_id = ? ORDER BY id DESC LIMIT ?
        """,
        (shoot_id, most),
    )
    return [
        PastChange(
            r["id"], r["sentence"], r["made_at"], r["frames"], r["by"], r["undone"] == 1,
            r["undone"] == 2
        )
        for r in rows
    ]  # fmt: skip


def go_to(db: Database, shoot_id: int, change_id: int | None) -> Change | None:
    """Undo, and make again, until a change is the last one that is made; None: until none is.

    It may be on a branch that was left. Returns what this did to the marks as one change, None when
    it did nothing. Raises KeyError when there is no such change.
    """
    with db.write() as conn:
        known = {
            row["id"]: row
            for row in conn.execute(
                "SELECT id, undone, parent_id, group_edits FROM change WHERE shoot_id = ? ORDER "
                "BY id",
                (shoot_id,),
            )
        }
        if change_id is not None and change_id not in known:
            raise KeyError(change_id)
        path = []
        step = change_id
        while step is not None:
            path.append(step)
            step = known[step]["parent_id"]
        chain = set(path)
        back = [
            step for step in reversed(known) if known[step]["undone"] == 0 and step not in chain
        ]
        on = [step for step in reversed(path) if known[step]["undone"] != 0]
        if not back and not on:
            return None
        change = _together(conn, known, back, on)
        marks.put(conn, shoot_id, change)
        on_branch = change_id is not None and known[change_id]["undone"] == 2
        if on_branch:
            conn.execute(
                "UPDATE change SET undone = 2 WHERE shoot_id = ? AND undone = 1", (shoot_id,)
            )
        _set(conn, back, 2 if on_branch else 1)
        _set(conn, on, 0)
        if on_branch:
            _set(conn, _newest_after(known, change_id), 1)
    return change


def _set(conn: sqlite3.Connection, ids: list[int], undone: int) -> None:
    conn.executemany(
        "UPDATE change SET undone = ? WHERE id = ?", [(undone, change) for change in ids]
    )


def _newest_after(known: dict[int, sqlite3.Row], change_id: int | None) -> list[int]:
    """The steps that redo goes on with on a branch: of those made after a step the newest one, and
    so on."""
    newest: dict[int | None, int] = {row["parent_id"]: step for step, row in known.items()}
    ids = []
    while (change_id := newest.get(change_id)) is not None:
        ids.append(change_id)
    return ids


def _together(
    conn: sqlite3.Connection, known: dict[int, sqlite3.Row], back: list[int], on: list[int]
) -> Change:
    """Steps taken back, then steps made, in this order, as one change."""
    first: dict[int, Mark] = {}
    now: dict[int, Mark] = {}
    written: dict[int, TextStep] = {}
    regrouped: GroupStep | None = None
    for which, forwards in ((back, False), (on, True)):
        for number in which:
            regrouped = groups.one_after_the_other(
                regrouped, known[number]["group_edits"], forwards=forwards
            )
            for step in conn.execute("SELECT * FROM change_step WHERE change_id = ?", (number,)):
                before, after = marks.mark_from(step, "_before"), marks.mark_from(step, "_after")
                if not forwards:
                    before, after = after, before
                first.setdefault(step["frame_id"], before)
                now[step["frame_id"]] = after
            for text in texts.steps_of(conn, number):
                old, new = (text.before, text.after) if forwards else (text.after, text.before)
                start = written[text.frame].before if text.frame in written else old
                written[text.frame] = TextStep(text.frame, start, new)
    if back and on:
        sentence = say("another branch of the history")
    else:
        steps = counted(len(back) + len(on), "step")
        sentence = (
            say("{steps} undone", steps=steps) if back else say("{steps} redone", steps=steps)
        )
    return Change(
        sentence,
        tuple(MarkStep(frame, first[frame], after) for frame, after in now.items()),
        regrouped,
        texts=tuple(written.values()),
    )


def decided_at(db: Database, shoot_id: int) -> list[float]:
    """When decisions were made in a shoot, seconds since 1970, in order; undone ones are left
    out."""
    rows = db.read.execute(
        """
        SELECT made_at FROM change WHERE shoot_id = ? AND undone = 0 AND EXISTS (
            SELECT 1 FROM change_step
            WHERE change_id = change.id AND decision_before != decision_after
        ) ORDER BY id
        """,
        (shoot_id,),
    )
    return [row["made_at"] for row in rows]
