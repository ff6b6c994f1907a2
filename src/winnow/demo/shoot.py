"""Makes the files of the demo shoot at first start, while Winnow is already open."""

from __future__ import annotations

import multiprocessing
import os
import shutil
import signal
from collections.abc import Container
from dataclasses import replace
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Final

from winnow.demo import evening
from winnow.photos import memory

# Another number makes the files anew at the next start.
_EDITION: Final = "6"
_MAKERS: Final = 2
# The files of the first groups come ready-made, so that there is something to see at once.
OPENING: Final = Path(__file__).parent / "opening"
_OPENING_GROUPS: Final = 2
# Copied by hand, and hurt on its way from the card.
COPIED: Final = "QH2_9997"
DAMAGED: Final = "QH2_0107"


def make_behind(folder: Path, groups: Container[int] | None = None) -> list[BaseProcess]:
    """Make what is missing of the demo shoot, or of some of its groups, in a folder, in processes
    of their own.

    The frames appear one by one, whole: that is how a shoot looks that is still being copied.
    Returns the processes.
    """
    stamp = folder / ".edition"
    if stamp.exists() and stamp.read_text() != _EDITION:
        shutil.rmtree(folder)
    folder.mkdir(parents=True, exist_ok=True)
    stamp.write_text(_EDITION)
    missing = [
        portrait for portrait in _missing(folder) if groups is None or portrait.group in groups
    ]
    for frame in list(missing):
        if (OPENING / f"{frame.name}.jpg").exists():
            make_frame(frame, folder)
            missing.remove(frame)
    spawn = multiprocessing.get_context("spawn")
    makers: list[BaseProcess] = []
    for share in _shares(missing):
        maker = spawn.Process(target=_make, args=(share, folder), daemon=True)
        maker.start()
        makers.append(maker)
    return makers


def files_of(frame: evening.Frame) -> list[str]:
    """The names of the files a frame has."""
    names = [f"{frame.name}.jpg"]
    if evening.groups()[frame.group].takes[frame.number].raw:
        names.append(f"{frame.name}.dng")
    if frame.name == COPIED:
        names.append(f"{frame.name} (copy).jpg")
    return names


def _missing(folder: Path) -> list[evening.Frame]:
    present = set(os.listdir(folder))
    return [frame for frame in evening.frames() if not present.issuperset(files_of(frame))]


def _shares(frames: list[evening.Frame]) -> list[list[evening.Frame]]:
    """Shares of about the same work. Frames of one scene stay together, as it is read once."""
    groups = evening.groups()
    by_scene: dict[str, list[evening.Frame]] = {}
    for frame in frames:
        by_scene.setdefault(groups[frame.group].scene, []).append(frame)
    shares: list[list[evening.Frame]] = [[] for _ in range(_MAKERS)]
    work = [0.0] * _MAKERS
    for run in by_scene.values():
        least = work.index(min(work))
        shares[least].extend(run)
        work[least] += _work(groups, run)
    return [share for share in shares if share]


def _work(groups: list[evening.Group], run: list[evening.Frame]) -> float:
    """How long frames of one scene take, as a number of frames: each focus costs more than most."""
    takes = [(groups[f.group], groups[f.group].takes[f.number]) for f in run]
    people = sum(len(group.people) for group, _ in takes)
    focuses = {(take.focus_m, group.aperture, bool(group.people)) for group, take in takes}
    return 6 + len(takes) + 0.5 * people + sum(2 if crowd else 5 for *_, crowd in focuses)


def _make(share: list[evening.Frame], folder: Path) -> None:
    # Ctrl+C is for the parent, which ends its daemons; and developing must not slow the pictures
    # that somebody looks at meanwhile, whose workers have a nice value of 5.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(12)
    memory.keep(large=True)
    import cv2

    cv2.setNumThreads(1)
    for frame in share:
        make_frame(frame, folder)


def make_frame(frame: evening.Frame, folder: Path) -> None:
    """Write the files of one frame, each whole or not at all; the same bytes every time."""
    for name, data in _data_of(frame).items():
        part = folder / f".{name}"
        part.write_bytes(data)
        # As the camera wrote it; its clock is local, the disk's is not.
        written = frame.taken_at - 60 * evening.UTC_OFFSET_MIN
        os.utime(part, (written, written))
        part.rename(folder / name)


def _data_of(frame: evening.Frame) -> dict[str, bytes]:
    """What is in each file of a frame."""
    ready = OPENING / f"{frame.name}.jpg"
    if ready.exists():
        return {ready.name: ready.read_bytes()}
    from winnow.demo import develop, raw
    from winnow.photos.exif_writer import with_facts

    group = evening.groups()[frame.group]
    jpeg, picture = develop.develop(group, frame, frame.group * 100 + frame.number)
    if frame.name == DAMAGED:
        jpeg = jpeg[: len(jpeg) * 2 // 5]
    data = dict.fromkeys(files_of(frame), jpeg)
    if f"{frame.name}.dng" in data:
        facts = replace(develop.facts(group, frame), camera=None, orientation=1)
        data[f"{frame.name}.dng"] = with_facts(raw.dng(picture, jpeg, group.camera.name), facts)
    return data


def make_opening() -> None:
    """Develop the files of the first groups anew, after a change of what developing gives."""
    shutil.rmtree(OPENING, ignore_errors=True)
    frames = [frame for frame in evening.frames() if frame.group < _OPENING_GROUPS]
    made = {name: data for frame in frames for name, data in _data_of(frame).items()}
    OPENING.mkdir()
    for name, data in made.items():
        (OPENING / name).write_bytes(data)


if __name__ == "__main__":
    make_opening()
