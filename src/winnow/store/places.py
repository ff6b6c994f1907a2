"""Where source folders are: on another disk, or under another path, than when they were opened."""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.store import moved_files
from winnow.store.db import Database

# Every column with absolute paths of files in source folders, or in folders beside them.
_PATHS: Final = (
    ("held_file", "source"), ("held_file", "place"), ("delivery_item", "source"), ("renaming_step",
    "old"),
    ("renaming_step", "new"),
)  # fmt: skip
# Columns with the folders that were copied to, each with that of its disk's mount point.
_TARGETS: Final = (
    ("delivery", "target", "mount"), ("bringing", "target", "mount"), ("bringing", "second",
    "second_mount"),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class KnownFrame:
    """A frame of a source folder as Winnow last saw it.

    ``path``: of its shown file, relative; ``sizes``: bytes of its picture files by their relative
    paths; ``content_hash``: BLAKE3 of the shown one, None where it is not known.
    """

    path: str
    sizes: dict[str, int]
    content_hash: str | None


def known_frames(db: Database, folder_id: int, most: int = -1) -> list[KnownFrame]:
    """The frames of a source folder, but for those that are set aside or moved out, by their paths;
    no more than ``most`` of them, if that is given."""
    rows = db.read.execute(
        f"SELECT path, files, content_hash FROM frame WHERE folder_id = ? AND NOT "
        f"{moved_files.HELD} ORDER BY path LIMIT ?",
        (folder_id, most),
    )
    return [
        KnownFrame(
            os.fsdecode(row["path"]),
            {path: size for path, size, _ in json.loads(row["files"])},
            row["content_hash"],
        )
        for row in rows
    ]


def targets(db: Database) -> set[str]:
    """Every folder that was delivered to, or brought in to."""
    folders: set[str] = set()
    for table, column, _ in _TARGETS:
        folders.update(row[0] for row in db.read.execute(f"SELECT {column} FROM {table}"))
    return folders - {""}


def point(
    db: Database,
    folder_id: int,
    place: Path,
    beside: Sequence[tuple[Path, Path]] = (),
    moved_targets: Sequence[tuple[str, str, str]] = (),
) -> None:
    """Note where a source folder is now, and all that the journals know by its old path.

    One transaction. ``beside``: (old, new) of folders beside it that moved along;
    ``moved_targets``: (old, new, mount point) of folders that were copied to.
    """
    with db.write() as conn:
        old = Path(conn.execute("SELECT path FROM folder WHERE id = ?", (folder_id,)).fetchone()[0])
        conn.execute(
            "UPDATE folder SET path = ?, notice = '' WHERE id = ?", (str(place), folder_id)
        )
        for before, now in ((old, place), *beside):
            for table, column in _PATHS:
                _replace(conn, table, column, os.fsencode(before), os.fsencode(now))
        for before_text, now_text, mount in moved_targets:
            for table, column, disk in _TARGETS:
                conn.execute(
                    f"UPDATE {table} SET {column} = ?, {disk} = ? WHERE {column} = ?",
                    (now_text, mount, before_text),
                )


def _replace(conn: sqlite3.Connection, table: str, column: str, old: bytes, new: bytes) -> None:
    """Paths below one folder become those below another."""
    below = old.rstrip(b"/") + b"/"
    conn.execute(
        f"""
        UPDATE {table} SET {column} = CAST(CAST(? AS BLOB) || substr({column}, ?) AS BLOB)
        WHERE substr({column}, 1, ?) = CAST(? AS BLOB)
        """,
        (new.rstrip(b"/") + b"/", len(below) + 1, len(below), below),
    )
