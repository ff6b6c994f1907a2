"""What was read and measured of frames, and what is to be measured yet."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from winnow.core.facts import FACTS_VERSION, STATED, Facts
from winnow.core.files.merge import as_dict
from winnow.core.measure.exposure import Exposure
from winnow.core.measure.likeness import same_picture
from winnow.store.db import Database
from winnow.store.frame_order import SHOT_AT, other_zone, settle_zone_of
from winnow.store.frames import State


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
    rows = db.read.execute(
        "SELECT id FROM frame WHERE state < 2 AND id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["id"] for row in rows}


def is_done(db: Database, frame_id: int) -> bool:
    """Whether the pictures and figures of a frame have been made."""
    row = db.read.execute("SELECT state FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return row is not None and row["state"] == State.DONE


class ReadFacts(NamedTuple):
    """What was read of a frame.

    ``changed_at``: when its file was changed, as a clock said it in the time zone
    ``changed_zone_min`` minutes from UTC, in s. ``likeness``: of the camera's own small picture.
    """

    frame: int
    key: str
    facts: Facts
    changed_at: float
    has_thumbnail: bool
    changed_zone_min: int | None = None
    likeness: bytes | None = None


_STATED: Final = ", ".join(f"{fact.column} = :{fact.column}" for fact in STATED)
# Whether pictures that were made with other facts are still those of the file.
_SAME: Final = (
    "(:again AND key = :key AND orientation = :orientation AND optional_space = :optional_space)"
)


def keep_facts(db: Database, read: Sequence[ReadFacts], *, again: bool = False) -> None:
    """Store what was read of frames.

    ``again``: newer code read them, and what was made of their pictures stays. Where the file
    doesn't say when it was taken, the time of its last change stands in: an instant, wherever it is
    read.
    """
    with db.write() as conn:
        for frame, key, facts, changed_at, has_thumbnail, changed_zone_min, likeness in read:
            dated = facts.taken_at is not None
            width, height = facts.width, facts.height
            if facts.orientation >= 5:
                width, height = height, width
            conn.execute(
                f"""
                UPDATE frame SET
                    picture = CASE WHEN key = :key THEN max(picture, :picture) ELSE :picture END,
                    state = CASE WHEN {_SAME} THEN state ELSE 1 END,
                    key = :key, notice = CASE WHEN {_SAME} THEN notice ELSE '' END,
                    facts_version = :facts_version, taken_at = :taken_at, dated = :dated,
                    utc_offset_min = :utc_offset_min, orientation = :orientation,
                    width = CASE WHEN {_SAME} THEN width ELSE :width END,
                    height = CASE WHEN {_SAME} THEN height ELSE :height END,
                    focus_x = :focus_x, focus_y = :focus_y, latitude = :latitude,
                    longitude = :longitude,
                    optional_space = :optional_space, described = :described,
                    first_likeness = CASE WHEN {_SAME} THEN first_likeness ELSE :likeness END,
                    says_more = says_more OR described != :described, {_STATED}
                WHERE id = :frame
                """,
                {
                    **{fact.column: getattr(facts, fact.column) for fact in STATED},
                    "again": again,
                    "facts_version": FACTS_VERSION,
                    "frame": frame,
                    "key": key,
                    "picture": int(has_thumbnail),
                    "likeness": likeness,
                    "taken_at": facts.taken_at if facts.taken_at is not None else changed_at,
                    "dated": dated,
                    "utc_offset_min": facts.utc_offset_min if dated else changed_zone_min,
                    "orientation": facts.orientation,
                    "width": width,
                    "height": height,
                    "focus_x": facts.focus_point and facts.focus_point[0],
                    "focus_y": facts.focus_point and facts.focus_point[1],
                    "latitude": facts.place and facts.place[0],
                    "longitude": facts.place and facts.place[1],
                    "optional_space": facts.optional_space,
                    "described": json.dumps(as_dict(facts.described), ensure_ascii=False),
                },
            )
            conn.execute(f"UPDATE frame SET shot_at = {SHOT_AT} WHERE id = ?", (frame,))
        for row in conn.execute(
            """
            SELECT DISTINCT shoot_id FROM frame
            WHERE id IN (SELECT value FROM json_each(?)) AND utc_offset_min IS NOT NULL
            """,
            (json.dumps([figures.frame for figures in read]),),
        ).fetchall():
            if other_zone(conn, row["shoot_id"]):
                settle_zone_of(conn, row["shoot_id"])


def keep_analysed(db: Database, results: Iterable[Analysed]) -> None:
    """Store what a full look at frames gave."""
    with db.write() as conn:
        for r in results:
            stored = conn.execute(
                """
                UPDATE frame SET state = 2, picture = 2, width = ?, height = ?, content_hash = ?,
                    shown_from = ?, close_from = ?, picture_version = ?, notice = ?, blur_px = ?,
                    face_version = '', matters_px = NULL, standing = NULL
                WHERE id = ? AND key = ?
                """,
                (
                    r.width, r.height, r.content_hash, r.shown_from, r.close_from,
                    r.picture_version, r.notice, r.blur_px, r.frame, r.key,
                ),
            )  # fmt: skip
            if stored.rowcount:
                _keep_figures(conn, r.frame, r.likeness, r.exposure, r.figure_version)
                # One that can't be shown whole says less than the camera's small picture of it.
                if not r.notice:
                    _drop_other_picture(conn, r.frame, r.likeness)
                conn.execute(
                    "INSERT OR REPLACE INTO focus_map VALUES (?, ?)", (r.frame, r.focus_map)
                )


def _drop_other_picture(conn: sqlite3.Connection, frame: int, likeness: bytes) -> None:
    """Forget what a small picture looks like that shows something else than its frame."""
    (first,) = conn.execute("SELECT first_likeness FROM frame WHERE id = ?", (frame,)).fetchone()
    if first is not None and not same_picture(first, likeness):
        conn.execute("UPDATE frame SET first_likeness = NULL WHERE id = ?", (frame,))


def keep_figures(
    db: Database, figures: Iterable[tuple[int, bytes, Exposure]], figure_version: str
) -> None:
    """Store what newer code measured on previews: (frame, likeness, exposure)."""
    with db.write() as conn:
        for frame, likeness, exposure in figures:
            _keep_figures(conn, frame, likeness, exposure, figure_version)
            # Made by older code, it can't be compared with what newer code makes.
            conn.execute("UPDATE frame SET first_likeness = NULL WHERE id = ?", (frame,))


def _keep_figures(
    conn: sqlite3.Connection, frame: int, likeness: bytes, exposure: Exposure, version: str
) -> None:
    conn.execute(
        """
        UPDATE frame SET likeness = ?, clipped_high = ?, clipped_low = ?, brightness_ev = ?,
            clipped = ?, levels = ?, figure_version = ? WHERE id = ?
        """,
        (
            likeness, exposure.clipped_high, exposure.clipped_low, exposure.brightness_ev,
            json.dumps({"high": exposure.high, "low": exposure.low}), json.dumps(exposure.levels),
            version, frame,
        ),
    )  # fmt: skip
    conn.execute(
        "UPDATE shoot SET hints_stale = 1 WHERE id = (SELECT shoot_id FROM frame WHERE id = ?)",
        (frame,),
    )


def with_old_facts(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames whose facts older code read, in order; their files are there."""
    rows = db.read.execute(
        """
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing AND state IN (1,
        2) AND facts_version != ?
        ORDER BY position, id
        """,
        (shoot_id, FACTS_VERSION),
    )
    return [row["id"] for row in rows]


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
    group: int
    focus_map: bytes | None


def for_comparing(db: Database, frame_ids: Iterable[int]) -> dict[int, Comparable]:
    """What comparing these frames needs, in the order asked. Raises KeyError when one is not
    there."""
    wanted = list(frame_ids)
    rows = {
        row["id"]: Comparable(*row[1:])
        for row in db.read.execute(
            """
            SELECT id, key, width, height, focus_x, focus_y, clipped_high, clipped_low, group_no,
            map
            FROM frame LEFT JOIN focus_map ON frame_id = id
            WHERE id IN (SELECT value FROM json_each(?))
            """,
            (json.dumps(wanted),),
        )
    }
    return {frame: rows[frame] for frame in wanted}


def ratios_of(db: Database, frame_ids: Iterable[int]) -> dict[int, float]:
    """Width by height of these frames, upright; 1.5 where it isn't known."""
    rows = db.read.execute(
        "SELECT id, width, height FROM frame WHERE id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {frame: ratio_of(width, height) for frame, width, height in rows}


def ratio_of(width: int | None, height: int | None) -> float:
    """Width by height of a frame; 1.5 where that isn't known."""
    return width / height if width and height else 1.5


def group_of(db: Database, shoot_id: int, frame_id: int) -> list[int]:
    """The frames of a frame's group, in the order of time."""
    rows = db.read.execute(
        """
        SELECT id FROM frame WHERE shoot_id = ?1
        AND group_no = (SELECT group_no FROM frame WHERE id = ?2) ORDER BY position, id
        """,
        (shoot_id, frame_id),
    )
    return [row["id"] for row in rows]


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
