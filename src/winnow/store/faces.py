"""Faces as they are stored: those of each frame, and which frames were not looked at yet."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Collection, Iterable, Sequence

from winnow.core.measure import expression, faces
from winnow.core.measure.faces import Face
from winnow.core.verdict.who_counts import weighted
from winnow.store import face_weights, frame_figures
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


def keep(db: Database, frames: Sequence[tuple[int, list[Face]]], version: str) -> None:
    """Store the faces of frames: (frame, faces)."""
    ids = [frame for frame, _ in frames]
    ratios, said = frame_figures.ratios_of(db, ids), face_weights.of_frames(db, ids)
    with db.write() as conn:
        for frame, listed in frames:
            changed = conn.execute(
                "UPDATE frame SET face_version = ? WHERE id = ? AND state = 2", (version, frame)
            )
            if changed.rowcount:
                _count(conn, frame, weighted(listed, said.get(frame, ())), ratios[frame])
                conn.execute(
                    "INSERT OR REPLACE INTO face_list VALUES (?, ?)", (frame, faces.pack(listed))
                )
                conn.execute(
                    "UPDATE shoot SET hints_stale = 1 WHERE id = (SELECT shoot_id FROM frame "
                    "WHERE id = ?)",
                    (frame,),
                )


def _count(conn: sqlite3.Connection, frame: int, listed: Sequence[Face], ratio: float) -> None:
    """Store of how many faces that count what filters ask."""
    counting = [listed[n] for n in faces.counting(listed, ratio)]
    seen = [expression.looks_aside(face, faces.CLOSED_BELOW) is not None for face in counting]
    conn.execute(
        "UPDATE frame SET faces = ?, smiles = ?, gazes = ? WHERE id = ?",
        (len(counting), expression.smiling_of(counting)[0], sum(seen), frame),
    )


def count_again(db: Database, frame_ids: Collection[int]) -> None:
    """Somebody said whose face counts in these frames."""
    listed, ratios = of_frames(db, frame_ids), frame_figures.ratios_of(db, frame_ids)
    with db.write() as conn:
        for frame, those in listed.items():
            _count(conn, frame, those, ratios[frame])


def of_frames(db: Database, frame_ids: Iterable[int]) -> dict[int, list[Face]]:
    """The faces of these frames, with what was said of whose count; frames that weren't looked at
    are left out."""
    frame_ids = list(frame_ids)
    said = face_weights.of_frames(db, frame_ids)
    rows = db.read.execute(
        "SELECT frame_id, faces FROM face_list WHERE frame_id IN (SELECT value FROM json_each(?))",
        (json.dumps(frame_ids),),
    )
    return {
        row["frame_id"]: weighted(faces.unpack(row["faces"]), said.get(row["frame_id"], ()))
        for row in rows
    }
