"""Parts of frames at 100 % and 200 %, from workers that keep what they decoded last.

They are not the indexing's workers: a picture that somebody looks close at never waits for it.
"""

from __future__ import annotations

from collections.abc import Iterable
from concurrent.futures import Future
from threading import Timer
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.photos.cache import PictureCache
from winnow.store.db import Database
from winnow.work.workers import part_tasks
from winnow.work.workers.jobs import job_of
from winnow.work.workers.part_tasks import Part
from winnow.work.workers.pool import Workers
from winnow.work.workers.tasks import Failure

_WORKERS: Final = 2
_MOST_PREPARED: Final = 6
_WARM_AFTER_S: Final = 3.0


class CloseUps:
    """Two workers, started when first needed. A frame always goes to the same one."""

    def __init__(
        self, db: Database, cache: PictureCache, workers: tuple[Workers, ...] | None = None
    ) -> None:
        self._db = db
        self._cache = cache
        self._timer: Timer | None = None
        self._workers = workers or tuple(Workers(count=1) for _ in range(_WORKERS))

    def part(self, frame_id: int, wanted: Part) -> Future[bytes | Failure]:
        """A part of a frame as JPEG."""
        return self._of(frame_id).submit(
            part_tasks.part, job_of(self._db, self._cache, frame_id), wanted
        )

    def gray(self, frame_id: int, wanted: Part) -> Future[NDArray[np.uint8] | Failure]:
        """A part of a frame in grey."""
        return self._of(frame_id).submit(
            part_tasks.gray_part, job_of(self._db, self._cache, frame_id), wanted
        )

    def prepare(self, frame_ids: Iterable[int]) -> None:
        """Decode frames that somebody is about to look close at; as many as the workers hold."""
        for frame in list(frame_ids)[:_MOST_PREPARED]:
            self._of(frame).submit(part_tasks.prepare, job_of(self._db, self._cache, frame))

    def warm_soon(self) -> None:
        """Start the workers once the first frames are on screen, so that no close look waits for
        them."""
        if self._timer is None:
            self._timer = Timer(_WARM_AFTER_S, self._warm)
            self._timer.daemon = True
            self._timer.start()

    def _warm(self) -> None:
        for workers in self._workers:
            workers.warm()

    def full_size(self, frame_id: int, *, made: bool) -> Future[bytes | Failure]:
        """A whole frame at full size as JPEG; ``made``: never the file itself."""
        job = job_of(self._db, self._cache, frame_id)
        return self._of(frame_id).submit(part_tasks.full_size, job, made)

    def _of(self, frame_id: int) -> Workers:
        return self._workers[frame_id % len(self._workers)]

    def close(self) -> None:
        """End the workers."""
        if self._timer is not None:
            self._timer.cancel()
            self._timer.join()
        for workers in self._workers:
            workers.close()
