"""Groups as they are stored: the slider, the numbers, and what was said by hand."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from winnow.core.groups.edits import HandEdit
from winnow.core.groups.links import linked
from winnow.core.marks import GroupStep
from winnow.store.db import Database
from winnow.store.frame_order import ZONED


@dataclass(frozen=True, slots=True)
class Grouped:
    """What groups are made of: the frames of a shoot in order of time.

    Lists and arrays of one length. ``cameras``: a number for each camera, negative where a frame's
    time is only that of its file.
    """

    ids: list[int]
    times: NDArray[np.float64]
    signatures: list[bytes | None]
    upright: NDArray[np.bool_]
    cameras: NDArray[np.int32]
    numbers: list[int]


def material(db: Database, shoot_id: int) -> Grouped:
    """What the groups of a shoot are made of; ``numbers``: as they are stored."""
    rows = db.read.execute(
        """
        SELECT id, coalesce(shot_at, 0), coalesce(first_likeness, likeness),
        coalesce(height, 0) > coalesce(width, 0),
        CASE WHEN dated THEN coalesce(camera, '') || char(10) || coalesce(serial, '') END, group_no
        FROM frame WHERE shoot_id = ? ORDER BY position, id
        """,
        (shoot_id,),
    ).fetchall()
    ids, times, signatures, upright, cameras, numbers = (
        map(list, zip(*rows, strict=True)) if rows else ([],) * 6
    )
    number_of = {camera: n for n, camera in enumerate(dict.fromkeys(cameras)) if camera is not None}
    in_time = np.maximum.accumulate(np.array(times, np.float64))
    return Grouped(
        ids,
        in_time,
        signatures,
        np.array(upright, np.bool_),
        np.array([number_of.get(camera, -1) for camera in cameras], np.int32),
        numbers,
    )


def by_camera(
    db: Database, shoot_id: int
) -> dict[tuple[str, str], tuple[NDArray[np.float64], list[bytes | None]]]:
    """By camera and serial number: its frames' times in seconds, with nothing added to its clock,
    and signatures."""
    cameras: dict[tuple[str, str], tuple[list[float], list[bytes | None]]] = {}
    for row in db.read.execute(
        f"""
        SELECT coalesce(camera, '') AS camera, coalesce(serial, '') AS serial, {ZONED} AS zoned_at,
        likeness
        FROM frame WHERE shoot_id = ? AND taken_at IS NOT NULL ORDER BY position, id
        """,
        (shoot_id,),
    ):
        times, signatures = cameras.setdefault((row["camera"], row["serial"]), ([], []))
        times.append(row["zoned_at"])
        signatures.append(row["likeness"])
    return {camera: (np.array(times), signs) for camera, (times, signs) in cameras.items()}


def looseness(db: Database, shoot_id: int) -> float:
    """Where the slider of a shoot stands, 0 (tighter) to 1 (looser)."""
    row = db.read.execute("SELECT looseness FROM shoot WHERE id = ?", (shoot_id,)).fetchone()
    return float(row["looseness"]) if row else 0.5


def set_looseness(db: Database, shoot_id: int, value: float) -> None:
    """Remember where the slider stands."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET looseness = ? WHERE id = ?", (value, shoot_id))


def keep_numbers(db: Database, known: Grouped, numbers: Sequence[int]) -> bool:
    """Store the numbers of the groups; returns whether any is another than before."""
    changed = [
        (number, frame)
        for frame, number, before in zip(known.ids, numbers, known.numbers, strict=True)
        if number != before
    ]
    if changed:
        with db.write() as conn:
            conn.executemany("UPDATE frame SET group_no = ? WHERE id = ?", changed)
            conn.execute(
                "UPDATE shoot SET hints_stale = 1 WHERE id = (SELECT shoot_id FROM frame WHERE id "
                "= ?)",
                (changed[0][1],),
            )
    return bool(changed)


def edits_of(db: Database, shoot_id: int) -> frozenset[HandEdit]:
    """What was said of a shoot's groups by hand."""
    rows = db.read.execute(
        "SELECT kind, frame_id, other_id FROM group_edit WHERE shoot_id = ?", (shoot_id,)
    )
    return frozenset(HandEdit(*row) for row in rows)


def pairs(db: Database, shoot_id: int) -> list[tuple[int, ...]]:
    """The frames of a shoot that are linked as parts of one picture, picture by picture."""
    rows = db.read.execute(
        "SELECT kind, frame_id, other_id FROM group_edit WHERE shoot_id = ? AND kind = 'link'",
        (shoot_id,),
    )
    return linked(HandEdit(*row) for row in rows)


def put(conn: sqlite3.Connection, shoot_id: int, step: GroupStep) -> None:
    """Make a step: edits that are out go, new ones come. Frames that are gone are passed over."""
    conn.executemany(
        "DELETE FROM group_edit WHERE shoot_id = ? AND kind = ? AND frame_id = ? AND other_id = ?",
        [(shoot_id, e.kind, e.frame, e.other) for e in sorted(step.out)],
    )
    conn.executemany(
        """
        INSERT OR IGNORE INTO group_edit SELECT ?1, ?2, ?3, ?4
        WHERE EXISTS (SELECT 1 FROM frame WHERE id = ?3) AND EXISTS (SELECT 1 FROM frame WHERE id =
        ?4)
        """,
        [(shoot_id, e.kind, e.frame, e.other) for e in sorted(step.new)],
    )


def step_as_json(step: GroupStep | None) -> str:
    """A step as it stands in the history; "" for none."""
    if step is None:
        return ""
    return json.dumps({"new": _listed(step.new), "out": _listed(step.out)})


def step_from_json(text: str) -> GroupStep | None:
    """The step that the history tells of."""
    if not text:
        return None
    told = json.loads(text)
    return GroupStep(*(frozenset(HandEdit(*edit) for edit in told[key]) for key in ("new", "out")))


def _listed(edits: Iterable[HandEdit]) -> list[tuple[str, int, int]]:
    return [(e.kind, e.frame, e.other) for e in sorted(edits)]


def one_after_the_other(first: GroupStep | None, text: str, *, forwards: bool) -> GroupStep | None:
    """Two steps as one; the second as the history tells of it, taken back unless ``forwards``."""
    second = step_from_json(text)
    if second is None:
        return first
    if not forwards:
        second = GroupStep(second.out, second.new)
    if first is None:
        return second
    return GroupStep((first.new - second.out) | second.new, (first.out - second.new) | second.out)
