"""From a frame of the database to what a worker needs to know of it."""

from __future__ import annotations

from winnow.photos.cache import PictureCache
from winnow.store import frame_files, frames
from winnow.store.db import Database
from winnow.work.workers.tasks import Job


def job_of(db: Database, cache: PictureCache, frame_id: int) -> Job:
    """The job of a frame that is in the database."""
    row = frames.get(db, frame_id)
    (files,) = frame_files.files_of(db, [frame_id])
    assert row is not None
    return Job(
        frame_id, files.shown, files.root, cache.folder, row.key or "", row.orientation,
        row.optional_space,
    )  # fmt: skip
