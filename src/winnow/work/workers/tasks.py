"""What worker processes do: from a file to its facts and pictures. Functions without memory."""

from __future__ import annotations

import multiprocessing
import os
import resource
import signal
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, replace
from functools import partial
from multiprocessing import connection
from pathlib import Path

import cv2
import numpy as np
from blake3 import blake3
from numpy.typing import NDArray

from winnow.core.frames import Kind, kind_of
from winnow.core.measure import faces as core_faces
from winnow.core.measure import focus, motion
from winnow.core.measure.faces import Face
from winnow.core.verdict import judge as judging
from winnow.core.verdict.judge import Judged
from winnow.photos import decode, entries, jpeg_segments, memory, pictures
from winnow.photos.bounds import PictureError
from winnow.photos.cache import PictureCache
from winnow.photos.metadata import Facts, read_facts, read_facts_at
from winnow.photos.pictures import Figures
from winnow.photos.prints import PRINTS
from winnow.say import say
from winnow.store.frames import Analysed
from winnow.work.workers import room

# Exif takes at most 64 KiB of a JPEG, at its front; another 64 hold XMP and the picture's size.
_HEAD_BYTES = 128 * 1024
_TAIL_BYTES = 32 * 1024
# A frame with more than this at its sharpest part is looked at for motion, if it stands alone.
_BLURRED_PX = 1.5


def start_worker(nice: int, shared: tuple[Path, int] | None = None) -> None:
    """Prepare a worker process: it ends with the process that it works for, a bomb only the worker.

    ``nice``: how much it stands back behind other work. ``shared``: file and pieces of the room that it shares with others.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    # guard: memory of a worker
    resource.setrlimit(resource.RLIMIT_DATA, (room.MOST, room.MOST))
    if shared is not None:
        room.share(*shared)
    os.nice(nice)
    # There is a worker for each core: threads within them would only wait for each other.
    cv2.setNumThreads(1)
    memory.keep()
    PRINTS.keep()
    if server := multiprocessing.parent_process():
        threading.Thread(target=_end_with, args=(server.sentinel,), daemon=True).start()


def ready() -> None:
    """Do nothing: a worker that has done it has started."""


def _end_with(server: int) -> None:
    """End this process when its server has gone: one that was killed can't tell it to. ``server``: what is ready to be
    read then."""
    connection.wait([server])
    os._exit(0)


@dataclass(frozen=True, slots=True)
class Job:
    """A frame to be read: its shown file, in which opened folder that is, and where its pictures go."""

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
    """The facts of a frame, and whether the camera's thumbnail is in the cache. ``changed_at``: when its file was
    changed, as a clock here said it, in s; ``changed_zone_min``: that clock's time zone, in minutes from UTC."""

    frame: int
    key: str
    facts: Facts
    changed_at: float
    changed_zone_min: int
    has_thumbnail: bool


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
        why = say("The file can't be opened: {why}.", why=error.strerror)
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
        early = decode.upright_thumbnail(facts.thumbnail, facts.orientation, ratio)
    if early:
        PictureCache(job.cache).write(key, "early", early)
    zone = time.localtime(stat.st_mtime).tm_gmtoff
    return ReadFrame(
        job.frame, key, facts, stat.st_mtime + zone, round(zone / 60), early is not None
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
            say("The file can't be opened: {why}.", why=error.strerror),
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
        focus_map=focus.pack(seen.focus),
        blur_px=focus.blur_of(seen.focus),
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


@dataclass(frozen=True, slots=True)
class FaceJob:
    """A frame in which faces are looked for, and its packed focus map."""

    job: Job
    focus_map: bytes | None


@dataclass(frozen=True, slots=True)
class FoundFaces:
    """The faces of a frame, with the blur of their eyes, and how many of them count."""

    frame: int
    faces: list[Face]
    counting: int


@room.given_back
def find_faces(wanted: FaceJob) -> FoundFaces:
    """Look for faces in a frame's preview; without a preview, in the file."""
    job = wanted.job
    pixels = _preview(job)
    if pixels is None:
        return FoundFaces(job.frame, [], 0)
    # Not above: what only looks at pictures needs no models.
    from winnow.photos import faces as face_finder

    found = face_finder.find(pixels)
    height, width = pixels.shape[:2]
    if wanted.focus_map:
        found = core_faces.ordered(
            core_faces.with_eyes_measured(found, focus.unpack(wanted.focus_map))
        )
    return FoundFaces(job.frame, found, len(core_faces.counting(found, width / height)))


def _preview(job: Job) -> NDArray[np.uint8] | None:
    data = PictureCache(job.cache).read(job.key, "preview") if job.key else None
    try:
        if data is not None:
            return decode.rgb_of_jpeg(data)
        original = entries.read_file(job.path, job.root)
        longest = pictures.PREVIEW_PX
        return decode.decode(
            original, job.kind, job.orientation, longest, job.optional_space
        ).pixels
    except (PictureError, OSError, MemoryError, ValueError):
        return None


@dataclass(frozen=True, slots=True)
class JudgeFrame:
    """A frame that is judged beside others. ``faces``: as they are packed; ``focus_point``: 0…1."""

    job: Job
    width: int
    height: int
    focus_map: bytes | None
    faces: list[Face]
    focus_point: tuple[float, float] | None


@dataclass(frozen=True, slots=True)
class GroupJob:
    """The frames of a group; ``key`` names them."""

    key: str
    frames: tuple[JudgeFrame, ...]


@dataclass(frozen=True, slots=True)
class JudgedGroup:
    """How the frames of a group were judged; without them where that failed."""

    key: str
    judged: list[tuple[int, Judged]]


@room.given_back
def judge(wanted: GroupJob) -> JudgedGroup:
    """Judge the frames of a group, from their focus maps and previews."""
    held: dict[int, NDArray[np.uint8] | None] = {}

    def gray(one: JudgeFrame) -> NDArray[np.uint8] | None:
        if one.job.frame not in held:
            data = PictureCache(one.job.cache).read(one.job.key, "preview")
            held[one.job.frame] = pictures.gray_of_preview(data) if data else _gray(one.job)
        return held[one.job.frame]

    seen = [
        judging.Seen(
            one.width,
            one.height,
            focus.unpack(one.focus_map) if one.focus_map else None,
            [one.faces[n] for n in core_faces.counting(one.faces, one.width / one.height)],
            one.focus_point,
            partial(gray, one),
        )
        for one in wanted.frames
    ]
    judged = judging.judge(seen)
    return JudgedGroup(
        wanted.key,
        [
            (one.job.frame, _by_itself(one, found))
            for one, found in zip(wanted.frames, judged, strict=True)
        ],
    )


def _gray(job: Job) -> NDArray[np.uint8] | None:
    """A frame in grey at half the size of its preview, which is not in the cache any more."""
    pixels = _preview(job)
    if pixels is None:
        return None
    height, width = pixels.shape[:2]
    half = cv2.resize(
        pixels, (max(1, width // 2), max(1, height // 2)), interpolation=cv2.INTER_AREA
    )
    return np.asarray(cv2.cvtColor(half, cv2.COLOR_RGB2GRAY), np.uint8)


def _by_itself(one: JudgeFrame, judged: Judged) -> Judged:
    """With the motion that the picture's own spectrum shows, of a blurred frame without others to compare."""
    if judged.of or (judged.sharpest or 0) < _BLURRED_PX:
        return judged
    picture = _held(one.job)
    if isinstance(picture, Failure):
        return judged
    found = motion.measure(np.asarray(cv2.cvtColor(picture.pixels, cv2.COLOR_RGB2GRAY), np.uint8))
    _decoded.pop(one.job.key, None)
    if found is None or found.clearness < motion.CLEAR:
        return judged
    return replace(judged, angle=found.angle, length=found.length)


@room.given_back
def full_size(job: Job, made: bool = False) -> bytes | Failure:
    """The frame at full size as a JPEG that every browser shows upright and in sRGB; ``made``: never the file itself,
    nor what its metadata says.

    What must be made for that, raw files above all, is kept in the cache.
    """
    cache = PictureCache(job.cache)
    kept = cache.read(job.key, "close") if job.key else None
    if kept is not None:
        return kept
    try:
        data = entries.read_file(job.path, job.root)
        showable = decode.browser_can_show(data) and not job.optional_space
        if showable and not made:
            return data
        with PRINTS.about(job.path):
            picture = decode.decode(data, job.kind, job.orientation, None, job.optional_space)
    except PictureError as error:
        return Failure(job.frame, str(error), str(job.path))
    except (OSError, MemoryError) as error:
        return Failure(
            job.frame, say("The file can't be read: {error}.", error=error), str(job.path)
        )
    encoded = decode.encode_jpeg(picture.pixels, 93)
    # The owner gets the file itself where it can be shown: this one would take its place.
    if job.key and not showable:
        cache.write(job.key, "close", encoded)
    return encoded


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a frame in px at 100 % of the upright picture, enlarged 1 or 2 times."""

    left: int
    top: int
    width: int
    height: int
    scale: int = 1


# The pictures that this worker decoded last, at full size: moving about in one needs no decoding.
_decoded: OrderedDict[str, decode.Picture] = OrderedDict()
_MOST_DECODED_BYTES = 224 * 1024**2  # three of 24 megapixels


@room.given_back
def part(job: Job, wanted: Part) -> bytes | Failure:
    """A part of a frame as a JPEG in sRGB; what lies outside the picture is left off."""
    picture = _held(job)
    if isinstance(picture, Failure):
        return picture
    pixels = decode.cut(picture, wanted.left, wanted.top, wanted.width, wanted.height, wanted.scale)
    if pixels is None:
        return Failure(job.frame, say("This part lies outside the picture."), str(job.path))
    return decode.encode_jpeg(pixels, 93)


@room.given_back
def gray_part(job: Job, wanted: Part) -> NDArray[np.uint8] | Failure:
    """A part of a frame in grey, shape (h, w); what lies outside the picture is left off."""
    picture = _held(job)
    if isinstance(picture, Failure):
        return picture
    pixels = decode.cut(picture, wanted.left, wanted.top, wanted.width, wanted.height, wanted.scale)
    if pixels is None:
        return Failure(job.frame, say("This part lies outside the picture."), str(job.path))
    return np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), np.uint8)


@room.given_back
def prepare(job: Job) -> None:
    """Decode a frame and hold it: somebody is about to look close."""
    _held(job)


def _held(job: Job) -> decode.Picture | Failure:
    try:
        picture = _decoded.get(job.key)
        if picture is None:
            data = entries.read_file(job.path, job.root)
            with PRINTS.about(job.path):
                picture = decode.decode(data, job.kind, job.orientation, None, job.optional_space)
            _hold(job.key, picture)
        _decoded.move_to_end(job.key)
    except PictureError as error:
        return Failure(job.frame, str(error), str(job.path))
    except (OSError, MemoryError) as error:
        return Failure(
            job.frame, say("The file can't be read: {error}.", error=error), str(job.path)
        )
    return picture


def _hold(key: str, picture: decode.Picture) -> None:
    _decoded[key] = picture
    while (
        len(_decoded) > 1 and sum(p.pixels.nbytes for p in _decoded.values()) > _MOST_DECODED_BYTES
    ):
        _decoded.popitem(last=False)
