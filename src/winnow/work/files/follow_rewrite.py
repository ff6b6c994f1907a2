"""A picture file whose texts Winnow changed: the pictures made of it are still right."""

from __future__ import annotations

from winnow.core.events import FramePatch
from winnow.core.files.merge import Stated
from winnow.photos import copies
from winnow.photos.cache import PictureCache
from winnow.store import frame_files
from winnow.store.db import Database
from winnow.store.frame_files import FrameFiles
from winnow.work.workers import tasks
from winnow.work.workers.tasks import Job, ReadFrame


def follow(
    db: Database, cache: PictureCache, files: FrameFiles, stated: Stated
) -> list[FramePatch]:
    """Note a frame's shown file as it is now, with its pictures in the cache under the new key.

    Returns what the page has to know. If it can't be read just now, the next look at the folder
    sees to it.
    """
    (read,) = tasks.read([Job(files.id, files.shown, files.root, cache.folder)])
    if not isinstance(read, ReadFrame):
        return []
    if files.key:
        cache.rename(files.key, read.key)
    frame_files.note_rewritten(db, files, read.key, stated, copies.file_hash(files.shown))
    return [{"id": files.id, "key": read.key}]
