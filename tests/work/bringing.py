"""Bringing cards in, from the wish to the end: for tests."""

import hashlib
from pathlib import Path
from typing import Any

from winnow.store import card_imports
from winnow.store.card_imports import Bringing
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import Wish
from winnow.work.runtime import Runtime


def wish(card: Path, tmp_path: Path, second: bool = False, **other: Any) -> Wish:
    fields: dict[str, Any] = {"template": "{date} {shoot}", "shoot": "Quay", **other}
    return Wish(
        str(card),
        str(tmp_path / "disk"),
        second=str(tmp_path / "second") if second else "",
        **fields,
    )


def finished(bring_ins: BringIns, runtime: Runtime, id: int) -> Bringing:
    bring_ins.wait(id)
    found = card_imports.get(runtime.db, id)
    assert found
    return found


def one_is_done(runtime: Runtime, id: int) -> bool:
    found = card_imports.get(runtime.db, id)
    return found is not None and found.done >= 1


def content(root: Path) -> dict[str, str]:
    """Every file below a folder by its name, with the hash of its content."""
    return {
        path.name: hashlib.sha256(path.read_bytes()).hexdigest()
        for path in root.rglob("*")
        if path.is_file() and not path.name.startswith((".faults", "checksums"))
    }


def all_there(card: Path, place: Path) -> bool:
    return content(place) == content(card / "DCIM")
