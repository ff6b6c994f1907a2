"""Frames: what was found, read and computed of each exposure."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from enum import IntEnum
from typing import Any, Final, NamedTuple

from winnow.core.facts import STATED, Fact, Value
from winnow.core.filters.conditions import Condition
from winnow.core.marks import Mark, mark_of
from winnow.core.verdict.order import Standing
from winnow.store.db import Database
from winnow.store.filter_sql import BLUR, condition_sql
from winnow.store.frame_order import COMMON_TIME, ZONED
from winnow.store.moved_files import ASIDE


class State(IntEnum):
    """How far the indexing of a frame is."""

    FOUND = 0
    READ = 1
    DONE = 2
    FAILED = 3


class Row(NamedTuple):
    """A frame as the page needs it in the sheet.

    A tuple: a hundred thousand of them are made at a start.
    """

    id: int
    name: str
    kind: str
    state: State
    picture: int
    key: str | None
    missing: bool
    notice: str
    shot_at: float | None  # on the shoot's common clock
    width: int | None
    height: int | None
    group: int  # its number, from 0
    turned: int
    blur_px: float | None
    standing: Standing | None  # None until it is judged
    mark: Mark
    held: bool = False  # set aside
    moved_out: bool = False  # by a delivery
    dated: bool = True  # whether its file says when it was taken
    seen: bool = False  # whether the owner has looked at it


_STATES: Final = {int(state): state for state in State}


def rows(db: Database, shoot_id: int) -> list[Row]:
    """Every frame of a shoot, group by group, in order of time within each."""
    cursor = db.read.cursor()
    cursor.row_factory = None
    held, aside = _held(db, shoot_id)
    return [
        Row(
            frame, name, kind, _STATES[state], picture, key, bool(missing), notice, taken_at,
            width, height, group,
            turned, blur, None if standing is None else Standing(blur, standing, times, tied),
            mark_of(decision, stars, label), frame in aside, frame in held and frame not in aside,
            bool(dated), bool(seen),
        )
        for (
            frame, name, kind, state, picture, key, missing, notice, taken_at, width, height,
            group, turned, blur,
            standing, times, tied, decision, stars, label, dated, seen,
        ) in cursor.execute(
            f"""
            SELECT id, name, kind, state, picture, key, missing, notice,
                {COMMON_TIME}, width, height,
                group_no, turned, {BLUR}, standing, times, tied, decision, stars, label, dated, seen
            FROM frame JOIN mark ON mark.frame_id = frame.id
            WHERE shoot_id = ? ORDER BY group_no, position, frame.id
            """,
            (shoot_id,),
        )
    ]  # fmt: skip


def _held(db: Database, shoot_id: int) -> tuple[set[int], set[int]]:
    """Frames whose files are not where the shoot is; and those of them that are set aside."""
    rows = db.read.execute(
        f"""
        SELECT DISTINCT frame.id,
        {ASIDE} AS aside FROM held_file JOIN frame ON frame.id = held_file.frame_id
        WHERE shoot_id = ?
        """,
        (shoot_id,),
    ).fetchall()
    return {row["id"] for row in rows}, {row["id"] for row in rows if row["aside"]}


class StoredFrame(NamedTuple):
    """What is stored of a frame.

    A tuple, as a row is: thousands of them are made for a list, or a plan of names. ``path``: of
    its shown file below its source folder; ``picture``: 0 none, 1 the camera's, 2 Winnow's.
    ``taken_at``: by the camera's own clock, or where not ``dated`` when the file was changed, and
    ``zoned_at`` the same in the shoot's zone, which is ``shoot_utc_offset_min`` from UTC;
    ``shot_at``: by the shoot's common clock, on which clocks that were apart are one. Units are
    those of ``core.facts``.
    """

    id: int
    shoot_id: int
    path: bytes
    name: str
    kind: str
    picture: int
    notice: str
    key: str | None
    taken_at: float | None
    zoned_at: float | None
    shot_at: float | None
    dated: bool
    utc_offset_min: int | None
    shoot_utc_offset_min: int | None
    camera: str | None
    lens: str | None
    focus_x: float | None
    focus_y: float | None
    latitude: float | None
    longitude: float | None
    orientation: int
    optional_space: bool
    width: int | None
    height: int | None
    turned: int
    content_hash: str | None
    shown_from: str
    close_from: str
    clipped_high: float | None
    clipped_low: float | None
    clipped: Mapping[str, list[float]] | None
    brightness_ev: float | None
    blur_px: float | None
    matters_px: float | None
    group_no: int


# What is not a column of its own name.
_COMPUTED: Final = {
    "zoned_at": f"{ZONED} AS zoned_at",
    "shot_at": f"{COMMON_TIME} AS shot_at",
    "shoot_utc_offset_min": "(SELECT shoot.utc_offset_min FROM shoot WHERE shoot.id = "
    "frame.shoot_id)",
}
_COLUMNS: Final = ", ".join(_COMPUTED.get(name, f"frame.{name}") for name in StoredFrame._fields)


_FLAGS: Final = [StoredFrame._fields.index(name) for name in ("dated", "optional_space")]
_CLIPPED: Final = StoredFrame._fields.index("clipped")


def _stored(row: tuple[Any, ...]) -> StoredFrame:
    values = list(row)
    for n in _FLAGS:
        values[n] = bool(values[n])
    values[_CLIPPED] = json.loads(values[_CLIPPED]) if values[_CLIPPED] else None
    return StoredFrame._make(values)


def get(db: Database, frame_id: int) -> StoredFrame | None:
    """What is stored of one frame; None where there is no such frame."""
    cursor = db.read.cursor()
    cursor.row_factory = None
    row = cursor.execute(f"SELECT {_COLUMNS} FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return None if row is None else _stored(row)


def get_all(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, StoredFrame]:
    """What is stored of these frames of a shoot, in the order asked; others are left out."""
    cursor = db.read.cursor()
    cursor.row_factory = None
    rows = cursor.execute(
        f"""
        SELECT {_COLUMNS} FROM json_each(?) AS wanted CROSS JOIN frame ON frame.id = wanted.value
        WHERE shoot_id = ? ORDER BY wanted.key
        """,
        (json.dumps(list(dict.fromkeys(frame_ids))), shoot_id),
    )
    return {frame.id: frame for frame in map(_stored, rows)}


_STATED: Final = ", ".join(fact.column for fact in STATED)


def stated(db: Database, frame_ids: Iterable[int]) -> dict[int, dict[str, Value | None]]:
    """What these frames' files state, by the columns of ``core.facts``."""
    rows = db.read.execute(
        f"SELECT id, {_STATED} FROM frame WHERE id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {
        row["id"]: {fact.column: _value(fact, row[fact.column]) for fact in STATED} for row in rows
    }


def _value(fact: Fact, stored: Any) -> Value | None:
    # SQLite keeps what is so or not as a number.
    return bool(stored) if fact.flags and stored is not None else stored


def content_hashes(db: Database, shoot_id: int) -> dict[int, str]:
    """BLAKE3 of each frame's shown file, where it is known."""
    rows = db.read.execute(
        "SELECT id, content_hash FROM frame WHERE shoot_id = ? AND content_hash IS NOT NULL",
        (shoot_id,),
    )
    return {row["id"]: row["content_hash"] for row in rows}


def turn(db: Database, shoot_id: int, frame_ids: Iterable[int], by: int) -> dict[int, int]:
    """Turn frames on screen by quarter turns to the right; no file is changed.

    Returns how far each of them is turned now.
    """
    wanted = json.dumps(list(frame_ids))
    which = "shoot_id = ? AND id IN (SELECT value FROM json_each(?))"
    with db.write() as conn:
        conn.execute(
            f"UPDATE frame SET turned = (turned + ?) % 4 WHERE {which}", (by % 4, shoot_id, wanted)
        )
        rows = conn.execute(f"SELECT id, turned FROM frame WHERE {which}", (shoot_id, wanted))
        return {row["id"]: row["turned"] for row in rows}


def note_seen(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> None:
    """Note that the owner has looked at frames."""
    with db.write() as conn:
        conn.execute(
            "UPDATE frame SET seen = 1 WHERE shoot_id = ? AND seen = 0"
            " AND id IN (SELECT value FROM json_each(?))",
            (shoot_id, json.dumps(list(frame_ids))),
        )


def shoot_of(db: Database, frame_id: int) -> int | None:
    """The shoot that a frame belongs to."""
    row = db.read.execute("SELECT shoot_id FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return row["shoot_id"] if row else None


def of_shoot(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> set[int]:
    """Those of some frames that are in a shoot."""
    rows = db.read.execute(
        "SELECT id FROM frame WHERE shoot_id = ? AND id IN (SELECT value FROM json_each(?))",
        (shoot_id, json.dumps(list(frame_ids))),
    )
    return {row["id"] for row in rows}


def meeting(db: Database, shoot_id: int, where: Condition) -> list[int]:
    """Ids of the frames that meet a condition, in any order.

    What is compared with texts or people has been looked up.
    """
    condition, values = condition_sql(where)
    # One row of text: to fetch 50,000 rows takes longer than to test them.
    (ids,) = db.read.execute(
        f"""
        SELECT json_group_array(frame.id) FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ? AND {condition}
        """,
        (shoot_id, *values),
    ).fetchone()
    found: list[int] = json.loads(ids)
    return found


def cover(db: Database, shoot_id: int) -> list[int]:
    """Up to four frames that stand for a shoot: picks first, spread over its time."""
    rows = db.read.execute(
        """
        SELECT frame.id FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ? AND picture > 0
        ORDER BY (decision = 'pick') DESC, (decision = 'reject'), position
        """,
        (shoot_id,),
    ).fetchall()
    step = max(1, len(rows) // 4)
    return [row["id"] for row in rows[::step][:4]]


def name_of(db: Database, frame_id: int) -> str:
    """The name of one frame. Raises KeyError without it."""
    return names(db, [frame_id])[frame_id]


def names(db: Database, frame_ids: Iterable[int]) -> dict[int, str]:
    """What these frames are called."""
    rows = db.read.execute(
        "SELECT id, name FROM frame WHERE id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["id"]: row["name"] for row in rows}
