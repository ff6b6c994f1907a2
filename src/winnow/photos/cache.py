"""The picture cache: thumbnails and previews as files, named by the content they were made from."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path
from typing import Final, Literal, get_args

# "close" is full size, only of files that a browser can't show as they are.
PictureKind = Literal["early", "thumbnail", "preview", "close"]

_SMALL: Final = (".early", ".thumbnail")


class NoRoomError(Exception):
    """The cache can't be written to: its disk is full, or read-only. No picture is at fault."""


class PictureCache:
    """A folder of pictures. Every picture in it can be made again from the originals."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        # Where it can't be made, every write says so.
        with contextlib.suppress(OSError):
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)

    def path(self, key: str, kind: PictureKind) -> Path:
        """Where a picture is, or would be."""
        return self.folder / key[:2] / f"{key}.{kind}.jpg"

    def read(self, key: str, kind: PictureKind) -> bytes | None:
        """A picture, or None when it isn't there. It counts as used now."""
        path = self.path(key, kind)
        try:
            data = path.read_bytes()
            os.utime(path)
        except OSError:
            return None
        return data

    def write(self, key: str, kind: PictureKind, data: bytes) -> None:
        """Put a picture in, whole or not at all. Raises NoRoomError."""
        target = self.path(key, kind)
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            handle, temporary = tempfile.mkstemp(dir=target.parent)
            try:
                with os.fdopen(handle, "wb") as out:
                    out.write(data)
                os.replace(temporary, target)
            except BaseException:
                os.unlink(temporary)
                raise
        except OSError as error:
            raise NoRoomError(error.strerror or str(error)) from None

    def rename(self, key: str, new: str) -> None:
        """The pictures of one content are those of another, too, under its key alone."""
        for kind in get_args(PictureKind):
            old = self.path(key, kind)
            if old.exists():
                target = self.path(new, kind)
                target.parent.mkdir(parents=True, exist_ok=True)
                os.replace(old, target)

    def size(self) -> int:
        """How many bytes all pictures take together."""
        return sum(size for _, size, _ in self._all())

    def trim(self, most: int) -> int:
        """Remove the pictures that were not used for longest until ``most`` bytes are left.

        Goes on to nine tenths of that, so that not every new picture needs it. Thumbnails are small
        and asked for together: they go last. Returns how many bytes were removed.
        """
        files = self._all()
        total = sum(size for _, size, _ in files)
        if total <= most:
            return 0
        removed = 0
        for _, size, path in sorted(
            files, key=lambda kept: (kept[2].suffixes[0] in _SMALL, kept[0])
        ):
            if total - removed <= most * 0.9:
                break
            path.unlink(missing_ok=True)
            removed += size
        return removed

    def _all(self) -> list[tuple[float, int, Path]]:
        """Every picture: when it was last used, its size, and where it is."""
        files = []
        for folder in _entries(self.folder):
            for entry in _entries(Path(folder.path)) if folder.is_dir() else ():
                with contextlib.suppress(FileNotFoundError):
                    stat = entry.stat()
                    files.append((stat.st_mtime, stat.st_size, Path(entry.path)))
        return files


def _entries(folder: Path) -> list[os.DirEntry[str]]:
    """What is in a folder: nothing, where somebody removed it."""
    try:
        return list(os.scandir(folder))
    except OSError:
        return []
