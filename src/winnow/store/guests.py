"""What guests did in a shoot: it waits for the owner to take it over, or back.

Nothing of it is written to files before the owner took it over.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from winnow.core.counts import counted
from winnow.core.marks import Change
from winnow.say import say
from winnow.store import own_steps
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Waiting:
    """What a guest did that waits for the owner: how many steps, and which frames they changed."""

    by: str
    steps: int
    frames: tuple[int, ...]


def waiting(db: Database, shoot_id: int) -> list[Waiting]:
    """What waits for the owner, by guests in the order of their names."""
    steps: dict[str, list[int]] = {}
    for change_id, by in _waiting(db.read, shoot_id):
        steps.setdefault(by, []).append(change_id)
    return [
        Waiting(by, len(ids), tuple(sorted(_frames_of(db.read, ids))))
        for by, ids in sorted(steps.items())
    ]


def held_back(db: Database, shoot_id: int) -> set[int]:
    """The frames of which nothing is written, as guests changed them and the owner did not take
    that over."""
    return _frames_of(db.read, [change_id for change_id, _ in _waiting(db.read, shoot_id)])


def refusal(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> str:
    """Why a file that tells of these frames is not made, in words; "" where it may be."""
    waiting = held_back(db, shoot_id).intersection(frame_ids)
    if not waiting:  # guard: what guests said, in lists and proofs
        return ""
    return say(
        "Guests changed {frames} of these. Take that over, or back, first: nothing of it goes "
        "into files before.",
        frames=counted(len(waiting), "frame"),
    )


def marked_by(db: Database, frame_id: int) -> str:
    """The guest who marked a frame last; "" where that was the owner, or nobody."""
    row = db.read.execute(
        """
        SELECT by FROM change_step JOIN change ON change.id = change_id
        WHERE frame_id = ? AND undone = 0 ORDER BY change_id DESC LIMIT 1
        """,
        (frame_id,),
    ).fetchone()
    return str(row["by"]) if row else ""


def take_over(db: Database, shoot_id: int, by: str | None = None) -> set[int]:
    """Take over what guests did, or one of them: it is the owner's from now on. Returns the
    frames."""
    with db.write() as conn:
        ids = [change_id for change_id, name in _waiting(conn, shoot_id) if by in (None, name)]
        conn.executemany(
            "UPDATE change SET taken_over = 1 WHERE id = ?", [(change,) for change in ids]
        )
        return _frames_of(conn, ids)


def take_back(db: Database, shoot_id: int, by: str | None = None) -> Change | None:
    """Take back what guests did and nobody took over, or one of them, as one step of the owner's.

    What somebody else changed since stays. None where nothing waits.
    """
    with db.write() as conn:
        steps = [step for step in _waiting(conn, shoot_id) if by in (None, step[1])]
        if not steps:
            return None
        who = ", ".join(sorted({name for _, name in steps}))
        rows = [
            conn.execute("SELECT * FROM change WHERE id = ?", (change_id,)).fetchone()
            for change_id, _ in reversed(steps)
        ]
        sentence = say("taken back: what {name} did", name=who)
        return own_steps.take_back(conn, db, shoot_id, rows, sentence, "")


def _waiting(conn: sqlite3.Connection, shoot_id: int) -> list[tuple[int, str]]:
    """Steps of guests that hold, and that nobody took over or back, with who made them, in
    order."""
    rows = conn.execute(
        "SELECT id, by FROM change WHERE shoot_id = ? AND undone = 0 AND by != '' AND NOT "
        "taken_over ORDER BY id",
        (shoot_id,),
    ).fetchall()
    if not rows:
        return []
    takers: dict[int, list[int]] = {}
    for change_id, by_id in conn.execute(
        "SELECT change_id, by_id FROM taken_back JOIN change ON change.id = by_id WHERE shoot_id "
        "= ? AND undone = 0",
        (shoot_id,),
    ):
        takers.setdefault(change_id, []).append(by_id)
    takes_back = {change for ids in takers.values() for change in ids}
    # What takes a step back is made later: from the last to the first, each is known when it is
    # asked for.
    gone: set[int] = set()
    for change_id in sorted(takers, reverse=True):
        if any(by_id not in gone for by_id in takers[change_id]):
            gone.add(change_id)
    return [
        (row["id"], row["by"])
        for row in rows
        if row["id"] not in gone and row["id"] not in takes_back
    ]


def _frames_of(conn: sqlite3.Connection, change_ids: list[int]) -> set[int]:
    """The frames whose marks or texts some steps changed."""
    return {
        frame
        for change_id in change_ids
        for table in ("change_step", "text_step")
        for (frame,) in conn.execute(
            f"SELECT frame_id FROM {table} WHERE change_id = ?", (change_id,)
        )
    }
