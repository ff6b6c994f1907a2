"""One indexing of a shoot, in a thread of its own."""

from __future__ import annotations

import logging
import sqlite3
import threading
import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from winnow.core.frames import no_pictures, pair
from winnow.core.measure import focus_map
from winnow.photos import copies, pictures, scan
from winnow.photos import faces as face_finder
from winnow.photos.cache import NoRoomError, PictureCache
from winnow.photos.pictures import Figures
from winnow.say import say
from winnow.store import file_state, frame_figures, frame_files, frame_order, reconcile, shoots
from winnow.store.db import Database
from winnow.store.frame_figures import Analysed
from winnow.store.frames import State
from winnow.work import change_events
from winnow.work.events import Events
from winnow.work.files import read as files_read
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.index import regroup
from winnow.work.index.faces_and_hints import FACE_VERSION, Behind
from winnow.work.index.people import TellingApart
from winnow.work.index.results import failure, keep_read, keep_seen
from winnow.work.index.status import FULL, NO_MODELS
from winnow.work.moves import set_aside
from winnow.work.moves.journal import NAMES_CHANGED
from winnow.work.workers import tasks
from winnow.work.workers.feeder import STORE_EVERY_S, Feeder
from winnow.work.workers.jobs import job_of
from winnow.work.workers.pool import NoWorkersError, Workers
from winnow.work.workers.tasks import Failure, Job, ReadFrame

_BATCH = 16


log = logging.getLogger(__name__)


LOOK_AGAIN_EVERY_S = 4.0


class Run(threading.Thread):
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
        before: Run | None,
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
        self._is_first = before is None
        self._held_back = held_back
        self._offer = offer
        self._ending = threading.Event()
        self._feeder = Feeder(workers, self._ending)
        feeder = Feeder(behind, self._ending, looked)
        self._behind = Behind(db, cache, events, shoot_id, feeder)
        self._people = TellingApart(db, cache, events, shoot_id, feeder)
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
        """Index the shoot, until it is through or stopped."""
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
                    "Winnow’s database can’t be used now ({error}). Nothing is lost; it is tried "
                    "again with the next look.",
                    error=error,
                )
        except NoWorkersError as error:
            log.error("shoot %d waits: %s", self._shoot_id, error)
            self.fault = str(error)
        except Exception as error:
            log.exception("the indexing of shoot %d ended", self._shoot_id)
            self.fault = say(
                "Looking at this shoot ended by a fault of Winnow’s ({error}). Nothing is lost; "
                "it is tried again "
                "with the next look.",
                error=error if str(error) else type(error).__name__,
            )
        finally:
            self.running = False
            self.stage = ""
            self._tell_progress(force=True)

    def _note_full(self, full: bool) -> None:
        """Say that a disk is full, or no longer. The next look at the folder tries again."""
        others = [notice for notice in self.notices if notice != FULL]
        self.notices = [*others, FULL] if full else others

    def _index(self) -> None:
        """All that is needed to see the frames, and to see them in groups."""
        worked = False
        try:
            self._look_at_folders()
            frame_figures.note_outdated(self._db, self._shoot_id, pictures.PICTURE_VERSION)
            worked = self._read_facts_again()
            worked = self._measure_again() or worked
            regroup.regroup(self._db, self._shoot_id)
            states = (State.FOUND, State.FAILED) if self._again else (State.FOUND,)
            self._again = False
            fresh = frame_figures.in_state(self._db, self._shoot_id, states)
            if fresh:
                worked = True
                self._read_facts(fresh)
            # After the facts, with which the first pictures come: thousands of sidecars take
            # seconds.
            self._take_said()
            if fresh:
                file_state.note_silent(self._db, self._shoot_id)
            waiting = frame_figures.in_state(self._db, self._shoot_id, (State.READ,))
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
            if NO_MODELS not in self.notices:
                self.notices.append(NO_MODELS)
            return
        while not (self._ending.is_set() or self._held_back()) and (
            self._behind.waits() or self._people.waits(FACE_VERSION)
        ):
            seconds = max(LOOK_AGAIN_EVERY_S, 20 * self.look_took_s)
            self.stage = "faces"
            some = self._behind.find_faces(self.first, seconds)
            if self._ending.is_set():
                return
            self.stage = "hints"
            done = self._behind.judge(seconds, last=some) and some
            if done and self._people.waits(FACE_VERSION):
                self.stage = "people"
                done = self._people.go_on(FACE_VERSION, seconds)
            if done:
                return
            self._index()

    # --- what is on disk ---------------------------------------------------------------------

    def _look_at_folders(self) -> None:
        # Between faces it is only a short look.
        self.stage = self.stage or "looking"
        started = time.monotonic()
        different = frame_order.settle_zone(self._db, self._shoot_id)
        for folder in shoots.folders_of(self._db, self._shoot_id):
            different = self._look_at_folder(folder) or different
            if self._ending.is_set():
                return
        self.look_took_s = time.monotonic() - started
        self.growing = (
            different or self._held_back() or shoots.tally(self._db, self._shoot_id).frames == 0
        )
        if different:
            frame_order.put_in_order(self._db, self._shoot_id)
            self._tell_order()
            self._tell_progress(force=True)

    def _look_at_folder(self, folder: shoots.Folder) -> bool:
        """Bring what is stored of a folder in line with what is on disk; returns whether anything
        is different."""
        before = NAMES_CHANGED.count
        try:
            listing = scan.scan(Path(folder.path), self._ending.is_set)
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
            paired = pair(listing.files)
            digest = partial(_digest, Path(folder.path))
            difference = reconcile.reconcile(
                self._db, self._shoot_id, folder.id, paired, listing.unreadable, digest
            )
            if difference.removed:
                set_aside.find_again(self._db, folder.id)
            # Killed within a move, it left empty folders.
            set_aside.tidy([Path(folder.path)])
        notice = ""
        if listing.unreadable:
            notice = say(
                "A part could not be read, for example “{path}”.", path=listing.unreadable[0]
            )
        if notice and notice != folder.notice:
            log.warning("%s: %s", folder.path, notice)
        beside = no_pictures(listing.files, paired)
        if notice != folder.notice or beside != folder.beside:
            shoots.note_folder(self._db, folder.id, notice, beside)
            return True
        return difference.any

    def _take_said(self) -> None:
        """Marks and texts that the files state; once the shoot is open, changes are only
        offered."""
        before = file_state.waiting(self._db, self._shoot_id)
        change, notices = files_read.read_changed(self._db, self._shoot_id, offer=self._offer)
        if file_state.waiting(self._db, self._shoot_id) != before:
            self._tell_progress(force=True)
            self._events.tell(self._shoot_id, "files")
        self.notices = (self.notices + [n for n in notices if n not in self.notices])[-20:]
        if change is not None:
            change_events.tell(self._db, self._events, self._shoot_id, change)

    # --- facts, then pictures ----------------------------------------------------------------

    def _read_facts_again(self) -> bool:
        """Facts that older code read: the first run since Winnow started tries each once, as
        originals may be away.

        Returns whether there were any.
        """
        old = frame_figures.with_old_facts(self._db, self._shoot_id) if self._is_first else []
        self._is_first = False
        if old:
            self._read_facts(old, again=True)
        return bool(old)

    def _read_facts(self, ids: list[int], *, again: bool = False) -> None:
        self.stage = "reading"
        files = {f.id: f for f in frame_files.files_of(self._db, ids)}
        jobs = [
            Job(i, files[i].shown, files[i].root, self._cache.folder) for i in ids if i in files
        ]
        batches = [jobs[n : n + _BATCH] for n in range(0, len(jobs), _BATCH)]

        def keep(results: list[list[ReadFrame | Failure]]) -> None:
            flat = [result for batch in results for result in batch]
            keep_read(self._db, flat, again=again)
            frame_order.put_in_order(self._db, self._shoot_id)
            self._tell_order()
            self._tell_progress()

        def failed(batch: list[Job], notice: str) -> list[ReadFrame | Failure]:
            return [failure(job, notice) for job in batch]

        self._feeder.each(tasks.read, iter(batches), keep, failed, split=lambda b: [[j] for j in b])

    def _make_pictures(self, ids: list[int]) -> None:
        self.stage = "pictures"
        self.making_pictures = True
        self.waiting = waiting = dict.fromkeys(ids)

        def jobs() -> Iterator[Job]:
            for frame in self._in_wanted_order(waiting):
                yield job_of(self._db, self._cache, frame)

        def keep(results: list[Analysed | Failure]) -> None:
            keep_seen(self._db, self._events, self._shoot_id, results)
            self._tell_progress()

        self._feeder.each(tasks.look, jobs(), keep, failure)

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
        while bare := frame_figures.maps_without_blur(self._db, self._shoot_id, 200):
            if self._ending.is_set():
                return False
            frame_figures.keep_blur(
                self._db, [(f, focus_map.blur_of(focus_map.unpack(map_))) for f, map_ in bare]
            )
        old = frame_figures.with_old_figures(self._db, self._shoot_id, pictures.FIGURE_VERSION)
        if not old:
            return False
        self.stage = "measuring"

        def keep(results: list[tuple[int, Figures | None]]) -> None:
            frame_figures.keep_figures(
                self._db,
                [(frame, f.likeness, f.exposure) for frame, f in results if f],
                pictures.FIGURE_VERSION,
            )
            frame_figures.look_again(self._db, [frame for frame, f in results if f is None])

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
        return copies.file_hash(root / path, [root])
    except OSError:
        return None
