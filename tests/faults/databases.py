"""Steps of the database: marks, opening, restoring, backing up."""

from __future__ import annotations

import os
import random
import sqlite3
from pathlib import Path

from tests.faults.ground import SHOOT, database, frame_ids, no_parts, set_mark
from winnow.core.marks import Edit
from winnow.photos import whole
from winnow.store import (
    backups,
    db,
    marks,
    opening,
    settings,
)
from winnow.store.soundness import DatabaseError, is_sound


def mark_often(at: Path) -> list[str]:
    opened = database(at)
    acknowledged = os.open(at / "acknowledged", os.O_WRONLY | os.O_CREAT | os.O_APPEND)
    words = []
    for stars in (3, 4, 5):
        try:
            set_mark(opened, Edit(stars=stars), frame_ids(opened)[:1])
            os.write(acknowledged, str(stars).encode())
            os.fsync(acknowledged)
            whole.sync_folder(at)
        except sqlite3.Error as error:
            words.append(f"refused: {error.__class__.__name__}")
    os.close(acknowledged)
    opened.close()
    return [] if not words else ["It was refused."]


def acknowledged_is_stored(at: Path) -> None:
    log = at / "acknowledged"
    last = int(log.read_text()[-1]) if log.exists() and log.read_text() else 0
    opened = database(at)
    (mark,) = marks.marks_of(opened, SHOOT, frame_ids(opened)[:1]).values()
    assert (mark.stars or 0) >= last, f"{last} stars were acknowledged, {mark} is stored"
    opened.close()


def all_marked(at: Path) -> None:
    opened = database(at)
    (mark,) = marks.marks_of(opened, SHOOT, frame_ids(opened)[:1]).values()
    assert mark.stars == 5
    opened.close()


def filled(at: Path) -> None:
    opened = database(at)
    for n in range(40):
        settings.save_set(opened, "labels", f"set {n}", ["x" * 400])
    backups.make(opened, at)
    opened.close()


def database_damaged(at: Path) -> None:
    filled(at)
    data = bytearray((at / "winnow.db").read_bytes())
    data[6000:9000] = random.Random(1).randbytes(3000)
    (at / "winnow.db").write_bytes(data)


def database_missing(at: Path) -> None:
    filled(at)
    (at / "winnow.db").unlink()


def of_an_older_winnow(at: Path) -> None:
    steps, latest = db._STEPS, db.LATEST
    try:
        db._STEPS, db.LATEST = steps[:-8], latest - 8
        opened = database(at)
        with opened.write() as conn:
            for n in range(40):
                conn.execute(
                    "INSERT INTO saved_set (kind, name, content) VALUES ('labels', ?, '[]')",
                    (f"set {n}",),
                )
        opened.close()
    finally:
        db._STEPS, db.LATEST = steps, latest


def open_database(at: Path) -> list[str]:
    try:
        opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    except DatabaseError as error:
        return [str(error)]
    opened.close()
    return []


def back_up(at: Path) -> list[str]:
    opened = database(at)
    try:
        backups.make(opened, at)
    except (OSError, sqlite3.Error, backups.BackupError):
        return ["There is no new backup."]
    finally:
        opened.close()
    return []


def has_forty(at: Path) -> None:
    opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    assert len(settings.saved_sets(opened, "labels")) == 40, "a start is empty, or half"
    opened.close()
    assert is_sound(at / "winnow.db")
    no_parts(at)


def opens_new(at: Path) -> None:
    opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    opened.close()


def backups_are_sound(at: Path) -> None:
    every = backups.all_of(at)
    assert every
    assert all(is_sound(backup.path) for backup in every)
    has_forty(at)
