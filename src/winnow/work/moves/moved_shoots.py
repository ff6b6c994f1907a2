"""Shoots whose folder is elsewhere now: its disk has another name, or somebody moved it.

Found by content.
"""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from winnow.photos import copies, disks, scan
from winnow.say import say, say_of
from winnow.store import places, renamings, shoots
from winnow.store.db import Database
from winnow.store.places import KnownFrame
from winnow.store.shoots import Folder, Shoot

# Of so many frames the content is compared, evenly from all.
_SAMPLES: Final = 6
# Of so many it is looked whether they are where they were.
_LOOKED_FOR: Final = 20


class MovedError(Exception):
    """A place that can't be that of a shoot, with the reason in words."""


@dataclass(frozen=True, slots=True)
class MovedShoot:
    """A shoot that seems to be elsewhere now.

    ``folder``: of its source folders the one that is not where it was, ``was``: its path;
    ``place``: where it seems to be; ``found``: how many of its ``frames`` lie there.
    """

    shoot: int
    name: str
    folder: int
    was: str
    place: str
    found: int
    frames: int

    @property
    def sentence(self) -> str:
        """What is asked of the person who opens such a folder."""
        return say_of(
            self.found,
            "“{name}” seems to have moved: {n} of its {frames:,} frames lies here, and its folder "
            "“{was}” is not there.",
            "“{name}” seems to have moved: {n:,} of its {frames:,} frames lie here, and its "
            "folder “{was}” is not there.",
            name=self.name,
            frames=self.frames,
            was=self.was,
        )


def find(db: Database, folders: Sequence[str]) -> MovedShoot | None:
    """The shoot that a folder, about to be opened, seems to be: most of its frames lie there, and
    none where they were. None where there is no such shoot, or where several folders are opened at
    once."""
    if len(folders) != 1:
        return None
    place = Path(folders[0])
    gone = [
        (shoot, folder, known)
        for shoot in shoots.all_shoots(db)
        for folder in shoot.folders
        # A few are looked for first: as a rule they are there, and the others need not be read.
        if _is_gone(Path(folder.path), places.known_frames(db, folder.id, _LOOKED_FOR))
        and (known := places.known_frames(db, folder.id))
        and _is_gone(Path(folder.path), known)
    ]
    if not gone:
        return None
    here = _sizes(place)
    alike = [
        _moved(shoot, folder, place, count, len(known))
        for shoot, folder, known in gone
        if 2 * (count := _count(place, here, known)) >= len(known)
    ]
    return max(alike, key=lambda match: match.found, default=None)


def _moved(shoot: Shoot, folder: Folder, place: Path, there: int, frames: int) -> MovedShoot:
    return MovedShoot(shoot.id, shoot.name, folder.id, folder.path, str(place), there, frames)


def point(db: Database, shoot_id: int, folder_id: int, place: Path) -> int:
    """Use another place for a source folder of a shoot, with all marks; returns how many of its
    frames lie there.

    What moved along is known there, too: the holding folder, the shoot's other folders, and folders
    that were copied to on the same disk. Raises MovedError, scan.FolderError, OSError.
    """
    shoot = shoots.get(db, shoot_id)
    folder = (
        next((folder for folder in shoot.folders if folder.id == folder_id), None)
        if shoot
        else None
    )
    if shoot is None or folder is None:
        raise MovedError(say("There is no such folder in this shoot."))
    for other in shoots.all_shoots(db):
        if any(Path(folder.path) == place and folder.id != folder_id for folder in other.folders):
            raise MovedError(
                say(
                    "“{place}” is open as “{name}” already. Forget that shoot first, if it has no "
                    "marks that count.",
                    place=place,
                    name=other.name,
                )
            )
    known = places.known_frames(db, folder_id)
    counted = _count(place, _sizes(place), known)
    if known and not counted:
        raise MovedError(
            say(
                "None of the frames of “{name}” lies in “{place}”. Choose the folder that holds "
                "them.",
                name=shoot.name,
                place=place,
            )
        )
    if renamings.is_going_on(db, shoot_id):
        raise MovedError(say("Files of this shoot are being renamed. Wait for that."))
    _point(db, folder, place)
    was, now = _moved_part(Path(folder.path), place)
    for other_folder in shoot.folders:
        there = _elsewhere(Path(other_folder.path), was, now)
        if other_folder.id != folder_id and there and there.is_dir():
            others = places.known_frames(db, other_folder.id)
            if _is_gone(Path(other_folder.path), others) and _count(there, _sizes(there), others):
                _point(db, other_folder, there)
    return counted


def _point(db: Database, folder: Folder, place: Path) -> None:
    old = Path(folder.path)
    was, now = _moved_part(old, place)
    holding = scan.holding_folder(old), scan.holding_folder(place)
    along = [] if holding[0].is_dir() or not holding[1].is_dir() else [holding]
    targets = [
        (target, str(there), str(disks.mount_of(there)))
        for target in places.targets(db)
        if not os.path.lexists(target)
        and (there := _elsewhere(Path(target), was, now))
        and there.is_dir()
    ]
    places.point(db, folder.id, place, along, targets)


def _moved_part(old: Path, new: Path) -> tuple[Path, Path]:
    """What changed of two paths that end alike: the mount points of a disk, as a rule."""
    while old.name == new.name and old.name:
        old, new = old.parent, new.parent
    return old, new


def _elsewhere(path: Path, was: Path, now: Path) -> Path | None:
    """Where a path lies that moved along; None where it did not."""
    return now / path.relative_to(was) if path.is_relative_to(was) else None


def _is_gone(root: Path, known: Sequence[KnownFrame]) -> bool:
    """Whether none of a folder's frames is where it was."""
    return not any(os.path.lexists(root / frame.path) for frame in _spread(known, _LOOKED_FOR))


def _sizes(place: Path) -> dict[str, int]:
    """The sizes of the files below a folder, by relative path. Raises scan.FolderError."""
    return {file.path: file.size for file in scan.scan(place).files}


def _count(place: Path, here: dict[str, int], known: Sequence[KnownFrame]) -> int:
    """How many frames lie in a place by name and size; 0 where the content of one that was compared
    is another."""
    alike = [
        frame for frame in known if all(here.get(p) == size for p, size in frame.sizes.items())
    ]
    for frame in _spread([frame for frame in alike if frame.content_hash], _SAMPLES):
        if copies.file_hash(place / frame.path) != frame.content_hash:
            return 0
    return len(alike)


def _spread(known: Sequence[KnownFrame], most: int) -> list[KnownFrame]:
    return [known[at * len(known) // most] for at in range(most)] if len(known) > most else [*known]
