"""Parts of frames at 100 % and 200 %, from workers that keep what they decoded last.

They are not the indexing's workers: a picture that somebody looks close at never waits for it.
"""

from __future__ import annotations

from concurrent.futures import Future
from typing import Final

from winnow.photos.cache import PictureCache
from winnow.store.db import Database
from winnow.work import analyse
from winnow.work.analyse import Failure, Part
from winnow.work.indexer import job_of
from winnow.work.workers import Workers

_WORKERS: Final = 2


class CloseUps:
    """Two workers, started when first needed. A frame always goes to the same one."""

    def __init__(
        self, db: Database, cache: PictureCache, workers: tuple[Workers, ...] | None = None
    ) -> None:
        self._db = db
        self._cache = cache
        self._workers = workers or tuple(Workers(count=1) for _ in range(_WORKERS))

    def part(self, frame_id: int, wanted: Part) -> Future[bytes | Failure]:
        """A part of a frame as JPEG."""
        return self._of(frame_id).submit(
            analyse.part, job_of(self._db, self._cache, frame_id), wanted
        )

    def full_size(self, frame_id: int) -> Future[bytes | Failure]:
        """A whole frame at full size as JPEG."""
        return self._of(frame_id).submit(analyse.full_size, job_of(self._db, self._cache, frame_id))

    def _of(self, frame_id: int) -> Workers:
        return self._workers[frame_id % len(self._workers)]

    def close(self) -> None:
        """End the workers."""
        for workers in self._workers:
            workers.close()
