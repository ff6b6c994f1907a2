"""Stand-ins for a memory card and for a camera that keeps shooting, with the demo's pictures."""

from __future__ import annotations

import errno
import json
import os
import shutil
import time
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import BinaryIO, ClassVar, Final, cast

from winnow.demo import evening, shoot
from winnow.photos.card import Card

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
            count += _link(made / name, target / name.upper())
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
            _link(made / name, folder / name)
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


def _link(source: Path, target: Path) -> int:
    if target.exists():
        return 0
    part = target.with_name(f".{target.name}")
    try:
        os.link(source, part)
    except OSError:
        # Another disk, or one without hard links.
        shutil.copy2(source, part)
    os.replace(part, target)
    return 1


@dataclass(frozen=True, slots=True)
class Faults:
    """How a simulated card misbehaves.

    ``mb_per_s``: how fast it is read, 0 for as fast as can be; ``fails``: names of files that can't
    be read to their end; ``ends_after_mb``: after so much it is as if it were pulled out, until its
    faults are set anew; 0 for never.
    """

    mb_per_s: float = 0
    fails: tuple[str, ...] = ()
    ends_after_mb: float = 0


_FAULTS_FILE: Final = "faults.json"


def set_faults(card: Path, faults: Faults) -> None:
    """Give a simulated card faults, or none. What it does so far is forgotten."""
    (card / f".{_FAULTS_FILE}").write_text(json.dumps(asdict(faults)), "utf-8")


class SimulatedCard(Card):
    """A folder that is read like a card with faults; see ``Faults``."""

    # Bytes read of each card since its faults were set: {folder: (time they were set, bytes)}.
    _read: ClassVar[dict[Path, tuple[int, int]]] = {}

    def _faults(self) -> Faults:
        path = self.root / f".{_FAULTS_FILE}"
        try:
            set_at = path.stat().st_mtime_ns
            known = json.loads(path.read_text("utf-8"))
        except (OSError, ValueError):
            return Faults()
        if self._read.get(self.root, (0, 0))[0] != set_at:
            self._read[self.root] = (set_at, 0)
        return Faults(known["mb_per_s"], tuple(known["fails"]), known["ends_after_mb"])

    def is_there(self) -> bool:
        """Whether the card is still in."""
        return super().is_there() and not self._has_ended(self._faults())

    def _has_ended(self, faults: Faults) -> bool:
        read = self._read.get(self.root, (0, 0))[1]
        return bool(faults.ends_after_mb) and read >= faults.ends_after_mb * 1e6

    def open(self, path: str) -> BinaryIO:
        """Open one of its files, as slowly and as badly as it was told to."""
        faults = self._faults()
        if self._has_ended(faults):
            raise OSError(errno.ENODEV, "No such device")
        opened = super().open(path)
        return cast(BinaryIO, _FaultyFile(self, opened, faults, path.rpartition("/")[2]))

    def note_read(self, faults: Faults, count: int) -> None:
        """Count what was read, as slowly as the card is. Raises OSError when that was its end."""
        if faults.mb_per_s:
            time.sleep(count / (faults.mb_per_s * 1e6))
        set_at, before = self._read.get(self.root, (0, 0))
        self._read[self.root] = (set_at, before + count)
        if self._has_ended(faults):
            raise OSError(errno.ENODEV, "No such device")


class _FaultyFile:
    """An open file of a simulated card."""

    def __init__(self, card: SimulatedCard, opened: BinaryIO, faults: Faults, name: str) -> None:
        self._card = card
        self._opened = opened
        self._faults = faults
        self._fails = name in faults.fails

    def __enter__(self) -> _FaultyFile:
        return self

    def __exit__(self, *_: object) -> None:
        self._opened.close()

    def seek(self, at: int) -> int:
        return self._opened.seek(at)

    def read(self, most: int = -1) -> bytes:
        data = self._opened.read(most)
        self._card.note_read(self._faults, len(data))
        # Samples can be read; the whole file can't.
        if self._fails and most > 1_000_000:
            raise OSError(errno.EIO, "Input/output error")
        return data
