"""Databases of released versions are carried over whole: marks, texts, history, and all that a
person kept."""

from __future__ import annotations

import json
import sqlite3
from pathlib import Path
from typing import Any

import pytest

from tests.store import kept
from winnow.store.soundness import is_sound
from winnow.work.runtime import Places

RELEASED = sorted(path.stem for path in kept.FOLDER.glob("*.sql"))


def is_within(wanted: Any, found: Any) -> bool:
    """Whether all that is wanted is found; there may be more fields by now."""
    if isinstance(wanted, dict):
        return isinstance(found, dict) and all(
            key in found and is_within(value, found[key]) for key, value in wanted.items()
        )
    if isinstance(wanted, list):
        return len(wanted) == len(found) and all(map(is_within, wanted, found))
    return bool(wanted == found)


@pytest.mark.parametrize("version", RELEASED)
def test_everything_of_a_released_version_is_there(version: str, tmp_path: Path) -> None:
    places = Places(tmp_path / "data", tmp_path / "cache")
    places.data.mkdir()
    conn = sqlite3.connect(places.data / "winnow.db")
    conn.executescript((kept.FOLDER / f"{version}.sql").read_text("utf-8"))
    conn.close()
    runtime, client = kept.opened(places)
    try:
        known = json.loads((kept.FOLDER / f"{version}.json").read_text("utf-8"))
        found = json.loads(json.dumps(kept.told(client)))
        for part, wanted in known.items():
            assert is_within(wanted, found[part]), (part, wanted, found[part])
        # It goes on from there: the last step is taken back.
        assert client.post("/api/shoots/1/undo", json={}).json()["sentence"] == known["undo"]
        assert client.get("/api/shoots/1").json()["tally"]["picks"] == known["picks"] - 1
    finally:
        runtime.close()
    assert is_sound(places.data / "winnow.db")


def test_there_is_one() -> None:
    assert RELEASED
