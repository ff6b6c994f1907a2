"""What frames' files said when they were last read, and what Winnow and they last agreed on."""

from __future__ import annotations

import json
import os
from collections.abc import Iterable
from dataclasses import dataclass
from enum import IntEnum
from pathlib import Path

from winnow.core.files.merge import Agreed, Said, Stated, as_dict, from_dict
from winnow.store import guests, texts
from winnow.store.db import Database
from winnow.store.marks import mark_from
from winnow.store.moved_files import HELD


def agreed(db: Database, frame_ids: Iterable[int]) -> dict[int, Agreed]:
    """What Winnow and each of these frames' files last agreed on; others were never read."""
    return {
        row["frame_id"]: Agreed(
            Said(mark_from(row), texts.from_json(row["texts"])),
            stated_from(row["stated"]),
            row["sidecars"],
        )
        for row in db.read.execute(
            """
            SELECT agreed.* FROM json_each(?) AS wanted
            CROSS JOIN agreed ON agreed.frame_id = wanted.value
            """,
            (json.dumps(list(frame_ids)),),
        )
    }


def keep_agreed(db: Database, settled: Iterable[tuple[int, Agreed]]) -> None:
    """Remember what Winnow and the files of these frames agree on now."""
    listed = list(settled)
    with db.write() as conn:
        shoot_of = {
            row["id"]: row["shoot_id"]
            for row in conn.execute(
                "SELECT id, shoot_id FROM frame WHERE id IN (SELECT value FROM json_each(?))",
                (json.dumps([frame for frame, _ in listed]),),
            )
        }
        conn.executemany(
            """
            INSERT OR REPLACE INTO agreed (frame_id, decision, stars, label, texts, stated,
            sidecars)
            VALUES (?, ?, ?, ?, ?, ?, ?)
            """,
            [
                (
                    frame, state.said.mark.decision, state.said.mark.stars, state.said.mark.label,
                    texts.as_json(state.said.texts), as_json(state.stated), state.sidecars,
                )
                for frame, state in listed
                if frame in shoot_of
            ],
        )  # fmt: skip
        for shoot_id in set(shoot_of.values()):
            now = texts.texts_of(db, shoot_id, [f for f, s in shoot_of.items() if s == shoot_id])
            # What was said meanwhile is not written yet.
            conn.executemany(
                """
                UPDATE mark SET unwritten = 0
                WHERE frame_id = ? AND decision = ? AND stars = ? AND label IS ?
                """,
                [
                    (frame, state.said.mark.decision, state.said.mark.stars, state.said.mark.label)
                    for frame, state in listed
                    if now.get(frame) == state.said.texts
                ],
            )


def note_silent(db: Database, shoot_id: int) -> None:
    """Frames that were looked at, and whose files state nothing: what they state later is a
    change."""
    with db.write() as conn:
        conn.execute(
            """
            INSERT INTO agreed (frame_id, decision, stars, label, texts, stated)
            SELECT id, 'undecided', 0, NULL, '{}', '{}' FROM frame
            WHERE shoot_id = ? AND state > 0 AND NOT says_more
            AND NOT EXISTS (SELECT 1 FROM agreed WHERE frame_id = frame.id)
            AND NOT EXISTS (SELECT 1 FROM frame_file WHERE frame_id = frame.id AND role = 'sidecar')
            """,
            (shoot_id,),
        )


def as_json(stated: Stated | None) -> str | None:
    """What a file states, as it is stored."""
    return None if stated is None else json.dumps(as_dict(stated), ensure_ascii=False)


def stated_from(text: str | None) -> Stated | None:
    """What ``as_json`` made."""
    return None if text is None else from_dict(json.loads(text))


@dataclass(frozen=True, slots=True)
class LastRead:
    """A frame's files as they were last read: what the picture file states, and of each sidecar its
    look then and what it stated (None where it could not be read)."""

    embedded: Stated
    sidecars: dict[str, tuple[str, Stated | None]]


def last_read(db: Database, frame_ids: Iterable[int]) -> dict[int, LastRead]:
    """How the files of these frames were last read. Sidecars by path, relative to the folder."""
    wanted = json.dumps(list(frame_ids))
    read = {
        row["id"]: LastRead(stated_from(row["described"]) or Stated(), {})
        for row in db.read.execute(
            """
            SELECT frame.id, described FROM json_each(?) AS wanted
            CROSS JOIN frame ON frame.id = wanted.value
            """,
            (wanted,),
        )
    }
    for row in db.read.execute(
        """
        SELECT frame_file.* FROM json_each(?) AS wanted
        CROSS JOIN frame_file ON frame_file.frame_id = wanted.value
        WHERE role = 'sidecar' AND read_look != ''
        """,
        (wanted,),
    ):
        stated = stated_from(row["stated"])
        read[row["frame_id"]].sidecars[os.fsdecode(row["path"])] = (row["read_look"], stated)
    return read


def embedded(db: Database, frame_id: int) -> Stated:
    """What a frame's picture file states, as last read."""
    row = db.read.execute("SELECT described FROM frame WHERE id = ?", (frame_id,)).fetchone()
    return (stated_from(row["described"]) if row else None) or Stated()


def changed(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames whose files may say something else than when they were last read."""
    rows = db.read.execute(
        f"""
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing
        AND NOT {HELD} AND (says_more = 1 OR EXISTS (
            SELECT 1 FROM frame_file WHERE frame_id = frame.id AND role = 'sidecar' AND look !=
            read_look
        )) ORDER BY position, id
        """,
        (shoot_id,),
    )
    waiting = guests.held_back(db, shoot_id)
    return [row["id"] for row in rows if row["id"] not in waiting]


def offered(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames whose files changed outside, and of which nothing is taken over yet."""
    rows = db.read.execute(
        "SELECT id FROM frame WHERE shoot_id = ? AND says_more = 2 ORDER BY position, id",
        (shoot_id,),
    )
    waiting = guests.held_back(db, shoot_id)
    return [row["id"] for row in rows if row["id"] not in waiting]


def waiting(db: Database, shoot_id: int) -> dict[int, int]:
    """Frames whose files say something that is offered or in conflict, and which of both."""
    rows = db.read.execute(
        "SELECT id, says_more FROM frame WHERE shoot_id = ? AND says_more > 1", (shoot_id,)
    )
    return {row["id"]: row["says_more"] for row in rows}


class SaysMore(IntEnum):
    """Whether a frame's files state something that is not taken over."""

    NO = 0
    UNREAD = 1
    OFFERED = 2
    CONFLICT = 3


def note_read(db: Database, frame_ids: Iterable[int], says: SaysMore = SaysMore.NO) -> None:
    """Remember that the files of these frames were read as the last look found them, and what came
    of it."""
    with db.write() as conn:
        for frame in frame_ids:
            conn.execute("UPDATE frame SET says_more = ? WHERE id = ?", (says, frame))
            conn.execute(
                "UPDATE frame_file SET read_look = look WHERE frame_id = ? AND role = 'sidecar'",
                (frame,),
            )


def note_stated(db: Database, read: Iterable[tuple[int, Path, Path, str, Stated | None]]) -> None:
    """Remember what sidecars state: (frame, source folder, path, look, what it states)."""
    with db.write() as conn:
        conn.executemany(
            """
            INSERT INTO frame_file (frame_id, path, role, look, read_look, stated)
            VALUES (?, ?, 'sidecar', ?, ?, ?)
            ON CONFLICT DO UPDATE SET look = excluded.look, read_look = excluded.read_look,
                stated = excluded.stated
            """,
            [
                (frame, os.fsencode(path.relative_to(root)), look, look, as_json(stated))
                for frame, root, path, look, stated in read
            ],
        )


def unwritten(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames of which something was said here since their files were written, but for
    those that wait for the owner to take over what guests did."""
    rows = db.read.execute(
        f"""
        SELECT id FROM mark JOIN frame ON frame.id = mark.frame_id
        WHERE unwritten AND shoot_id = ? AND NOT missing
        AND NOT {HELD}
        ORDER BY position, id
        """,
        (shoot_id,),
    )
    waiting = guests.held_back(db, shoot_id)
    return [row["id"] for row in rows if row["id"] not in waiting]
