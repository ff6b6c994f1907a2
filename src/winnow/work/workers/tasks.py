"""What worker processes do: from a file to its facts and pictures. Functions without memory."""

from __future__ import annotations

import multiprocessing
import os
import signal
import threading
import time
from dataclasses import dataclass
from functools import cache
from multiprocessing import connection
from pathlib import Path

import cv2
from blake3 import blake3

from winnow.core.facts import Facts
from winnow.core.frames import Kind, kind_of
from winnow.core.measure import focus_map, likeness
from winnow.photos import entries, jpeg_segments, jpegs, memory, pictures
from winnow.photos.bounds import PictureError
from winnow.photos.cache import PictureCache
from winnow.photos.metadata import read_facts, read_facts_at
from winnow.photos.pictures import Figures
from winnow.photos.prints import PRINTS
from winnow.say import say
from winnow.store.frame_figures import Analysed
from winnow.work.workers import room

try:
    import resource
except ImportError:  # Windows
    resource = None  # type: ignore[assignment]

# Exif takes at most 64 KiB of a JPEG, at its front; another 64 hold XMP and the picture's size.
_HEAD_BYTES = 128 * 1024
_TAIL_BYTES = 32 * 1024


def start_worker(nice: int, shared: tuple[Path, int] | None = None) -> None:
    """Prepare a worker process: it ends with the process that it works for, a bomb only the worker.

    ``nice``: how much it stands back behind other work. ``shared``: file and pieces of the room
    that it shares with others.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if resource is not None:
        # guard: memory of a worker
        resource.setrlimit(resource.RLIMIT_DATA, (room.MOST, room.MOST))
    if shared is not None:
        room.share(*shared)
    if hasattr(os, "nice"):
        os.nice(nice)
    prepare()
    if server := multiprocessing.parent_process():
        threading.Thread(target=_end_with, args=(server.sentinel,), daemon=True).start()


@cache
def prepare() -> None:
    """Make the best of a process that analyses pictures; once is enough."""
    # There is a worker for each core: threads within them would only wait for each other.
    cv2.setNumThreads(1)
    memory.keep()
    PRINTS.keep()


def ready() -> None:
    """Do nothing: a worker that has done it has started."""


def _end_with(server: int) -> None:
    """End this process when its server has gone: one that was killed can't tell it to.

    ``server``: what is ready to be read then.
    """
    connection.wait([server])
    os._exit(0)


@dataclass(frozen=True, slots=True)
class Job:
    """A frame to be read: its shown file, in which opened folder that is, and where its pictures
    go."""

    frame: int
    path: Path
    root: Path
    cache: Path
    key: str = ""
    orientation: int = 1
    optional_space: bool = False

    @property
    def kind(self) -> Kind:
        """The kind of the shown file, by its name."""
        return kind_of(self.path.name) or Kind.JPEG


@dataclass(frozen=True, slots=True)
class ReadFrame:
    """The facts of a frame, and whether the camera's thumbnail is in the cache.

    ``changed_at``: when its file was changed, as a clock here said it, in s; ``changed_zone_min``:
    that clock's time zone, in minutes from UTC; ``likeness``: of the camera's own small picture.
    """

    frame: int
    key: str
    facts: Facts
    changed_at: float
    changed_zone_min: int
    has_thumbnail: bool
    likeness: bytes | None = None


@dataclass(frozen=True, slots=True)
class Failure:
    """A frame that can't be shown, and why; ``path`` is for the log."""

    frame: int
    notice: str
    path: str = ""


def unreadable(error: Exception) -> str:
    """What is said of a frame that met an error nothing was prepared for."""
    return say(
        "It could not be read ({error}).", error=error if str(error) else type(error).__name__
    )


def read(jobs: list[Job]) -> list[ReadFrame | Failure]:
    """Read the facts and the camera's own thumbnails of some frames: well under 1 ms each."""
    return [_read(job) for job in jobs]


def _read(job: Job) -> ReadFrame | Failure:
    try:
        with PRINTS.about(job.path):
            return _facts_of(job)
    except OSError as error:
        why = say("The file can’t be opened: {why}.", why=error.strerror)
    except Exception as error:
        # Its neighbours in the batch have nothing to do with it.
        why = unreadable(error)
    return Failure(job.frame, why, str(job.path))


def _facts_of(job: Job) -> ReadFrame:
    with entries.open_file(job.path, job.root) as file:
        stat = os.fstat(file.fileno())
        head = file.read(_HEAD_BYTES)
        facts = Facts()
        if head.startswith(b"\xff\xd8"):
            # XMP in several segments may go on behind the head.
            more = file.read() if jpeg_segments.EXTENSION in head else b""
            facts = read_facts(head + more, with_thumbnail=True)
        if facts.width is None:
            facts = read_facts_at(job.path, with_thumbnail=True)
        file.seek(max(0, stat.st_size - _TAIL_BYTES))
        tail = file.read()
    name = f"{job.path}\0{stat.st_size}\0{stat.st_mtime_ns}\0{pictures.PICTURE_VERSION}"
    key = blake3(os.fsencode(name) + head + tail).hexdigest(16)
    early = None
    if facts.thumbnail and facts.width and facts.height:
        ratio = facts.width / facts.height
        early = jpegs.upright_thumbnail(facts.thumbnail, facts.orientation, ratio)
    signature = None
    if early:
        PictureCache(job.cache).write(key, "early", early)
        signature = likeness.signature_of_small(jpegs.rgb_of_jpeg(early))
    zone = time.localtime(stat.st_mtime).tm_gmtoff
    return ReadFrame(
        job.frame, key, facts, stat.st_mtime + zone, round(zone / 60), early is not None, signature
    )


@room.given_back
def look(job: Job) -> Analysed | Failure:
    """Decode a frame once; make its preview and thumbnail; measure it."""
    try:
        data = entries.read_file(job.path, job.root)
        with PRINTS.about(job.path):
            seen = pictures.look(data, job.kind, job.orientation, job.optional_space)
    except PictureError as error:
        return Failure(job.frame, str(error), str(job.path))
    except OSError as error:
        return Failure(
            job.frame,
            say("The file can’t be opened: {why}.", why=error.strerror),
            str(job.path),
        )
    except MemoryError:
        return Failure(
            job.frame, say("There is not enough memory to decode this picture."), str(job.path)
        )
    cache = PictureCache(job.cache)
    cache.write(job.key, "preview", seen.preview)
    cache.write(job.key, "thumbnail", seen.thumbnail)
    return Analysed(
        frame=job.frame,
        key=job.key,
        width=seen.width,
        height=seen.height,
        likeness=seen.figures.likeness,
        exposure=seen.figures.exposure,
        focus_map=focus_map.pack(seen.focus),
        blur_px=focus_map.blur_of(seen.focus),
        content_hash=str(blake3(data).hexdigest()),
        shown_from=seen.shown_from,
        close_from=seen.close_from,
        picture_version=pictures.PICTURE_VERSION,
        figure_version=pictures.FIGURE_VERSION,
        notice=" ".join(seen.notices),
    )


def measure_again(job: Job) -> tuple[int, Figures | None]:
    """The figures of a frame by newer code, from its preview; None where that isn't there."""
    preview = PictureCache(job.cache).read(job.key, "preview")
    return job.frame, pictures.figures_of_preview(preview) if preview else None
