"""What is written about frames: title, caption, keywords, creators, rights, place."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable

from winnow.core.files.texts import FIELDS, NO_TEXTS, Texts, TextStep, as_dict, from_dict, made
from winnow.store.db import Database


def texts_of(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, Texts]:
    """The texts of these frames of a shoot, in the order asked; others are left out."""
    wanted = list(dict.fromkeys(frame_ids))
    written = {
        row["id"]: _from_row(row) if row["frame_id"] else NO_TEXTS
        for row in db.read.execute(
            """
            SELECT frame.id, text.* FROM json_each(?) AS wanted
            CROSS JOIN frame ON frame.id = wanted.value
            LEFT JOIN text ON text.frame_id = frame.id
            WHERE shoot_id = ?
            """,
            (json.dumps(wanted), shoot_id),
        )
    }
    return {frame: written[frame] for frame in wanted if frame in written}


def _from_row(row: sqlite3.Row) -> Texts:
    return made(
        {
            name: tuple(filter(None, row[name].split("\n"))) if field.listed else row[name]
            for name, field in FIELDS.items()
        }
    )


def put(conn: sqlite3.Connection, steps: Iterable[TextStep]) -> None:
    """Write the texts after these steps."""
    for step in steps:
        conn.execute("DELETE FROM text WHERE frame_id = ?", (step.frame,))
        if step.after != NO_TEXTS:
            values = [
                "\n".join(value) if isinstance(value, tuple) else value
                for value in (getattr(step.after, name) for name in FIELDS)
            ]
            conn.execute(
                f"INSERT INTO text (frame_id, {', '.join(FIELDS)}) VALUES (?{', ?' * len(FIELDS)})",
                (step.frame, *values),
            )


def keep_steps(conn: sqlite3.Connection, change_id: int, steps: Iterable[TextStep]) -> None:
    """Add steps to a change of the history."""
    conn.executemany(
        "INSERT INTO text_step VALUES (?, ?, ?, ?)",
        [(change_id, s.frame, as_json(s.before), as_json(s.after)) for s in steps],
    )


def steps_of(conn: sqlite3.Connection, change_id: int) -> list[TextStep]:
    """The steps of a change of the history."""
    rows = conn.execute("SELECT * FROM text_step WHERE change_id = ?", (change_id,))
    return [
        TextStep(row["frame_id"], from_json(row["before"]), from_json(row["after"])) for row in rows
    ]


def as_json(texts: Texts) -> str:
    """Texts as they are stored in steps."""
    return json.dumps(as_dict(texts), ensure_ascii=False)


def from_json(text: str) -> Texts:
    """What ``as_json`` made."""
    return from_dict(json.loads(text))


def used(db: Database, field: str) -> dict[str, int]:
    """The entries of a field in all shoots, and how many frames have each, the most used first."""
    counts: dict[str, int] = {}
    listed = FIELDS[field].listed
    for row in db.read.execute(
        f"SELECT {field} AS value, count(*) AS number FROM text WHERE {field} != '' GROUP BY 1"
    ):
        for entry in row["value"].split("\n") if listed else [row["value"]]:
            counts[entry] = counts.get(entry, 0) + row["number"]
    return dict(sorted(counts.items(), key=lambda entry: (-entry[1], entry[0].casefold())))
