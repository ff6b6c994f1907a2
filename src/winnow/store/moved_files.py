"""Files that are elsewhere, set aside or moved out by a delivery: where they were and are, and how
far a move is."""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Final, Literal

from winnow.store.db import Database

# Whether the files of a row of frame are elsewhere, and whether they are set aside, in SQL.
HELD: Final = "(EXISTS (SELECT 1 FROM held_file WHERE held_file.frame_id = frame.id))"
ASIDE: Final = (
    "(EXISTS (SELECT 1 FROM held_file WHERE held_file.frame_id = frame.id AND delivery_id IS NULL))"
)

State = Literal["going", "held", "coming", "leaving"]


@dataclass(frozen=True, slots=True)
class HeldFile:
    """One file. ``source``: where it was; ``place``: where it is; both absolute. ``size``: bytes;
    ``delivery``: the one that moved it out, None where it is set aside."""

    frame: int
    source: Path
    place: Path
    size: int
    state: State = "going"
    delivery: int | None = None


def begin(db: Database, files: Iterable[HeldFile]) -> None:
    """Write down that files are about to be moved."""
    with db.write() as conn:
        conn.executemany(
            "INSERT INTO held_file VALUES (?, ?, ?, ?, 'going', ?)",
            [
                (f.frame, os.fsencode(f.source), os.fsencode(f.place), f.size, f.delivery)
                for f in files
            ],
        )


def note(db: Database, frames: Iterable[int], state: State) -> None:
    """Record how far the files of frames are."""
    with db.write() as conn:
        conn.executemany(
            "UPDATE held_file SET state = ? WHERE frame_id = ?", [(state, f) for f in frames]
        )


def forget(db: Database, frames: Iterable[int]) -> None:
    """The files of these frames are where they were before."""
    with db.write() as conn:
        conn.executemany("DELETE FROM held_file WHERE frame_id = ?", [(f,) for f in frames])


def of_shoot(db: Database, shoot_id: int) -> dict[int, list[HeldFile]]:
    """The files of a shoot that are set aside, by frame, in the order of the shoot."""
    return _by_frame(
        db.read.execute(
            """
            SELECT held_file.* FROM held_file JOIN frame ON frame.id = frame_id
            WHERE shoot_id = ? AND delivery_id IS NULL ORDER BY position, frame_id, source
            """,
            (shoot_id,),
        )
    )


def of_delivery(db: Database, delivery_id: int) -> dict[int, list[HeldFile]]:
    """The files that a delivery moved out, by frame."""
    return _by_frame(
        db.read.execute(
            "SELECT * FROM held_file WHERE delivery_id = ? ORDER BY frame_id, source",
            (delivery_id,),
        )
    )


def of_frames(db: Database, frame_ids: Iterable[int]) -> dict[int, list[HeldFile]]:
    """The files of these frames that are elsewhere."""
    return _by_frame(
        db.read.execute(
            "SELECT * FROM held_file WHERE frame_id IN (SELECT value FROM json_each(?))",
            (json.dumps(list(frame_ids)),),
        )
    )


def unsettled(db: Database) -> dict[int, list[HeldFile]]:
    """Moves that were begun and not recorded as done, by frame."""
    rows = db.read.execute("SELECT * FROM held_file WHERE state != 'held' ORDER BY frame_id")
    return _by_frame(rows)


def _by_frame(rows: Iterable[sqlite3.Row]) -> dict[int, list[HeldFile]]:
    by_frame: dict[int, list[HeldFile]] = {}
    for row in rows:
        source, place = (Path(os.fsdecode(row[name])) for name in ("source", "place"))
        held = HeldFile(
            row["frame_id"], source, place, row["size"], row["state"], row["delivery_id"]
        )
        by_frame.setdefault(held.frame, []).append(held)
    return by_frame
