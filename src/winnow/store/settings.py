"""The person's settings, saved sets and saved filters."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any, Literal

from winnow.core.filters.filter import Filter
from winnow.core.settings import Settings, from_stored
from winnow.store.db import Database
from winnow.store.labels import label_names
from winnow.store.shoots import filter_from_json, filter_to_json


def load(db: Database) -> Settings:
    """The settings as they are now."""
    rows = db.read.execute("SELECT name, value FROM setting")
    return from_stored({row["name"]: json.loads(row["value"]) for row in rows})


def save(db: Database, values: dict[str, Any]) -> None:
    """Store settings by their names in ``core.settings``; those not named stay."""
    with db.write() as conn:
        conn.executemany(
            "INSERT OR REPLACE INTO setting VALUES (?, ?)",
            [(name, json.dumps(value)) for name, value in values.items()],
        )


Kind = Literal["labels", "keys", "texts", "profiles", "recipes", "programs"]


def saved_sets(db: Database, kind: Kind) -> dict[str, Any]:
    """The saved sets of a kind, by name, in the order of names."""
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
    """The saved filters, by name, in the order of names.

    What is typed in them stays, even if it names a label that is gone: using such a filter says so,
    instead of showing all frames.
    """
    names = label_names(db)
    filters = {}
    for row in db.read.execute("SELECT * FROM saved_filter ORDER BY name COLLATE NOCASE"):
        typed = json.loads(row["filter"]).get("written", "")
        filters[row["name"]] = replace(filter_from_json(row["filter"], names), written=typed)
    return filters


def save_filter(db: Database, name: str, wanted: Filter) -> None:
    """Keep a filter under a name, instead of what had that name."""
    with db.write() as conn:
        conn.execute(
            "INSERT OR REPLACE INTO saved_filter VALUES (?, ?)", (name, filter_to_json(wanted))
        )


def forget_filter(db: Database, name: str) -> None:
    """Remove a saved filter."""
    with db.write() as conn:
        conn.execute("DELETE FROM saved_filter WHERE name = ?", (name,))
