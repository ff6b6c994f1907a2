"""Memory cards as cameras write them (DCF 2.0, CIPA DC-009): pictures in folders below DCIM.

A card is only ever read.
"""

from __future__ import annotations

import errno
import os
import time
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import BinaryIO, Final

from blake3 import blake3

from winnow.core.deliver.card_import import CardFile
from winnow.core.frames import (
    KIND_BY_ENDING,
    Kind,
    is_picture_film_or_sound,
    kind_of,
    natural_key,
    split_name,
)
from winnow.photos import jpegs
from winnow.photos.copies import forget_read
from winnow.photos.metadata import read_facts

_SAMPLE: Final = 64 * 1024
_HEAD: Final = 128 * 1024
_SMALL_PX: Final = 240
# Where systems show cards: the folder itself, or one below it for each user.
_MOUNTS: Final = ("/media", "/run/media", "/mnt", "/Volumes")


@dataclass(frozen=True, slots=True)
class Listed:
    """A file on a card before it is looked into. ``path`` is relative to the card, with "/"."""

    path: str
    size: int
    mtime_ns: int


class Card:
    """A folder that looks like a memory card. Subclasses may read it in other ways."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def is_there(self) -> bool:
        """Whether the card can (still) be read."""
        return self._dcim() is not None

    def _dcim(self) -> str | None:
        try:
            names = os.listdir(self.root)
        except OSError:
            return None
        return next((n for n in names if n.upper() == "DCIM" and (self.root / n).is_dir()), None)

    def files(self) -> tuple[list[Listed], int]:
        """The files below DCIM, and pictures, films and sounds wherever they lie, in natural order;
        and how many others there are. Raises OSError."""
        inside: list[Listed] = []
        outside = 0
        top = self._dcim()
        waiting = [""]
        while waiting:
            below = waiting.pop()
            for entry in os.scandir(self.root / below):
                if entry.name.startswith("."):
                    continue
                path = f"{below}/{entry.name}" if below else entry.name
                if entry.is_dir(follow_symlinks=False):
                    waiting.append(path)
                elif entry.is_file(follow_symlinks=False):
                    if path.split("/", 1)[0] == top or is_picture_film_or_sound(entry.name):
                        stat = entry.stat(follow_symlinks=False)
                        inside.append(Listed(path, stat.st_size, stat.st_mtime_ns))
                    else:
                        outside += 1
        return sorted(inside, key=lambda file: natural_key(file.path)), outside

    def open(self, path: str) -> BinaryIO:
        """Open a file for reading. Raises OSError."""
        return (self.root / path).open("rb")

    def forget(self, path: str) -> None:
        """Let the next reading of a file come from the card, not from this computer's memory of
        it."""
        forget_read(self.root / path)

    def look_into(self, file: Listed) -> CardFile:
        """Read when a file was taken and by which camera, and name its content. Raises OSError."""
        digest = blake3(file.size.to_bytes(8, "little"))
        with self.open(file.path) as opened:

            def part(at: int, most: int) -> bytes:
                opened.seek(at)
                data = opened.read(most)
                if len(data) < min(most, file.size - at):
                    raise OSError(errno.EIO, os.strerror(errno.EIO), file.path)
                digest.update(data)
                return data

            head = part(0, _HEAD)
            for at in (file.size // 2, file.size - _SAMPLE):
                part(max(0, at), _SAMPLE)
        read = replace(self.unread(file), fingerprint=digest.hexdigest(16))
        if split_name(file.path)[1] not in KIND_BY_ENDING:
            return read
        facts = read_facts(head)
        taken_at = read.taken_at if facts.taken_at is None else facts.taken_at
        return replace(read, taken_at=taken_at, camera=facts.camera or "")

    def thumbnail(self, path: str) -> bytes | None:
        """The camera's own small picture of a file, upright, as JPEG; None without one. Raises
        OSError."""
        with self.open(path) as opened:
            head = opened.read(_HEAD)
        facts = read_facts(head, with_thumbnail=True)
        if not facts.thumbnail or not facts.width or not facts.height:
            return None
        ratio = facts.width / facts.height
        return jpegs.upright_thumbnail(facts.thumbnail, facts.orientation, ratio)

    def small_picture(self, path: str) -> bytes | None:
        """The same, or a JPEG that is made small; None for what shows no picture without more
        work. Raises OSError."""
        small = self.thumbnail(path)
        if small is not None or kind_of(path) is not Kind.JPEG:
            return small
        with self.open(path) as opened:
            data = opened.read()
        return jpegs.shrunk(data, read_facts(data).orientation, _SMALL_PX)

    def unread(self, file: Listed) -> CardFile:
        """What is known of a file that can't be read now."""
        # Cards have no time zone: what stands there is the camera's own clock.
        changed = _as_local(file.mtime_ns / 1e9)
        return CardFile(file.path, file.size, file.mtime_ns, changed, camera="", fingerprint="")


def _as_local(seconds: float) -> float:
    return seconds + time.localtime(seconds).tm_gmtoff


def find(more: Iterable[Path] = ()) -> list[Path]:
    """Folders that look like a mounted card: they have a DCIM folder. ``more``: further places."""
    roots: list[Path] = []
    for place in (*more, *map(Path, _MOUNTS)):
        for folder in _folders_in(place):
            candidates = [folder] if Card(folder).is_there() else _folders_in(folder)
            roots += [folder for folder in candidates if Card(folder).is_there()]
    return list(dict.fromkeys(roots))


def _folders_in(place: Path) -> list[Path]:
    try:
        return sorted(path for path in place.iterdir() if path.is_dir())
    except OSError:
        return []
