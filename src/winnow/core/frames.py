"""What a frame is made of: its files, and which of them belong to one exposure."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final


class Kind(StrEnum):
    """What a picture file is, by its ending (the content has the last word when it is read)."""

    JPEG = "JPEG"
    PNG = "PNG"
    TIFF = "TIFF"
    HEIC = "HEIC"
    RAW = "raw"


_ENDINGS: Final = {
    Kind.JPEG: "jpg jpeg jpe jfif",
    Kind.PNG: "png",
    Kind.TIFF: "tif tiff",
    Kind.HEIC: "heic heif hif",
    # The endings of camera raw files that libraw knows (its list of supported cameras).
    Kind.RAW: "3fr arw bay cr2 cr3 crw cs1 dc2 dcr dng drf erf fff gpr iiq k25 kdc mdc mef mos mrw "
    "nef nrw orf pef ptx pxn raf raw rw2 rwl rwz sr2 srf srw sti x3f",
}
KIND_BY_ENDING: Final = {
    ending: kind for kind, endings in _ENDINGS.items() for ending in endings.split()
}
SIDECAR_ENDING: Final = "xmp"


def split_name(name: str) -> tuple[str, str]:
    """Return a file name's stem and its ending in lower case, without the dot."""
    stem, dot, ending = name.rpartition(".")
    return (stem, ending.lower()) if dot and stem else (name, "")


def kind_of(name: str) -> Kind | None:
    """The kind of picture that a file's name promises; None for any other file."""
    return KIND_BY_ENDING.get(split_name(name)[1])


@dataclass(frozen=True, slots=True)
class FoundFile:
    """A file as the folder lists it. ``path`` is relative to the source folder, with "/"."""

    path: str
    size: int
    mtime_ns: int

    @property
    def folder(self) -> str:
        """The part before the name, "" at the top."""
        return self.path.rpartition("/")[0]

    @property
    def name(self) -> str:
        """The file's name alone."""
        return self.path.rpartition("/")[2]


@dataclass(frozen=True, slots=True)
class FoundFrame:
    """The files of one exposure. The first of ``files`` is the one that is shown."""

    files: tuple[FoundFile, ...]
    sidecars: tuple[FoundFile, ...] = ()

    @property
    def shown(self) -> FoundFile:
        """The file whose picture is shown."""
        return self.files[0]


def pair(files: Iterable[FoundFile]) -> list[FoundFrame]:
    """Join the files of a folder tree into frames.

    A raw file and one JPEG or HEIC file with the same stem in the same folder are one frame, shown
    by the latter, which needs no development. Every other picture is a frame of its own.
    A sidecar named ``name.ext.xmp`` goes to that file's frame; one named ``stem.xmp`` to the frame
    with the raw file, else to the first of that stem.
    Files that are neither pictures nor sidecars are passed over.
    """
    pictures: dict[tuple[str, str], list[FoundFile]] = defaultdict(list)
    sidecars: dict[tuple[str, str], list[FoundFile]] = defaultdict(list)
    for file in files:
        stem, ending = split_name(file.name)
        if ending == SIDECAR_ENDING:
            sidecars[file.folder, stem].append(file)
        elif ending in KIND_BY_ENDING:
            pictures[file.folder, stem].append(file)
    frames = []
    for (folder, stem), same_stem in pictures.items():
        same_stem.sort(key=lambda file: file.name)
        raws = [file for file in same_stem if kind_of(file.name) is Kind.RAW]
        ready = [file for file in same_stem if kind_of(file.name) in (Kind.JPEG, Kind.HEIC)]
        sets: list[tuple[FoundFile, ...]] = [(file,) for file in same_stem]
        if len(raws) == 1 and len(ready) == 1:
            sets = [(ready[0], raws[0])]
            sets += [(file,) for file in same_stem if file not in (ready[0], raws[0])]
        owner = next((one for one in sets if any(file in raws for file in one)), sets[0])
        for files_of_one in sets:
            own = [x for file in files_of_one for x in sidecars.get((folder, file.name), [])]
            common = sidecars.get((folder, stem), []) if files_of_one is owner else []
            frames.append(FoundFrame(tuple(files_of_one), (*own, *common)))
    return sorted(frames, key=lambda frame: natural_key(frame.shown.path))


def natural_key(name: str) -> list[tuple[int, int, str]]:
    """A sort key by which "frame 9" comes before "frame 10", whatever the case."""
    folded = unicodedata.normalize("NFC", name).casefold()
    return [
        (0, int(part), "") if part.isdecimal() else (1, 0, part)
        for part in re.split(r"(\d+)", folded)
        if part
    ]
