"""Who is in which frame, as it is stored: a file of its own for each shoot that has it switched on.

The file lies beside the database, in no backup. That it is there says that people are told apart in
this shoot; forgetting them removes it, with every number made for it.
"""

from __future__ import annotations

import logging
import sqlite3
import threading
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from contextlib import closing, contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from pathlib import Path
from typing import Final, Literal

import numpy as np
from numpy.typing import NDArray

from winnow.core import people
from winnow.store.db import Database

log = logging.getLogger(__name__)
_SCHEMA: Final = """
CREATE TABLE looked (frame INTEGER PRIMARY KEY, key TEXT NOT NULL);
CREATE TABLE face (
    frame INTEGER NOT NULL, n INTEGER NOT NULL, x REAL NOT NULL, y REAL NOT NULL,
    numbers BLOB NOT NULL, sure INTEGER NOT NULL, person INTEGER, PRIMARY KEY (frame, n)
);
CREATE INDEX face_of_person ON face (person);
CREATE TABLE said (
    kind TEXT NOT NULL, frame INTEGER NOT NULL, x REAL NOT NULL, y REAL NOT NULL,
    other INTEGER, other_x REAL, other_y REAL
);
CREATE TABLE stale (reason TEXT);
INSERT INTO stale VALUES ('new');
"""
_DAMAGED: Final = (sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB)
_LOCK: Final = threading.Lock()
# Set while a guest's request is answered: whatever it asks, nobody is told apart.
HIDDEN: Final[ContextVar[bool]] = ContextVar("hidden", default=False)
Where = tuple[int, float, float]


@dataclass(frozen=True, slots=True)
class KeptFace:
    """A face of a frame: the ``n``-th there, with its middle at ``x`` and ``y``, 0…1.

    ``numbers``: (128,); ``sure``: it shows enough to tell whose it is; ``person``: a number from 1
    on, None for nobody that is known.
    """

    frame: int
    n: int
    x: float
    y: float
    numbers: NDArray[np.float32]
    sure: bool
    person: int | None = None


@dataclass(frozen=True, slots=True)
class Saying:
    """What somebody said of people: that the faces at two places are one person's, or that the one
    at a place is not who it was taken for."""

    kind: Literal["join", "out"]
    face: Where
    other: Where | None = None


def _path(db: Database, shoot_id: int) -> Path:
    return db.path.with_name(f"people-{shoot_id}.db")


def is_on(db: Database, shoot_id: int) -> bool:
    """Whether people are told apart in this shoot."""
    return _path(db, shoot_id).exists() and not HIDDEN.get()


def switch_on(db: Database, shoot_id: int) -> None:
    """Begin to tell people apart; nothing where that is so already."""
    path = _path(db, shoot_id)
    with _LOCK:
        if path.exists():
            return
        _make(path)


def _make(path: Path) -> None:
    """A new file. It has its name only when it is whole."""
    new = path.with_name(path.name + ".new")
    new.unlink(missing_ok=True)
    new.touch(mode=0o600)
    with closing(sqlite3.connect(new)) as conn:
        conn.executescript(_SCHEMA)
    new.replace(path)


def forget(db: Database, shoot_id: int) -> None:
    """Stop telling people apart, and remove all that was made for it."""
    path = _path(db, shoot_id)
    with _LOCK:
        for file in (path, path.with_name(path.name + "-journal")):
            file.unlink(missing_ok=True)


@contextmanager
def _opened(db: Database, shoot_id: int) -> Iterator[sqlite3.Connection | None]:
    """The shoot's file in one transaction; None where people are not told apart. A damaged one is
    begun anew: the numbers in it can be made again."""
    with _LOCK:
        path = _path(db, shoot_id)
        if HIDDEN.get() or not path.exists():
            yield None
            return
        conn = sqlite3.connect(f"{path.absolute().as_uri()}?mode=rw", uri=True, timeout=10)
        try:
            with conn:
                yield conn
        except sqlite3.DatabaseError as error:
            if getattr(error, "sqlite_errorcode", 0) in _DAMAGED:
                log.error("who is in shoot %d is told anew: %s", shoot_id, error)
                _make(path)
            raise
        finally:
            conn.close()


def waiting(db: Database, shoot_id: int, version: str) -> dict[int, str]:
    """Frames whose faces have no numbers yet, with the key of what is to be looked at: another
    picture, or faces looked for anew, is another key. ``version``: of the faces."""
    rows = db.read.execute(
        """
        SELECT id, coalesce(key, '') AS key FROM frame
        WHERE shoot_id = ? AND state = 2 AND face_version = ? ORDER BY position, id
        """,
        (shoot_id, version),
    )
    wanted = {row["id"]: f"{row['key']} {version} {people.VERSION}" for row in rows}
    with _opened(db, shoot_id) as conn:
        if conn is None:
            return {}
        looked = dict(conn.execute("SELECT frame, key FROM looked").fetchall())
    return {frame: key for frame, key in wanted.items() if looked.get(frame) != key}


def keep(db: Database, shoot_id: int, frames: Mapping[int, tuple[str, list[KeptFace]]]) -> None:
    """Store the faces of frames, each with the key of what was looked at."""
    with _opened(db, shoot_id) as conn:
        if conn is None:
            return
        for frame, (key, listed) in frames.items():
            conn.execute("DELETE FROM face WHERE frame = ?", (frame,))
            conn.execute("INSERT OR REPLACE INTO looked VALUES (?, ?)", (frame, key))
            conn.executemany(
                "INSERT INTO face VALUES (?, ?, ?, ?, ?, ?, ?)",
                [
                    (f.frame, f.n, f.x, f.y, f.numbers.astype("<f2").tobytes(), f.sure, f.person)
                    for f in listed
                ],
            )
        conn.execute("INSERT INTO stale VALUES ('faces')")


def faces(db: Database, shoot_id: int, person: int | None = None) -> list[KeptFace]:
    """All faces of the shoot's frames, or those of a person, in order of the frames' ids."""
    there = _frames(db, shoot_id)
    with _opened(db, shoot_id) as conn:
        if conn is None:
            return []
        rows = conn.execute(
            "SELECT frame, n, x, y, numbers, sure, person FROM face "
            "WHERE ? IS NULL OR person = ? ORDER BY frame, n",
            (person, person),
        ).fetchall()
    return [
        KeptFace(
            frame, n, x, y, np.frombuffer(numbers, "<f2").astype(np.float32), bool(sure), known
        )
        for frame, n, x, y, numbers, sure, known in rows
        if frame in there
    ]


def frames_of(db: Database, shoot_id: int) -> dict[int, set[int]]:
    """The frames of each person, by number."""
    out: dict[int, set[int]] = defaultdict(set)
    with _opened(db, shoot_id) as conn:
        rows = conn.execute("SELECT person, frame FROM face WHERE person > 0") if conn else ()
        for person, frame in rows:
            out[person].add(frame)
    return out


def is_stale(db: Database, shoot_id: int) -> bool:
    """Whether faces came, or something was said, since people were put together."""
    with _opened(db, shoot_id) as conn:
        return (
            conn is not None and conn.execute("SELECT 1 FROM stale LIMIT 1").fetchone() is not None
        )


def begin(db: Database, shoot_id: int) -> int:
    """Begin to put people together: what was made for frames that are no longer in the shoot goes.

    Returns what ``note_fresh`` is told once that is done: what comes meanwhile is not passed over.
    """
    there = [(frame,) for frame in _frames(db, shoot_id)]
    with _opened(db, shoot_id) as conn:
        if conn is None:
            return 0
        conn.execute("CREATE TEMP TABLE there (frame INTEGER PRIMARY KEY)")
        conn.executemany("INSERT INTO there VALUES (?)", there)
        for table in ("face", "looked", "said"):
            conn.execute(f"DELETE FROM {table} WHERE frame NOT IN (SELECT frame FROM there)")
        return int(conn.execute("SELECT coalesce(max(rowid), 0) FROM stale").fetchone()[0])


def note_fresh(db: Database, shoot_id: int, until: int) -> None:
    """Say that people are put together from all that was there when that was begun."""
    with _opened(db, shoot_id) as conn:
        if conn is not None:
            conn.execute("DELETE FROM stale WHERE rowid <= ?", (until,))


def _frames(db: Database, shoot_id: int) -> set[int]:
    rows = db.read.execute("SELECT id FROM frame WHERE shoot_id = ?", (shoot_id,))
    return {row["id"] for row in rows}


def keep_people(db: Database, shoot_id: int, known: Iterable[tuple[KeptFace, int | None]]) -> None:
    """Store whose the faces are."""
    with _opened(db, shoot_id) as conn:
        if conn is not None:
            conn.executemany(
                "UPDATE face SET person = ? WHERE frame = ? AND n = ?",
                [(person, face.frame, face.n) for face, person in known],
            )


def said(db: Database, shoot_id: int) -> list[Saying]:
    """What somebody said of people, in order."""
    with _opened(db, shoot_id) as conn:
        rows = conn.execute("SELECT * FROM said ORDER BY rowid").fetchall() if conn else []
    return [
        Saying(kind, (frame, x, y), None if other is None else (other, other_x, other_y))
        for kind, frame, x, y, other, other_x, other_y in rows
    ]


def say(db: Database, shoot_id: int, saying: Saying) -> None:
    """Add what somebody says of people."""
    with _opened(db, shoot_id) as conn:
        if conn is not None:
            other = saying.other or (None, None, None)
            conn.execute(
                "INSERT INTO said VALUES (?, ?, ?, ?, ?, ?, ?)", (saying.kind, *saying.face, *other)
            )
            conn.execute("INSERT INTO stale VALUES ('said')")


def take_back(db: Database, shoot_id: int) -> bool:
    """Take back what was said last; returns whether there was anything."""
    with _opened(db, shoot_id) as conn:
        if conn is None:
            return False
        gone = conn.execute("DELETE FROM said WHERE rowid = (SELECT max(rowid) FROM said)")
        conn.execute("INSERT INTO stale VALUES ('said')")
        return gone.rowcount > 0
