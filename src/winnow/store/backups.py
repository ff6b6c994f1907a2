"""Backups of the database, made while it is in use, and the way back from a damaged one."""

from __future__ import annotations

import contextlib
import logging
import os
import sqlite3
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.core.backups import to_keep
from winnow.store.db import Database, DatabaseError

log = logging.getLogger(__name__)
_FOLDER: Final = "backups"
# What is measured from the pictures, and can be again: it makes most of the size.
_LEFT_OUT: Final = """
    DELETE FROM focus_map;
    DELETE FROM face_list;
    DELETE FROM judged;
    UPDATE frame SET picture_version = '', figure_version = '', face_version = '', faces = NULL;
    UPDATE shoot SET hints_stale = 1;
"""


@dataclass(frozen=True, slots=True)
class Backup:
    """A backup. ``made_at``: s since 1970."""

    path: Path
    made_at: float


def all_of(data: Path) -> list[Backup]:
    """The backups in a data folder, the newest first."""
    found = []
    for path in (data / _FOLDER).glob("winnow-*.db"):
        with contextlib.suppress(ValueError):
            found.append(Backup(path, float(path.stem.removeprefix("winnow-"))))
    return sorted(found, key=lambda one: one.made_at, reverse=True)


def make(db: Database, data: Path, clock: Callable[[], float] = time.time) -> Backup:
    """Make a backup of a database in use, whole or not at all, and forget old ones. Raises OSError, sqlite3.Error."""
    folder = data / _FOLDER
    folder.mkdir(exist_ok=True)
    now = clock()
    known = {one.made_at for one in all_of(data)}
    while round(now) in known:
        now += 1
    backup = Backup(folder / f"winnow-{round(now)}.db", float(round(now)))
    part = folder / ".part"
    part.unlink(missing_ok=True)
    try:
        with contextlib.closing(sqlite3.connect(part, isolation_level=None)) as copy:
            # In one go: in the write-ahead log readers are in nobody's way, and in pieces it would begin anew
            # with every mark.
            db.read.backup(copy)
            copy.execute("PRAGMA journal_mode = OFF")
            copy.executescript(_LEFT_OUT)
            copy.execute("VACUUM")
        with part.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(part, backup.path)
    finally:
        part.unlink(missing_ok=True)
    every = all_of(data)
    kept = to_keep((one.made_at for one in every), now)
    for one in every:
        if one.made_at not in kept:
            one.path.unlink(missing_ok=True)
    return backup


def is_sound(path: Path) -> bool:
    """Whether SQLite finds no damage in a database file."""
    try:
        with contextlib.closing(sqlite3.connect(f"{path.as_uri()}?mode=ro", uri=True)) as opened:
            return bool(opened.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok")
    except sqlite3.DatabaseError:
        return False


@dataclass(frozen=True, slots=True)
class Restored:
    """A damaged database was put aside and a backup taken in its place. ``made_at``: of the backup, None where there
    was none, and the database begins anew."""

    damaged: Path
    made_at: float | None


def open_sound(path: Path, *, check: bool) -> tuple[Database, Restored | None]:
    """Open a database; if it is damaged, the newest sound backup takes its place, and the damaged one is kept.

    ``check``: look through all of it, as after a bad end. Raises DatabaseError where the file can't be used for
    another reason, such as a newer version.
    """
    try:
        if path.exists() and check and not is_sound(path):
            raise DatabaseError("damaged")
        return Database(path), None
    except DatabaseError:
        if not path.exists() or is_sound(path):
            raise
    log.error("the database %s is damaged", path)
    damaged = path.with_name(f"winnow-damaged-{round(time.time())}.db")
    for ending in ("", "-wal", "-shm"):
        with contextlib.suppress(FileNotFoundError):
            os.replace(f"{path}{ending}", f"{damaged}{ending}")
    for backup in all_of(path.parent):
        if is_sound(backup.path):
            part = path.with_name(".restoring")
            part.write_bytes(backup.path.read_bytes())
            os.replace(part, path)
            return Database(path), Restored(damaged, backup.made_at)
    return Database(path), Restored(damaged, None)
