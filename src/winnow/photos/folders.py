"""Folders to choose from: what lies in one, where a person's pictures may be, and where one is that
was dropped by name."""

from __future__ import annotations

import os
import shutil
import time
from collections import deque
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.core.folders import typed_path
from winnow.core.frames import kind_of, natural_key
from winnow.photos import card, scan
from winnow.say import say

# Counting stops after so long: a listing is there at once, also of a slow disk.
_COUNT_S: Final = 0.4
_FIND_S: Final = 4.0
_DEEP: Final = 6
_MOST: Final = 2_000


@dataclass(frozen=True, slots=True)
class Inside:
    """A folder in another one. ``pictures``: how many lie in it directly, None where that was not
    counted; ``folders``: whether others are in it."""

    name: str
    path: str
    pictures: int | None
    folders: bool


@dataclass(frozen=True, slots=True)
class Within:
    """What lies in a folder. ``parent`` is None for the top; ``pictures``: those directly in it;
    ``more``: whether there are more folders than are listed."""

    path: str
    parent: str | None
    pictures: int
    folders: tuple[Inside, ...]
    more: bool


@dataclass(frozen=True, slots=True)
class Disk:
    """A disk that is connected, by its mount point. Sizes in bytes."""

    path: str
    name: str
    free: int
    size: int


def typed(text: str) -> Path:
    """The folder that a person means by what was typed, pasted or dropped; ``~`` is their own."""
    return Path(os.path.expanduser(typed_path(text)))


def nearest(text: str) -> Path:
    """The folder that was typed, or the nearest above it that is there; the person's own where no
    whole path was typed."""
    folder = typed(text)
    if not folder.is_absolute():
        return home()
    while not folder.is_dir() and folder != folder.parent:
        folder = folder.parent
    return folder


def home() -> Path:
    """The person's own folder."""
    return Path(os.path.expanduser("~"))


def pictures() -> Path:
    """Where the system keeps pictures (XDG user directories; ``~/Pictures`` where none is said)."""
    config = Path(os.environ.get("XDG_CONFIG_HOME") or home() / ".config")
    try:
        lines = (config / "user-dirs.dirs").read_text("utf-8", "replace").splitlines()
    except OSError:
        lines = []
    for line in lines:
        key, _, value = line.partition("=")
        if key.strip() == "XDG_PICTURES_DIR":
            return Path(value.strip().strip('"').replace("$HOME", str(home())))
    return home() / "Pictures"


def is_wide(folder: Path) -> bool:
    """Whether a folder holds far more than a shoot: the person's own folder or one above it, or the
    top of a disk that is no memory card."""
    if folder == home() or folder in home().parents:
        return True
    return os.path.ismount(folder) and not card.Card(folder).is_there()


def wide_words(folder: Path) -> str:
    """What is asked before a folder that holds far more than a shoot becomes one."""
    return say(
        "“{folder}” holds more than a shoot, as a rule: every picture in it and below it would be "
        "one. Choose the folder of the shoot in it.",
        folder=folder,
    )


def disks() -> list[Disk]:
    """The disks that are connected, but for the system's own, by mount point."""
    # What it needs here is not there on every system, and nothing else waits for it.
    import psutil

    found = []
    for part in psutil.disk_partitions(all=False):
        place = Path(part.mountpoint)
        # What the system itself starts from is no place for pictures; parts of others' boxes are
        # files, not folders.
        if place.parts[1:2] in ((), ("boot",), ("snap",), ("etc",), ("var",), ("usr",)):
            continue
        try:
            usage = shutil.disk_usage(place)
        except OSError:
            continue
        if place.is_dir():
            found.append(Disk(str(place), place.name, usage.free, usage.total))
    return sorted(found, key=lambda disk: natural_key(disk.path))


def within(folder: Path, clock: Callable[[], float] = time.monotonic) -> Within:
    """What lies in a folder: its folders in natural order with how many pictures each holds.

    Hidden ones are passed over, and what no text can hold. Raises scan.FolderError, OSError.
    """
    scan.check_folder(folder)
    names: list[str] = []
    own = 0
    with os.scandir(folder) as entries:
        for entry in entries:
            if _is_shown(entry):
                names.append(entry.name)
            elif kind_of(entry.name) and not entry.name.startswith("."):
                own += 1
    names.sort(key=natural_key)
    ends = clock() + _COUNT_S
    listed = []
    for name in names[:_MOST]:
        counted = _count(folder / name) if clock() < ends else None
        listed.append(
            Inside(name, str(folder / name), *(counted if counted is not None else (None, True)))
        )
    parent = None if folder == folder.parent else str(folder.parent)
    return Within(str(folder), parent, own, tuple(listed), len(names) > _MOST)


def _is_shown(entry: os.DirEntry[str]) -> bool:
    return not entry.name.startswith(".") and scan.is_folder(entry)


def _count(folder: Path) -> tuple[int, bool] | None:
    """How many pictures lie in a folder, and whether folders do; None where it can't be read."""
    found, folders = 0, False
    try:
        with os.scandir(folder) as entries:
            for entry in entries:
                if kind_of(entry.name) and not entry.name.startswith("."):
                    found += 1
                elif not folders:
                    folders = _is_shown(entry)
    except OSError:
        return None
    return found, folders


def find(
    name: str,
    files: Mapping[str, int],
    places: Iterable[Path],
    clock: Callable[[], float] = time.monotonic,
) -> list[str]:
    """Where a folder is of which only the name and some of its files are known, by name and size:
    all that a browser tells of one that is dropped.

    ``places``: where to look, the likely ones first; each is searched with what lies below it, from
    the top, for some seconds in all. An empty name stands for whichever folder holds the files.
    """
    ends = clock() + _FIND_S
    seen: set[tuple[int, int]] = set()
    alike: list[str] = []
    waiting = deque((place, 0) for place in places)
    while waiting and clock() < ends:
        folder, deep = waiting.popleft()
        try:
            here = folder.stat()
            if (here.st_dev, here.st_ino) in seen:
                continue
            seen.add((here.st_dev, here.st_ino))
            with os.scandir(folder) as entries:
                inside = [folder / entry.name for entry in entries if _is_shown(entry)]
        except OSError:
            continue
        if (not name or folder.name == name) and _holds(folder, files):
            alike.append(str(folder))
        if deep < _DEEP:
            waiting.extend((path, deep + 1) for path in inside)
    return alike


def _holds(folder: Path, files: Mapping[str, int]) -> bool:
    try:
        return all((folder / file).stat().st_size == size for file, size in files.items())
    except (OSError, ValueError):
        return False
