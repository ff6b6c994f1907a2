"""Journalled moves of frames' files, there and back: all files of a frame, or none.

Each move is written down first, then made, then recorded. Killed at any point, every file has its
old name, its new one, or both; ``recover`` finishes what was begun.
"""

from __future__ import annotations

import contextlib
import logging
import os
import sqlite3
import threading
from collections.abc import Collection, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Final

from winnow.core.frames import SIDECAR_ENDING, split_name
from winnow.photos import copies, entries, originals, refusals
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import deliveries, moved_files, shoots
from winnow.store.db import Database
from winnow.store.moved_files import HeldFile

log = logging.getLogger(__name__)


class NamesChanged:
    """Counts changes of names, so that what was looked up before one is not believed."""

    def __init__(self) -> None:
        self.count = 0


NAMES_CHANGED: Final = NamesChanged()
# Held while work begins that goes by the names of files: what changes them, and what delivers them.
BEGINNING: Final = threading.Lock()


def begin_and_move(db: Database, planned: Mapping[int, Sequence[HeldFile]]) -> dict[int, str]:
    """Move files to their places. Returns why frames were not moved; those stay where they are.

    Whoever calls holds ``files.read.ONE_AT_A_TIME``.
    """
    elsewhere = _not_in_place(db, planned)
    planned = {frame: files for frame, files in planned.items() if frame not in elsewhere}
    with _settled(db, planned):
        moved_files.begin(db, [file for files in planned.values() for file in files])
        failed, stuck = move_each(planned, chosen(db), back=False)
        moved_files.forget(db, failed.keys() - stuck)
        moved_files.note(db, planned.keys() - failed.keys(), "held")
    return elsewhere | failed


def _not_in_place(db: Database, planned: Mapping[int, Sequence[HeldFile]]) -> dict[int, str]:
    """Why frames are not moved of which a link has taken a file's place, or that of a folder on the
    way to it."""
    roots = chosen(db)
    reasons = {}
    for frame, files in planned.items():
        for file in files:
            try:
                entries.check_in_place(file.source, roots)
            except OSError as error:
                reasons[frame] = refusals.reason(error, file.source.name)
                break
    return reasons


def chosen(db: Database) -> list[Path]:
    """The folders that a person opened or chose, below which files are moved: those of shoots, what
    holds their holding folders, and the targets of deliveries."""
    opened = shoots.roots(db)
    return [*opened, *(root.parent for root in opened), *deliveries.targets(db)]


def move_back(db: Database, planned: Mapping[int, Sequence[HeldFile]]) -> dict[int, str]:
    """Move files back to where they were. Returns why frames were not; those stay where they are.

    Whoever calls holds ``files.read.ONE_AT_A_TIME``.
    """
    with _settled(db, planned):
        moved_files.note(db, planned, "coming")
        failed, stuck = move_each(planned, chosen(db), back=True)
        moved_files.note(db, failed.keys() - stuck, "held")
        moved_files.forget(db, planned.keys() - failed.keys())
    return failed


@contextlib.contextmanager
def _settled(db: Database, frames: Collection[int]) -> Iterator[None]:
    """Where the database could not take down what was moved: make it one with the disk now, or at
    the next start."""
    try:
        yield
    except sqlite3.Error:
        with contextlib.suppress(sqlite3.Error, OSError):
            recover(db, frames)
        raise


def recover(db: Database, only: Collection[int] | None = None) -> int:
    """Finish the moves that were begun when Winnow ended. Returns how many frames that were.

    A move that can't be finished is taken back; one that can't be either stays in the journal, and
    in the log. ``only``: frames of which no other thread moves files.
    """
    begun = moved_files.unsettled(db)
    if only is not None:
        begun = {frame: files for frame, files in begun.items() if frame in only}
    roots = chosen(db)
    for frame, files in begun.items():
        if files[0].state == "leaving":
            continue  # see work.delete
        back = files[0].state == "coming"
        for folder in {place.parent for file in files for place in (file.source, file.place)}:
            copies.remove_parts(folder, roots=roots)
        failed, stuck = move_each({frame: files}, roots, back=back)
        if frame in failed:
            log.warning("a move that was interrupted is not finished: %s", failed[frame])
        if stuck:
            continue
        if bool(failed) == back:
            moved_files.note(db, [frame], "held")
        else:
            moved_files.forget(db, [frame])
    return len(begun)


def move_each(
    planned: Mapping[int, Sequence[HeldFile]], roots: Collection[Path], *, back: bool
) -> tuple[dict[int, str], set[int]]:
    """Move the files of frames, all of a frame or none.

    Returns why frames could not be moved, and those of them of which a part was, and could not be
    moved again: the journal keeps them as they are.
    """
    failed: dict[int, str] = {}
    stuck: set[int] = set()
    for frame, files in planned.items():
        done: list[HeldFile] = []
        try:
            for file in files:
                move_file(file, roots, back=back)
                done.append(file)
        except (CopyError, OSError) as error:
            name = files[len(done)].source.name
            failed[frame] = refusals.reason(error, name)
            for file in done:
                try:
                    move_file(file, roots, back=not back)
                except (CopyError, OSError) as again:
                    stuck.add(frame)
                    failed[frame] += " " + say(
                        "It could not be moved again: {why}",
                        why=refusals.reason(again, file.source.name),
                    )
    return failed, stuck


def move_file(file: HeldFile, roots: Collection[Path], *, back: bool) -> None:
    """Move one file to its place, or back; again after an interruption. Raises CopyError,
    OSError."""
    start, end = (file.place, file.source) if back else (file.source, file.place)
    # Moved already, before an interruption. A sidecar takes marks in meanwhile, and has another
    # size then.
    if not os.path.lexists(start) and os.path.lexists(end):
        is_sidecar = split_name(end.name)[1] == SIDECAR_ENDING
        if is_sidecar or end.stat().st_size == file.size:
            return
        raise CopyError(
            say("{name} is gone, and another file has its place.", name=file.source.name)
        )
    originals.move_verified(start, end, roots)
