"""Backups of the database, made while it is in use, and checked; ``store.opening`` takes them
back."""

from __future__ import annotations

import contextlib
import os
import sqlite3
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.core.backups import to_keep
from winnow.photos import copies
from winnow.photos.whole import sync_folder
from winnow.say import say
from winnow.store.db import Database
from winnow.store.soundness import in_words, is_sound, number_of

_FOLDER: Final = "backups"
# What is measured from the pictures, and can be again: it makes most of the size.
_LEFT_OUT: Final = """
    DELETE FROM focus_map;
    DELETE FROM face_list;
    DELETE FROM judged;
    -- Who is whom in a shoot is in no backup.
    DELETE FROM face_weight WHERE everywhere;
    UPDATE frame SET picture_version = '', figure_version = '', face_version = '', faces = NULL;
    UPDATE shoot SET hints_stale = 1;
"""


class BackupError(Exception):
    """A backup that could not be made, with the reason in words."""


@dataclass(frozen=True, slots=True)
class Backup:
    """A backup. ``made_at``: s since 1970."""

    path: Path
    made_at: float


def all_of(data: Path) -> list[Backup]:
    """The backups in a data folder, the newest first."""
    backups = []
    for path in (data / _FOLDER).glob("winnow-*.db"):
        with contextlib.suppress(ValueError):
            backups.append(Backup(path, float(path.stem.removeprefix("winnow-"))))
    return sorted(backups, key=lambda backup: backup.made_at, reverse=True)


def latest_sound(data: Path) -> Backup | None:
    """The latest backup that is not damaged, by how many were made before it: clocks are set back
    at times."""
    every = sorted(
        all_of(data), key=lambda backup: (number_of(backup.path), backup.made_at), reverse=True
    )
    return next((backup for backup in every if is_sound(backup.path)), None)


def make(
    db: Database,
    data: Path,
    clock: Callable[[], float] = time.time,
    *,
    gone: bool = False,
) -> Backup:
    """Make a backup of a database in use, whole and sound or not at all, and forget old ones.

    ``gone``: the database's file is there no more, so it is read through the connection that has it
    open. Raises OSError, sqlite3.Error, BackupError.
    """
    folder = data / _FOLDER
    folder.mkdir(exist_ok=True)
    backup = _named(data, clock())
    part = folder / ".part"
    part.unlink(missing_ok=True)
    try:
        with contextlib.closing(sqlite3.connect(part, isolation_level=None)) as copy:
            # In one go: in the write-ahead log readers are in nobody's way, and in pieces it would
            # begin anew with every mark.
            db.copy_to(copy, gone=gone)
            copy.execute("PRAGMA journal_mode = OFF")
            copy.executescript(_LEFT_OUT)
            copy.execute("VACUUM")
        if not is_sound(part):
            raise BackupError(
                say("The copy of the database is damaged: the database is, or the disk.")
            )
        with part.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(part, backup.path)
        sync_folder(folder)
    finally:
        part.unlink(missing_ok=True)
    _forget_old(data, backup.made_at)
    return backup


def copy_before_migration(path: Path) -> None:
    """Copy a whole database that another version made, before its tables are changed.

    Raises OSError, BackupError.
    """
    data = path.parent
    (data / _FOLDER).mkdir(exist_ok=True)
    backup = _named(data, time.time())
    part = data / _FOLDER / ".part"
    part.unlink(missing_ok=True)
    try:
        with (
            contextlib.closing(
                sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
            ) as source,
            contextlib.closing(sqlite3.connect(part)) as copy,
        ):
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        with part.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(part, backup.path)
        sync_folder(backup.path.parent)
    except sqlite3.Error as error:
        raise in_words(path, error) from error
    finally:
        part.unlink(missing_ok=True)


def _named(data: Path, now: float) -> Backup:
    known = {backup.made_at for backup in all_of(data)}
    while round(now) in known:
        now += 1
    return Backup(data / _FOLDER / f"winnow-{round(now)}.db", float(round(now)))


def _forget_old(data: Path, now: float) -> None:
    every = all_of(data)
    kept = to_keep((backup.made_at for backup in every), now)
    for backup in every:
        if backup.made_at not in kept:
            backup.path.unlink(missing_ok=True)


def copy_to_second(backup: Backup, second: Path) -> None:
    """Copy a backup to another folder, read back and compared; old ones there go as well.

    Raises CopyError, OSError.
    """
    folder = second / _FOLDER
    folder.mkdir(parents=True, exist_ok=True)
    copies.remove_parts(folder)
    copies.copy_verified(backup.path, folder / backup.path.name)
    _forget_old(second, backup.made_at)
