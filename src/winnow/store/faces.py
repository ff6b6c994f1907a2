"""Faces as they are stored: those of each frame, and which frames were not looked at yet."""

from __future__ import annotations

import json
from collections.abc import Iterable

from winnow.core.measure import expression, faces
from winnow.core.measure.faces import Face
from winnow.store.db import Database


def waiting(db: Database, shoot_id: int, version: str) -> list[int]:
    """Frames with a preview whose faces this version of the code didn't look for, in order."""
    rows = db.read.execute(
        """
        SELECT id FROM frame WHERE shoot_id = ? AND state = 2 AND face_version != ?
        ORDER BY group_no, position, id
        """,
        (shoot_id, version),
    )
    return [row["id"] for row in rows]


def keep(db: Database, frames: Iterable[tuple[int, list[Face], list[int]]], version: str) -> None:
    """Store the faces of frames, with the places of those that count: (frame, faces, places)."""
    with db.write() as conn:
        for frame, listed, places in frames:
            counting = [listed[n] for n in places]
            changed = conn.execute(
                """
                UPDATE frame SET face_version = ?, faces = ?, smiles = ?, gazes = ?
                WHERE id = ? AND state = 2
                """,
                (
                    version,
                    len(counting),
                    expression.smiling_of(counting)[0],
                    sum(
                        expression.looks_aside(face, faces.CLOSED_BELOW) is not None
                        for face in counting
                    ),
                    frame,
                ),
            )
            if changed.rowcount:
                conn.execute(
                    "INSERT OR REPLACE INTO face_list VALUES (?, ?)", (frame, faces.pack(listed))
                )
                conn.execute(
                    "UPDATE shoot SET hints_stale = 1 WHERE id = (SELECT shoot_id FROM frame "
                    "WHERE id = ?)",
                    (frame,),
                )


def of_frames(db: Database, frame_ids: Iterable[int]) -> dict[int, list[Face]]:
    """The faces of these frames; those that weren't looked at are left out."""
    rows = db.read.execute(
        "SELECT frame_id, faces FROM face_list WHERE frame_id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["frame_id"]: faces.unpack(row["faces"]) for row in rows}
