"""What was deleted for good: frames that are gone, and what of their files is known elsewhere."""

from __future__ import annotations

import os
import time
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

from winnow.core.deliver.ways import LEAVING
from winnow.store.db import Database
from winnow.store.moved_files import HeldFile


def begin(db: Database, shoot_id: int, *, trashed: bool) -> int:
    """Write down that frames are about to be deleted; returns the deletion's id."""
    with db.write() as conn:
        cursor = conn.execute(
            "INSERT INTO deletion (shoot_id, made_at, trashed, frames, files, size) VALUES (?, ?, "
            "?, 0, 0, 0)",
            (shoot_id, time.time(), trashed),
        )
        assert cursor.lastrowid is not None
        return cursor.lastrowid


def keep(db: Database, deletion_id: int, gone: Mapping[int, Sequence[HeldFile]]) -> None:
    """Record frames whose files are deleted: they leave the shoot, and are counted."""
    files = [file for of_frame in gone.values() for file in of_frame]
    with db.write() as conn:
        conn.executemany("DELETE FROM frame WHERE id = ?", [(frame,) for frame in gone])
        conn.execute(
            "UPDATE deletion SET frames = frames + ?, files = files + ?, size = size + ? WHERE id "
            "= ?",
            (len(gone), len(files), sum(file.size for file in files), deletion_id),
        )


def forget_files(db: Database, files: Iterable[HeldFile]) -> None:
    """Some of a frame's files are gone, but not the frame."""
    with db.write() as conn:
        conn.executemany(
            "DELETE FROM held_file WHERE frame_id = ? AND source = ?",
            [(file.frame, os.fsencode(file.source)) for file in files],
        )


def deleted(db: Database, shoot_id: int) -> int:
    """How many frames of a shoot were deleted for good."""
    row = db.read.execute(
        "SELECT coalesce(sum(frames), 0) AS number FROM deletion WHERE shoot_id = ?", (shoot_id,)
    ).fetchone()
    return int(row["number"])


def last(db: Database, frame_id: int) -> tuple[int, bool] | None:
    """The last deletion of a frame's shoot, and whether it put files in the trash."""
    row = db.read.execute(
        """
        SELECT deletion.id, trashed FROM deletion JOIN frame ON frame.shoot_id = deletion.shoot_id
        WHERE frame.id = ? ORDER BY deletion.id DESC LIMIT 1
        """,
        (frame_id,),
    ).fetchone()
    return (row["id"], bool(row["trashed"])) if row else None


def copies_of(db: Database, file: HeldFile) -> list[Path]:
    """Where Winnow, at some time, put or saw a copy of a file: delivered, brought in twice, or
    equal in the shoot."""
    source = os.fsencode(file.source)
    copies = []
    for row in db.read.execute(
        f"""
        SELECT target, name FROM delivery_item JOIN delivery ON delivery.id = delivery_id
        WHERE frame_id = ? AND source = ? AND kind IN {LEAVING}
            AND delivery_item.state IN ('done', 'there')
        """,
        (file.frame, source),
    ):
        copies.append(Path(row["target"]) / os.fsdecode(row["name"]))
    for row in db.read.execute(
        """
        SELECT target, second, name FROM bringing_item JOIN bringing ON bringing.id = bringing_id
        WHERE second_state IN ('done', 'there') AND size = ?
        """,
        (file.size,),
    ):
        if os.fsencode(Path(row["target"]) / os.fsdecode(row["name"])) == source:
            copies.append(Path(row["second"]) / os.fsdecode(row["name"]))
    for row in db.read.execute(
        """
        SELECT twin.path, folder.path AS root
        FROM frame JOIN frame AS twin ON twin.content_hash = frame.content_hash AND twin.id !=
        frame.id
        JOIN folder ON folder.id = twin.folder_id
        WHERE frame.id = ? AND NOT EXISTS (SELECT 1 FROM held_file WHERE frame_id = twin.id)
        """,
        (file.frame,),
    ):
        copies.append(Path(row["root"]) / os.fsdecode(row["path"]))
    return copies
