"""What worker processes do behind the pictures: they find faces, and judge groups."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray

from winnow.core import people
from winnow.core.measure import extra_blur, focus_map, motion
from winnow.core.measure import faces as core_faces
from winnow.core.measure.faces import Face
from winnow.core.verdict import judge as judging
from winnow.core.verdict.judge import Judged
from winnow.core.verdict.what_matters import Seen
from winnow.photos import decode, entries, jpegs, pictures
from winnow.photos.bounds import PictureError
from winnow.photos.cache import PictureCache
from winnow.photos.prints import PRINTS
from winnow.work.workers import room
from winnow.work.workers.part_tasks import decoded, held
from winnow.work.workers.tasks import Failure, Job

# A frame with more than this at its sharpest part is looked at for motion, if it stands alone.
_BLURRED_PX = 1.5


@dataclass(frozen=True, slots=True)
class FaceJob:
    """A frame in which faces are looked for, and its packed focus map."""

    job: Job
    focus_map: bytes | None


@dataclass(frozen=True, slots=True)
class FoundFaces:
    """The faces of a frame, with the blur of their eyes."""

    frame: int
    faces: list[Face]


@room.given_back
def find_faces(wanted: FaceJob) -> FoundFaces:
    """Look for faces in a frame's preview; without a preview, in the file."""
    job = wanted.job
    pixels = _preview(job)
    if pixels is None:
        return FoundFaces(job.frame, [])
    # Not above: what only looks at pictures needs no models.
    from winnow.photos import faces as face_finder

    seen = face_finder.find(pixels)
    if wanted.focus_map:
        seen = core_faces.ordered(
            core_faces.with_eyes_measured(seen, focus_map.unpack(wanted.focus_map))
        )
    return FoundFaces(job.frame, seen)


@dataclass(frozen=True, slots=True)
class NumbersJob:
    """A frame whose faces get numbers that tell them apart. ``width``: px, of the upright frame."""

    job: Job
    key: str
    faces: list[Face]
    width: int


@dataclass(frozen=True, slots=True)
class NumberedFaces:
    """For each face of a frame its 128 numbers, NaN where it shows too little to tell whose."""

    frame: int
    key: str
    numbers: list[NDArray[np.float32]]


@room.given_back
def number_faces(wanted: NumbersJob) -> NumberedFaces:
    """Number the faces in a frame's preview; without a preview, in the file."""
    # Not above: what only looks at pictures needs no such weights.
    from winnow.photos import face_numbers

    pixels = _preview(wanted.job) if wanted.faces else None
    if pixels is None:
        return NumberedFaces(wanted.job.frame, wanted.key, [])
    numbers = [face_numbers.numbers_of(pixels, face, wanted.width) for face in wanted.faces]
    return NumberedFaces(wanted.job.frame, wanted.key, numbers)


@dataclass(frozen=True, slots=True)
class PeopleJob:
    """Faces that are told apart; see ``core.people.told_apart``."""

    numbers: NDArray[np.float32]
    frames: list[int]
    before: list[int | None]
    joined: list[tuple[int, int]]


def tell_apart(wanted: PeopleJob) -> list[int | None]:
    """The number of each face's person."""
    return people.told_apart(wanted.numbers, wanted.frames, wanted.before, wanted.joined)


def _preview(job: Job) -> NDArray[np.uint8] | None:
    data = PictureCache(job.cache).read(job.key, "preview") if job.key else None
    try:
        if data is not None:
            return jpegs.rgb_of_jpeg(data)
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
    """Judge the frames of a group, from their focus maps and previews, and from the files those
    that look softer than the sharpest."""
    held: dict[int, NDArray[np.uint8] | None] = {}

    def gray(frame: JudgeFrame) -> NDArray[np.uint8] | None:
        if frame.job.frame not in held:
            data = PictureCache(frame.job.cache).read(frame.job.key, "preview")
            held[frame.job.frame] = pictures.gray_of_preview(data) if data else _gray(frame.job)
        return held[frame.job.frame]

    seen = [
        Seen(
            frame.width,
            frame.height,
            focus_map.unpack(frame.focus_map) if frame.focus_map else None,
            [frame.faces[n] for n in core_faces.counting(frame.faces, frame.width / frame.height)],
            frame.focus_point,
            partial(gray, frame),
            partial(_close, frame),
        )
        for frame in wanted.frames
    ]
    judged = judging.judge(seen)
    return JudgedGroup(
        wanted.key,
        [
            (frame.job.frame, _by_itself(frame, verdict))
            for frame, verdict in zip(wanted.frames, judged, strict=True)
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


def _close(frame: JudgeFrame, x: float, y: float, reach: int) -> NDArray[np.uint8] | None:
    """A part of a frame at full size; None where it can't be had soon."""
    job = frame.job
    if job.kind not in pictures.QUICK_LUMA:
        return None
    try:
        data = entries.read_file(job.path, job.root)
        with PRINTS.about(job.path):
            whole = pictures.full_size_luma(data, job.kind, job.orientation)
    except (PictureError, OSError, MemoryError):
        return None
    if whole is None or whole.shape != (frame.height, frame.width):
        return None
    return extra_blur.cut(whole, x, y, reach)


def _by_itself(frame: JudgeFrame, judged: Judged) -> Judged:
    """With the motion that the picture's own spectrum shows, of a blurred frame without others to
    compare."""
    if judged.of or (judged.sharpest or 0) < _BLURRED_PX:
        return judged
    picture = held(frame.job)
    if isinstance(picture, Failure):
        return judged
    moved = motion.measure(np.asarray(cv2.cvtColor(picture.pixels, cv2.COLOR_RGB2GRAY), np.uint8))
    decoded.pop(frame.job.key, None)
    if moved is None or moved.clearness < motion.CLEAR:
        return judged
    return replace(judged, angle=moved.angle, length=moved.length)
