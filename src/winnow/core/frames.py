"""What a frame is made of: its files, and which of them belong to one exposure."""

from __future__ import annotations

import re
import unicodedata
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final


class Kind(StrEnum):
    """What a picture file is, by its ending (the content has the last word when it is read)."""

    JPEG = "JPEG"
    PNG = "PNG"
    TIFF = "TIFF"
    HEIC = "HEIC"
    AVIF = "AVIF"
    WEBP = "WebP"
    JXL = "JPEG XL"
    PSD = "PSD"
    ORA = "OpenRaster"
    RAW = "raw"


_ENDINGS: Final = {
    Kind.JPEG: "jpg jpeg jpe jfif mpo",
    Kind.PNG: "png",
    Kind.TIFF: "tif tiff",
    Kind.HEIC: "heic heif hif",
    Kind.AVIF: "avif",
    Kind.WEBP: "webp",
    Kind.JXL: "jxl",
    Kind.PSD: "psd psb",
    Kind.ORA: "ora",
    # The endings of camera raw files that libraw knows (its list of supported cameras).
    Kind.RAW: "3fr arw bay cr2 cr3 crw cs1 dc2 dcr dng drf erf fff gpr iiq k25 kdc mdc mef mos mrw "
    "nef nrw orf pef ptx pxn raf raw rw2 rwl rwz sr2 srf srw sti x3f",
}
KIND_BY_ENDING: Final = {
    ending: kind for kind, endings in _ENDINGS.items() for ending in endings.split()
}
SIDECAR_ENDING: Final = "xmp"
# Files of a frame's stem that are of any size: a short film, a spoken note.
_FILM_OR_SOUND: Final = frozenset((
    "3gp", "avi", "lrv", "m2ts", "m4v", "mkv", "mov", "mp4", "mpeg", "mpg", "mts", "webm",
    "aac", "aif", "aiff", "flac", "m4a", "mp3", "ogg", "opus", "wav",
))  # fmt: skip
# A document or another picture of the same stem stands for itself: nobody wants it thrown out with
# a frame.
_STANDS_ALONE: Final = frozenset((
    "7z", "ai", "bmp", "csv", "doc", "docx", "eps", "gif", "gz", "htm", "html", "odt", "pdf", "ps",
    "rar",
    "svg", "tar", "xls", "xlsx", "zip",
))  # fmt: skip
# What else has a frame's stem is small: settings, a thumbnail, a note. Bytes.
_COMPANION_MOST: Final = 4 << 20


def is_picture_film_or_sound(name: str) -> bool:
    """Whether a file's name promises what somebody recorded."""
    ending = split_name(name)[1]
    return ending in KIND_BY_ENDING or ending in _FILM_OR_SOUND


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
    companions: tuple[FoundFile, ...] = ()

    @property
    def shown(self) -> FoundFile:
        """The file whose picture is shown."""
        return self.files[0]


def pair(files: Iterable[FoundFile]) -> list[FoundFrame]:
    """Join the files of a folder tree into frames.

    A raw file and one JPEG or HEIC file with the same stem in the same folder are one frame, shown
    by the latter, which needs no development. Every other picture is a frame of its own. A sidecar
    named ``name.ext.xmp`` goes to that file's frame; one named ``stem.xmp`` to the frame with the
    raw file, else to the first of that stem. So do its companions: any file named ``name.ext.*``,
    and of those named ``stem.*`` films, sounds, and small files that are no documents.
    """
    pictures: dict[tuple[str, str], list[FoundFile]] = defaultdict(list)
    beside: list[FoundFile] = []
    for file in files:
        stem, ending = split_name(file.name)
        if ending in KIND_BY_ENDING:
            pictures[file.folder, stem].append(file)
        else:
            beside.append(file)
    sets: list[tuple[FoundFile, ...]] = []
    of_stem: dict[tuple[str, str], int] = {}
    for place, same_stem in pictures.items():
        joined, owner = _joined(same_stem)
        of_stem[place] = len(sets) + owner
        sets += joined
    sidecars, companions = _beside(sets, of_stem, beside)
    frames = [
        FoundFrame(own, tuple(sidecars[n]), tuple(companions[n])) for n, own in enumerate(sets)
    ]
    return sorted(frames, key=lambda frame: natural_key(frame.shown.path))


def _joined(same_stem: list[FoundFile]) -> tuple[list[tuple[FoundFile, ...]], int]:
    """The pictures of one stem as frames, and which of these has what is named by the stem
    alone."""
    same_stem.sort(key=lambda file: file.name)
    raws = [file for file in same_stem if kind_of(file.name) is Kind.RAW]
    ready = [file for file in same_stem if kind_of(file.name) in (Kind.JPEG, Kind.HEIC)]
    sets: list[tuple[FoundFile, ...]] = [(file,) for file in same_stem]
    if len(raws) == 1 and len(ready) == 1:
        sets = [(ready[0], raws[0])]
        sets += [(file,) for file in same_stem if file not in (ready[0], raws[0])]
    return sets, next((n for n, own in enumerate(sets) if any(f in raws for f in own)), 0)


def _beside(
    sets: Sequence[tuple[FoundFile, ...]],
    of_stem: dict[tuple[str, str], int],
    files: Sequence[FoundFile],
) -> tuple[dict[int, list[FoundFile]], dict[int, list[FoundFile]]]:
    """The sidecars and the companions of frames, by the frame's number.

    Those of no frame are left out.
    """
    of_name = {(file.folder, file.name): n for n, own in enumerate(sets) for file in own}
    pictures = set(of_name)
    sidecars: dict[int, list[FoundFile]] = defaultdict(list)
    companions: dict[int, list[FoundFile]] = defaultdict(list)
    # A film's own settings come after the film, whose name they begin with.
    for file in sorted(files, key=lambda file: (len(file.name), file.name)):
        base = (file.folder, file.name.rpartition(".")[0])
        ending = split_name(file.name)[1]
        is_sidecar = ending == SIDECAR_ENDING and (base in pictures or base in of_stem)
        owner = of_name.get(base)
        if owner is None and (is_sidecar or _may_be_companion(file, ending)):
            owner = of_stem.get(base)
        if owner is None:
            continue
        of_name[file.folder, file.name] = owner
        (sidecars if is_sidecar else companions)[owner].append(file)
    for n, own in sidecars.items():
        # Those named after the shown file first, those named after the stem last.
        bases = [file.name for file in sets[n]]
        own.sort(key=lambda f: bases.index(b) if (b := f.name.rpartition(".")[0]) in bases else 9)
    return sidecars, companions


def _may_be_companion(file: FoundFile, ending: str) -> bool:
    if ending in _FILM_OR_SOUND:
        return True
    return bool(ending) and ending not in _STANDS_ALONE and file.size <= _COMPANION_MOST


@dataclass(frozen=True, slots=True)
class NoPictures:
    """How many files are no pictures, by ending ("" for none): companions of frames, and those of
    no frame."""

    companions: dict[str, int] = field(default_factory=dict)
    others: dict[str, int] = field(default_factory=dict)


def no_pictures(files: Iterable[FoundFile], frames: Sequence[FoundFrame]) -> NoPictures:
    """Count the files that are no pictures; the commonest ending first."""
    used = {f.path for frame in frames for f in (*frame.files, *frame.sidecars, *frame.companions)}
    companions = Counter(split_name(f.name)[1] for frame in frames for f in frame.companions)
    others = Counter(split_name(f.name)[1] for f in files if f.path not in used)
    return NoPictures(dict(companions.most_common()), dict(others.most_common()))


def natural_key(name: str) -> list[tuple[int, int, str]]:
    """A sort key by which "frame 9" comes before "frame 10", whatever the case."""
    folded = unicodedata.normalize("NFC", name).casefold()
    return [
        (0, int(part), "") if part.isdecimal() else (1, 0, part)
        for part in re.split(r"(\d+)", folded)
        if part
    ]
