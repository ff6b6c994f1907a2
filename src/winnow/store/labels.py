"""The person's label set."""

from __future__ import annotations

from winnow.core.labels import STANDARD_SET, Label
from winnow.store.db import Database


def labels(db: Database) -> list[Label]:
    """The label set in order; the standard set until the person changes it."""
    rows = db.read.execute("SELECT * FROM label ORDER BY position").fetchall()
    if not rows:
        return list(STANDARD_SET)
    return [
        Label(r["letter"], r["name"], r["meaning"], r["shape"], r["colour"], r["written_as"])
        for r in rows
    ]


def save_labels(db: Database, label_set: list[Label]) -> None:
    """Store a label set instead of the one before."""
    with db.write() as conn:
        conn.execute("DELETE FROM label")
        conn.executemany(
            "INSERT INTO label (position, letter, name, meaning, shape, colour, written_as) "
            "VALUES (?, ?, ?, ?, ?, ?, ?)",
            [
                (
                    n,
                    label.letter,
                    label.name,
                    label.meaning,
                    label.shape,
                    label.colour,
                    label.written_as,
                )
                for n, label in enumerate(label_set)
            ],
        )


def label_names(db: Database) -> dict[str, str]:
    """The names of the labels, by letter."""
    return {label.letter: label.name for label in labels(db)}
