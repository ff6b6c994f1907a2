"""Marks in sidecars: read on opening, written on command, merged against the last agreement."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from winnow.core import sync
from winnow.core.frames import split_name
from winnow.core.marks import Change, Mark, Step, counted
from winnow.core.sync import FileMark, Outcome
from winnow.photos import metadata, originals
from winnow.photos.metadata import SidecarError
from winnow.store import frames, labels, marks, on_disk
from winnow.store.db import Database
from winnow.store.on_disk import FrameFiles

Conflicts = Literal["leave", "ours", "file"]


@dataclass(frozen=True, slots=True)
class Planned:
    """What writing would do to one frame's sidecar.

    ``outcome``: "new", "change", "same", "take" (the file's is newer), "conflict" or "unreadable".
    """

    frame: int
    name: str
    sidecar: Path
    outcome: str
    here: Mark
    in_file: Mark | None = None
    notice: str = ""


@dataclass(frozen=True, slots=True)
class Written:
    """What writing did: numbers of sidecars, and for those left alone, why."""

    written: int
    same: int
    taken: int
    problems: tuple[Planned, ...]


def read_changed(db: Database, shoot_id: int) -> tuple[Change | None, list[str]]:
    """Take over what sidecars say that changed since they were last read.

    Returns the change made, and notices of those that can't be read or that conflict.
    """
    files = on_disk.files_of(db, on_disk.with_unread_sidecars(db, shoot_id))
    if not files:
        return None, []
    notices = []
    letters = _letters(db)
    agreed = marks.agreed_marks(db, shoot_id)
    stated: dict[int, FileMark] = {}
    for frame in files:
        try:
            stated[frame.id] = metadata.read_mark(frame.sidecars[0].read_bytes())
        except SidecarError as error:
            notices.append(f"The sidecar {frame.sidecars[0].name} is left alone: {error}.")
        except OSError as error:
            notices.append(originals.reason(error, frame.sidecars[0].name))
    settled: list[tuple[int, Mark]] = []
    conflicting: list[str] = []

    def plan() -> Change | None:
        here = marks.marks_of(db, shoot_id, stated)
        names = {frame.id: frame.sidecars[0].name for frame in files}
        steps = []
        for frame_id, mark in here.items():
            in_file = sync.from_file(stated[frame_id], mark, letters)
            merged = sync.merge(agreed.get(frame_id), mark, in_file)
            if merged.outcome is Outcome.CONFLICT:
                conflicting.append(names[frame_id])
                continue
            settled.append((frame_id, in_file))
            if merged.mark != mark:
                steps.append(Step(frame_id, mark, merged.mark))
        if not steps:
            return None
        sidecars = counted(len(steps), "sidecar")
        return Change(f"marks taken from {sidecars}", tuple(steps))

    change = marks.apply(db, shoot_id, plan)
    marks.keep_agreed(db, settled)
    on_disk.note_sidecars_read(db, [frame.id for frame in files])
    if conflicting:
        notices.append(
            f"{counted(len(conflicting), 'sidecar')} and Winnow say different things, "
            f"for example {conflicting[0]}. Wrap up shows them and lets you choose."
        )
    return change, notices


def _letters(db: Database) -> dict[str, str]:
    return {label.written_as.casefold(): label.letter for label in labels.labels(db)}


def targets(files: Iterable[FrameFiles]) -> dict[int, Path]:
    """Where each frame's sidecar is, or would be.

    A new one is ``stem.xmp`` beside the picture; ``name.ext.xmp`` where two frames share a stem.
    """
    listed = list(files)
    stems = Counter((f.shown.parent, split_name(f.shown.name)[0]) for f in listed)
    result = {}
    for frame in listed:
        stem = split_name(frame.shown.name)[0]
        alone = stems[frame.shown.parent, stem] == 1
        new = f"{stem}.xmp" if alone else f"{frame.shown.name}.xmp"
        result[frame.id] = frame.sidecars[0] if frame.sidecars else frame.shown.parent / new
    return result


def plan(db: Database, shoot_id: int) -> list[Planned]:
    """What writing every mark of a shoot would do. Frames with nothing to say are left out."""
    return [planned for planned, _ in _plan(db, shoot_id)]


def _plan(db: Database, shoot_id: int) -> list[tuple[Planned, bytes | None]]:
    rows = frames.rows(db, shoot_id)
    here = {row.id: row.mark for row in rows if not row.missing}
    files = on_disk.files_of(db, here)
    where = targets(files)
    agreed = marks.agreed_marks(db, shoot_id)
    letters = _letters(db)
    result: list[tuple[Planned, bytes | None]] = []
    for frame in files:
        mark, path = here[frame.id], where[frame.id]
        data: bytes | None = None
        try:
            # A file that appeared under the name since the last look must not be overlooked.
            data = path.read_bytes() if path.exists() else None
            stated = metadata.read_mark(data) if data is not None else FileMark()
        except SidecarError as error:
            result.append((Planned(frame.id, frame.name, path, "unreadable", mark, None,
                                   f"It is left alone: {error}."), None))  # fmt: skip
            continue
        except OSError as error:
            result.append((Planned(frame.id, frame.name, path, "unreadable", mark, None,
                                   originals.reason(error, path.name)), None))  # fmt: skip
            continue
        in_file = sync.from_file(stated, mark, letters)
        merged = sync.merge(agreed.get(frame.id), mark, in_file)
        notice = ""
        if data is None:
            if mark == Mark():
                continue
            outcome = "new"
        elif merged.outcome is Outcome.CONFLICT:
            outcome = "conflict"
        elif stated.label and stated.label.casefold() not in letters and mark.label:
            outcome, notice = "conflict", f"The file has the label “{stated.label}”."
        elif merged.outcome is Outcome.TAKE_FILE:
            outcome = "take"
        else:
            outcome = "same" if merged.outcome is Outcome.SAME else "change"
        result.append((Planned(frame.id, frame.name, path, outcome, mark, in_file, notice), data))
    return result


def write(
    db: Database, shoot_id: int, conflicts: Conflicts = "leave"
) -> tuple[Written, Change | None]:
    """Write the marks of a shoot to its sidecars.

    What only the file changed is taken over here first. ``conflicts`` says whose word counts where
    both did: nobody's ("leave": the sidecar is not touched), ours, or the file's.
    """
    texts = {label.letter: label.written_as for label in labels.labels(db)}
    planned = _plan(db, shoot_id)
    taking = {
        p.frame: p.in_file
        for p, _ in planned
        if p.in_file is not None
        and (p.outcome == "take" or (p.outcome == "conflict" and conflicts == "file"))
    }
    agreed = marks.agreed_marks(db, shoot_id)

    def take() -> Change | None:
        steps = []
        for frame_id, mark in marks.marks_of(db, shoot_id, taking).items():
            merged = sync.merge(agreed.get(frame_id), mark, taking[frame_id])
            after = taking[frame_id] if merged.outcome is Outcome.CONFLICT else merged.mark
            if after != mark:
                steps.append(Step(frame_id, mark, after))
        sidecars = counted(len(steps), "sidecar")
        return Change(f"marks taken from {sidecars}", tuple(steps)) if steps else None

    change = marks.apply(db, shoot_id, take)
    now = marks.marks_of(db, shoot_id, [p.frame for p, _ in planned])
    roots = {f.id: f.root for f in on_disk.files_of(db, now)}
    written = same = 0
    problems: list[Planned] = []
    settled: list[tuple[int, Mark]] = []
    for p, data in planned:
        if p.outcome == "unreadable" or (p.outcome == "conflict" and conflicts == "leave"):
            problems.append(p)
            continue
        mark = now[p.frame]
        try:
            stated = metadata.read_mark(data) if data is not None else FileMark()
            wanted = sync.to_file(mark, stated, texts)
            if wanted == stated:
                same += 1
            else:
                originals.write_sidecar(p.sidecar, metadata.with_mark(data, wanted), data)
                stat = p.sidecar.stat()
                look = on_disk.sidecar_look(stat.st_size, stat.st_mtime_ns)
                on_disk.note_sidecar_written(db, p.frame, roots[p.frame], p.sidecar, look)
                written += 1
            settled.append((p.frame, mark))
        except (SidecarError, originals.CopyError, OSError) as error:
            problems.append(
                Planned(p.frame, p.name, p.sidecar, "unreadable", mark, p.in_file, str(error))
            )
    marks.keep_agreed(db, settled)
    return Written(written, same, len(taking), tuple(problems)), change
