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
from collections.abc import Callable
from concurrent.futures import Future

from winnow.photos import faces as face_finder
from winnow.photos.cache import PictureCache
from winnow.store import frame_figures, frames, hints
from winnow.store.db import Database
from winnow.store.frame_figures import Analysed
from winnow.work.events import Events
from winnow.work.index import regroup
from winnow.work.index.results import keep_seen
from winnow.work.index.run import LOOK_AGAIN_EVERY_S, Run
from winnow.work.index.status import IndexStatus
from winnow.work.workers import tasks
from winnow.work.workers.jobs import job_of
from winnow.work.workers.pool import Workers
from winnow.work.workers.tasks import Failure

log = logging.getLogger(__name__)

# Starting them anew takes seconds, and a camera may deliver a frame every few of them.
_REST_AFTER_S = 60.0
# A folder in which something just changed, or with nothing in it yet, will go on changing.
_LOOK_AGAIN_SOON_S = 1.0


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
        self._runs: dict[int, Run] = {}
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
        """Index a shoot; one that is being indexed is looked at once more after that.

        ``again`` also retries frames that failed. ``offer``: what changed outside is offered, not
        taken over, as it is from the second look of a run on.
        """
        with self._lock:
            before = self._runs.get(shoot_id)
            if self._closing.is_set() or (before and before.ask(again=again)):
                return
            run = Run(
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

    def status(self, shoot_id: int) -> IndexStatus:
        """How the indexing of a shoot stands."""
        run = self._runs.get(shoot_id)
        if run is None:
            return IndexStatus(False, "", False, ())
        notices = (*run.notices, run.fault) if run.fault else tuple(run.notices)
        return IndexStatus(run.running, run.stage, run.stopped, notices, bool(run.fault))

    def busy(self) -> bool:
        """Whether any shoot is being indexed."""
        return any(run.running for run in list(self._runs.values()))

    def making_pictures(self) -> bool:
        """Whether pictures of any shoot are being made."""
        return any(run.making_pictures for run in list(self._runs.values()))

    def _rest(self) -> None:
        """The workers behind hold models: they end when nobody needed them for a while."""
        idle = time.monotonic() - self._behind.used > _REST_AFTER_S
        apart = self._behind is not self._workers and self._behind.are_started
        if idle and apart and not self.busy():
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
        first_time = not frame_figures.is_done(self._db, frame_id)
        keep_seen(self._db, self._events, shoot_id, [done.result()])
        run = self._runs.get(shoot_id)
        # A run that still makes pictures puts it in its group at the end; it says so
        # (``making_pictures``) before it groups, so that one of the two sees the new picture.
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


def _pause(run: Run) -> float:
    """Seconds until the next look: slow folders (network disks) are looked at more seldom."""
    usual = _LOOK_AGAIN_SOON_S if run.growing else LOOK_AGAIN_EVERY_S
    return max(usual, 20 * run.look_took_s)
