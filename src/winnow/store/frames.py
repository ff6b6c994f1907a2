"""Frames: what was found, read and computed of each exposure."""

from __future__ import annotations

import json
import os
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import IntEnum
from typing import Final, NamedTuple

from winnow.core.files.merge import as_dict
from winnow.core.filters.conditions import Condition
from winnow.core.filters.filter import Filter
from winnow.core.frames import natural_key
from winnow.core.marks import Mark, mark_of
from winnow.core.measure.exposure import Exposure
from winnow.photos.metadata import Facts
from winnow.store.db import Database
from winnow.store.filter_sql import condition_sql, where_for
from winnow.store.moved_files import ASIDE


class State(IntEnum):
    """How far the indexing of a frame is."""

    FOUND = 0
    READ = 1
    DONE = 2
    FAILED = 3


class Row(NamedTuple):
    """A frame as the page needs it in the sheet. A tuple: a hundred thousand of them are made at a start."""

    id: int
    name: str
    kind: str
    state: State
    picture: int
    key: str | None
    missing: bool
    notice: str
    taken_at: float | None  # on the shoot's common clock
    width: int | None
    height: int | None
    group: int  # its number, from 0
    turned: int
    blur_px: float | None
    mark: Mark
    held: bool = False  # set aside
    moved_out: bool = False  # by a delivery
    dated: bool = True  # whether its file says when it was taken


_STATES: Final = {int(state): state for state in State}


@dataclass(frozen=True, slots=True)
class Analysed:
    """What a full look at a frame gave; its pictures are in the cache. Sizes in px, upright."""

    frame: int
    key: str
    width: int
    height: int
    likeness: bytes
    exposure: Exposure
    focus_map: bytes
    blur_px: float
    content_hash: str
    shown_from: str
    close_from: str
    picture_version: str
    figure_version: str
    notice: str


# A frame's time by its camera's clock, brought to the time zone of the shoot where the file states its own.
ZONED = """(taken_at + 60 * coalesce((
    SELECT shoot.utc_offset_min FROM shoot WHERE shoot.id = frame.shoot_id
) - frame.utc_offset_min, 0))"""
_SHOT_AT = f"""({ZONED} + coalesce((
    SELECT offset_s FROM camera_clock WHERE camera_clock.shoot_id = frame.shoot_id
    AND camera_clock.camera = coalesce(frame.camera, '') AND camera_clock.serial = coalesce(frame.serial, '')
), 0))"""


def put_in_order(db: Database, shoot_id: int) -> bool:
    """Number a shoot's frames by capture time, then name; returns whether anything moved.

    The time is that of the shoot's common clock: the instant, where the file states the time zone of its
    camera's clock, else that clock; and what was added to it. A frame whose
    time isn't known yet stands behind the others, in the order of names.
    """
    rows = db.read.execute(
        "SELECT id, path, shot_at, position FROM frame WHERE shoot_id = ?", (shoot_id,)
    ).fetchall()
    rows.sort(
        key=lambda row: (
            row["shot_at"] if row["shot_at"] is not None else float("inf"),
            natural_key(os.fsdecode(row["path"])),
            row["id"],
        )
    )
    moved = [(n, row["id"]) for n, row in enumerate(rows) if row["position"] != n]
    if moved:
        with db.write() as conn:
            conn.executemany("UPDATE frame SET position = ? WHERE id = ?", moved)
    return bool(moved)


def set_shot_times(db: Database, shoot_id: int) -> None:
    """Bring every frame's time in line with its camera's offset."""
    with db.write() as conn:
        conn.execute(f"UPDATE frame SET shot_at = {_SHOT_AT} WHERE shoot_id = ?", (shoot_id,))


def settle_zone(db: Database, shoot_id: int) -> bool:
    """Settle the time zone of a shoot's common clock: that of most frames. Returns whether it is another one."""
    if not _other_zone(db.read, shoot_id):
        return False
    with db.write() as conn:
        _settle_zone(conn, shoot_id)
    return True


def _other_zone(conn: sqlite3.Connection, shoot_id: int) -> bool:
    row = conn.execute(
        f"SELECT ({_USUAL_ZONE}) IS NOT utc_offset_min AS other FROM shoot WHERE id = :shoot",
        {"shoot": shoot_id},
    ).fetchone()
    return bool(row and row["other"])


_USUAL_ZONE: Final = """
    SELECT utc_offset_min FROM frame WHERE shoot_id = :shoot AND utc_offset_min IS NOT NULL
    GROUP BY utc_offset_min ORDER BY sum(dated) DESC, count(*) DESC, utc_offset_min LIMIT 1
"""


def _settle_zone(conn: sqlite3.Connection, shoot_id: int) -> None:
    values = {"shoot": shoot_id}
    conn.execute(f"UPDATE shoot SET utc_offset_min = ({_USUAL_ZONE}) WHERE id = :shoot", values)
    conn.execute(f"UPDATE frame SET shot_at = {_SHOT_AT} WHERE shoot_id = :shoot", values)


def in_state(db: Database, shoot_id: int, states: Iterable[State]) -> list[int]:
    """Ids of the frames in any of these states whose files are there, in order."""
    wanted = json.dumps(list(states))
    rows = db.read.execute(
        """
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing
        AND state IN (SELECT value FROM json_each(?)) ORDER BY position, id
        """,
        (shoot_id, wanted),
    )
    return [row["id"] for row in rows]


def unfinished(db: Database, frame_ids: Iterable[int]) -> set[int]:
    """Those of some frames that are still to be read or looked at."""
    found = db.read.execute(
        "SELECT id FROM frame WHERE state < 2 AND id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["id"] for row in found}


def is_done(db: Database, frame_id: int) -> bool:
    """Whether the pictures and figures of a frame have been made."""
    row = db.read.execute("SELECT state FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return row is not None and row["state"] == State.DONE


def rows(db: Database, shoot_id: int) -> list[Row]:
    """Every frame of a shoot, group by group, in order of time within each."""
    cursor = db.read.cursor()
    cursor.row_factory = None
    held, aside = _held(db, shoot_id)
    return [
        Row(
            frame, name, kind, _STATES[state], picture, key, bool(missing), notice, taken_at, width, height, group,
            turned, blur, mark_of(decision, stars, label), frame in aside, frame in held and frame not in aside, bool(dated),
        )
        for (
            frame, name, kind, state, picture, key, missing, notice, taken_at, width, height, group, turned, blur,
            decision, stars, label, dated,
        ) in cursor.execute(
            """
            SELECT id, name, kind, state, picture, key, missing, notice, coalesce(shot_at, taken_at), width, height,
                group_no, turned, coalesce(matters_px, blur_px), decision, stars, label, dated
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
        SELECT DISTINCT frame.id, {ASIDE} AS aside FROM held_file JOIN frame ON frame.id = held_file.frame_id
        WHERE shoot_id = ?
        """,
        (shoot_id,),
    ).fetchall()
    return {row["id"] for row in rows}, {row["id"] for row in rows if row["aside"]}


def facts_row(db: Database, frame_id: int) -> sqlite3.Row | None:
    """All that is stored of one frame, with its source folder's path as ``root``, its camera's time in the shoot's
    zone as ``zoned_at``, and that zone as ``shoot_utc_offset_min``."""
    row: sqlite3.Row | None = db.read.execute(
        f"""
        SELECT frame.*, folder.path AS root, {ZONED} AS zoned_at, shoot.utc_offset_min AS shoot_utc_offset_min
        FROM frame JOIN folder ON folder.id = frame.folder_id JOIN shoot ON shoot.id = frame.shoot_id
        WHERE frame.id = ?
        """,
        (frame_id,),
    ).fetchone()
    return row


def for_list(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, sqlite3.Row]:
    """All that is stored of these frames of a shoot, in the order asked; others are left out."""
    return {
        row["id"]: row
        for row in db.read.execute(
            """
            SELECT frame.* FROM json_each(?) AS wanted CROSS JOIN frame ON frame.id = wanted.value
            WHERE shoot_id = ? ORDER BY wanted.key
            """,
            (json.dumps(list(dict.fromkeys(frame_ids))), shoot_id),
        )
    }


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


def shoot_of(db: Database, frame_id: int) -> int | None:
    """The shoot that a frame belongs to."""
    row = db.read.execute("SELECT shoot_id FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return row["shoot_id"] if row else None


class ReadFacts(NamedTuple):
    """What was read of a frame. ``changed_at``: when its file was changed, as a clock said it in the time zone
    ``changed_zone_min`` minutes from UTC, in s."""

    frame: int
    key: str
    facts: Facts
    changed_at: float
    has_thumbnail: bool
    changed_zone_min: int | None = None


def keep_facts(db: Database, read: Sequence[ReadFacts]) -> None:
    """Store what was read of frames.

    Where the file doesn't say when it was taken, the time of its last change stands in: an instant, wherever it
    is read.
    """
    with db.write() as conn:
        for frame, key, facts, changed_at, has_thumbnail, changed_zone_min in read:
            dated = facts.taken_at is not None
            width, height = facts.width, facts.height
            if facts.orientation >= 5:
                width, height = height, width
            conn.execute(
                """
                UPDATE frame SET
                    picture = CASE WHEN key = :key THEN max(picture, :picture) ELSE :picture END,
                    state = 1, key = :key, notice = '', taken_at = :taken_at, dated = :dated,
                    utc_offset_min = :utc_offset_min, camera = :camera, lens = :lens,
                    focal_mm = :focal_mm, aperture = :aperture, shutter_s = :shutter_s, iso = :iso,
                    flash = :flash, orientation = :orientation, width = :width, height = :height,
                    serial = :serial, lens_serial = :lens_serial,
                    exposure_bias_ev = :exposure_bias_ev, drive_mode = :drive_mode,
                    focus_mode = :focus_mode, focus_x = :focus_x, focus_y = :focus_y,
                    latitude = :latitude, longitude = :longitude,
                    optional_space = :optional_space, described = :described,
                    says_more = says_more OR described != :described
                WHERE id = :frame
                """,
                {
                    "frame": frame,
                    "key": key,
                    "picture": int(has_thumbnail),
                    "taken_at": facts.taken_at if facts.taken_at is not None else changed_at,
                    "dated": dated,
                    "utc_offset_min": facts.utc_offset_min if dated else changed_zone_min,
                    "camera": facts.camera,
                    "lens": facts.lens,
                    "focal_mm": facts.focal_mm,
                    "aperture": facts.aperture,
                    "shutter_s": facts.shutter_s,
                    "iso": facts.iso,
                    "flash": facts.flash,
                    "orientation": facts.orientation,
                    "width": width,
                    "height": height,
                    "serial": facts.serial,
                    "lens_serial": facts.lens_serial,
                    "exposure_bias_ev": facts.exposure_bias_ev,
                    "drive_mode": facts.drive_mode,
                    "focus_mode": facts.focus_mode,
                    "focus_x": facts.focus_point and facts.focus_point[0],
                    "focus_y": facts.focus_point and facts.focus_point[1],
                    "latitude": facts.place and facts.place[0],
                    "longitude": facts.place and facts.place[1],
                    "optional_space": facts.optional_space,
                    "described": json.dumps(as_dict(facts.described), ensure_ascii=False),
                },
            )
            conn.execute(f"UPDATE frame SET shot_at = {_SHOT_AT} WHERE id = ?", (frame,))
        for row in conn.execute(
            """
            SELECT DISTINCT shoot_id FROM frame
            WHERE id IN (SELECT value FROM json_each(?)) AND utc_offset_min IS NOT NULL
            """,
            (json.dumps([one.frame for one in read]),),
        ).fetchall():
            if _other_zone(conn, row["shoot_id"]):
                _settle_zone(conn, row["shoot_id"])


def keep_analysed(db: Database, results: Iterable[Analysed]) -> None:
    """Store what a full look at frames gave."""
    with db.write() as conn:
        for r in results:
            found = conn.execute(
                """
                UPDATE frame SET state = 2, picture = 2, width = ?, height = ?, content_hash = ?,
                    shown_from = ?, close_from = ?, picture_version = ?, notice = ?, blur_px = ?,
                    face_version = '', matters_px = NULL
                WHERE id = ? AND key = ?
                """,
                (
                    r.width, r.height, r.content_hash, r.shown_from, r.close_from,
                    r.picture_version, r.notice, r.blur_px, r.frame, r.key,
                ),
            )  # fmt: skip
            if found.rowcount:
                _keep_figures(conn, r.frame, r.likeness, r.exposure, r.figure_version)
                conn.execute(
                    "INSERT OR REPLACE INTO focus_map VALUES (?, ?)", (r.frame, r.focus_map)
                )


def keep_figures(
    db: Database, figures: Iterable[tuple[int, bytes, Exposure]], figure_version: str
) -> None:
    """Store what newer code measured on previews: (frame, likeness, exposure)."""
    with db.write() as conn:
        for frame, likeness, exposure in figures:
            _keep_figures(conn, frame, likeness, exposure, figure_version)


def _keep_figures(
    conn: sqlite3.Connection, frame: int, likeness: bytes, exposure: Exposure, version: str
) -> None:
    conn.execute(
        """
        UPDATE frame SET likeness = ?, clipped_high = ?, clipped_low = ?, brightness_ev = ?,
            clipped = ?, figure_version = ? WHERE id = ?
        """,
        (
            likeness, exposure.clipped_high, exposure.clipped_low, exposure.brightness_ev,
            json.dumps({"high": exposure.high, "low": exposure.low}), version, frame,
        ),
    )  # fmt: skip
    conn.execute(
        "UPDATE shoot SET hints_stale = 1 WHERE id = (SELECT shoot_id FROM frame WHERE id = ?)",
        (frame,),
    )


def note_outdated(db: Database, shoot_id: int, picture_version: str) -> int:
    """Frames whose pictures older code made are to be looked at again; returns how many."""
    old = db.read.execute(
        "SELECT id FROM frame WHERE shoot_id = ? AND state = 2 AND picture_version != ?",
        (shoot_id, picture_version),
    ).fetchall()
    if old:  # seldom, and a transaction keeps marks waiting
        with db.write() as conn:
            conn.executemany("UPDATE frame SET state = 0 WHERE id = ?", [tuple(row) for row in old])
    return len(old)


def with_old_figures(db: Database, shoot_id: int, figure_version: str) -> list[int]:
    """Ids of the frames whose pictures are there and whose figures older code measured."""
    rows = db.read.execute(
        """
        SELECT id FROM frame WHERE shoot_id = ? AND state = 2 AND figure_version != ?
        ORDER BY position, id
        """,
        (shoot_id, figure_version),
    )
    return [row["id"] for row in rows]


def look_again(db: Database, frame_ids: Iterable[int]) -> None:
    """These frames' pictures are to be made anew."""
    with db.write() as conn:
        conn.executemany("UPDATE frame SET state = 1 WHERE id = ?", [(id,) for id in frame_ids])


def of_shoot(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> set[int]:
    """Those of some frames that are in a shoot."""
    rows = db.read.execute(
        "SELECT id FROM frame WHERE shoot_id = ? AND id IN (SELECT value FROM json_each(?))",
        (shoot_id, json.dumps(list(frame_ids))),
    )
    return {row["id"] for row in rows}


@dataclass(frozen=True, slots=True)
class Comparable:
    """What comparing frames needs of one. ``focus_x``, ``focus_y``: 0…1 of the upright picture."""

    key: str | None
    width: int | None
    height: int | None
    focus_x: float | None
    focus_y: float | None
    clipped_high: float | None
    clipped_low: float | None
    brightness_ev: float | None
    focus_map: bytes | None


def for_comparing(db: Database, frame_ids: Iterable[int]) -> dict[int, Comparable]:
    """What comparing these frames needs, in the order asked. Raises KeyError when one is not there."""
    wanted = list(frame_ids)
    rows = {
        row["id"]: Comparable(*row[1:])
        for row in db.read.execute(
            """
            SELECT id, key, width, height, focus_x, focus_y, clipped_high, clipped_low, brightness_ev, map
            FROM frame LEFT JOIN focus_map ON frame_id = id
            WHERE id IN (SELECT value FROM json_each(?))
            """,
            (json.dumps(wanted),),
        )
    }
    return {frame: rows[frame] for frame in wanted}


def focus_map(db: Database, frame_id: int) -> bytes | None:
    """A frame's packed focus map."""
    row = db.read.execute("SELECT map FROM focus_map WHERE frame_id = ?", (frame_id,)).fetchone()
    return row["map"] if row else None


def maps_without_blur(db: Database, shoot_id: int, most: int) -> list[tuple[int, bytes]]:
    """Packed focus maps of frames whose blur isn't stored: (frame, map)."""
    rows = db.read.execute(
        """
        SELECT frame_id, map FROM focus_map JOIN frame ON frame.id = frame_id
        WHERE shoot_id = ? AND blur_px IS NULL AND state = 2 LIMIT ?
        """,
        (shoot_id, most),
    )
    return [(row["frame_id"], row["map"]) for row in rows]


def keep_blur(db: Database, blurs: Iterable[tuple[int, float]]) -> None:
    """Store the blur of frames' sharpest parts: (frame, px)."""
    with db.write() as conn:
        conn.executemany("UPDATE frame SET blur_px = ? WHERE id = ?", [(b, f) for f, b in blurs])


def keep_failures(db: Database, failures: Iterable[tuple[int, str]]) -> None:
    """Store why frames can't be shown: (frame, notice)."""
    with db.write() as conn:
        conn.executemany(
            """
            UPDATE frame SET state = 3, picture = 0, notice = ?,
                taken_at = coalesce(taken_at, 0), shot_at = coalesce(shot_at, taken_at, 0)
            WHERE id = ?
            """,
            [(notice, frame) for frame, notice in failures],
        )


def filtered(db: Database, shoot_id: int, wanted: Filter) -> list[int]:
    """Ids of the frames that pass a filter, in order."""
    where, values = where_for(wanted)
    rows = db.read.execute(
        f"""
        SELECT frame.id FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ?{where} ORDER BY group_no, position, frame.id
        """,
        (shoot_id, *values),
    )
    return [row["id"] for row in rows]


def meeting(db: Database, shoot_id: int, where: Condition) -> list[int]:
    """Ids of the frames that meet a condition, in any order."""
    condition, values = condition_sql(where)
    rows = db.read.execute(
        f"""
        SELECT frame.id FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ? AND {condition}
        """,
        (shoot_id, *values),
    )
    return [frame for (frame,) in rows]


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
