"""Shoots and their source folders."""

from __future__ import annotations

import json
import os
import time
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Literal

from winnow.core.filters import parser
from winnow.core.filters.filter import Filter
from winnow.core.frames import NoPictures
from winnow.core.marks import Decision
from winnow.store import people
from winnow.store.db import Database
from winnow.store.labels import label_names

Way = Literal["", "pick_in", "weed_out"]


@dataclass(frozen=True, slots=True)
class Folder:
    """A source folder.

    ``notice`` says why it can't be read; ``beside``: what is in it beside pictures.
    """

    id: int
    path: str
    notice: str = ""
    beside: NoPictures = field(default_factory=NoPictures)


@dataclass(frozen=True, slots=True)
class Tally:
    """Numbers of frames: all, those with a picture, done, looked at for faces, failed, gone, by
    decision, and those whose files changed outside, of which nothing is taken over yet, or which
    are in conflict."""

    frames: int = 0
    shown: int = 0
    done: int = 0
    faces: int = 0
    failed: int = 0
    missing: int = 0
    picks: int = 0
    rejects: int = 0
    undecided: int = 0
    changed_outside: int = 0
    in_conflict: int = 0


@dataclass(frozen=True, slots=True)
class Shoot:
    """One body of work. Times are seconds since 1970; ``keep_target``: frames to keep, if set;
    ``way``: how its first pass is done, "" until that is chosen; ``archived``: done with, and
    listed only on wish; ``first_at``, ``last_at``: when its first and last frames were taken, if
    known; ``seq_next``: where names that count go on."""

    id: int
    name: str
    made_at: float
    opened_at: float
    filter: Filter
    folders: tuple[Folder, ...]
    tally: Tally
    keep_target: int | None = None
    way: Way = ""
    archived: bool = False
    seq_next: int = 1
    first_at: float | None = None
    last_at: float | None = None


def make(db: Database, name: str, folders: list[str]) -> int:
    """Store a new shoot and return its id, which no shoot had before."""
    now = time.time()
    with db.write() as conn:
        conn.execute(
            "UPDATE last_shoot SET id = 1 + max(id, (SELECT coalesce(max(id), 0) FROM shoot))"
        )
        shoot: int = conn.execute("SELECT id FROM last_shoot").fetchone()["id"]
        conn.execute(
            "INSERT INTO shoot (id, name, made_at, opened_at) VALUES (?, ?, ?, ?)",
            (shoot, name, now, now),
        )
        conn.executemany(
            "INSERT INTO folder (shoot_id, path) VALUES (?, ?)", [(shoot, path) for path in folders]
        )
    return shoot


def find_by_folders(db: Database, folders: list[str]) -> int | None:
    """The shoot that has exactly these folders, if there is one."""
    wanted = sorted(folders)
    by_shoot: dict[int, list[str]] = {}
    for row in db.read.execute("SELECT shoot_id, path FROM folder ORDER BY path"):
        by_shoot.setdefault(row["shoot_id"], []).append(row["path"])
    return next((shoot for shoot, paths in by_shoot.items() if sorted(paths) == wanted), None)


def all_shoots(db: Database) -> list[Shoot]:
    """Every shoot, the last opened one first."""
    rows = db.read.execute("SELECT id FROM shoot ORDER BY opened_at DESC").fetchall()
    return [shoot for row in rows if (shoot := get(db, row["id"])) is not None]


def last_opened(db: Database) -> int | None:
    """The shoot that was opened last and isn't in the archive; None where there is none."""
    row = db.read.execute(
        "SELECT id FROM shoot WHERE NOT archived ORDER BY opened_at DESC LIMIT 1"
    ).fetchone()
    return row["id"] if row else None


def get(db: Database, shoot_id: int) -> Shoot | None:
    """One shoot with its folders and its tally; None when there is none."""
    row = db.read.execute("SELECT * FROM shoot WHERE id = ?", (shoot_id,)).fetchone()
    if row is None:
        return None
    span = db.read.execute(
        "SELECT min(shot_at) AS first_at, max(shot_at) AS last_at FROM frame"
        " WHERE shoot_id = ? AND dated",
        (shoot_id,),
    ).fetchone()
    return Shoot(
        id=row["id"],
        name=row["name"],
        made_at=row["made_at"],
        opened_at=row["opened_at"],
        filter=filter_from_json(row["filter"], label_names(db)),
        folders=tuple(folders_of(db, shoot_id)),
        tally=tally(db, shoot_id),
        keep_target=row["keep_target"],
        way=row["way"],
        archived=bool(row["archived"]),
        seq_next=row["seq_next"],
        first_at=span["first_at"],
        last_at=span["last_at"],
    )


def exists(db: Database, shoot_id: int) -> bool:
    """Whether there is such a shoot."""
    row = db.read.execute("SELECT 1 FROM shoot WHERE id = ?", (shoot_id,)).fetchone()
    return row is not None


def filter_of(db: Database, shoot_id: int) -> Filter | None:
    """The last filter of a shoot; None where there is no such shoot."""
    row = db.read.execute("SELECT filter FROM shoot WHERE id = ?", (shoot_id,)).fetchone()
    return None if row is None else filter_from_json(row["filter"], label_names(db))


def roots(db: Database) -> list[Path]:
    """Every folder that is opened as one of a shoot."""
    return [Path(os.fsdecode(row["path"])) for row in db.read.execute("SELECT path FROM folder")]


def folders_of(db: Database, shoot_id: int) -> list[Folder]:
    """The source folders of a shoot."""
    rows = db.read.execute("SELECT * FROM folder WHERE shoot_id = ? ORDER BY id", (shoot_id,))
    return [
        Folder(
            r["id"],
            r["path"],
            r["notice"],
            NoPictures(json.loads(r["companions"]), json.loads(r["others"])),
        )
        for r in rows
    ]


def tally(db: Database, shoot_id: int) -> Tally:
    """Count a shoot's frames."""
    row = db.read.execute(
        """
        SELECT count(*) AS frames, sum(picture > 0) AS shown, sum(state = 2) AS done,
               sum(state = 2 AND face_version != '') AS faces, sum(state = 3) AS failed,
               sum(missing) AS missing,
               sum(decision = 'pick') AS picks, sum(decision = 'reject') AS rejects,
               sum(says_more = 2) AS changed_outside, sum(says_more = 3) AS in_conflict
        FROM frame JOIN mark ON mark.frame_id = frame.id WHERE shoot_id = ?
        """,
        (shoot_id,),
    ).fetchone()
    counts = {key: row[key] or 0 for key in row.keys()}  # noqa: SIM118
    undecided = counts["frames"] - counts["picks"] - counts["rejects"]
    return Tally(**counts, undecided=undecided)


def rename(db: Database, shoot_id: int, name: str) -> None:
    """Give a shoot another name."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET name = ? WHERE id = ?", (name, shoot_id))


def aim(db: Database, shoot_id: int, keep_target: int | None) -> None:
    """Set how many frames are to be kept; None takes the target away."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET keep_target = ? WHERE id = ?", (keep_target, shoot_id))


def choose_way(db: Database, shoot_id: int, way: Way) -> None:
    """Set how the first pass is done."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET way = ? WHERE id = ?", (way, shoot_id))


def count_on(db: Database, shoot_id: int, seq_next: int) -> None:
    """Remember where names that count go on."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET seq_next = ? WHERE id = ?", (seq_next, shoot_id))


def archive(db: Database, shoot_id: int, archived: bool) -> None:
    """Put a shoot into the archive, or take it out of it."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET archived = ? WHERE id = ?", (archived, shoot_id))


@dataclass(frozen=True, slots=True)
class Clock:
    """A camera's clock in a shoot.

    ``first_at``, ``last_at``: its own time of the first and the last frame, seconds since 1970;
    ``offset_s``: what is added to it; ``zones``: the time zones that its files state, in minutes
    from UTC; ``unzoned``: how many of its frames state none.
    """

    camera: str
    serial: str
    frames: int
    first_at: float
    last_at: float
    offset_s: float
    zones: tuple[int, ...] = ()
    unzoned: int = 0


def clocks(db: Database, shoot_id: int) -> list[Clock]:
    """The cameras of a shoot, the one with the most frames first."""
    rows = db.read.execute(
        """
        SELECT coalesce(frame.camera, '') AS camera, coalesce(frame.serial, '') AS serial,
               count(*) AS frames, min(taken_at) AS first_at, max(taken_at) AS last_at,
               coalesce(max(offset_s), 0) AS offset_s,
               json_group_array(DISTINCT CASE WHEN dated THEN utc_offset_min END) AS zones,
               sum(utc_offset_min IS NULL OR NOT dated) AS unzoned
        FROM frame LEFT JOIN camera_clock ON camera_clock.shoot_id = frame.shoot_id
            AND camera_clock.camera = coalesce(frame.camera, '')
            AND camera_clock.serial = coalesce(frame.serial, '')
        WHERE frame.shoot_id = ? AND taken_at IS NOT NULL AND state IN (1, 2)
        GROUP BY 1, 2 ORDER BY frames DESC, 1, 2
        """,
        (shoot_id,),
    )
    known = []
    for row in rows:
        zones = sorted(zone for zone in json.loads(row["zones"]) if zone is not None)
        known.append(Clock(**{**dict(row), "zones": tuple(zones)}))
    return known


def set_clock(db: Database, shoot_id: int, camera: str, serial: str, offset_s: float) -> None:
    """Set what is added to a camera's clock; ``frames.set_shot_times`` makes it felt."""
    with db.write() as conn:
        conn.execute(
            "INSERT OR REPLACE INTO camera_clock VALUES (?, ?, ?, ?)",
            (shoot_id, camera, serial, offset_s),
        )


def touch(db: Database, shoot_id: int) -> None:
    """Remember that a shoot was opened now."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET opened_at = ? WHERE id = ?", (time.time(), shoot_id))


def forget(db: Database, shoot_id: int) -> None:
    """Remove a shoot and its marks from the database, and what was made to tell its people apart.
    None of its own files is touched."""
    people.forget(db, shoot_id)
    with db.write() as conn:
        conn.execute("DELETE FROM shoot WHERE id = ?", (shoot_id,))


def keep_filter(db: Database, shoot_id: int, wanted: Filter) -> None:
    """Remember a shoot's last filter."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET filter = ? WHERE id = ?", (filter_to_json(wanted), shoot_id))


def filter_to_json(wanted: Filter) -> str:
    """A filter as it is stored; what is written stays as it was typed."""
    return json.dumps(asdict(replace(wanted, where=None)))


def filter_from_json(text: str, label_names: Mapping[str, str]) -> Filter:
    """Read a stored filter; what is missing in it, or no longer understood, is open."""
    data = json.loads(text)
    typed = data.get("written", "")
    try:
        where = parser.parse(typed, label_names)
    except parser.WrittenError:
        typed, where = "", None
    return Filter(
        decisions=tuple(Decision(value) for value in data.get("decisions", ())),
        stars_rule=data.get("stars_rule", "at_least"),
        stars=data.get("stars"),
        labels=tuple(data.get("labels", ())),
        written=typed,
        where=where,
    )


def note_folder(db: Database, folder_id: int, notice: str, beside: NoPictures | None) -> None:
    """Keep what a look at a folder gave: why it can't be read, or what is in it beside pictures."""
    with db.write() as conn:
        conn.execute("UPDATE folder SET notice = ? WHERE id = ?", (notice, folder_id))
        if beside is not None:
            conn.execute(
                "UPDATE folder SET companions = ?, others = ? WHERE id = ?",
                (json.dumps(beside.companions), json.dumps(beside.others), folder_id),
            )
