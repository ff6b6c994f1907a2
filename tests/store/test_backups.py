"""Backups of a database in use, and the way back from a damaged one."""

import sqlite3
import threading
from pathlib import Path

import pytest

from tests.conftest import indexed, until
from tests.pictures import write_shoot
from tests.work.saying import set_mark
from winnow.core.marks import Edit
from winnow.photos.cache import PictureCache
from winnow.store import backups, frames, settings, shoots
from winnow.store.db import Database
from winnow.store.opening import open_sound
from winnow.store.soundness import DatabaseError, is_sound
from winnow.work.runtime import Places, Runtime


def damage(path: Path) -> None:
    """Write over pages in the middle, as a failing disk does."""
    data = bytearray(path.read_bytes())
    for at in range(4096 * 2, len(data), 4096 * 3):
        data[at : at + 2000] = b"\xa5" * min(2000, len(data) - at)
    path.write_bytes(data)


def test_a_backup_has_everything_but_what_is_measured_again(
    runtime: Runtime, tmp_path: Path
) -> None:
    write_shoot(tmp_path / "shoot", [1, 2])
    shoot = indexed(runtime, tmp_path / "shoot")
    set_mark(runtime, shoot, "QH_0001", Edit(None, 4))
    backup = backups.make(runtime.db, tmp_path)
    assert is_sound(backup.path)
    opened = Database(backup.path)
    assert [(r.name, r.mark.stars) for r in frames.rows(opened, shoot)] == [
        ("QH_0001", 4), ("QH_0002", 0),
    ]  # fmt: skip
    assert opened.read.execute("SELECT count(*) FROM focus_map").fetchone()[0] == 0
    opened.close()
    assert runtime.db.read.execute("SELECT count(*) FROM focus_map").fetchone()[0] == 2
    assert [backup.path for backup in backups.all_of(tmp_path)] == [backup.path]


def test_backups_while_others_write(db: Database, tmp_path: Path) -> None:
    stop = threading.Event()

    def write() -> None:
        n = 0
        while not stop.is_set():
            n += 1
            settings.save_set(db, "labels", f"set {n % 50}", {"n": n})

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for number in range(5):
            made = backups.make(db, tmp_path, lambda number=number: 1e9 + number * 3600)
            assert is_sound(made.path)
    finally:
        stop.set()
        writer.join()
    assert len(backups.all_of(tmp_path)) == 5
    assert not (tmp_path / "backups" / ".part").exists()


def test_old_ones_are_thinned_and_a_second_in_a_second_has_its_own_name(
    db: Database, tmp_path: Path
) -> None:
    one = backups.make(db, tmp_path, lambda: 1e9)
    other = backups.make(db, tmp_path, lambda: 1e9)
    assert one.path != other.path
    for hour in range(40):
        backups.make(db, tmp_path, lambda hour=hour: 1e9 + 3600 * (hour + 1))
    assert len(backups.all_of(tmp_path)) <= 10


def test_a_damaged_database_is_restored_and_kept(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    db = Database(path)
    shoot = shoots.make(db, "Fair", ["/nowhere"])
    for n in range(200):
        settings.save_set(db, "labels", f"set {n}", ["x" * 400])
    backups.make(db, tmp_path)
    db.close()
    damage(path)
    broken = path.read_bytes()
    db, restored = open_sound(path, ended_badly=True)
    assert restored is not None
    assert restored.made_at is not None
    assert restored.put_aside is not None
    assert restored.put_aside.read_bytes() == broken
    found = shoots.get(db, shoot)
    assert found
    assert found.name == "Fair"
    assert len(settings.saved_sets(db, "labels")) == 200
    db.close()
    again, none = open_sound(path, ended_badly=True)
    assert none is None
    again.close()


def test_a_damaged_backup_is_passed_over(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    db = Database(path)
    for n in range(100):
        settings.save_set(db, "labels", f"set {n}", ["x" * 400])
    backups.make(db, tmp_path, lambda: 1e9)
    newer = backups.make(db, tmp_path, lambda: 1e9 + 9000)
    db.close()
    damage(newer.path)
    path.write_bytes(b"not a database at all" * 100)
    db, restored = open_sound(path, ended_badly=False)
    assert restored is not None
    assert restored.made_at == 1e9
    db.close()


def test_without_a_backup_it_begins_anew_and_the_damaged_one_is_kept(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    path.write_bytes(b"not a database at all" * 100)
    db, restored = open_sound(path, ended_badly=False)
    assert restored is not None
    assert restored.made_at is None
    assert restored.put_aside is not None
    assert restored.put_aside.read_bytes().startswith(b"not a database")
    assert shoots.all_shoots(db) == []
    db.close()


def test_a_newer_database_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "winnow.db"
    Database(path).close()
    with sqlite3.connect(path) as conn:
        conn.execute("PRAGMA user_version = 999")
    conn.close()
    before = path.read_bytes()
    with pytest.raises(DatabaseError, match="newer Winnow"):
        open_sound(path, ended_badly=True)
    assert path.read_bytes() == before
    assert list(tmp_path.glob("winnow-damaged*")) == []


def test_winnow_makes_backups_and_tells_of_a_restored_one(tmp_path: Path) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    runtime = Runtime(places)
    shoots.make(runtime.db, "Fair", ["/nowhere"])
    for n in range(200):
        settings.save_set(runtime.db, "labels", f"set {n}", ["x" * 400])
    runtime.announce("http://somewhere")
    assert runtime.notices == []
    runtime.close()
    assert len(backups.all_of(places.data)) == 1
    # Nothing was written: no further backup.
    runtime = Runtime(places)
    runtime.back_up(0)
    runtime.close()
    assert len(backups.all_of(places.data)) == 1
    # Ended badly, with damage: the whole file is looked through at the next start.
    damage(places.data / "winnow.db")
    (places.data / "running").write_text("http://somewhere")
    runtime = Runtime(places)
    try:
        (notice,) = runtime.notices
        assert "was damaged" in notice
        assert [shoot.name for shoot in shoots.all_shoots(runtime.db)] == ["Fair"]
    finally:
        runtime.close()


def test_what_a_backup_leaves_out_is_measured_again(tmp_path: Path) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    write_shoot(tmp_path / "shoot", [1, 2])
    runtime = Runtime(places)
    shoot = indexed(runtime, tmp_path / "shoot")
    runtime.close()
    (backup,) = backups.all_of(places.data)
    (places.data / "winnow.db").write_bytes(backup.path.read_bytes())
    for left in places.data.glob("winnow.db-*"):
        left.unlink()
    runtime = Runtime(places)
    try:
        assert isinstance(runtime.cache, PictureCache)
        runtime.indexer.start(shoot)
        count = "SELECT count(*) FROM focus_map"
        until(lambda: runtime.db.read.execute(count).fetchone()[0] == 2)
    finally:
        runtime.close()
