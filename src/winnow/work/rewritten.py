"""A picture file whose texts Winnow changed: the pictures made of it are still right."""

from __future__ import annotations

from winnow.core.sync import Stated
from winnow.photos import originals
from winnow.photos.cache import PictureCache
from winnow.store import on_disk
from winnow.store.db import Database
from winnow.store.on_disk import FrameFiles
from winnow.work import analyse
from winnow.work.analyse import Job, ReadFrame


def follow(
    db: Database, cache: PictureCache, files: FrameFiles, stated: Stated
) -> list[dict[str, object]]:
    """Note a frame's shown file as it is now, with its pictures in the cache under the new key.

    Returns what the page has to know. If it can't be read just now, the next look at the folder sees to it.
    """
    (read,) = analyse.read([Job(files.id, files.shown, files.root, cache.folder)])
    if not isinstance(read, ReadFrame):
        return []
    if files.key:
        cache.rename(files.key, read.key)
    on_disk.note_rewritten(db, files, read.key, stated, originals.file_hash(files.shown))
    return [{"id": files.id, "key": read.key}]
