"""Deleting for good what was set aside: looked at first, counted, and then done file by file."""

from __future__ import annotations

import contextlib
import logging
import os
import sqlite3
import threading
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final, Literal

from winnow.photos import copies, originals, refusals
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import deletions, frame_order, moved_files
from winnow.store.db import Database
from winnow.store.moved_files import HeldFile
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.events import Events
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.index import regroup
from winnow.work.moves import journal, set_aside

log = logging.getLogger(__name__)
_BATCH: Final = 20


class DeleteError(Exception):
    """A deletion that is not made, with the reason in words."""


@dataclass(frozen=True, slots=True)
class Losses:
    """What a deletion would take away.

    ``only``: files of which no other copy was found, by name; bytes.
    """

    frames: tuple[int, ...]
    files: int
    size: int
    only: tuple[str, ...]
    only_size: int


@dataclass(frozen=True, slots=True)
class DeletionStatus:
    """How looking, or deleting, stands.

    ``done`` of ``total`` are frames; ``notice``: why it ended before its end.
    """

    stage: Literal["", "looking", "looked", "deleting", "deleted"] = ""
    done: int = 0
    total: int = 0
    look: Losses | None = None
    deleted: int = 0
    problems: tuple[tuple[int, str], ...] = ()
    notice: str = ""


def look_at(
    db: Database,
    frame_ids: Sequence[int],
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> Losses:
    """Count what deleting frames that are set aside would take away.

    Each copy is compared byte by byte (BLAKE3).
    """
    files = 0
    size = 0
    only: list[HeldFile] = []
    of_frame = _set_aside(db, frame_ids)
    for done, held in enumerate(of_frame.values(), 1):
        if stopping():
            break
        for file in held:
            files += 1
            size += file.size
            if not _exists_elsewhere(db, file):
                only.append(file)
        tick(done)
    return Losses(
        frames=tuple(of_frame),
        files=files,
        size=size,
        only=tuple(file.source.name for file in only),
        only_size=sum(file.size for file in only),
    )


def _set_aside(db: Database, frame_ids: Sequence[int]) -> dict[int, list[HeldFile]]:
    return {
        frame: files
        for frame, files in moved_files.of_frames(db, frame_ids).items()
        if files[0].delivery is None and all(file.state == "held" for file in files)
    }


def _exists_elsewhere(db: Database, file: HeldFile) -> bool:
    digest = ""
    roots = journal.chosen(db)
    try:
        here = file.place.stat()
        for copy in deletions.copies_of(db, file):
            if not originals.outlives(copy, file.place) or copy.stat().st_size != here.st_size:
                continue
            # One more name of the same file outlives the other.
            if os.path.samestat(copy.stat(), here):
                return True
            digest = digest or copies.file_hash(file.place, roots)
            if copies.file_hash(copy, roots) == digest:
                return True
    except OSError as error:
        log.warning("a copy could not be looked at: %s", error)
    return False


def delete(
    db: Database,
    shoot_id: int,
    frame_ids: Sequence[int],
    *,
    trash: bool,
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> tuple[int, list[tuple[int, str]]]:
    """Delete the files of frames that are set aside, or put them in the system's trash.

    Returns how many frames are gone, and (frame, why) of those that stay.
    """
    waiting = list(_set_aside(db, frame_ids).items())
    roots = set_aside.roots_of(db, frame_ids)
    deletion = deletions.begin(db, shoot_id, trashed=trash)
    gone_frames = 0
    problems: list[tuple[int, str]] = []
    for at in range(0, len(waiting), _BATCH):
        if stopping():
            break
        planned = dict(waiting[at : at + _BATCH])
        with ONE_AT_A_TIME:
            moved_files.note(db, planned, "leaving")
            failed = _remove_each(db, planned, trash=trash)
            moved_files.note(db, failed, "held")
            gone = {frame: files for frame, files in planned.items() if frame not in failed}
            deletions.keep(db, deletion, gone)
        gone_frames += len(gone)
        problems += failed.items()
        tick(at + len(planned))
    set_aside.tidy(roots)
    return gone_frames, problems


def recover(db: Database, only: Collection[int] | None = None) -> int:
    """At start: frames of which nothing was deleted yet stay set aside; begun ones are finished.

    Returns how many. ``only``: frames of which no other thread deletes files.
    """
    begun = {
        frame: files
        for frame, files in moved_files.unsettled(db).items()
        if files[0].state == "leaving" and (only is None or frame in only)
    }
    for frame, files in begun.items():
        last = deletions.last(db, frame)
        if last is None or all(os.path.lexists(file.place) for file in files):
            moved_files.note(db, [frame], "held")
            continue
        deletion, trash = last
        failed = _remove_each(db, {frame: files}, trash=trash)
        if failed:
            moved_files.note(db, failed, "held")
        else:
            deletions.keep(db, deletion, {frame: files})
    return len(begun)


def _remove_each(
    db: Database, planned: Mapping[int, Sequence[HeldFile]], *, trash: bool
) -> dict[int, str]:
    """Remove the files of frames; returns why some were not.

    The shown file goes last, so that what stays can still be looked at.
    """
    failed: dict[int, str] = {}
    remove = originals.put_in_trash if trash else originals.remove_for_good
    roots = journal.chosen(db)
    for frame, files in planned.items():
        gone: list[HeldFile] = []
        try:
            for file in sorted(files, key=lambda f: _goes_last(f.place)):
                if os.path.lexists(file.place):
                    remove(file.place, roots)
                gone.append(file)
        except (CopyError, OSError) as error:
            failed[frame] = refusals.reason(error, file.place.name)
        if frame in failed and gone:
            deletions.forget_files(db, gone)
    return failed


def _goes_last(path: Path) -> int:
    return int(path.suffix.lower() in (".jpg", ".jpeg", ".heic"))


class Deletions:
    """Looks at what would be deleted, and deletes it, each shoot in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._status: dict[int, DeletionStatus] = {}
        self._orders: dict[int, tuple[list[int], bool | None]] = {}
        self._lock = threading.Lock()
        self._background = Background("delete", self._run)
        recover(db)

    def look(self, shoot_id: int, frame_ids: list[int]) -> None:
        """Begin to look at what deleting these frames would take away; a look that goes on is given
        up, but not a deletion. Raises DeleteError."""
        if self.status(shoot_id).stage == "looking":
            self._background.stop(shoot_id)
        self._start(shoot_id, frame_ids, None, DeletionStatus("looking", 0, len(frame_ids)))

    def start(self, shoot_id: int, number: int, *, trash: bool) -> None:
        """Delete what was looked at.

        ``number``: of frames, as the person typed it. Raises DeleteError.
        """
        seen = self.status(shoot_id).look
        if seen is None or not seen.frames:
            raise DeleteError(say("Look first at what would be deleted."))
        if number != len(seen.frames):
            raise DeleteError(
                say(
                    "You typed {number:,}, but {frames:,} would be deleted. Nothing was done.",
                    number=number,
                    frames=len(seen.frames),
                )
            )
        ids = list(seen.frames)
        self._start(shoot_id, ids, trash, DeletionStatus("deleting", 0, len(ids)))

    def _start(
        self, shoot_id: int, ids: list[int], trash: bool | None, status: DeletionStatus
    ) -> None:
        with self._lock:
            ended = self.status(shoot_id).stage not in ("looking", "deleting")
            if not self._background.is_free(shoot_id, ended=ended):
                raise DeleteError(say("Files of this shoot are being deleted already."))
            self._orders[shoot_id] = (ids, trash)
            self._status[shoot_id] = status
            self._background.start(shoot_id)

    def stop(self, shoot_id: int) -> None:
        """Stop; what is deleted is deleted."""
        self._background.stop(shoot_id)

    def status(self, shoot_id: int) -> DeletionStatus:
        """How it stands."""
        return self._status.get(shoot_id, DeletionStatus())

    def forget(self, shoot_id: int) -> None:
        """The person looked, and went away."""
        if self.status(shoot_id).stage not in ("looking", "deleting"):
            self._status.pop(shoot_id, None)

    def wait(self, shoot_id: int) -> None:
        """Wait until looking, or deleting, has ended."""
        self._background.wait(shoot_id)

    def close(self) -> None:
        """Stop. The server is about to end."""
        self._background.close()

    def _run(self, shoot_id: int, stopping: Callable[[], bool]) -> None:
        ids, trash = self._orders.pop(shoot_id)

        def tick(done: int) -> None:
            self._status[shoot_id] = replace(self.status(shoot_id), done=done)
            self._events.tell(shoot_id, "aside")

        try:
            if trash is None:
                look = look_at(self._db, ids, tick, stopping)
                self._status[shoot_id] = (
                    DeletionStatus() if stopping() else DeletionStatus("looked", look=look)
                )
                return
            gone, problems = delete(
                self._db, shoot_id, ids, trash=trash, tick=tick, stopping=stopping
            )
            self._status[shoot_id] = DeletionStatus(
                "deleted", deleted=gone, problems=tuple(problems)
            )
            frame_order.put_in_order(self._db, shoot_id)
            regroup.regroup(self._db, shoot_id)
            self._events.tell(shoot_id, "order")
            self._events.tell(shoot_id, "progress")
        except Exception as error:
            notice = failures.in_words(error, f"deleting frames of shoot {shoot_id}")
            # What the database could not take down is finished now, or at the next start.
            with contextlib.suppress(sqlite3.Error, OSError):
                recover(self._db, ids)
            self._status[shoot_id] = DeletionStatus(notice=notice)
        finally:
            self._events.tell(shoot_id, "aside")
