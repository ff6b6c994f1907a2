"""What frames' files say: read, compared with what is said here, and taken over."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from winnow.core.counts import counted
from winnow.core.files import merge
from winnow.core.files.merge import NOTHING, Agreed, Merged, Said, Side, Stated
from winnow.core.files.profiles import STANDARD, Profile, ProfileError, Writing, writing
from winnow.core.files.texts import TextStep
from winnow.core.marks import Change, MarkStep
from winnow.photos import entries, refusals, xmp
from winnow.photos.xmp_check import SidecarError
from winnow.say import say
from winnow.store import file_state, frame_files, labels, marks, settings, texts
from winnow.store.db import Database
from winnow.store.file_state import LastRead, SaysMore
from winnow.store.frame_files import FrameFiles

log = logging.getLogger(__name__)
# Who reads what files say while somebody writes them would note what was said before.
ONE_AT_A_TIME: Final = threading.RLock()


def how_written(db: Database) -> Writing:
    """The profile in use with the label set; the standard one where that can't be used any more."""
    known = settings.load(db)
    label_set = [(label.letter, label.written_as) for label in labels.labels(db)]
    mapped = known.label_texts
    saved = settings.saved_sets(db, "profiles").get(known.profile)
    try:
        return writing(profile_from(saved) if saved else STANDARD, label_set, mapped)
    except ProfileError:
        # The label set changed since: two marks would be written alike.
        return writing(STANDARD, label_set, {})


def profile_from(saved: Mapping[str, Any]) -> Profile:
    """A profile as it is stored."""
    return Profile(**saved)


@dataclass(frozen=True, slots=True)
class Sidecar:
    """A sidecar as it is on disk.

    ``look``: its size and time; ``stated`` is None where it can't be read, and ``notice`` says why.
    """

    path: Path
    look: str
    stated: Stated | None
    notice: str = ""


def look_of(path: Path) -> str:
    """How a file looks on disk; another text means that it changed. Raises OSError."""
    stat = path.stat()
    return frame_files.sidecar_look(stat.st_size, stat.st_mtime_ns)


def left_alone(path: Path, why: object) -> str:
    """What is said of a sidecar that can't be read."""
    return say("The sidecar {name} is left alone: {error}.", name=path.name, error=why)


def read_sidecars(frame: FrameFiles, last: LastRead) -> list[Sidecar]:
    """A frame's sidecars, the one changed last first.

    What looks as when it was last read is not read again.
    """
    sidecars: list[tuple[int, Sidecar]] = []
    for path in frame.sidecars:
        try:
            stat = path.stat()
            look = frame_files.sidecar_look(stat.st_size, stat.st_mtime_ns)
            known = last.sidecars.get(str(path.relative_to(frame.root)))
            if known and known[0] == look and known[1] is not None:
                sidecars.append((stat.st_mtime_ns, Sidecar(path, look, known[1])))
                continue
            stated, notice = None, ""
            try:
                stated = xmp.read_sidecar(entries.read_file(path, frame.root))
            except SidecarError as error:
                notice = left_alone(path, error)
            except OSError:
                raise
            except Exception as error:
                # Nothing was prepared for this one: it is said, and the others are read.
                log.exception("%s", path)
                notice = left_alone(path, say("it can’t be read ({error})", error=error))
            sidecars.append((stat.st_mtime_ns, Sidecar(path, look, stated, notice)))
        except FileNotFoundError:
            continue
        except OSError as error:
            sidecars.append((0, Sidecar(path, "", None, refusals.reason(error, path.name))))
    return [sidecar for _, sidecar in sorted(sidecars, key=lambda pair: -pair[0])]


def together(sidecars: Iterable[Sidecar], embedded: Stated) -> Stated:
    """What a frame's files state together."""
    stated = embedded
    for sidecar in reversed(list(sidecars)):
        stated = merge.over(sidecar.stated, stated)
    return stated


def said_of(db: Database, shoot_id: int, frame_ids: Iterable[int]) -> dict[int, Said]:
    """What is said here of these frames of a shoot."""
    wanted = list(frame_ids)
    written = texts.texts_of(db, shoot_id, wanted)
    return {
        frame: Said(mark, written[frame])
        for frame, mark in marks.marks_of(db, shoot_id, wanted).items()
        if frame in written
    }


def merged_with(
    agreed: Agreed | None,
    here: Said,
    stated: Stated,
    how: Writing,
    decided: Callable[[str], Side | None],
) -> tuple[Merged, Said]:
    """One frame's merge, and what its files say in Winnow's words.

    A label text that means nothing here is in the way of a label: somebody has to say which one
    counts.
    """
    in_file = merge.from_files(stated, agreed, how)
    merged = merge.merge(agreed.said if agreed else NOTHING, here, in_file, decided)
    foreign = stated.mark.label and not how.knows(stated.mark.label)
    if foreign and merged.said.mark.label and "label" not in merged.conflicts:
        if decided("label") is None:
            return (
                Merged(merged.said, merged.took, merged.kept, (*merged.conflicts, "label")),
                in_file,
            )
        if decided("label") == "file":
            return merge.merge(
                agreed.said if agreed else NOTHING,
                here,
                in_file,
                lambda part: "file" if part == "label" else decided(part),
            ), in_file
    return merged, in_file


def change_to(here: Mapping[int, Said], after: Mapping[int, Said], sentence: str) -> Change | None:
    """The change from what is said here to something else; None if there is no difference."""
    steps = tuple(
        MarkStep(frame, here[frame].mark, said.mark)
        for frame, said in after.items()
        if here[frame].mark != said.mark
    )
    written = tuple(
        TextStep(frame, here[frame].texts, said.texts)
        for frame, said in after.items()
        if here[frame].texts != said.texts
    )
    return Change(sentence, steps, texts=written) if steps or written else None


def taken_from(number: int) -> str:
    """What a change is called that takes over what files say."""
    return say("taken from the files of {frames}", frames=counted(number, "frame"))


def read_changed(
    db: Database, shoot_id: int, *, offer: bool = False, only: Iterable[int] | None = None
) -> tuple[Change | None, list[str]]:
    """Take over what files say that changed since they were last read.

    ``offer``: only of frames whose files were never read; what the others say is noted, and
    offered. ``only``: these frames, instead of those whose files changed. What conflicts is noted,
    and left. Returns the change made, and notices of files that can't be read.
    """
    with ONE_AT_A_TIME:
        return _read_changed(db, shoot_id, offer, only)


def _read_changed(
    db: Database, shoot_id: int, offer: bool, only: Iterable[int] | None
) -> tuple[Change | None, list[str]]:
    wanted = list(file_state.changed(db, shoot_id) if only is None else only)
    if not wanted:
        return None, []
    files = frame_files.files_of(db, wanted)
    last = file_state.last_read(db, wanted)
    agreed = file_state.agreed(db, wanted)
    how = how_written(db)
    notices: list[str] = []
    stated: dict[int, Stated] = {}
    number: dict[int, int] = {}
    noted: list[tuple[int, Path, Path, str, Stated | None]] = []
    for frame in files:
        sidecars = read_sidecars(frame, last[frame.id])
        notices += [sidecar.notice for sidecar in sidecars if sidecar.notice]
        noted += [(frame.id, frame.root, s.path, s.look, s.stated) for s in sidecars if s.look]
        if all(sidecar.stated for sidecar in sidecars):
            stated[frame.id] = together(sidecars, last[frame.id].embedded)
            number[frame.id] = len(sidecars)
    settled: dict[int, Agreed] = {}
    left: list[int] = []
    conflicting: list[int] = []

    def plan() -> Change | None:
        here = said_of(db, shoot_id, stated)
        after: dict[int, Said] = {}
        for frame, said in here.items():
            before = agreed.get(frame)
            still = merge.stated_still(stated[frame], before, number[frame])
            merged, in_file = merged_with(before, said, still, how, lambda part: None)
            if merged.conflicts:
                conflicting.append(frame)
            elif merged.took and offer and frame in agreed:
                left.append(frame)
            else:
                after[frame] = merged.said
                if still == stated[frame]:
                    settled[frame] = Agreed(in_file, still, number[frame])
        changed = sum(after[frame] != here[frame] for frame in after)
        return change_to(here, after, taken_from(changed))

    change = marks.apply(db, shoot_id, plan)
    file_state.note_stated(db, noted)
    file_state.note_read(db, wanted)
    file_state.note_read(db, left, SaysMore.OFFERED)
    file_state.note_read(db, conflicting, SaysMore.CONFLICT)
    file_state.keep_agreed(db, settled.items())
    return change, notices
