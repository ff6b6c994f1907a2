"""The times of frames, and their order by them."""

from __future__ import annotations

import os
import sqlite3
from typing import Final

from winnow.core.frames import natural_key
from winnow.store.db import Database

# A frame's time by its camera's clock, brought to the time zone of the shoot where the file states
# its own.
ZONED = """(taken_at + 60 * coalesce((
    SELECT shoot.utc_offset_min FROM shoot WHERE shoot.id = frame.shoot_id
) - frame.utc_offset_min, 0))"""


SHOT_AT = f"""({ZONED} + coalesce((
    SELECT offset_s FROM camera_clock WHERE camera_clock.shoot_id = frame.shoot_id
    AND camera_clock.camera = coalesce(frame.camera,
    '') AND camera_clock.serial = coalesce(frame.serial, '')
), 0))"""

# A frame's time by the common clock; its camera's until that is reckoned.
COMMON_TIME: Final = "coalesce(frame.shot_at, frame.taken_at)"


def put_in_order(db: Database, shoot_id: int) -> bool:
    """Number a shoot's frames by capture time, then name; returns whether anything moved.

    The time is that of the shoot's common clock: the instant, where the file states the time zone
    of its camera's clock, else that clock; and what was added to it. A frame whose time isn't known
    yet stands behind the others, in the order of names.
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
        conn.execute(f"UPDATE frame SET shot_at = {SHOT_AT} WHERE shoot_id = ?", (shoot_id,))


def settle_zone(db: Database, shoot_id: int) -> bool:
    """Settle the time zone of a shoot's common clock: that of most frames.

    Returns whether it is another one.
    """
    if not other_zone(db.read, shoot_id):
        return False
    with db.write() as conn:
        settle_zone_of(conn, shoot_id)
    return True


def other_zone(conn: sqlite3.Connection, shoot_id: int) -> bool:
    """Whether the usual zone of a shoot is another one now."""
    row = conn.execute(
        f"SELECT ({_USUAL_ZONE}) IS NOT utc_offset_min AS other FROM shoot WHERE id = :shoot",
        {"shoot": shoot_id},
    ).fetchone()
    return bool(row and row["other"])


_USUAL_ZONE: Final = """
    SELECT utc_offset_min FROM frame WHERE shoot_id = :shoot AND utc_offset_min IS NOT NULL
    GROUP BY utc_offset_min ORDER BY sum(dated) DESC, count(*) DESC, utc_offset_min LIMIT 1
"""


def settle_zone_of(conn: sqlite3.Connection, shoot_id: int) -> None:
    """Store the usual zone of a shoot."""
    values = {"shoot": shoot_id}
    conn.execute(f"UPDATE shoot SET utc_offset_min = ({_USUAL_ZONE}) WHERE id = :shoot", values)
    conn.execute(f"UPDATE frame SET shot_at = {SHOT_AT} WHERE shoot_id = :shoot", values)
