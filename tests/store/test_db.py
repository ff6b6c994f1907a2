"""The database: migrations, transactions, durability."""

import gc
import multiprocessing
import os
import signal
import sqlite3
import threading
from importlib.resources import files
from pathlib import Path

import pytest

from winnow.core.files.merge import Stated
from winnow.core.files.texts import Texts
from winnow.core.filters.filter import Filter
from winnow.core.filters.parser import parse
from winnow.core.groups.edits import HandEdit
from winnow.core.marks import GroupStep
from winnow.store import file_state, groups, settings
from winnow.store.db import Database
from winnow.store.soundness import DatabaseError
from winnow.work import filtering


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


def test_a_thread_takes_its_connection_with_it(db: Database) -> None:
    """A server's threads come and go all day: their connections, with their caches, must not
    stay."""
    threads = [
        threading.Thread(target=lambda: db.read.execute("SELECT 1").fetchone()) for _ in range(40)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    gc.collect()
    assert len(db._readers) <= 1


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
    with pytest.raises(DatabaseError, match=r"w\.db is damaged: file is not a database"):
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


def of_version(path: Path, version: int) -> sqlite3.Connection:
    """A new database with the tables of an older version."""
    steps = sorted(
        (file for file in files("winnow.store.migrations").iterdir() if ".sql" in file.name),
        key=lambda file: file.name,
    )
    opened = sqlite3.connect(path)
    opened.create_function("fold", 1, str)
    for step in steps[:version]:
        opened.executescript(step.read_text("utf-8"))
    opened.execute(f"PRAGMA user_version = {version}")
    return opened


def test_a_database_from_before_texts_is_carried_over(tmp_path: Path) -> None:
    """Frames are found by name, what their files stated is read anew, saved sets stay."""
    path = tmp_path / "w.db"
    before = of_version(path, 7)
    before.executescript(
        """
        INSERT INTO shoot (id, name, made_at, opened_at) VALUES (1, 'Old', 0, 0);
        INSERT INTO folder (id, shoot_id, path) VALUES (1, 1, '/old');
        INSERT INTO frame (id, shoot_id, folder_id, path, name, kind, files, described)
            VALUES (1, 1, 1, 'QH_1.jpg', 'QH_Ä1', 'JPEG', '[]', '{"title": "T", "creator": "Ann"}');
        INSERT INTO mark VALUES (1, 'pick', 2, NULL);
        INSERT INTO agreed VALUES (1, 'pick', 1, NULL);
        INSERT INTO saved_set VALUES ('keys', 'Left', '{}');
        """
    )
    before.close()
    database = Database(path)
    assert filtering.matching(database, 1, Filter(where=parse("qh_a1", {}))) == [1]
    assert file_state.embedded(database, 1) == Stated(texts=Texts("T", creators=("Ann",)))
    assert file_state.changed(database, 1) == file_state.unwritten(database, 1) == [1]
    assert file_state.agreed(database, [1])[1].stated is None
    assert settings.saved_sets(database, "keys") == {"Left": {}}
    database.close()


def test_what_was_said_of_groups_is_carried_over(tmp_path: Path) -> None:
    path = tmp_path / "w.db"
    before = of_version(path, 25)
    before.executescript(
        """
        INSERT INTO shoot (id, name, made_at, opened_at) VALUES (1, 'Old', 0, 0);
        INSERT INTO folder (id, shoot_id, path) VALUES (1, 1, '/old');
        INSERT INTO frame (id, shoot_id, folder_id, path, name, kind, files)
            VALUES (1, 1, 1, 'a.jpg', 'a', 'JPEG', '[]'), (2, 1, 1, 'b.jpg', 'b', 'JPEG', '[]');
        INSERT INTO group_edit VALUES (1, 'join', 1, 2);
        """
    )
    before.close()
    database = Database(path)
    joined = HandEdit("join", 1, 2)
    assert groups.edits_of(database, 1) == {joined}
    linked = HandEdit("link", 1, 2)
    with database.write() as conn:
        groups.put(conn, 1, GroupStep(frozenset({linked}), frozenset()))
    assert groups.edits_of(database, 1) == {joined, linked}
    assert groups.pairs(database, 1) == [(1, 2)]
    database.close()
