"""Setting frames aside: their files move to a holding folder beside the shoot, and come back as they were.

Each move is written down first, then made, then recorded. Killed at any point, every file has its old name, its
new one, or both names of one file; ``recover`` finishes what was begun.
"""

from __future__ import annotations

import contextlib
import logging
import os
import threading
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from winnow.photos import originals
from winnow.photos.originals import CopyError
from winnow.store import frames, held, on_disk
from winnow.store.db import Database
from winnow.store.held import HeldFile
from winnow.store.on_disk import FrameFiles
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.said import ONE_AT_A_TIME

log = logging.getLogger(__name__)
_BATCH: Final = 20


@dataclass(frozen=True, slots=True)
class Moved:
    """What a move did. ``frames``: moved; ``problems``: (frame, why) of those that stay where they are."""

    frames: int = 0
    problems: tuple[tuple[int, str], ...] = ()


def holding_folder(root: Path) -> Path:
    """Where the frames of a source folder are held: beside it, on the same disk."""
    return root.parent / f"{root.name} set aside"


def files_to_move(frame: FrameFiles) -> list[HeldFile]:
    """A frame's files with its sidecars, and where each would be held. Raises OSError when one is gone."""
    holding = holding_folder(frame.root)
    return [
        HeldFile(frame.id, path, holding / path.relative_to(frame.root), path.stat().st_size)
        for path in (*frame.all, *frame.sidecars)
    ]


def set_aside(
    db: Database,
    frame_ids: Sequence[int],
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> Moved:
    """Move frames to their holding folders. A frame whose files can't all be moved stays where it is."""
    known = held.of_frames(db, frame_ids)
    waiting = [f for f in on_disk.files_of(db, frame_ids) if f.id not in known and not f.missing]
    # Whoever reads them now would find them gone.
    busy = frames.unfinished(db, [frame.id for frame in waiting])
    moved = 0
    problems = [(id, "It is still being analysed. Try again when that is done.") for id in busy]
    waiting = [frame for frame in waiting if frame.id not in busy]
    for at in range(0, len(waiting), _BATCH):
        if stopping():
            break
        planned: dict[int, list[HeldFile]] = {}
        for frame in waiting[at : at + _BATCH]:
            try:
                files = files_to_move(frame)
                taken = next((f for f in files if os.path.lexists(f.place)), None)
                if taken is not None:
                    raise CopyError(f"{taken.place.name} is in the holding folder already.")
                planned[frame.id] = files
            except CopyError as error:
                problems.append((frame.id, str(error)))
            except OSError as error:
                problems.append((frame.id, originals.reason(error, frame.name)))
        with ONE_AT_A_TIME:
            held.begin(db, [file for files in planned.values() for file in files])
            failed, stuck = _move_each(planned, back=False)
            held.forget(db, failed.keys() - stuck)
            held.note(db, planned.keys() - failed.keys(), "held")
        problems += failed.items()
        moved += len(planned) - len(failed)
        tick(at + len(planned))
    return Moved(moved, tuple(problems))


def bring_back(
    db: Database,
    frame_ids: Sequence[int],
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> Moved:
    """Move frames back to where they were. A frame whose place is taken stays in the holding folder."""
    waiting = list(held.of_frames(db, frame_ids).items())
    roots = {frame.id: frame.root for frame in on_disk.files_of(db, frame_ids)}
    moved, problems = 0, []  # type: tuple[int, list[tuple[int, str]]]
    for at in range(0, len(waiting), _BATCH):
        if stopping():
            break
        planned = dict(waiting[at : at + _BATCH])
        with ONE_AT_A_TIME:
            held.note(db, planned, "coming")
            failed, stuck = _move_each(planned, back=True)
            held.note(db, failed.keys() - stuck, "held")
            held.forget(db, planned.keys() - failed.keys())
        _tidy(planned, roots)
        problems += failed.items()
        moved += len(planned) - len(failed)
        tick(at + len(planned))
    return Moved(moved, tuple(problems))


def recover(db: Database) -> int:
    """Finish the moves that were begun when Winnow ended. Returns how many frames that were.

    A move that can't be finished is taken back; one that can't be either stays in the journal, and in the log.
    """
    begun = held.unsettled(db)
    for frame, files in begun.items():
        back = files[0].state == "coming"
        failed, stuck = _move_each({frame: files}, back=back)
        if frame in failed:
            log.warning("a move that was interrupted is not finished: %s", failed[frame])
        if stuck:
            continue
        if bool(failed) == back:
            held.note(db, [frame], "held")
        else:
            held.forget(db, [frame])
    return len(begun)


def _move_each(
    planned: dict[int, list[HeldFile]], *, back: bool
) -> tuple[dict[int, str], set[int]]:
    """Move the files of frames, all of a frame or none. Returns why frames could not be moved, and those of them
    of which a part was, and could not be moved again: the journal keeps them as they are."""
    failed: dict[int, str] = {}
    stuck: set[int] = set()
    for frame, files in planned.items():
        done: list[HeldFile] = []
        try:
            for file in files:
                _move(file, back=back)
                done.append(file)
        except (CopyError, OSError) as error:
            name = files[len(done)].source.name
            failed[frame] = (
                str(error) if isinstance(error, CopyError) else originals.reason(error, name)
            )
            for file in done:
                try:
                    _move(file, back=not back)
                except (CopyError, OSError) as again:
                    stuck.add(frame)
                    failed[frame] += f" {file.source.name} could not be moved again: {again}"
    return failed, stuck


def _move(file: HeldFile, *, back: bool) -> None:
    start, end = (file.place, file.source) if back else (file.source, file.place)
    # Moved already, before an interruption.
    if not os.path.lexists(start) and os.path.lexists(end) and end.stat().st_size == file.size:
        return
    originals.move_new(start, end)


def _tidy(moved: Mapping[int, list[HeldFile]], roots: Mapping[int, Path]) -> None:
    """Remove the holding folders that are empty now."""
    for frame, files in moved.items():
        holding = holding_folder(roots[frame])
        for folder in {file.place.parent for file in files}:
            with contextlib.suppress(OSError):
                while folder.is_relative_to(holding):
                    folder.rmdir()
                    folder = folder.parent


@dataclass(frozen=True, slots=True)
class AsideStatus:
    """How the last move of a shoot stands. ``total``: frames; ``back``: they are brought back."""

    running: bool = False
    back: bool = False
    done: int = 0
    total: int = 0
    result: Moved | None = None


class Aside:
    """Moves frames of shoots, each shoot in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._orders: dict[int, tuple[list[int], bool]] = {}
        self._status: dict[int, AsideStatus] = {}
        self._lock = threading.Lock()
        self._jobs = Background("aside", self._run)
        recover(db)

    def start(self, shoot_id: int, frames: list[int], *, back: bool) -> bool:
        """Move frames there, or back; False where a move goes on already."""
        with self._lock:
            if self._jobs.is_running(shoot_id):
                return False
            self._orders[shoot_id] = (frames, back)
            self._status[shoot_id] = AsideStatus(True, back, 0, len(frames))
            return self._jobs.start(shoot_id)

    def stop(self, shoot_id: int) -> None:
        """Stop after the frames that are being moved."""
        self._jobs.stop(shoot_id)

    def wait(self, shoot_id: int, seconds: float | None = None) -> None:
        """Wait until a move has ended."""
        self._jobs.wait(shoot_id, seconds)

    def status(self, shoot_id: int) -> AsideStatus:
        """How the last move of a shoot stands."""
        return self._status.get(shoot_id, AsideStatus())

    def close(self) -> None:
        """Stop every move. The server is about to end."""
        self._jobs.close()

    def _run(self, shoot_id: int, stopping: Callable[[], bool]) -> None:
        frames, back = self._orders.pop(shoot_id)

        def tick(done: int) -> None:
            self._status[shoot_id] = replace(self.status(shoot_id), done=done)
            self._events.tell(shoot_id, "aside")

        try:
            move = bring_back if back else set_aside
            result = move(self._db, frames, tick, stopping)
            self._status[shoot_id] = replace(self.status(shoot_id), result=result)
        except Exception:
            log.exception("frames of shoot %d could not be moved", shoot_id)
        finally:
            self._status[shoot_id] = replace(self.status(shoot_id), running=False)
            for name in ("aside", "order", "progress"):
                self._events.tell(shoot_id, name)
