"""What is in a source folder: every file that is not hidden."""

from __future__ import annotations

import contextlib
import os
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from winnow.core.frames import FoundFile
from winnow.say import say


class FolderError(Exception):
    """A folder that can't be read, with the reason and what to do next in words."""


@dataclass(slots=True)
class Listing:
    """A look at a folder tree. ``unreadable``: paths that could not be looked at."""

    files: list[FoundFile] = field(default_factory=list)
    unreadable: list[str] = field(default_factory=list)


def check_folder(folder: Path) -> None:
    """Raise FolderError when this is not a folder that can be read."""
    if not folder.exists():
        raise FolderError(
            say(
                "There is no folder “{folder}”. Check the spelling, or connect its disk.",
                folder=folder,
            )
        )
    if not folder.is_dir():
        raise FolderError(
            say("“{folder}” is a file, not a folder. Choose the folder it is in.", folder=folder)
        )
    if not os.access(folder, os.R_OK | os.X_OK):
        raise FolderError(
            say(
                "You have no permission to read “{folder}”. Change its permissions, or choose "
                "another.",
                folder=folder,
            )
        )


def holding_folder(root: Path) -> Path:
    """Where the frames of a source folder are held that are set aside: beside it; within it where
    it is the top folder of a disk, since what is beside that lies on another one."""
    within = False
    with contextlib.suppress(OSError):
        within = _device(root) != _device(root.parent)
    return (root if within else root.parent) / f"{root.name} set aside"


def _device(path: Path) -> int:
    return path.stat().st_dev


def scan(folder: Path, stopped: Callable[[], bool] = lambda: False) -> Listing:
    """List a folder and everything below it. Links to other folders are not followed.

    Hidden files and folders (with a leading dot) are passed over, and what is set aside. Raises
    FolderError.
    """
    check_folder(folder)
    listing = Listing()
    holding = holding_folder(folder)
    waiting = [""]
    while waiting and not stopped():
        below = waiting.pop()
        try:
            entries = list(os.scandir(folder / below))
        except OSError:
            listing.unreadable.append(below)
            continue
        for entry in entries:
            if entry.name.startswith("."):
                continue
            path = f"{below}/{entry.name}" if below else entry.name
            try:
                if entry.is_dir(follow_symlinks=False):  # guard: links to folders elsewhere
                    if folder / path != holding:
                        waiting.append(path)
                elif entry.is_file(follow_symlinks=False):  # guard: links to files elsewhere
                    look = entry.stat(follow_symlinks=False)
                    listing.files.append(FoundFile(path, look.st_size, look.st_mtime_ns))
            except OSError:
                listing.unreadable.append(path)
    return listing


def completions(typed: str, most: int = 30) -> list[str]:
    """Folders that a typed path may mean: those that begin with it, in natural order."""
    expanded = os.path.expanduser(typed)
    if not os.path.isabs(expanded):
        return []
    parent, beginning = os.path.split(expanded)
    try:
        with os.scandir(parent) as entries:
            names = [
                entry.name
                for entry in entries
                if entry.name.casefold().startswith(beginning.casefold())
                and (beginning.startswith(".") or not entry.name.startswith("."))
                and is_folder(entry)
            ]
    except OSError:
        return []
    return [os.path.join(parent, name) for name in sorted(names, key=str.casefold)[:most]]


def is_folder(entry: os.DirEntry[str]) -> bool:
    """Whether this is a folder that text can name."""
    try:
        entry.name.encode()
        return entry.is_dir()
    except (OSError, UnicodeEncodeError):
        return False
