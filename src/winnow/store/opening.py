"""Opening the database: checked where that is called for, and a backup in its place where it is
damaged or gone.

A restore is one step: a copy of the backup is made and synced, then a journal says what is to be
done, and whoever starts next does the rest of it. Nothing is changed where the database only can't
be read now.
"""

from __future__ import annotations

import contextlib
import errno
import json
import logging
import os
import shutil
import sqlite3
import time
from dataclasses import dataclass
from pathlib import Path
from typing import Final, Literal

from winnow.photos.whole import sync_folder
from winnow.store import backups
from winnow.store.db import LATEST, Database
from winnow.store.soundness import DamagedError, check, in_words, number_of, version_of

log = logging.getLogger(__name__)
_RESTORED: Final = ".restored"
_JOURNAL: Final = "restoring.json"
# A smaller database is looked through at every start: that takes a moment only.
_QUICK_BYTES: Final = 64 << 20
_ENDINGS: Final = ("-wal", "-shm", "")
Why = Literal["damaged", "gone", "older"]


@dataclass(frozen=True, slots=True)
class Restored:
    """A backup took the place of the database.

    ``put_aside``: what was there, None where nothing was; ``made_at``: of the backup, in s since
    1970, None where there was none, and the database begins anew.
    """

    put_aside: Path | None
    made_at: float | None
    why: Why = "damaged"


def open_sound(path: Path, *, ended_badly: bool) -> tuple[Database, Restored | None]:
    """Open a database.

    The latest sound backup takes its place where it is damaged, where it is gone though there are
    backups, and after a bad end where it is older than its latest backup. ``ended_badly``: Winnow
    was killed, or the power went, so that all of it is looked through. Raises DatabaseError where
    it can't be used for another reason: nothing is touched then.
    """
    try:
        restored = _finish(path)
        if restored is None and (why := _wrong(path, ended_badly)):
            restored = _restore(path, why)
        try:
            db = _opened(path)
        except DamagedError:
            restored = _restore(path, "damaged")
            db = _opened(path)
    except OSError as error:
        raise in_words(path, error) from error
    (path.parent / _JOURNAL).unlink(missing_ok=True)
    return db, restored


def _opened(path: Path) -> Database:
    if path.exists() and 0 < version_of(path) < LATEST:
        # What a migration does to a database can't be undone.
        backups.copy_before_migration(path)
    return Database(path)


def _wrong(path: Path, ended_badly: bool) -> Why | None:
    """Why a database can't be opened as it is. Raises DatabaseError where it can't be read now."""
    wal = path.with_name(f"{path.name}-wal")
    if not path.exists() or (not path.stat().st_size and not (wal.exists() and wal.stat().st_size)):
        return "gone" if backups.all_of(path.parent) else None
    try:
        if ended_badly or path.stat().st_size <= _QUICK_BYTES:
            check(path, whole=ended_badly)
    except DamagedError as error:
        log.error("%s", error)
        return "damaged"
    if ended_badly:
        latest = backups.latest_sound(path.parent)
        if latest and number_of(latest.path) > number_of(path):
            return "older"
    return None


def _restore(path: Path, why: Why) -> Restored:
    folder = path.parent
    aside = folder / f"winnow-damaged-{round(time.time())}.db"
    while any(os.path.lexists(f"{aside}{ending}") for ending in _ENDINGS):
        aside = aside.with_name(f"{aside.stem}+.db")
    latest = backups.latest_sound(folder)
    part = folder / _RESTORED
    part.unlink(missing_ok=True)
    if latest is not None:
        with latest.path.open("rb") as source, part.open("xb") as target:
            shutil.copyfileobj(source, target, 1 << 20)
            target.flush()
            os.fsync(target.fileno())
    journal = {"aside": aside.name, "made_at": latest and latest.made_at, "why": why}
    written = folder / f"{_JOURNAL}.part"
    with written.open("w") as file:
        json.dump(journal, file)
        file.flush()
        os.fsync(file.fileno())
    os.replace(written, folder / _JOURNAL)
    sync_folder(folder)
    restored = _finish(path)
    if restored is None:
        # What was written just now reads otherwise.
        raise OSError(errno.EIO, os.strerror(errno.EIO), str(folder / _JOURNAL))
    return restored


def _finish(path: Path) -> Restored | None:
    """Do what a journal says is not done yet; None without one."""
    folder = path.parent
    try:
        journal = json.loads((folder / _JOURNAL).read_text())
        aside = folder / str(journal["aside"])
        made_at, why = journal["made_at"], journal["why"]
    except FileNotFoundError:
        return None
    except (ValueError, KeyError, TypeError):
        # It is written whole: this is none of Winnow's.
        (folder / _JOURNAL).unlink(missing_ok=True)
        return None
    part = folder / _RESTORED
    # The copy takes the database's name last of all. Where there was no backup, nothing takes it.
    if part.exists() or (made_at is None and not aside.exists()):
        for ending in _ENDINGS:
            if os.path.lexists(f"{path}{ending}"):
                os.replace(f"{path}{ending}", f"{aside}{ending}")
        sync_folder(folder)
        if part.exists():
            os.replace(part, path)
            sync_folder(folder)
    return Restored(aside if aside.exists() else None, made_at, why)


def rescue(db: Database, data: Path) -> Path | None:
    """Write all of a database whose file went away, while it is still open, as a backup; None where
    that fails."""
    with contextlib.suppress(OSError, sqlite3.Error):
        return backups.make(db, data, gone=True).path
    return None
