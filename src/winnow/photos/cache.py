"""The picture cache: thumbnails and previews as files, named by the content they were made from."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import Final, Literal

from blake3 import blake3

from winnow.photos import decode

PictureKind = Literal["early", "thumbnail", "preview"]
THUMBNAIL_PX: Final = 512
PREVIEW_PX: Final = 2048


def content_key(data: bytes) -> str:
    """Name a file's content together with the version of the code that decodes it."""
    return f"{blake3(data).hexdigest(16)}{decode.VERSION:x}"


class PictureCache:
    """A folder of pictures. Every picture in it can be made again from the originals."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def path(self, key: str, kind: PictureKind) -> Path:
        """Where a picture is, or would be."""
        return self.folder / key[:2] / f"{key}.{kind}.jpg"

    def read(self, key: str, kind: PictureKind) -> bytes | None:
        """A picture, or None when it isn't there."""
        try:
            return self.path(key, kind).read_bytes()
        except OSError:
            return None

    def write(self, key: str, kind: PictureKind, data: bytes) -> None:
        """Put a picture in, whole or not at all."""
        target = self.path(key, kind)
        target.parent.mkdir(exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=target.parent)
        try:
            with os.fdopen(handle, "wb") as out:
                out.write(data)
            os.replace(temporary, target)
        except BaseException:
            os.unlink(temporary)
            raise
