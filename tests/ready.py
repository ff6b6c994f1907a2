"""Shoots that are indexed once and copied: for tests of what comes after indexing."""

from __future__ import annotations

import atexit
import hashlib
import os
import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

from tests.conftest import indexed
from winnow.store import shoots
from winnow.work.runtime import Runtime

# What is not of a shoot, or follows from the rest by triggers.
_LEFT_OUT = {"label", "setting", "saved_filter", "saved_set"}


@dataclass(frozen=True, slots=True)
class _Kept:
    """A shoot as it was indexed: rows by table, when its files were changed, and its pictures."""

    rows: dict[str, list[tuple[object, ...]]]
    changed_ns: dict[str, int]
    pictures: Path


_kept: dict[str, _Kept] = {}
_home = Path(tempfile.mkdtemp(prefix="winnow-ready-"))
atexit.register(shutil.rmtree, _home, ignore_errors=True)


def ready(runtime: Runtime, folder: Path, name: str = "Test") -> int:
    """The shoot of a folder, as indexing leaves it.

    It is copied where the same files were indexed before.
    """
    if shoots.all_shoots(runtime.db):
        return indexed(runtime, folder)
    files = {str(path.relative_to(folder)): path for path in _files(folder)}
    digest = hashlib.blake2b(name.encode())
    for relative, path in files.items():
        digest.update(f"\0{relative}\0".encode() + path.read_bytes())
    key = digest.hexdigest()
    if key in _kept:
        return _copied(runtime, folder, files, _kept[key])
    shoots.make(runtime.db, name, [str(folder)])
    shoot = indexed(runtime, folder)
    # Forked processes share the folder, not what they know of it.
    pictures = _home / f"{key} {os.getpid()}"
    shutil.copytree(runtime.cache.folder, pictures)
    changed = {relative: path.stat().st_mtime_ns for relative, path in files.items()}
    _kept[key] = _Kept(_rows(runtime), changed, pictures)
    return shoot


def _files(folder: Path) -> list[Path]:
    return sorted(path for path in folder.rglob("*") if path.is_file())


def _rows(runtime: Runtime) -> dict[str, list[tuple[object, ...]]]:
    listed = runtime.db.read.execute(
        "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'words%' AND name "
        "NOT LIKE 'sqlite%'"
    )
    found = {}
    for (table,) in listed.fetchall():
        rows = [tuple(row) for row in runtime.db.read.execute(f"SELECT * FROM {table}")]
        if rows and table not in _LEFT_OUT:
            found[table] = rows
    return found


def _copied(runtime: Runtime, folder: Path, files: dict[str, Path], kept: _Kept) -> int:
    for relative, path in files.items():
        os.utime(path, ns=(kept.changed_ns[relative],) * 2)
    shutil.copytree(kept.pictures, runtime.cache.folder, dirs_exist_ok=True)
    with runtime.db.write() as conn:
        conn.execute("PRAGMA defer_foreign_keys = ON")
        for table, rows in kept.rows.items():
            marks = ", ".join("?" * len(rows[0]))
            conn.executemany(f"INSERT OR REPLACE INTO {table} VALUES ({marks})", rows)
        conn.execute("UPDATE folder SET path = ?", (str(folder.resolve()),))
    (shoot,) = shoots.all_shoots(runtime.db)
    return shoot.id
