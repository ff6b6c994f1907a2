"""Each person's own steps: undo takes back what its person did last, whatever others did since.

Where the last step is the owner's, undo goes back in the history. Where it is not, and for guests
always, it makes a new step that takes the own one back, as far as nobody changed the same since.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import fields, replace

from winnow.core.files.texts import FIELDS, Texts, TextStep
from winnow.core.marks import Change, GroupStep, Mark, MarkStep
from winnow.say import say
from winnow.store import groups, history, marks, texts
from winnow.store.db import Database
from winnow.store.history import History


def undo(db: Database, shoot_id: int, by: str = "") -> Change | None:
    """Take a person's last step back; ``by``: the guest, "" for the owner.

    None where there is none.
    """
    if not by and _is_last(db, shoot_id):
        return history.undo(db, shoot_id)
    return _own_step(db, shoot_id, by, undone=True)


def redo(db: Database, shoot_id: int, by: str = "") -> Change | None:
    """Make again what a person took back last; None where there is nothing."""
    if not by and (change := history.redo(db, shoot_id)) is not None:
        return change
    return _own_step(db, shoot_id, by, undone=False)


def history_of(db: Database, shoot_id: int, by: str = "") -> History:
    """What undo and redo would do for a person."""
    undo, redo = None, None
    if not by:
        usual = history.of(db, shoot_id)
        if _is_last(db, shoot_id):
            return usual
        redo = usual.redo
    done, gone = _own(db.read, shoot_id, by)
    undo = _plain(db.read, done[-1]) if done else None
    return History(undo, redo or (_plain(db.read, gone[-1]) if gone else None))


def _is_last(db: Database, shoot_id: int) -> bool:
    """Whether the last step is the owner's own, and no taking back of an own one; or there is
    none."""
    row = db.read.execute(
        """
        SELECT by, EXISTS (
            SELECT 1 FROM taken_back JOIN change AS own ON own.id = change_id
            WHERE by_id = change.id AND own.by = ''
        ) AS back FROM change WHERE shoot_id = ? AND undone = 0 ORDER BY id DESC LIMIT 1
        """,
        (shoot_id,),
    ).fetchone()
    return row is None or (row["by"] == "" and not row["back"])


def _own_step(db: Database, shoot_id: int, by: str, *, undone: bool) -> Change | None:
    with db.write() as conn:
        done, gone = _own(conn, shoot_id, by)
        which = done if undone else gone
        if not which:
            return None
        row = conn.execute("SELECT * FROM change WHERE id = ?", (which[-1],)).fetchone()
        plain = _plain(conn, row["id"])
        sentence = (
            say("taken back: {sentence}", sentence=plain)
            if undone
            else say("made again: {sentence}", sentence=plain)
        )
        return take_back(conn, db, shoot_id, [row], sentence, by)


def _own(conn: sqlite3.Connection, shoot_id: int, by: str) -> tuple[list[int], list[int]]:
    """A guest's own steps that hold, and those that took one back and can be taken back themselves;
    the last one last."""
    taken: dict[int, list[int]] = {}
    for change, back, author in conn.execute(
        """
        SELECT taken_back.change_id, back.id, back.by FROM taken_back
        JOIN change AS back ON back.id = taken_back.by_id JOIN change ON change.id =
        taken_back.change_id
        WHERE change.shoot_id = ? AND change.by = ? AND back.undone = 0
        """,
        (shoot_id, by),
    ):
        taken.setdefault(back if author == by else 0, []).append(change)
    done: list[int] = []
    gone: list[int] = []
    for (step,) in conn.execute(
        "SELECT id FROM change WHERE shoot_id = ? AND by = ? AND undone = 0 ORDER BY id",
        (shoot_id, by),
    ):
        back = taken.get(step, [])
        if not back:
            done.append(step)
            gone.clear()
        elif back[0] in done:
            done.remove(back[0])
            gone.append(step)
        elif back[0] in gone:
            gone.remove(back[0])
            done.append(step)
    by_owner = set(taken.get(0, ()))
    return [step for step in done if step not in by_owner], gone


def _plain(conn: sqlite3.Connection, change_id: int) -> str:
    """What the step did that a row takes back, or makes again, or is itself."""
    while (
        row := conn.execute(
            "SELECT change_id FROM taken_back WHERE by_id = ?", (change_id,)
        ).fetchone()
    ) is not None:
        change_id = row[0]
    change = conn.execute("SELECT sentence FROM change WHERE id = ?", (change_id,)).fetchone()
    return str(change[0])


def take_back(
    conn: sqlite3.Connection,
    db: Database,
    shoot_id: int,
    rows: Iterable[sqlite3.Row],
    sentence: str,
    by: str,
) -> Change:
    """Make what each of some steps did as it was before, as far as it is still as that step left
    it; the newest first."""
    now: dict[int, Mark] = {}
    said: dict[int, Texts] = {}
    first: dict[int, Mark] = {}
    written: dict[int, Texts] = {}
    regrouped: GroupStep | None = None
    ids = []
    for row in rows:
        ids.append(row["id"])
        change = history.change_of(conn, row)
        known = marks.marks_of(db, shoot_id, [step.frame for step in change.steps])
        for frame, before, after in change.steps:
            if frame in known:
                present = now.setdefault(frame, known[frame])
                first.setdefault(frame, known[frame])
                now[frame] = _as_before(present, before, after)
        texts_now = texts.texts_of(db, shoot_id, [step.frame for step in change.texts])
        for text in change.texts:
            if text.frame in texts_now:
                present_texts = said.setdefault(text.frame, texts_now[text.frame])
                written.setdefault(text.frame, texts_now[text.frame])
                said[text.frame] = _texts_as_before(present_texts, text)
        regrouped = groups.one_after_the_other(regrouped, row["group_edits"], forwards=False)
    back = Change(
        sentence,
        tuple(
            MarkStep(frame, first[frame], mark)
            for frame, mark in now.items()
            if mark != first[frame]
        ),
        regrouped,
        texts=tuple(
            TextStep(f, written[f], text) for f, text in said.items() if text != written[f]
        ),
    )
    change_id = marks.keep(conn, shoot_id, back, by)
    conn.executemany(
        "INSERT INTO taken_back VALUES (?, ?)", [(change, change_id) for change in ids]
    )
    return back


def _as_before(present: Mark, before: Mark, after: Mark) -> Mark:
    """A mark with the parts as before that a step changed and nobody changed since."""
    restored = {
        part.name: getattr(before, part.name)
        for part in fields(Mark)
        if getattr(before, part.name) != getattr(after, part.name) == getattr(present, part.name)
    }
    return replace(present, **restored)


def _texts_as_before(present: Texts, step: TextStep) -> Texts:
    restored = {
        name: getattr(step.before, name)
        for name in FIELDS
        if getattr(step.before, name) != getattr(step.after, name) == getattr(present, name)
    }
    return replace(present, **restored)
