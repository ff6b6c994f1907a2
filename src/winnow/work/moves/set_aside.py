"""Setting frames aside: their files move to a holding folder beside the shoot, and come back as
they were."""

from __future__ import annotations

import contextlib
import os
import threading
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from winnow.photos import refusals, scan
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import frame_figures, frame_files, moved_files
from winnow.store.db import Database
from winnow.store.frame_files import FrameFiles
from winnow.store.moved_files import HeldFile
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.moves import journal

_BATCH: Final = 20


@dataclass(frozen=True, slots=True)
class Moved:
    """What a move did.

    ``frames``: moved; ``problems``: (frame, why) of those that stay where they are.
    """

    frames: int = 0
    problems: tuple[tuple[int, str], ...] = ()


def files_to_move(frame: FrameFiles) -> list[HeldFile]:
    """A frame's files, and where each would be held. Raises OSError when one is gone."""
    holding = scan.holding_folder(frame.root)
    return [
        HeldFile(frame.id, path, holding / path.relative_to(frame.root), path.stat().st_size)
        for path in frame.whole
    ]


def set_aside(
    db: Database,
    frame_ids: Sequence[int],
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> Moved:
    """Move frames to their holding folders.

    A frame whose files can't all be moved stays where it is.
    """
    known = moved_files.of_frames(db, frame_ids)
    waiting = [
        f for f in frame_files.files_of(db, frame_ids) if f.id not in known and not f.missing
    ]
    # Whoever reads them now would find them gone.
    busy = frame_figures.unfinished(db, [frame.id for frame in waiting])
    moved = 0
    problems = [
        (id, say("It is still being analysed. Try again when that is done.")) for id in busy
    ]
    waiting = [frame for frame in waiting if frame.id not in busy]
    for at in range(0, len(waiting), _BATCH):
        if stopping():
            break
        planned: dict[int, list[HeldFile]] = {}
        for frame in waiting[at : at + _BATCH]:
            try:
                if frame_files.changed_since(frame):
                    raise CopyError(
                        say("It was changed since Winnow looked at it. Look at it again first.")
                    )
                files = files_to_move(frame)
                taken = next((f for f in files if os.path.lexists(f.place)), None)
                if taken is not None:
                    raise CopyError(
                        say("{name} is in the holding folder already.", name=taken.place.name)
                    )
                planned[frame.id] = files
            except (CopyError, OSError) as error:
                problems.append((frame.id, refusals.reason(error, frame.name)))
        with ONE_AT_A_TIME:
            failed = journal.begin_and_move(db, planned)
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
    """Move frames back to where they were.

    A frame whose place is taken stays in the holding folder.
    """
    files_of = moved_files.of_frames(db, frame_ids)
    waiting = [(frame, files) for frame, files in files_of.items() if files[0].delivery is None]
    moved, problems = 0, []  # type: tuple[int, list[tuple[int, str]]]
    for at in range(0, len(waiting), _BATCH):
        if stopping():
            break
        planned = dict(waiting[at : at + _BATCH])
        with ONE_AT_A_TIME:
            failed = journal.move_back(db, planned)
        problems += failed.items()
        moved += len(planned) - len(failed)
        tick(at + len(planned))
    tidy(roots_of(db, frame_ids))
    return Moved(moved, tuple(problems))


def find_again(db: Database, folder_id: int) -> int:
    """Frames whose files are gone, and that lie in the holding folder, are set aside: the database
    knows less than the disk after a backup took its place. Returns how many. Whoever calls holds
    ``files.read.ONE_AT_A_TIME``."""
    files_of: dict[int, list[HeldFile]] = {}
    for frame in frame_files.files_of(db, frame_files.missing(db, folder_id)):
        holding = scan.holding_folder(frame.root)
        places = [(path, holding / path.relative_to(frame.root)) for path in frame.whole]
        here = [
            HeldFile(frame.id, path, place, place.stat().st_size)
            for path, place in places
            if place.is_file() and not os.path.lexists(path)
        ]
        sizes = Counter(file.size for file in here if file.source in frame.all)
        if sizes and sizes == Counter(frame_files.sizes_of(frame)):
            files_of[frame.id] = here
    moved_files.begin(db, [file for files in files_of.values() for file in files])
    moved_files.note(db, files_of, "held")
    frame_files.note_there(db, files_of)
    return len(files_of)


def roots_of(db: Database, frame_ids: Sequence[int]) -> set[Path]:
    """The source folders that frames are from."""
    return {frame.root for frame in frame_files.files_of(db, frame_ids)}


def tidy(roots: Iterable[Path]) -> None:
    """Remove what is empty of the holding folders of source folders: as a rule they are, when all
    is back."""
    for root in roots:
        for folder, _, _ in os.walk(scan.holding_folder(root), topdown=False):
            with contextlib.suppress(OSError):
                os.rmdir(folder)


@dataclass(frozen=True, slots=True)
class AsideStatus:
    """How the last move of a shoot stands.

    ``total``: frames; ``back``: they are brought back; ``notice``: why it ended before its end.
    """

    running: bool = False
    back: bool = False
    done: int = 0
    total: int = 0
    result: Moved | None = None
    notice: str = ""


class Aside:
    """Moves frames of shoots, each shoot in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._orders: dict[int, tuple[list[int], bool]] = {}
        self._status: dict[int, AsideStatus] = {}
        self._lock = threading.Lock()
        self._jobs = Background("aside", self._run)

    def start(self, shoot_id: int, frames: list[int], *, back: bool) -> bool:
        """Move frames there, or back; False where a move goes on already."""
        with self._lock:
            if not self._jobs.is_free(shoot_id, ended=not self.status(shoot_id).running):
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
        except Exception as error:
            notice = failures.in_words(error, f"moving frames of shoot {shoot_id}")
            self._status[shoot_id] = replace(self.status(shoot_id), notice=notice)
        finally:
            self._status[shoot_id] = replace(self.status(shoot_id), running=False)
            for name in ("aside", "order", "progress"):
                self._events.tell(shoot_id, name)
