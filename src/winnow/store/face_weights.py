"""Whose face counts, as it is stored: sayings about places of frames."""

from __future__ import annotations

import json
import sqlite3
from collections import defaultdict
from collections.abc import Collection, Iterable

from winnow.core.verdict.who_counts import Said
from winnow.store.db import Database, Readable


def of_frames(db: Readable, frame_ids: Iterable[int]) -> dict[int, list[Said]]:
    """What was said of faces of these frames; frames without are left out."""
    return _by_frame(
        db.read.execute(
            "SELECT * FROM face_weight WHERE frame_id IN (SELECT value FROM json_each(?))",
            (json.dumps(list(frame_ids)),),
        )
    )


def of_shoot(db: Readable, shoot_id: int) -> dict[int, list[Said]]:
    """What was said of faces of a shoot, by frame."""
    return _by_frame(
        db.read.execute(
            "SELECT face_weight.* FROM face_weight JOIN frame ON frame.id = frame_id "
            "WHERE shoot_id = ? ORDER BY frame_id, x, y",
            (shoot_id,),
        )
    )


def _by_frame(rows: sqlite3.Cursor) -> dict[int, list[Said]]:
    out: dict[int, list[Said]] = defaultdict(list)
    for frame, x, y, weight, everywhere in rows:
        out[frame].append(Said(x, y, weight, bool(everywhere)))
    return dict(out)


def put(
    db: Database, gone: Collection[tuple[int, Said]], new: Collection[tuple[int, Said]]
) -> None:
    """Take sayings back, and store others: (frame, saying)."""
    with db.write() as conn:
        conn.executemany(
            "DELETE FROM face_weight WHERE frame_id = ? AND x = ? AND y = ?",
            [(frame, said.x, said.y) for frame, said in gone],
        )
        conn.executemany(
            "INSERT OR REPLACE INTO face_weight VALUES (?, ?, ?, ?, ?)",
            [(frame, said.x, said.y, said.weight, said.everywhere) for frame, said in new],
        )
