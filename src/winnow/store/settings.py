"""The person's settings and label set."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any, Literal

from winnow.core.filters import Filter
from winnow.core.labels import STANDARD_SET, Label
from winnow.store.db import Database
from winnow.store.shoots import filter_from_json


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
                (n, one.letter, one.name, one.meaning, one.shape, one.colour, one.written_as)
                for n, one in enumerate(label_set)
            ],
        )


def load(db: Database) -> dict[str, Any]:
    """Every setting that was ever changed."""
    rows = db.read.execute("SELECT name, value FROM setting")
    return {row["name"]: json.loads(row["value"]) for row in rows}


def save(db: Database, values: dict[str, Any]) -> None:
    """Store settings; those not named stay."""
    with db.write() as conn:
        conn.executemany(
            "INSERT OR REPLACE INTO setting VALUES (?, ?)",
            [(name, json.dumps(value)) for name, value in values.items()],
        )


Kind = Literal["labels", "keys"]


def saved_sets(db: Database, kind: Kind) -> dict[str, Any]:
    """The saved label sets or key sets, by name, in the order of names."""
    rows = db.read.execute(
        "SELECT name, content FROM saved_set WHERE kind = ? ORDER BY name COLLATE NOCASE", (kind,)
    )
    return {row["name"]: json.loads(row["content"]) for row in rows}


def save_set(db: Database, kind: Kind, name: str, content: Any) -> None:
    """Keep a set under a name, instead of what had that name."""
    with db.write() as conn:
        conn.execute(
            "INSERT OR REPLACE INTO saved_set VALUES (?, ?, ?)", (kind, name, json.dumps(content))
        )


def forget_set(db: Database, kind: Kind, name: str) -> None:
    """Remove a saved set."""
    with db.write() as conn:
        conn.execute("DELETE FROM saved_set WHERE kind = ? AND name = ?", (kind, name))


def saved_filters(db: Database) -> dict[str, Filter]:
    """The saved filters, by name, in the order of names."""
    rows = db.read.execute("SELECT * FROM saved_filter ORDER BY name COLLATE NOCASE")
    return {row["name"]: filter_from_json(row["filter"]) for row in rows}


def save_filter(db: Database, name: str, wanted: Filter) -> None:
    """Keep a filter under a name, instead of what had that name."""
    with db.write() as conn:
        conn.execute(
            "INSERT OR REPLACE INTO saved_filter VALUES (?, ?)", (name, json.dumps(asdict(wanted)))
        )


def forget_filter(db: Database, name: str) -> None:
    """Remove a saved filter."""
    with db.write() as conn:
        conn.execute("DELETE FROM saved_filter WHERE name = ?", (name,))
