"""Hints as they are stored: what was judged and noticed, thresholds, and how often people
disagreed."""

from __future__ import annotations

import json
import sqlite3
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, astuple, dataclass
from typing import Final

from winnow.core.measure import faces
from winnow.core.verdict.hints import KINDS, VERSION, Looked, Noticed, Verdict
from winnow.core.verdict.judge import Judged
from winnow.core.verdict.who_counts import Said, weighted
from winnow.say import LANGUAGE
from winnow.store import face_weights
from winnow.store.db import Database, Readable
from winnow.store.frame_figures import ratio_of

# What hints say is stored: spoken in another language, they are made anew.
_MADE_AS: Final = VERSION if LANGUAGE == "en" else f"{VERSION} {LANGUAGE}"


def is_stale(db: Database, shoot_id: int) -> bool:
    """Whether something changed since the hints of a shoot were made, or older rules made them."""
    row = db.read.execute(
        "SELECT hints_stale OR hints_version != ? AS stale FROM shoot WHERE id = ?",
        (_MADE_AS, shoot_id),
    ).fetchone()
    return bool(row and row["stale"])


def note_begun(db: Database, shoot_id: int) -> None:
    """They are being made: stale until ``note_made``."""
    with db.write() as conn:
        conn.execute(
            "UPDATE shoot SET hints_stale = 2, hints_version = ? WHERE id = ?", (_MADE_AS, shoot_id)
        )


def note_made(db: Database, shoot_id: int) -> None:
    """They are made of all that is known, unless something changed since ``note_begun``."""
    with db.write() as conn:
        conn.execute(
            "UPDATE shoot SET hints_stale = 0 WHERE id = ? AND hints_stale = 2", (shoot_id,)
        )


def note_stale(db: Database, shoot_id: int) -> None:
    """Something that hints are made from has changed."""
    with db.write() as conn:
        conn.execute("UPDATE shoot SET hints_stale = 1 WHERE id = ?", (shoot_id,))


@dataclass(frozen=True, slots=True)
class Member:
    """What judging needs to know of a frame. ``focus_x``, ``focus_y``: 0…1 of the upright picture;
    ``weights``: names what was said of whose face counts, "" for nothing."""

    id: int
    group: int
    key: str
    width: int
    height: int
    focus_x: float | None
    focus_y: float | None
    face_version: str
    judged_for: str
    weights: str


def members(db: Database, shoot_id: int) -> list[Member]:
    """The frames of a shoot that can be judged, group by group."""
    rows = db.read.execute(
        """
        SELECT id, group_no, coalesce(key, ''), width, height, focus_x, focus_y, face_version,
            coalesce(group_key, ''),
            (
                SELECT coalesce(group_concat(printf('%s %.4f %.4f', weight, x, y), ','), '')
                FROM face_weight WHERE frame_id = frame.id
            )
        FROM frame LEFT JOIN judged ON judged.frame_id = frame.id
        WHERE shoot_id = ? AND state = 2 AND width > 0 AND height > 0
        ORDER BY group_no, position, frame.id
        """,
        (shoot_id,),
    )
    return [Member(*row) for row in rows]


def keep_judged(db: Database, judged_frames: Sequence[tuple[int, Judged]], group_key: str) -> None:
    """Store how frames of one group were judged."""
    with db.write() as conn:
        conn.executemany(
            """
            INSERT OR REPLACE INTO judged
            SELECT ?1, ?2, ?3 WHERE EXISTS (SELECT 1 FROM frame WHERE id = ?1)
            """,
            [(frame, group_key, json.dumps(asdict(judged))) for frame, judged in judged_frames],
        )
        conn.executemany(
            "UPDATE frame SET matters_px = ?, standing = ?, times = ?, tied = ? WHERE id = ?",
            [
                (standing.blur, standing.state, standing.times, standing.tied, frame)
                for frame, standing in judged_frames
            ],
        )


def judged_of(db: Database, frame_ids: Iterable[int]) -> dict[int, Judged]:
    """How these frames were judged within their groups; those that weren't are left out."""
    rows = db.read.execute(
        "SELECT frame_id, judged FROM judged WHERE frame_id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["frame_id"]: Judged(**json.loads(row["judged"])) for row in rows}


def light_of(
    db: Database, frame_ids: Iterable[int], thresholds: Mapping[str, float]
) -> dict[int, float]:
    """How many EV brighter than their groups those of these frames are that hints name for it;
    darker is below zero."""
    rows = db.read.execute(
        """
        SELECT frame_id, kind, figure FROM hint
        WHERE kind IN ('dark', 'bright') AND frame_id IN (SELECT value FROM json_each(?))
        """,
        (json.dumps(list(frame_ids)),),
    )
    return {
        row["frame_id"]: row["figure"] if row["kind"] == "bright" else -row["figure"]
        for row in rows
        if KINDS[row["kind"]].names(row["figure"], thresholds[row["kind"]])
    }


# What a frame is looked at by; the rest of the question follows.
_LOOKED: Final = """
    SELECT id, group_no, name, judged, face_list.faces AS face_list, width, height, clipped_high,
        brightness_ev, flash, frame.taken_at, camera, shutter_s, focal_mm, content_hash,
        frame.likeness, aperture, iso, levels, notice,
        picture_before.taken_at AS time_before, picture_before.likeness AS likeness_before
    FROM frame LEFT JOIN judged ON judged.frame_id = frame.id
    LEFT JOIN face_list ON face_list.frame_id = frame.id
    LEFT JOIN picture_before ON picture_before.frame_id = frame.id
    WHERE shoot_id = ? AND state = 2"""


def looked(db: Readable, shoot_id: int) -> list[Looked]:
    """What the hints of a shoot are made from, in the order of time."""
    said = face_weights.of_shoot(db, shoot_id)
    rows = db.read.execute(f"{_LOOKED} ORDER BY position, frame.id", (shoot_id,))
    return [_looked(row, said.get(row["id"], ())) for row in rows]


def looked_beside(db: Readable, shoot_id: int, frame_ids: Iterable[int]) -> list[Looked]:
    """The same of these frames of a shoot and all others of their groups."""
    said = face_weights.of_shoot(db, shoot_id)
    rows = db.read.execute(
        f"""{_LOOKED} AND group_no IN (
            SELECT group_no FROM frame WHERE id IN (SELECT value FROM json_each(?))
        ) ORDER BY position, frame.id""",
        (shoot_id, json.dumps(list(frame_ids))),
    )
    return [_looked(row, said.get(row["id"], ())) for row in rows]


def _looked(row: sqlite3.Row, said: Sequence[Said]) -> Looked:
    packed = row["face_list"]
    seen = None if packed is None else weighted(faces.unpack(packed), said)
    before = row["likeness_before"]
    ratio = ratio_of(row["width"], row["height"])
    return Looked(
        id=row["id"],
        group=row["group_no"],
        name=row["name"],
        judged=Judged(**json.loads(row["judged"])) if row["judged"] else None,
        faces=None if seen is None else [seen[n] for n in faces.counting(seen, ratio)],
        number_of_faces=len(seen or ()),
        clipped_high=row["clipped_high"],
        brightness_ev=row["brightness_ev"],
        flash=None if row["flash"] is None else bool(row["flash"]),
        taken_at=row["taken_at"],
        camera=row["camera"],
        shutter_s=row["shutter_s"],
        focal_mm=row["focal_mm"],
        content_hash=row["content_hash"],
        signature=row["likeness"],
        aperture=row["aperture"],
        iso=row["iso"],
        levels=tuple(json.loads(row["levels"] or "[]")) or None,
        damaged=bool(row["notice"]),
        ratio=ratio,
        before=None if before is None else (row["time_before"], before),
    )


@dataclass(frozen=True, slots=True)
class Changes:
    """What hints and verdicts of a shoot are to be put in place of those that are stored.

    ``hints_gone``: (frame, kind); ``hints``: (frame, kind, figure, words); ``verdicts_gone``:
    frames.
    """

    hints_gone: list[tuple[int, str]]
    hints: list[tuple[int, str, float, str]]
    verdicts_gone: list[int]
    verdicts: list[Verdict]


def changes(
    db: Readable,
    shoot_id: int,
    noticed: Mapping[str, Iterable[Noticed]],
    verdicts: Iterable[Verdict],
) -> Changes:
    """What was noticed of a shoot, and how its frames stand, against what is stored."""
    wanted = {
        (hint.frame, kind): (hint.figure, hint.words)
        for kind, listed in noticed.items()
        for hint in listed
    }
    rows = db.read.execute(
        "SELECT hint.* FROM hint JOIN frame ON frame.id = frame_id WHERE shoot_id = ?", (shoot_id,)
    )
    before = {(row["frame_id"], row["kind"]): (row["figure"], row["words"]) for row in rows}
    standing = {verdict.frame: verdict for verdict in verdicts}
    present = verdicts_of_shoot(db, shoot_id)
    return Changes(
        [key for key in before if key not in wanted],
        [(*key, *value) for key, value in wanted.items() if before.get(key) != value],
        [frame for frame in present if frame not in standing],
        [row for frame, row in standing.items() if present.get(frame) != row],
    )


# So many rows are written at once: marks wait for no longer.
_AT_ONCE: Final = 1_000


def keep(db: Database, changes: Changes) -> None:
    """Store what differs."""
    for sql, rows in (
        ("DELETE FROM hint WHERE frame_id = ? AND kind = ?", changes.hints_gone),
        ("DELETE FROM verdict WHERE frame_id = ?", [(frame,) for frame in changes.verdicts_gone]),
        (
            """
            INSERT OR REPLACE INTO hint
            SELECT ?1, ?2, ?3, ?4 WHERE EXISTS (SELECT 1 FROM frame WHERE id = ?1)
            """,
            changes.hints,
        ),
        (
            """
            INSERT OR REPLACE INTO verdict
            SELECT ?1, ?2, ?3, ?4, ?5, ?6, ?7 WHERE EXISTS (SELECT 1 FROM frame WHERE id = ?1)
            """,
            [(*astuple(row)[:-1], json.dumps(row.together)) for row in changes.verdicts],
        ),
    ):
        for first in range(0, len(rows), _AT_ONCE):
            with db.write() as conn:
                conn.executemany(sql, rows[first : first + _AT_ONCE])


def verdicts_of_shoot(db: Readable, shoot_id: int) -> dict[int, Verdict]:
    """How the frames of a shoot stand in their groups; those alone in one, or not judged yet, are
    left out."""
    rows = db.read.execute(
        """
        SELECT verdict.* FROM verdict JOIN frame ON frame.id = verdict.frame_id WHERE shoot_id = ?
        ORDER BY group_no, place, position
        """,
        (shoot_id,),
    )
    return {row["frame_id"]: _verdict(row) for row in rows}


def verdicts_of(db: Database, frame_ids: Iterable[int]) -> dict[int, Verdict]:
    """How these frames stand in their groups; those alone in one, or not judged yet, are left
    out."""
    rows = db.read.execute(
        "SELECT * FROM verdict WHERE frame_id IN (SELECT value FROM json_each(?))",
        (json.dumps(list(frame_ids)),),
    )
    return {row["frame_id"]: _verdict(row) for row in rows}


def verdict_of(db: Database, frame_id: int) -> Verdict | None:
    """How a frame stands in its group."""
    return verdicts_of(db, [frame_id]).get(frame_id)


def _verdict(row: sqlite3.Row) -> Verdict:
    frame, place, of, best, usable, words, together = row
    return Verdict(frame, place, of, bool(best), bool(usable), words, tuple(json.loads(together)))


def thresholds(db: Readable, shoot_id: int) -> dict[str, float]:
    """The threshold of each kind of hint in a shoot: the person's, else the usual one."""
    moved = {
        row["kind"]: row["threshold"]
        for row in db.read.execute(
            "SELECT kind, threshold FROM hint_threshold WHERE shoot_id = ?", (shoot_id,)
        )
    }
    return {name: moved.get(name, kind.limit.usual) for name, kind in KINDS.items()}


def set_threshold(db: Database, shoot_id: int, kind: str, threshold: float | None) -> None:
    """Move the threshold of a kind of hint in a shoot; None: back to the usual one."""
    with db.write() as conn:
        if threshold is None:
            conn.execute(
                "DELETE FROM hint_threshold WHERE shoot_id = ? AND kind = ?", (shoot_id, kind)
            )
        else:
            conn.execute(
                "INSERT OR REPLACE INTO hint_threshold VALUES (?, ?, ?)",
                (shoot_id, kind, threshold),
            )


def figures(db: Database, shoot_id: int) -> dict[str, list[tuple[int, float]]]:
    """Every figure of a shoot: by kind (frame, figure), in the order of the frames."""
    by_kind: dict[str, list[tuple[int, float]]] = defaultdict(list)
    for row in db.read.execute(
        """
        SELECT frame_id, hint.kind, figure FROM hint JOIN frame ON frame.id = frame_id
        WHERE shoot_id = ? ORDER BY group_no, position, frame.id
        """,
        (shoot_id,),
    ):
        by_kind[row["kind"]].append((row["frame_id"], row["figure"]))
    return dict(by_kind)


def reasons(db: Database, shoot_id: int, kinds: Iterable[str]) -> list[tuple[int, str, float, str]]:
    """What was noticed of a shoot by some kinds of hint: (frame, kind, figure, words), whatever the
    thresholds."""
    rows = db.read.execute(
        """
        SELECT frame_id, hint.kind, figure, words FROM hint JOIN frame ON frame.id = frame_id
        WHERE shoot_id = ? AND hint.kind IN (SELECT value FROM json_each(?))
        ORDER BY group_no, position, frame.id
        """,
        (shoot_id, json.dumps(list(kinds))),
    )
    return [tuple(row) for row in rows]


def of_frame(db: Database, frame_id: int) -> list[tuple[str, float, str]]:
    """What was noticed of a frame: (kind, figure, words), whatever the thresholds."""
    rows = db.read.execute("SELECT kind, figure, words FROM hint WHERE frame_id = ?", (frame_id,))
    return [tuple(row) for row in rows]


def decided_by_hints(db: Database, shoot_id: int) -> dict[int, str]:
    """Frames whose decision was last set by hints in bulk, and by which kinds (with commas)."""
    rows = db.read.execute(
        """
        SELECT frame_id, by_hints,
        max(change_id) FROM change_step JOIN change ON change.id = change_id
        WHERE shoot_id = ? AND undone = 0 AND decision_before != decision_after GROUP BY frame_id
        """,
        (shoot_id,),
    )
    return {row["frame_id"]: row["by_hints"] for row in rows if row["by_hints"]}
