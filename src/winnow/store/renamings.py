"""Renamings in place, and their journals."""

from __future__ import annotations

import json
import os
import sqlite3
import time
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from winnow.core.frames import split_name
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class Renaming:
    """One renaming and how it stands: planned, running, undoing, done, undone, stopped."""

    id: int
    shoot_id: int
    made_at: float
    template: str
    frames: int
    state: str
    notice: str
    steps: int
    done: int


@dataclass(frozen=True, slots=True)
class RenamingStep:
    """One renaming of one file; ``old`` and ``new`` are absolute.

    ``alone``: see ``core.deliver.rename_order``.
    """

    number: int
    frame: int
    old: Path
    new: Path
    alone: bool
    state: str = "planned"


def make(
    db: Database, shoot_id: int, template: str, frames: int, steps: Sequence[RenamingStep]
) -> int:
    """Write the whole intent down; returns the renaming's id."""
    with db.write() as conn:
        cursor = conn.execute(
            "INSERT INTO renaming (shoot_id, made_at, template, frames, state) VALUES (?, ?, ?, "
            "?, 'planned')",
            (shoot_id, time.time(), template, frames),
        )
        renaming = cursor.lastrowid
        assert renaming is not None
        conn.executemany(
            "INSERT INTO renaming_step VALUES (?, ?, ?, ?, ?, ?, 'planned')",
            [
                (renaming, s.number, s.frame, os.fsencode(s.old), os.fsencode(s.new), s.alone)
                for s in steps
            ],
        )
    return renaming


_WITH_COUNTS = """
    SELECT renaming.*, count(number) AS steps, coalesce(sum(renaming_step.state = 'done'),
    0) AS done
    FROM renaming LEFT JOIN renaming_step ON renaming_id = renaming.id
"""


def of_shoot(db: Database, shoot_id: int) -> list[Renaming]:
    """A shoot's renamings, the last one first."""
    rows = db.read.execute(
        f"{_WITH_COUNTS} WHERE shoot_id = ? GROUP BY renaming.id ORDER BY renaming.id DESC",
        (shoot_id,),
    )
    return [_renaming(row) for row in rows]


def get(db: Database, renaming_id: int) -> Renaming | None:
    """One renaming."""
    row = db.read.execute(
        f"{_WITH_COUNTS} WHERE renaming.id = ? GROUP BY renaming.id", (renaming_id,)
    ).fetchone()
    return _renaming(row) if row else None


def unsettled(db: Database) -> list[Renaming]:
    """Those that were going on when Winnow ended."""
    rows = db.read.execute(
        f"{_WITH_COUNTS} WHERE renaming.state IN ('planned', 'running', 'undoing') GROUP BY "
        f"renaming.id"
    )
    return [_renaming(row) for row in rows]


def is_going_on(db: Database, shoot_id: int) -> bool:
    """Whether files of a shoot are being renamed."""
    row = db.read.execute(
        "SELECT 1 FROM renaming WHERE shoot_id = ? AND state IN ('planned', 'running', 'undoing')",
        (shoot_id,),
    ).fetchone()
    return row is not None


def _renaming(row: sqlite3.Row) -> Renaming:
    return Renaming(**{name: row[name] for name in Renaming.__slots__})


def keep_state(db: Database, renaming_id: int, state: str, notice: str = "") -> None:
    """Record how one stands."""
    with db.write() as conn:
        conn.execute(
            "UPDATE renaming SET state = ?, notice = ? WHERE id = ?", (state, notice, renaming_id)
        )


def steps(db: Database, renaming_id: int) -> list[RenamingStep]:
    """The steps in their order."""
    rows = db.read.execute(
        "SELECT * FROM renaming_step WHERE renaming_id = ? ORDER BY number", (renaming_id,)
    )
    return [
        RenamingStep(
            number=row["number"],
            frame=row["frame_id"],
            old=Path(os.fsdecode(row["old"])),
            new=Path(os.fsdecode(row["new"])),
            alone=bool(row["alone"]),
            state=row["state"],
        )
        for row in rows
    ]


def keep_steps(
    db: Database,
    renaming_id: int,
    made: Iterable[RenamingStep],
    state: str,
    names: Mapping[Path, Path],
) -> None:
    """Record steps that were made, with the frames' new names: ``names`` are new paths by old
    ones."""
    with db.write() as conn:
        frames = set()
        for step in made:
            frames.add(step.frame)
            conn.execute(
                "UPDATE renaming_step SET state = ? WHERE renaming_id = ? AND number = ?",
                (state, renaming_id, step.number),
            )
        for frame in frames:
            _rename(conn, frame, names)


def _rename(conn: sqlite3.Connection, frame: int, names: Mapping[Path, Path]) -> None:
    row = conn.execute(
        """
        SELECT frame.path, files,
        folder.path AS root FROM frame JOIN folder ON folder.id = folder_id
        WHERE frame.id = ?
        """,
        (frame,),
    ).fetchone()
    if row is None:
        return
    root = Path(row["root"])

    def now(path: str) -> str:
        whole = root / path
        return names[whole].relative_to(root).as_posix() if whole in names else path

    shown = now(os.fsdecode(row["path"]))
    look = [[now(path), *rest] for path, *rest in json.loads(row["files"])]
    name = os.fsencode(split_name(Path(shown).name)[0]).decode("utf-8", "replace")
    conn.execute(
        "UPDATE frame SET path = ?, name = ?, files = ? WHERE id = ?",
        (os.fsencode(shown), name, json.dumps(look), frame),
    )
    for other in conn.execute(
        "SELECT path FROM frame_file WHERE frame_id = ?", (frame,)
    ).fetchall():
        new = os.fsencode(now(os.fsdecode(other["path"])))
        conn.execute(
            "UPDATE OR REPLACE frame_file SET path = ? WHERE frame_id = ? AND path = ?",
            (new, frame, other["path"]),
        )
