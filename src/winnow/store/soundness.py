"""Whether a database file is sound, damaged, or can't be read now: three things that never stand
for each other."""

from __future__ import annotations

import contextlib
import json
import sqlite3
from pathlib import Path
from typing import Final

from winnow.say import say

_DAMAGE: Final = (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB, sqlite3.SQLITE_FORMAT)
# What is kept as JSON, by table.
_JSON: Final = {
    "agreed": ("texts", "stated"),
    "face_list": ("faces",),
    "folder": ("companions", "others"),
    "frame": ("clipped", "described", "files", "levels"),
    "frame_file": ("stated",),
    "judged": ("judged",),
    "proof_answer": ("picks", "comments"),
    "saved_filter": ("filter",),
    "saved_set": ("content",),
    "setting": ("value",),
    "shoot": ("filter",),
    "text_step": ("before", "after"),
    "verdict": ("together",),
}


class DatabaseError(Exception):
    """A database that Winnow can't use, with the reason in words."""


class DamagedError(DatabaseError):
    """A database whose content is damaged: reading it again will not help."""


def is_damage(error: BaseException) -> bool:
    """Whether an error says that the content is damaged, not that it can't be reached now."""
    if isinstance(error, UnicodeDecodeError):
        return True
    if not isinstance(error, sqlite3.DatabaseError) or isinstance(error, sqlite3.IntegrityError):
        return False
    code = getattr(error, "sqlite_errorcode", None)
    # A text that can't be decoded comes without a number.
    return "decode" in str(error) if code is None else code & 0xFF in _DAMAGE


def in_words(path: Path, error: BaseException) -> DatabaseError:
    """What is said of a database that met this error."""
    if is_damage(error):
        return DamagedError(say("The database {path} is damaged: {error}.", path=path, error=error))
    code = getattr(error, "sqlite_errorcode", 0) & 0xFF
    full = code == sqlite3.SQLITE_FULL or getattr(error, "errno", 0) == 28
    next_step = {
        sqlite3.SQLITE_BUSY: say("Another program has it open: end that one, then start again."),
        sqlite3.SQLITE_LOCKED: say("Another program has it open: end that one, then start again."),
        sqlite3.SQLITE_IOERR: say(
            "Its disk answers with errors: check the disk, then start again."
        ),
        sqlite3.SQLITE_READONLY: say(
            "Let this user write to it and to its folder, then start again."
        ),
        sqlite3.SQLITE_PERM: say("Let this user write to it and to its folder, then start again."),
        sqlite3.SQLITE_CANTOPEN: say(
            "See that its folder is there, that this user may write to it, and that its disk has "
            "room; then start again."
        ),
    }.get(code, say("Start again when that is mended."))
    if full:
        next_step = say("Its disk is full: make room, then start again.")
    return DatabaseError(
        say(
            "The database {path} can’t be read now ({error}). Nothing was changed. {next_step}",
            path=path,
            error=error,
            next_step=next_step,
        )
    )


def check(path: Path, *, whole: bool) -> None:
    """Look for damage in a database file.

    Raises DamagedError, or DatabaseError where it can't be read now. ``whole``: every index and
    every text as well, which takes longer.
    """
    try:
        with contextlib.closing(_reading(path)) as opened:
            kind = "integrity_check" if whole else "quick_check"
            answer = opened.execute(f"PRAGMA {kind}(1)").fetchone()[0]
            if answer != "ok":
                raise DamagedError(
                    say("The database {path} is damaged: {error}.", path=path, error=answer)
                )
            if whole:
                for (table,) in opened.execute(
                    "SELECT name FROM sqlite_schema WHERE type = 'table' AND sql NOT LIKE "
                    "'%VIRTUAL%'"
                ).fetchall():
                    for _ in opened.execute(f'SELECT * FROM "{table}"'):
                        pass
                    _check_json(opened, path, table)
    except (sqlite3.Error, OSError, UnicodeDecodeError) as error:
        raise in_words(path, error) from error


def _check_json(opened: sqlite3.Connection, path: Path, table: str) -> None:
    """SQLite sees whether pages and rows hang together, not whether a byte of a text is another
    one; of what is kept as JSON that shows. Raises DamagedError."""
    has = {name for _, name, *_ in opened.execute(f'PRAGMA table_info("{table}")')}
    for column in has.intersection(_JSON.get(table, ())):
        # SQLite looks at all of them while others work; it knows no NaN.
        for (text,) in opened.execute(
            f'SELECT "{column}" FROM "{table}" WHERE "{column}" != \'\' '
            f'AND NOT CASE typeof("{column}") WHEN \'text\' THEN json_valid("{column}") ELSE 0 END'
        ):
            try:
                json.loads(text)
            except (ValueError, TypeError) as broken:
                error = say("a text of “{table}” can’t be read", table=table)
                raise DamagedError(
                    say("The database {path} is damaged: {error}.", path=path, error=error)
                ) from broken


def is_sound(path: Path) -> bool:
    """Whether there is no damage in a database file.

    Raises DatabaseError where it can't be read now.
    """
    try:
        check(path, whole=True)
    except DamagedError:
        return False
    return True


def number_of(path: Path) -> int:
    """How many backups had been made of a database; 0 where it is not known."""
    try:
        with contextlib.closing(_reading(path)) as opened:
            return int(opened.execute("SELECT number FROM backup_number").fetchone()[0])
    except (sqlite3.Error, OSError, TypeError, ValueError):  # also what can't be decoded
        return 0


def version_of(path: Path) -> int:
    """The version of a database's tables. Raises DatabaseError."""
    try:
        with contextlib.closing(_reading(path)) as opened:
            return int(opened.execute("PRAGMA user_version").fetchone()[0])
    except (sqlite3.Error, OSError) as error:
        raise in_words(path, error) from error


def _reading(path: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=10)
    # Every text is decoded, or found to be damaged.
    connection.text_factory = lambda data: data.decode()
    return connection
