"""The database: migrations, transactions, durability."""

import multiprocessing
import os
import signal
import sqlite3
from pathlib import Path

import pytest

from winnow.store.db import Database, DatabaseError


def test_a_failed_write_leaves_nothing(db: Database) -> None:
    def fail() -> None:
        with db.write() as conn:
            conn.execute("INSERT INTO setting VALUES ('a', '1')")
            raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        fail()
    assert db.read.execute("SELECT count(*) FROM setting").fetchone()[0] == 0


def test_readers_cannot_write(db: Database) -> None:
    with pytest.raises(sqlite3.OperationalError, match="readonly"):
        db.read.execute("DELETE FROM setting")


def test_opening_again_migrates_nothing(tmp_path: Path) -> None:
    for _ in range(2):
        database = Database(tmp_path / "w.db")
        assert database.read.execute("PRAGMA user_version").fetchone()[0] >= 1
        database.close()


def test_a_database_of_a_newer_winnow_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "w.db"
    Database(path).close()
    with sqlite3.connect(path) as conn:
        conn.execute("PRAGMA user_version = 999")
    conn.close()
    with pytest.raises(DatabaseError, match="newer Winnow"):
        Database(path)


def test_rubbish_is_refused_with_the_path(tmp_path: Path) -> None:
    path = tmp_path / "w.db"
    path.write_bytes(b"not a database at all" * 100)
    with pytest.raises(DatabaseError, match=r"w\.db can't be used: file is not a database"):
        Database(path)


def write_until_killed(path: Path, ready: object) -> None:
    database = Database(path)
    number = 0
    while True:
        with database.write() as conn:
            conn.execute("INSERT INTO setting VALUES (?, ?)", (str(number), "1"))
        with open(f"{path}.told", "w") as told:
            told.write(str(number))
        number += 1


def test_what_was_answered_survives_a_kill(tmp_path: Path) -> None:
    path = tmp_path / "w.db"
    process = multiprocessing.get_context("spawn").Process(
        target=write_until_killed, args=(path, None)
    )
    process.start()
    told = Path(f"{path}.told")
    while not (told.exists() and told.read_text() and int(told.read_text() or 0) > 20):
        assert process.is_alive()
    os.kill(process.pid or 0, signal.SIGKILL)
    process.join()
    last = int(told.read_text() or 0)
    database = Database(path)
    count = database.read.execute("SELECT count(*) FROM setting").fetchone()[0]
    database.close()
    assert count >= last + 1
