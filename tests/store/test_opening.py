"""Opening the database: what only can't be read now stays as it is, and no start is empty beside
backups."""

import random
import sqlite3
from pathlib import Path

import pytest

from tests import soak
from winnow.store import backups, db, settings, shoots, soundness
from winnow.store.db import Database, GoneError
from winnow.store.opening import open_sound
from winnow.store.soundness import DatabaseError, is_sound
from winnow.work.runtime import Places, Runtime


def filled(path: Path, names: int = 200) -> None:
    """A database with a backup, which is closed."""
    made = Database(path)
    for n in range(names):
        settings.save_set(made, "labels", f"set {n}", ["x" * 400])
    backups.make(made, path.parent)
    made.close()


def sets_in(opened: Database) -> int:
    return len(settings.saved_sets(opened, "labels"))


def looks(folder: Path) -> dict[str, bytes]:
    """Every file but those that SQLite makes beside a database while it is open."""
    return {
        str(path.relative_to(folder)): path.read_bytes()
        for path in folder.rglob("*")
        if path.is_file() and not path.name.endswith(("-shm", "-wal"))
    }


@pytest.mark.parametrize("ended_badly", [True, False])
@pytest.mark.parametrize(
    ("code", "words"),
    [
        (sqlite3.SQLITE_FULL, "disk is full"),
        (sqlite3.SQLITE_IOERR | 1 << 8, "answers with errors"),
        (sqlite3.SQLITE_BUSY, "Another program"),
        (sqlite3.SQLITE_CANTOPEN, "folder is there"),
        (sqlite3.SQLITE_READONLY, "this user write"),
    ],
)
@pytest.mark.parametrize("where", ["looking", "opening"])
def test_what_cannot_be_read_now_is_left_alone(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    code: int,
    words: str,
    ended_badly: bool,
    where: str,
) -> None:
    path = tmp_path / "winnow.db"
    filled(path)
    before = looks(tmp_path)

    def failing(*_: object) -> None:
        error = sqlite3.OperationalError("no")
        error.sqlite_errorcode = code
        raise error

    if where == "looking":
        monkeypatch.setattr(soundness, "_reading", failing)
    else:
        monkeypatch.setattr(Database, "_prepare", staticmethod(failing))
    with pytest.raises(DatabaseError, match=words):
        open_sound(path, ended_badly=ended_badly)
    monkeypatch.undo()
    assert looks(tmp_path) == before
    opened, restored = open_sound(path, ended_badly=True)
    assert (sets_in(opened), restored) == (200, None)
    opened.close()


@pytest.mark.parametrize("what", ["missing", "empty"])
def test_beside_backups_no_start_is_empty(tmp_path: Path, what: str) -> None:
    path = tmp_path / "winnow.db"
    filled(path)
    path.unlink()
    if what == "empty":
        path.touch()
    opened, restored = open_sound(path, ended_badly=False)
    assert restored is not None
    assert restored.why == "gone"
    assert sets_in(opened) == 200
    opened.close()


def test_without_backups_a_start_is_new(tmp_path: Path) -> None:
    opened, restored = open_sound(tmp_path / "winnow.db", ended_badly=False)
    assert restored is None
    opened.close()


def test_a_database_that_lost_its_log_is_older_than_its_backup(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    Database(path).close()
    checkpointed = path.read_bytes()
    filled(path)
    path.write_bytes(checkpointed)
    opened, restored = open_sound(path, ended_badly=True)
    assert restored is not None
    assert (restored.why, sets_in(opened)) == ("older", 200)
    assert restored.put_aside is not None
    assert restored.put_aside.read_bytes() == checkpointed
    opened.close()


def test_the_later_backup_counts_whatever_the_clock_said(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    made = Database(path)
    backups.make(made, tmp_path, lambda: 2e9)  # the clock was wrong
    settings.save_set(made, "labels", "later", [])
    later = backups.make(made, tmp_path, lambda: 1e9)
    made.close()
    latest = backups.latest_sound(tmp_path)
    assert latest is not None
    assert latest.path == later.path


@pytest.mark.parametrize("content", ['["\x01"]', b"\xff"])
def test_a_byte_within_a_text_is_damage_where_it_can_be_seen(
    tmp_path: Path, content: object
) -> None:
    """SQLite's own check says "ok": pages and rows hang together."""
    path = tmp_path / "winnow.db"
    filled(path, 3)
    with sqlite3.connect(path) as conn:
        conn.execute("UPDATE saved_set SET content = ? WHERE name = 'set 1'", (content,))
        assert conn.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    conn.close()
    assert not is_sound(path)
    opened, restored = open_sound(path, ended_badly=True)
    assert restored is not None
    assert (restored.why, sets_in(opened)) == ("damaged", 3)
    opened.close()


@pytest.mark.soak
def test_no_damage_ends_a_start_or_loses_what_a_backup_has(tmp_path: Path) -> None:
    sound = tmp_path / "sound"
    sound.mkdir()
    filled(sound / "winnow.db", 40)
    for number in range(soak.rounds(12)):
        rng = random.Random(f"damage {number}")
        folder = tmp_path / str(number)
        (folder / "backups").mkdir(parents=True)
        for name, content in looks(sound).items():
            (folder / name).write_bytes(content)
        path = folder / "winnow.db"
        data = bytearray(path.read_bytes())
        for _ in range(rng.choice((1, 3, 40))):
            at, size = rng.randrange(len(data)), rng.choice((1, 16, 4096))
            data[at : at + size] = rng.randbytes(len(data[at : at + size]))
        path.write_bytes(data[: rng.choice((len(data), len(data), rng.randrange(len(data))))])
        opened, restored = open_sound(path, ended_badly=True)
        assert sets_in(opened) == 40 or restored is None
        opened.close()
        assert is_sound(path)


def test_marks_after_the_file_was_deleted_are_refused_and_all_before_come_back(
    tmp_path: Path,
) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    runtime = Runtime(places)
    shoots.make(runtime.db, "Fair", ["/nowhere"])
    for left in places.data.glob("winnow.db*"):
        left.unlink()
    for _ in range(2):
        with pytest.raises(GoneError, match="is gone"):
            shoots.make(runtime.db, "Too late", ["/nowhere"])
    (notice,) = runtime.notices
    assert "comes back" in notice
    assert [shoot.name for shoot in shoots.all_shoots(runtime.db)] == ["Fair"]
    runtime.close()
    runtime = Runtime(places)
    assert [shoot.name for shoot in shoots.all_shoots(runtime.db)] == ["Fair"]
    assert "was gone" in runtime.notices[0]
    runtime.close()


def test_before_tables_change_a_copy_is_made(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "winnow.db"
    with monkeypatch.context() as patched:
        patched.setattr(db, "_STEPS", db._STEPS[:-1])
        patched.setattr(db, "LATEST", db.LATEST - 1)
        older = Database(path)
        # As plain SQL: today's code may need tables that an older version doesn't have.
        with older.write() as conn:
            conn.execute("INSERT INTO shoot (name, made_at, opened_at) VALUES ('Fair', 0, 0)")
        older.close()
    opened, _ = open_sound(path, ended_badly=False)
    (copy,) = backups.all_of(tmp_path)
    assert soundness.version_of(copy.path) == db.LATEST - 1
    assert soundness.version_of(path) == db.LATEST
    assert [shoot.name for shoot in shoots.all_shoots(opened)] == ["Fair"]
    opened.close()


def test_a_backup_that_fails_is_said_and_one_that_is_made_ends_that(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    runtime = Runtime(places)
    shoots.make(runtime.db, "Fair", ["/nowhere"])
    with monkeypatch.context() as patched:
        patched.setattr(backups, "is_sound", lambda path: False)
        runtime.back_up(0)
    (notice,) = runtime.notices
    assert "no new backup" in notice
    assert backups.all_of(places.data) == []
    second = tmp_path / "other disk"
    second.mkdir()
    (second / "backups").touch()  # in the way of its folder
    settings.save(runtime.db, {"backup_place": str(second)})
    runtime.back_up(0)
    assert "not in the second place" in runtime.notices[0]
    assert len(backups.all_of(places.data)) == 1, "the backup itself is there"
    (second / "backups").unlink()
    settings.save_set(runtime.db, "labels", "another", [])
    for backup in backups.all_of(places.data):
        backup.path.unlink()
    runtime.back_up(0)
    # Nothing was written since: no further one, however long it was.
    runtime.back_up(0)
    assert runtime.notices == []
    (made,), (copy,) = backups.all_of(places.data), backups.all_of(second)
    assert made.path.read_bytes() == copy.path.read_bytes()
    runtime.close()
