"""Stand-ins for a memory card and for a camera that keeps shooting, with the demo's pictures."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Final

from winnow.demo import evening, shoot

# Folders on a card as in DCF 2.0 (CIPA DC-009): a number from 100 and five letters.
_LETTERS: Final = {evening.FIRST.name: "QUILL", evening.SECOND.name: "TESSL"}
_FIRST_FOLDER: Final = 100


def fill_card(card: Path, made: Path) -> int:
    """Put the evening on a card as the cameras wrote it, below DCIM. Returns how many files.

    ``made``: the demo shoot's folder; a frame that is not there yet is made. A file that the card
    has already stays. A new folder begins when a camera's numbers start again.
    """
    count = 0
    for frame, folder in _on_card():
        target = card / "DCIM" / folder
        target.mkdir(parents=True, exist_ok=True)
        for name in _as_camera_wrote(frame, made):
            count += _copy(made / name, target / name.upper())
    return count


def keep_shooting(
    folder: Path, made: Path, every_s: float, wait: Callable[[float], None] = time.sleep
) -> Iterator[Path]:
    """A tethered camera: the evening's frames arrive in a folder, one every few seconds.

    Yields each file when it is whole. Goes on after the last frame that is there already.
    """
    folder.mkdir(parents=True, exist_ok=True)
    for frame in evening.frames():
        names = [name for name in _as_camera_wrote(frame, made) if not (folder / name).exists()]
        if not names:
            continue
        for name in names:
            _copy(made / name, folder / name)
            yield folder / name
        wait(every_s)


def _on_card() -> Iterator[tuple[evening.Frame, str]]:
    """Each frame with its folder: that of its camera, the next one after number 9999."""
    groups = evening.groups()
    number = dict.fromkeys(_LETTERS, _FIRST_FOLDER)
    for frame in evening.frames():
        camera = groups[frame.group].camera.name
        if frame.name.endswith("0001"):
            number[camera] += 1
        yield frame, f"{number[camera]}{_LETTERS[camera]}"


def _as_camera_wrote(frame: evening.Frame, made: Path) -> list[str]:
    """The names of a frame's files, without a copy made by hand; they are made if need be."""
    names = [name for name in shoot.files_of(frame) if "copy" not in name]
    if not all((made / name).exists() for name in names):
        made.mkdir(parents=True, exist_ok=True)
        shoot.make_frame(frame, made)
    return names


def _copy(source: Path, target: Path) -> int:
    if target.exists():
        return 0
    part = target.with_name(f".{target.name}")
    shutil.copy2(source, part)
    os.replace(part, target)
    return 1
