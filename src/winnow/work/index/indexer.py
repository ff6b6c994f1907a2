"""Indexing: from folders to frames with facts and pictures, behind, stoppable, resumable.

One thread a shoot feeds the worker processes and stores what they give. How far each frame is
stands in the database, so that a run goes on where the last one ended, whatever ended it.
"""

from __future__ import annotations

import logging
import math
import sqlite3
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from winnow.core.frames import no_pictures, pair
from winnow.core.measure import focus
from winnow.photos import faces as face_finder
from winnow.photos import originals, pictures, scan
from winnow.photos.cache import NoRoomError, PictureCache
from winnow.photos.pictures import Figures
from winnow.say import say
from winnow.store import file_state, frame_files, frames, hints, shoots
from winnow.store.db import Database
from winnow.store.frames import Analysed, State
from winnow.work import change_events
from winnow.work.events import Events
from winnow.work.files import read as files_read
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.index import regroup
from winnow.work.index.faces_and_hints import Behind
from winnow.work.moves import set_aside
from winnow.work.moves.journal import NAMES_CHANGED
from winnow.work.workers import tasks
from winnow.work.workers.feeder import STORE_EVERY_S, Feeder
from winnow.work.workers.jobs import job_of
from winnow.work.workers.pool import Workers
from winnow.work.workers.tasks import Failure, Job, ReadFrame

log = logging.getLogger(__name__)

_BATCH = 16
_LOOK_AGAIN_EVERY_S = 4.0
# Starting them anew takes seconds, and a camera may deliver a frame every few of them.
_REST_AFTER_S = 60.0
# A folder in which something just changed, or with nothing in it yet, will go on changing.
_LOOK_AGAIN_SOON_S = 1.0
_FULL = say(
    "The disk that Winnow’s data or quick pictures are on is full, or can’t be written to. Free some "
    "space: the analysis goes on by itself. Marks that are refused are not stored."
)
_NO_MODELS = say(
    "Faces can’t be looked for: the models for it are not installed. Set Winnow up again "
    "(scripts/setup.sh)."
)


@dataclass(frozen=True, slots=True)
class Status:
    """How an indexing stands. ``stage``: "looking", "measuring", "reading", "pictures", behind them
    "faces" or "hints"; "" when idle."""

    running: bool
    stage: str
    stopped: bool
    notices: tuple[str, ...]


class Indexer:
    """Indexes shoots, serves pictures that are wanted at once, and notices changes on disk."""

    def __init__(
        self,
        db: Database,
        cache: PictureCache,
        events: Events,
        workers: Workers,
        behind: Workers | None = None,
    ) -> None:
        self._behind = behind or workers
        self._db = db
        self._cache = cache
        self._events = events
        self._workers = workers
        self._lock = threading.Lock()
        self._runs: dict[int, _Run] = {}
        self._urgent: dict[int, Future[Analysed | Failure]] = {}
        # While this is true, only the pictures that are on screen are made: what fills the folders
        # needs the processor.
        self.held_back: Callable[[], bool] = lambda: False
        self._ungrouped: set[int] = set()
        self._looked = -math.inf
        self._closing = threading.Event()
        self._watcher = threading.Thread(target=self._watch, name="watch", daemon=True)
        self._watcher.start()

    def start(self, shoot_id: int, *, again: bool = False, offer: bool = False) -> None:
        """Index a shoot; one that is being indexed is looked at once more after that. ``again`` also retries
        frames that failed. ``offer``: what changed outside is offered, not taken over, as it is from the
        second look of a run on."""
        with self._lock:
            before = self._runs.get(shoot_id)
            if self._closing.is_set() or (before and before.ask(again=again)):
                return
            run = _Run(
                shoot_id, self._db, self._cache, self._events, self._workers, self._behind, again,
                before, self.held_back, lambda: self._looked, offer,
            )  # fmt: skip
            self._runs[shoot_id] = run
        run.start()

    def stop(self, shoot_id: int) -> None:
        """Stop indexing a shoot; what is done stays, and a later start goes on from there."""
        run = self._runs.get(shoot_id)
        if run:
            run.stop()
            run.join(10)

    def status(self, shoot_id: int) -> Status:
        """How the indexing of a shoot stands."""
        run = self._runs.get(shoot_id)
        if run is None:
            return Status(False, "", False, ())
        notices = (*run.notices, run.fault) if run.fault else tuple(run.notices)
        return Status(run.running, run.stage, run.stopped, notices)

    def busy(self) -> bool:
        """Whether any shoot is being indexed."""
        return any(run.running for run in list(self._runs.values()))

    def making_pictures(self) -> bool:
        """Whether pictures of any shoot are being made."""
        return any(run.making_pictures for run in list(self._runs.values()))

    def _rest(self) -> None:
        """The workers behind hold models: they end when nobody needed them for a while."""
        idle = time.monotonic() - self._behind.used > _REST_AFTER_S
        own = self._behind is not self._workers and self._behind.are_started
        if idle and own and not self.busy():
            self._behind.close()

    def look_at(self, shoot_id: int, frame_ids: list[int]) -> None:
        """These frames are on screen: their pictures come first."""
        run = self._runs.get(shoot_id)
        if run:
            run.first = frame_ids

    def somebody_looks(self) -> None:
        """A picture is looked at, or marked, now: for a moment, what goes on behind stands back."""
        self._looked = time.monotonic()

    def picture(self, frame_id: int) -> Future[Analysed | Failure]:
        """Make a frame's pictures now, before all others; the cache has them afterwards."""
        with self._lock:
            future = self._urgent.get(frame_id)
            if future is None:
                future = self._workers.submit(tasks.look, job_of(self._db, self._cache, frame_id))
                self._urgent[frame_id] = future
                for run in self._runs.values():
                    # No need to look at it a second time.
                    run.waiting.pop(frame_id, None)
            else:
                return future
        # Not under the lock, which the callback takes: a future that is done already calls it here.
        future.add_done_callback(lambda done: self._keep_urgent(frame_id, done))
        return future

    def _keep_urgent(self, frame_id: int, done: Future[Analysed | Failure]) -> None:
        with self._lock:
            self._urgent.pop(frame_id, None)
        if done.cancelled() or done.exception() or self._closing.is_set():
            return
        shoot_id = frames.shoot_of(self._db, frame_id)
        if shoot_id is None:
            return
        first_time = not frames.is_done(self._db, frame_id)
        _keep_seen(self._db, self._events, shoot_id, [done.result()])
        run = self._runs.get(shoot_id)
        # A run that still makes pictures puts it in its group at the end; it says so (``making_pictures``)
        # before it groups, so that one of the two sees the new picture.
        made = isinstance(done.result(), Analysed)
        if made and first_time and not (run and run.making_pictures):
            self._ungrouped.add(shoot_id)

    def _group_late_ones(self) -> None:
        """Pictures that came after their run come into their groups: many of them at once."""
        for shoot_id in list(self._ungrouped):
            self._ungrouped.discard(shoot_id)
            try:
                regroup.regroup(self._db, shoot_id)
            except sqlite3.OperationalError:
                # No room on the disk, which the run says: tried again in a second.
                self._ungrouped.add(shoot_id)
            else:
                self._events.tell(shoot_id, "order")

    def _watch(self) -> None:
        """Look again, every few seconds, at the folders of shoots that a window shows."""
        due: dict[int, float] = {}
        while not self._closing.wait(1.0):
            self._group_late_ones()
            self._rest()
            now = time.monotonic()
            for shoot_id in self._events.open_shoots():
                run = self._runs.get(shoot_id)
                if run is None or run.running or run.stopped:
                    due.pop(shoot_id, None)
                elif now >= due.setdefault(shoot_id, now + _pause(run)) or (
                    hints.is_stale(self._db, shoot_id) and face_finder.available()
                ):
                    due.pop(shoot_id)
                    self.start(shoot_id, offer=True)

    def close(self) -> None:
        """Stop everything. The server is about to end."""
        self._closing.set()
        for run in list(self._runs.values()):
            run.stop()
        self._workers.close()
        self._behind.close()
        for run in list(self._runs.values()):
            run.join(10)
        self._watcher.join(5)


def _pause(run: _Run) -> float:
    """Seconds until the next look: slow folders (network disks) are looked at more seldom."""
    usual = _LOOK_AGAIN_SOON_S if run.growing else _LOOK_AGAIN_EVERY_S
    return max(usual, 20 * run.look_took_s)


def _keep_seen(
    db: Database, events: Events, shoot_id: int, results: Iterable[Analysed | Failure]
) -> None:
    """Store results of full looks, and tell the windows."""
    seen = [r for r in results if isinstance(r, Analysed)]
    failures = [r for r in results if isinstance(r, Failure)]
    frames.keep_analysed(db, seen)
    _keep_failures(db, failures)
    patches: list[dict[str, Any]] = [
        {"id": r.frame, "state": int(State.DONE), "picture": 2, "key": r.key,
         "width": r.width, "height": r.height, "notice": r.notice}
        for r in seen
    ]  # fmt: skip
    patches += [
        {"id": r.frame, "state": int(State.FAILED), "picture": 0, "notice": r.notice}
        for r in failures
    ]
    events.tell(shoot_id, "frames", frames=patches)


def _failure(job: Job, notice: str) -> Failure:
    return Failure(job.frame, notice, str(job.path))


def _keep_failures(db: Database, failures: list[Failure]) -> None:
    """Store why frames can't be shown, and say in the log which files they are."""
    for failure in failures:
        log.warning("%s: %s", failure.path, failure.notice)
    frames.keep_failures(db, [(r.frame, r.notice) for r in failures])


class _Run(threading.Thread):
    """One indexing of one shoot."""

    def __init__(
        self,
        shoot_id: int,
        db: Database,
        cache: PictureCache,
        events: Events,
        workers: Workers,
        behind: Workers,
        again: bool,
        before: _Run | None,
        held_back: Callable[[], bool],
        looked: Callable[[], float],
        offer: bool = False,
    ) -> None:
        super().__init__(name=f"index-{shoot_id}", daemon=True)
        self._shoot_id = shoot_id
        self._db = db
        self._cache = cache
        self._events = events
        self._again = again
        self._held_back = held_back
        self._offer = offer
        self._ending = threading.Event()
        self._feeder = Feeder(workers, self._ending)
        self._behind = Behind(db, cache, events, shoot_id, Feeder(behind, self._ending, looked))
        self._told = 0.0
        self._gate = threading.Lock()
        self._asked = False
        self.stage = ""
        self.running = True
        self.first: list[int] = before.first if before else []
        self.waiting: dict[int, None] = {}
        self.notices: list[str] = list(before.notices) if before and not again else []
        # Why it ended before it was through.
        self.fault = ""
        self.look_took_s = 0.0
        self.growing = False
        self.making_pictures = False

    @property
    def stopped(self) -> bool:
        """Whether the person stopped this run."""
        return self._ending.is_set()

    def stop(self) -> None:
        """Ask the run to end soon."""
        self._ending.set()

    def ask(self, *, again: bool) -> bool:
        """Ask for one more look at the end; False when the run has ended."""
        with self._gate:
            if self.running and not self.stopped:
                self._asked = True
                self._again = self._again or again
            return self.running

    def run(self) -> None:
        try:
            while True:
                self._index()
                self._go_on_behind()
                self._note_full(False)
                with self._gate:
                    if not self._asked or self.stopped:
                        self.running = False
                        break
                    self._asked = False
        except (NoRoomError, sqlite3.DatabaseError) as error:
            log.error("shoot %d waits: %s", self._shoot_id, error)
            full = isinstance(error, NoRoomError) or error.sqlite_errorcode == sqlite3.SQLITE_FULL
            self._note_full(full)
            if not full:
                self.fault = say(
                    "Winnow’s database can’t be used now ({error}). Nothing is lost; it is tried again with the "
                    "next look.",
                    error=error,
                )
        except Exception as error:
            log.exception("the indexing of shoot %d ended", self._shoot_id)
            self.fault = say(
                "Looking at this shoot ended by a fault of Winnow’s ({error}). Nothing is lost; it is tried again "
                "with the next look.",
                error=error if str(error) else type(error).__name__,
            )
        finally:
            self.running = False
            self.stage = ""
            self._tell_progress(force=True)

    def _note_full(self, full: bool) -> None:
        """Say that a disk is full, or no longer. The next look at the folder tries again."""
        others = [notice for notice in self.notices if notice != _FULL]
        self.notices = [*others, _FULL] if full else others

    def _index(self) -> None:
        """All that is needed to see the frames, and to see them in groups."""
        worked = False
        try:
            self._look_at_folders()
            frames.note_outdated(self._db, self._shoot_id, pictures.PICTURE_VERSION)
            worked = self._measure_again()
            regroup.regroup(self._db, self._shoot_id)
            states = (State.FOUND, State.FAILED) if self._again else (State.FOUND,)
            self._again = False
            fresh = frames.in_state(self._db, self._shoot_id, states)
            if fresh:
                worked = True
                self._read_facts(fresh)
            # After the facts, with which the first pictures come: thousands of sidecars take seconds.
            self._take_said()
            if fresh:
                file_state.note_silent(self._db, self._shoot_id)
            waiting = frames.in_state(self._db, self._shoot_id, (State.READ,))
            if waiting:
                worked = True
                self._make_pictures(waiting)
        finally:
            self.making_pictures = False
            self._offer = True
            if worked:
                # Before it is said to be done: whoever then looks sees the groups.
                regroup.regroup(self._db, self._shoot_id)
                self._events.tell(self._shoot_id, "order")

    def _go_on_behind(self) -> None:
        """Faces and hints, some seconds at a time: new files in the folder come first."""
        if not face_finder.available():
            if _NO_MODELS not in self.notices:
                self.notices.append(_NO_MODELS)
            return
        while not (self._ending.is_set() or self._held_back()) and self._behind.waits():
            seconds = max(_LOOK_AGAIN_EVERY_S, 20 * self.look_took_s)
            self.stage = "faces"
            found = self._behind.find_faces(self.first, seconds)
            if self._ending.is_set():
                return
            self.stage = "hints"
            if self._behind.judge(seconds, last=found) and found:
                return
            self._index()

    # --- what is on disk ---------------------------------------------------------------------

    def _look_at_folders(self) -> None:
        # Between faces it is only a short look.
        self.stage = self.stage or "looking"
        started = time.monotonic()
        different = frames.settle_zone(self._db, self._shoot_id)
        for folder in shoots.folders_of(self._db, self._shoot_id):
            different = self._look_at_folder(folder) or different
            if self._ending.is_set():
                return
        self.look_took_s = time.monotonic() - started
        self.growing = (
            different or self._held_back() or shoots.tally(self._db, self._shoot_id).frames == 0
        )
        if different:
            frames.put_in_order(self._db, self._shoot_id)
            self._tell_order()
            self._tell_progress(force=True)

    def _look_at_folder(self, folder: shoots.Folder) -> bool:
        """Bring what is stored of a folder in line with what is on disk; returns whether anything is different."""
        before = NAMES_CHANGED.count
        try:
            found = scan.scan(Path(folder.path), self._ending.is_set)
        except scan.FolderError as error:
            if folder.notice == str(error):
                return False
            log.warning("%s", error)
            shoots.note_folder(self._db, folder.id, str(error), None)
            return True
        if self._ending.is_set():
            return False
        with ONE_AT_A_TIME:
            if NAMES_CHANGED.count != before:
                # What was found may have another name now: the next look knows.
                return True
            paired = pair(found.files)
            digest = partial(_digest, Path(folder.path))
            difference = frame_files.reconcile(
                self._db, self._shoot_id, folder.id, paired, found.unreadable, digest
            )
            if difference.removed:
                set_aside.find_again(self._db, folder.id)
            # Killed within a move, it left empty folders.
            set_aside.tidy([Path(folder.path)])
        notice = ""
        if found.unreadable:
            notice = say(
                "A part could not be read, for example “{path}”.", path=found.unreadable[0]
            )
        if notice and notice != folder.notice:
            log.warning("%s: %s", folder.path, notice)
        beside = no_pictures(found.files, paired)
        if notice != folder.notice or beside != folder.beside:
            shoots.note_folder(self._db, folder.id, notice, beside)
            return True
        return difference.any

    def _take_said(self) -> None:
        """Marks and texts that the files state; once the shoot is open, changes are only offered."""
        before = file_state.waiting(self._db, self._shoot_id)
        change, notices = files_read.read_changed(self._db, self._shoot_id, offer=self._offer)
        if file_state.waiting(self._db, self._shoot_id) != before:
            self._tell_progress(force=True)
            self._events.tell(self._shoot_id, "files")
        self.notices = (self.notices + [n for n in notices if n not in self.notices])[-20:]
        if change is not None:
            change_events.tell(self._db, self._events, self._shoot_id, change)

    # --- facts, then pictures ----------------------------------------------------------------

    def _read_facts(self, ids: list[int]) -> None:
        self.stage = "reading"
        files = {f.id: f for f in frame_files.files_of(self._db, ids)}
        jobs = [
            Job(i, files[i].shown, files[i].root, self._cache.folder) for i in ids if i in files
        ]
        batches = [jobs[n : n + _BATCH] for n in range(0, len(jobs), _BATCH)]

        def keep(results: list[list[ReadFrame | Failure]]) -> None:
            flat = [result for batch in results for result in batch]
            read = [r for r in flat if isinstance(r, ReadFrame)]
            frames.keep_facts(
                self._db,
                [
                    frames.ReadFacts(
                        r.frame, r.key, r.facts, r.changed_at, r.has_thumbnail, r.changed_zone_min
                    )
                    for r in read
                ],
            )
            _keep_failures(self._db, [r for r in flat if isinstance(r, Failure)])
            frames.put_in_order(self._db, self._shoot_id)
            self._tell_order()
            self._tell_progress()

        def failed(batch: list[Job], notice: str) -> list[ReadFrame | Failure]:
            return [_failure(job, notice) for job in batch]

        self._feeder.each(tasks.read, iter(batches), keep, failed, split=lambda b: [[j] for j in b])

    def _make_pictures(self, ids: list[int]) -> None:
        self.stage = "pictures"
        self.making_pictures = True
        self.waiting = waiting = dict.fromkeys(ids)

        def jobs() -> Iterator[Job]:
            for frame in self._in_wanted_order(waiting):
                yield job_of(self._db, self._cache, frame)

        def keep(results: list[Analysed | Failure]) -> None:
            _keep_seen(self._db, self._events, self._shoot_id, results)
            self._tell_progress()

        self._feeder.each(tasks.look, jobs(), keep, _failure)

    def _in_wanted_order(self, waiting: dict[int, None]) -> Iterator[int]:
        """Frames as they wait, those on screen first; each once, whoever else takes some."""
        order = iter(list(waiting))
        while waiting:
            frame = next((frame for frame in self.first if frame in waiting), None)
            if frame is None and not self._held_back():
                frame = next(order, None)
            if frame is None:
                return  # those held back wait for the next look at the folder
            # Taken already: it was on screen, or somebody wanted to see it at once.
            if waiting.pop(frame, frame) is None:
                yield frame

    def _measure_again(self) -> bool:
        """Figures that older code measured, from the previews: no original is decoded for them.

        Returns whether there were any.
        """
        while bare := frames.maps_without_blur(self._db, self._shoot_id, 200):
            if self._ending.is_set():
                return False
            frames.keep_blur(self._db, [(f, focus.blur_of(focus.unpack(map_))) for f, map_ in bare])
        old = frames.with_old_figures(self._db, self._shoot_id, pictures.FIGURE_VERSION)
        if not old:
            return False
        self.stage = "measuring"

        def keep(results: list[tuple[int, Figures | None]]) -> None:
            frames.keep_figures(
                self._db,
                [(frame, f.likeness, f.exposure) for frame, f in results if f],
                pictures.FIGURE_VERSION,
            )
            frames.look_again(self._db, [frame for frame, f in results if f is None])

        def failed(job: Job, notice: str) -> tuple[int, Figures | None]:
            return job.frame, None

        jobs = (job_of(self._db, self._cache, frame) for frame in old)
        self._feeder.each(tasks.measure_again, jobs, keep, failed)
        return True

    # --- telling -----------------------------------------------------------------------------

    def _tell_order(self) -> None:
        regroup.regroup(self._db, self._shoot_id)
        self._events.tell(self._shoot_id, "order")

    def _tell_progress(self, force: bool = False) -> None:
        now = time.monotonic()
        if not force and now - self._told < STORE_EVERY_S:
            return
        self._told = now
        self._events.tell(self._shoot_id, "progress")


def _digest(root: Path, path: str) -> str | None:
    """The content of a file that may be another frame's now."""
    try:
        return originals.file_hash(root / path, [root])
    except OSError:
        return None
