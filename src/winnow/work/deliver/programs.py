"""Handing frames to another program: a command line of the person's own, started with the files."""

from __future__ import annotations

import contextlib
import logging
import os
import shutil
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Final

from winnow.core.deliver import command_lines, naming
from winnow.core.deliver.command_lines import CommandError
from winnow.core.deliver.naming import Which
from winnow.say import say
from winnow.store import frame_files
from winnow.store.db import Database
from winnow.work.events import Events

log = logging.getLogger(__name__)
_KEPT: Final = 20  # runs of a shoot that are remembered
_ROOM: Final = 0.75  # of what the system takes as arguments


class HandOverError(Exception):
    """A program that can't be started, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class Run:
    """A program that was started.

    ``state``: running, ended, failed; ``notice``: what it said last when it failed.
    """

    id: int
    program: str
    files: int
    started_at: float
    state: str = "running"
    notice: str = ""


def files_for(db: Database, frame_ids: Sequence[int], which: Which) -> tuple[list[Path], list[str]]:
    """The files of frames that are handed over, and the names of frames that can't be found."""
    files: list[Path] = []
    missing = []
    for frame in frame_files.files_of(db, frame_ids):
        wanted = [frame.all[n] for n in naming.chosen([path.name for path in frame.all], which)]
        if all(path.is_file() for path in wanted):
            files += wanted
        else:
            missing.append(frame.name)
    return files, missing


def _longest_command() -> int:
    """How many bytes a command line may have."""
    return os.sysconf("SC_ARG_MAX") if hasattr(os, "sysconf") else 32_000


def command_for(command: str, files: Sequence[Path]) -> list[str]:
    """The words to start, with the program's whole path. Raises HandOverError."""
    try:
        words = command_lines.with_files(command, [str(path) for path in files])
    except CommandError as error:
        raise HandOverError(str(error)) from None
    name = os.path.expanduser(words[0])
    # Winnow's own commands are beside the Python it runs on.
    program = shutil.which(name) or shutil.which(name, path=str(Path(sys.executable).parent))
    if program is None:
        raise HandOverError(
            say(
                "There is no program “{program}” that could be started. Give its whole path.",
                program=words[0],
            )
        )
    size = sum(len(os.fsencode(word)) + 9 for word in words)
    size += sum(len(os.fsencode(name + value)) + 10 for name, value in os.environ.items())
    if size > _ROOM * _longest_command():
        raise HandOverError(
            say(
                "{number:,} files are more than a command takes at once. Hand over fewer of them.",
                number=len(files),
            )
        )
    return [program, *words[1:]]


class HandOvers:
    """Starts programs, and watches how they end. They outlive Winnow."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._runs: dict[int, list[Run]] = {}
        self._lock = threading.Lock()
        self._number = 0

    def start(
        self, shoot_id: int, name: str, command: str, frame_ids: Sequence[int], which: Which
    ) -> Run:
        """Start a program with the files of frames. Raises HandOverError."""
        files, missing = files_for(self._db, frame_ids, which)
        if missing:
            raise HandOverError(
                say("{name} can’t be found on disk. Nothing was started.", name=missing[0])
            )
        if not files:
            raise HandOverError(say("There are no frames to hand over."))
        words = command_for(command, files)
        said = tempfile.TemporaryFile()  # noqa: SIM115 (the thread that watches closes it)
        try:
            process = subprocess.Popen(
                words,
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                stderr=said,
                cwd=Path.home(),
                start_new_session=True,
            )
        except OSError as error:
            said.close()
            raise HandOverError(
                say(
                    "“{program}” can’t be started: {why}.",
                    program=words[0],
                    why=error.strerror,
                )
            ) from None
        with self._lock:
            self._number += 1
            run = Run(self._number, name, len(files), time.time())
            self._runs[shoot_id] = [run, *self._runs.get(shoot_id, [])][:_KEPT]
        threading.Thread(
            target=self._watch, args=(shoot_id, run, process, said), daemon=True, name="hand-over"
        ).start()
        return run

    def runs(self, shoot_id: int) -> list[Run]:
        """The programs that were started for a shoot, the last one first."""
        return self._runs.get(shoot_id, [])

    def _watch(
        self,
        shoot_id: int,
        run: Run,
        process: subprocess.Popen[bytes],
        said: tempfile._TemporaryFileWrapper[bytes],
    ) -> None:
        status = process.wait()
        last = ""
        with said, contextlib.suppress(OSError):
            said.seek(max(0, said.seek(0, os.SEEK_END) - 2000))
            lines = said.read().decode("utf-8", "replace").strip().splitlines()
            last = lines[-1].strip()[:300] if lines else ""
        ended = replace(
            run,
            state="failed" if status else "ended",
            notice=(last or say("It ended with status {status}.", status=status)) if status else "",
        )
        with self._lock:
            self._runs[shoot_id] = [
                ended if earlier.id == run.id else earlier
                for earlier in self._runs.get(shoot_id, [])
            ]
        self._events.tell(shoot_id, "programs")
