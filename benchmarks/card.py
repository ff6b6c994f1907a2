"""A memory card brought in and verified, against reading it and writing it once each.

Run: python -m benchmarks.card [frames]
"""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import BinaryIO, Final

from benchmarks.table import row
from winnow.photos import copies
from winnow.store import card_imports
from winnow.store.db import Database
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import Wish
from winnow.work.events import Events

_FRAMES: Final = 1_000
_BYTES: Final = 5_000_000
_TIMES: Final = 3
_GOAL: Final = 1.2


class _NoIndexer:
    """Nothing is analysed: the copying is what is measured."""

    def start(self, shoot_id: int) -> None:
        """Do nothing."""


def card_of(root: Path, frames: int) -> list[Path]:
    """A card of files of 5 MB that no disk can pack."""
    folder = root / "DCIM" / "100QUILL"
    folder.mkdir(parents=True)
    for n in range(frames):
        (folder / f"QH_{n:04d}.JPG").write_bytes(os.urandom(_BYTES))
    os.sync()
    return sorted(folder.iterdir())


def forgotten(files: list[Path]) -> None:
    """Let the next reading come from the disk."""
    for path in files:
        copies.forget_read(path)


def read_and_written_once(files: list[Path], target: Path) -> None:
    """The floor: every file read, and written once, and all of it on the disk at the end."""
    target.mkdir()
    handles: list[BinaryIO] = []
    for path in files:
        copy = (target / path.name).open("wb", buffering=0)
        copy.write(path.read_bytes())
        handles.append(copy)
        if len(handles) == 100:
            _on_disk(handles)
    _on_disk(handles)


def _on_disk(handles: list[BinaryIO]) -> None:
    for handle in handles:
        os.fsync(handle.fileno())
        handle.close()
    handles.clear()


def brought_in(home: Path, card: Path) -> None:
    """All of a card, by Winnow."""
    db = Database(home / "winnow.db")
    bring_ins = BringIns(db, Events(), _NoIndexer())  # type: ignore[arg-type]
    wish = Wish(str(card), str(home / "disk"), template="{shoot}", shoot="Quay", second="")
    bringing = bring_ins.start(wish)
    bring_ins.wait(bringing)
    found = card_imports.get(db, bringing)
    assert found is not None
    assert (found.state, found.notice) == ("done", "")
    bring_ins.close()
    db.close()


def seconds(work: Callable[[], object]) -> float:
    """How long something takes."""
    started = time.perf_counter()
    work()
    return time.perf_counter() - started


def main(frames: int = _FRAMES) -> None:
    """Print the figure."""
    once, ours = [], []
    with tempfile.TemporaryDirectory() as place:
        root = Path(place)
        files = card_of(root / "card", frames)
        for _ in range(_TIMES):
            forgotten(files)
            once.append(seconds(lambda: read_and_written_once(files, root / "floor")))
            shutil.rmtree(root / "floor")
            forgotten(files)
            (root / "home").mkdir()
            ours.append(seconds(lambda: brought_in(root / "home", root / "card")))
            shutil.rmtree(root / "home")
    times = median(ours) / median(once)
    row(
        f"a card of {frames:,} frames of {_BYTES / 1e6:.0f} MB looked into, copied and verified",
        f"{median(ours):.1f} s, {times:.2f} ×",
        "1.2 ×",
        floor=f"read and written once: {median(once):.1f} s",
        met=times <= _GOAL,
    )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else _FRAMES)
