"""What worker processes do for a close look: parts at full size, of what they decoded last."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from winnow.photos import decode, entries, jpegs
from winnow.photos.bounds import PictureError
from winnow.photos.cache import PictureCache
from winnow.photos.picture import Picture
from winnow.photos.prints import PRINTS
from winnow.say import say
from winnow.work.workers import room
from winnow.work.workers.tasks import Failure, Job


@room.given_back
def full_size(job: Job, made: bool = False) -> bytes | Failure:
    """The frame at full size as a JPEG that every browser shows upright and in sRGB; ``made``:
    never the file itself, nor what its metadata says.

    What must be made for that, raw files above all, is kept in the cache.
    """
    cache = PictureCache(job.cache)
    kept = cache.read(job.key, "close") if job.key else None
    if kept is not None:
        return kept
    try:
        data = entries.read_file(job.path, job.root)
        showable = jpegs.browser_can_show(data) and not job.optional_space
        if showable and not made:
            return data
        with PRINTS.about(job.path):
            picture = decode.decode(data, job.kind, job.orientation, None, job.optional_space)
    except PictureError as error:
        return Failure(job.frame, str(error), str(job.path))
    except (OSError, MemoryError) as error:
        return Failure(
            job.frame, say("The file can’t be read: {error}.", error=error), str(job.path)
        )
    encoded = jpegs.encode_jpeg(picture.pixels, 93)
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


_MOST_DECODED_BYTES = 224 * 1024**2  # three of 24 megapixels
# The pictures that this worker decoded last, at full size: moving about in one needs no decoding.
# One that is larger than all of that is held alone.
decoded: LRUCache[str, Picture] = LRUCache(
    _MOST_DECODED_BYTES, lambda picture: min(picture.pixels.nbytes, _MOST_DECODED_BYTES)
)


@room.given_back
def part(job: Job, wanted: Part) -> bytes | Failure:
    """A part of a frame as a JPEG in sRGB; what lies outside the picture is left off."""
    picture = held(job)
    if isinstance(picture, Failure):
        return picture
    pixels = jpegs.cut(picture, wanted.left, wanted.top, wanted.width, wanted.height, wanted.scale)
    if pixels is None:
        return Failure(job.frame, say("This part lies outside the picture."), str(job.path))
    return jpegs.encode_jpeg(pixels, 93)


@room.given_back
def gray_part(job: Job, wanted: Part) -> NDArray[np.uint8] | Failure:
    """A part of a frame in grey, shape (h, w); what lies outside the picture is left off."""
    picture = held(job)
    if isinstance(picture, Failure):
        return picture
    pixels = jpegs.cut(picture, wanted.left, wanted.top, wanted.width, wanted.height, wanted.scale)
    if pixels is None:
        return Failure(job.frame, say("This part lies outside the picture."), str(job.path))
    return np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), np.uint8)


@room.given_back
def prepare(job: Job) -> None:
    """Decode a frame and hold it: somebody is about to look close."""
    held(job)


def held(job: Job) -> Picture | Failure:
    """The picture of a frame at full size, from what was decoded last."""
    try:
        picture = decoded.get(job.key)
        if picture is None:
            data = entries.read_file(job.path, job.root)
            with PRINTS.about(job.path):
                picture = decode.decode(data, job.kind, job.orientation, None, job.optional_space)
            decoded[job.key] = picture
    except PictureError as error:
        return Failure(job.frame, str(error), str(job.path))
    except (OSError, MemoryError) as error:
        return Failure(
            job.frame, say("The file can’t be read: {error}.", error=error), str(job.path)
        )
    return picture
