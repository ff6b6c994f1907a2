"""Renaming frames' files where they are, by a template: all of them or none, and undone as one
step."""

from __future__ import annotations

import logging
import os
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from winnow.core.deliver import naming, rename_order
from winnow.core.deliver.naming import ToName
from winnow.core.files.names import free_names
from winnow.core.files.templates import TemplateError
from winnow.photos import entries, originals, refusals
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import deliveries, frame_figures, frame_files, moved_files, renamings, shoots
from winnow.store.db import Database
from winnow.store.frame_files import FrameFiles
from winnow.store.renamings import RenamingStep
from winnow.work import failures
from winnow.work.background import Background
from winnow.work.deliver.plan import check_guests, values_of
from winnow.work.events import Events
from winnow.work.files.read import ONE_AT_A_TIME, said_of
from winnow.work.moves.journal import BEGINNING, NAMES_CHANGED

log = logging.getLogger(__name__)
_BATCH: Final = 100


class RenameError(Exception):
    """A renaming that can't be made, or undone, with the reason and what to do next in words."""


@dataclass(frozen=True, slots=True)
class RenamingPlan:
    """What a renaming would do.

    ``names``: each file's old and new name; ``numbered``: those that get a number, because the name
    is taken; ``left``: (frame's name, why) of frames that keep their names.
    """

    frames: int
    names: tuple[tuple[str, str], ...]
    numbered: tuple[tuple[str, str], ...]
    left: tuple[tuple[str, str], ...]
    steps: tuple[RenamingStep, ...]


def plan(
    db: Database, shoot_id: int, frame_ids: Sequence[int], template: str, seq_from: int = 1
) -> RenamingPlan:
    """Which file would get which name; nothing is touched. Raises RenameError."""
    if "/" in template:
        raise RenameError(say("Files keep their folders here: a name can’t hold “/”."))
    here = said_of(db, shoot_id, frame_ids)
    elsewhere = moved_files.of_frames(db, here)
    busy = frame_figures.unfinished(db, here)
    left: list[tuple[str, str]] = []
    wanted: list[FrameFiles] = []
    for frame in frame_files.files_of(db, here):
        if frame.id in elsewhere:
            left.append((frame.name, say("It is set aside, or moved out. Bring it back first.")))
        elif frame.id in busy:
            left.append((frame.name, say("It is still being analysed.")))
        elif not all(path.is_file() for path in frame.whole):
            left.append((frame.name, say("A file of it can’t be found on disk.")))
        else:
            wanted.append(frame)
    values, groups = values_of(db, shoot_id, here)
    try:
        check_guests(db, shoot_id, here, template)
        names = naming.named(
            [
                ToName(
                    tuple(p.name for p in frame.whole),
                    values[frame.id],
                    groups[frame.id],
                    with_sidecar=False,
                )
                for frame in wanted
            ],
            template,
            seq_from,
        )
    except TemplateError as error:
        raise RenameError(str(error)) from None
    return _in_folders(wanted, names, left)


def _in_folders(
    wanted: Sequence[FrameFiles],
    names: Sequence[tuple[str, ...]],
    left: Sequence[tuple[str, str]],
) -> RenamingPlan:
    in_folder: dict[Path, list[int]] = defaultdict(list)
    for n, frame in enumerate(wanted):
        in_folder[frame.shown.parent].append(n)
    pairs: list[tuple[Path, Path]] = []
    owners: list[int] = []
    shown: list[tuple[str, str]] = []
    numbered: list[tuple[str, str]] = []
    for folder, members in in_folder.items():
        leaving = {p.name for n in members for p in wanted[n].whole}
        taken = [name for name in os.listdir(folder) if name not in leaving]
        for n, final in zip(members, free_names([names[n] for n in members], taken), strict=True):
            files = wanted[n].whole
            numbered += [(a, b) for a, b in zip(names[n], final, strict=True) if a != b]
            for path, new in zip(files, final, strict=True):
                pairs.append((path, folder / new))
                owners.append(wanted[n].id)
                if path.name != new:
                    shown.append((path.name, new))
    steps = rename_order.in_order([(str(old), str(new)) for old, new in pairs])
    return RenamingPlan(
        frames=len({owners[step.file] for step in steps}),
        names=tuple(shown),
        numbered=tuple(numbered),
        left=tuple(left),
        steps=tuple(
            RenamingStep(number, owners[step.file], Path(step.old), Path(step.new), step.alone)
            for number, step in enumerate(steps)
        ),
    )


def _make(
    db: Database,
    renaming_id: int,
    *,
    back: bool,
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> None:
    """Make the steps that are not made, or undo those that are.

    Raises CopyError, OSError; then a part is made.
    """
    steps = renamings.steps(db, renaming_id)
    waiting = [step for step in steps if (step.state == "done") == back]
    if back:
        waiting.reverse()
    done = 0
    roots = shoots.roots(db)
    for together in _together(waiting):
        if stopping():
            raise CopyError(say("Stopped as you asked."))
        for step in together:
            old = step.new if back else step.old
            entries.check_in_place(old, roots)
        with ONE_AT_A_TIME:
            names: dict[Path, Path] = {}
            made: list[RenamingStep] = []
            try:
                for step in together:
                    old, new = (step.new, step.old) if back else (step.old, step.new)
                    # Made already, before an interruption.
                    if os.path.lexists(old) or not os.path.lexists(new):
                        originals.move_new(old, new, roots)
                    names[old] = new
                    made.append(step)
            finally:
                NAMES_CHANGED.count += 1
                state = "planned" if back else "done"
                renamings.keep_steps(db, renaming_id, made, state, names)
        done += len(together)
        tick(done)


def _together(steps: Sequence[RenamingStep]) -> Iterator[list[RenamingStep]]:
    """Steps that are recorded together: many that have nothing to do with each other, or one."""
    batch: list[RenamingStep] = []
    for step in steps:
        if not step.alone:
            if batch:
                yield batch
            yield [step]
            batch = []
            continue
        batch.append(step)
        if len(batch) == _BATCH:
            yield batch
            batch = []
    if batch:
        yield batch


def recover(db: Database) -> int:
    """Finish the renamings that were going on when Winnow ended. Returns how many."""
    begun = renamings.unsettled(db)
    for row in begun:
        _through(db, row.id, back=row.state == "undoing")
    return len(begun)


def _through(
    db: Database,
    renaming_id: int,
    *,
    back: bool,
    tick: Callable[[int], None] = lambda done: None,
    stopping: Callable[[], bool] = lambda: False,
) -> None:
    """Make a renaming, or undo it; where that can't be, put all names back as they were."""
    renamings.keep_state(db, renaming_id, "undoing" if back else "running")
    try:
        _make(db, renaming_id, back=back, tick=tick, stopping=stopping)
        renamings.keep_state(db, renaming_id, "undone" if back else "done")
        return
    except (CopyError, OSError) as error:
        notice = refusals.reason(error)
    renamings.keep_state(db, renaming_id, "running" if back else "undoing")
    try:
        _make(db, renaming_id, back=not back)
        stays = say("The new names stay.") if back else say("Every name is as it was.")
        renamings.keep_state(db, renaming_id, "done" if back else "undone", f"{notice} {stays}")
    except (CopyError, OSError) as error:
        log.warning("a renaming could not be undone: %s", error)
        renamings.keep_state(db, renaming_id, "stopped", f"{notice} {refusals.reason(error)}")


class Renamings:
    """Renames, and undoes that, each in a thread of its own."""

    def __init__(self, db: Database, events: Events) -> None:
        self._db = db
        self._events = events
        self._background = Background("rename", self._run)
        self._back: set[int] = set()
        recover(db)

    def start(self, shoot_id: int, template: str, planned: RenamingPlan) -> int:
        """Write the plan down and start; returns the renaming's id. Raises RenameError."""
        if not planned.steps:
            raise RenameError(say("Every file has that name already."))
        with BEGINNING:
            self._check_free(shoot_id)
            renaming_id = renamings.make(
                self._db, shoot_id, template, planned.frames, planned.steps
            )
            self._background.start(renaming_id)
        return renaming_id

    def undo(self, renaming_id: int) -> None:
        """Give the files of a renaming their old names again. Raises RenameError."""
        renaming = renamings.get(self._db, renaming_id)
        assert renaming is not None
        with BEGINNING:
            every = self._of(renaming.shoot_id)
            self._check_free(renaming.shoot_id)
            last = next((o for o in every if o.state in ("done", "stopped")), None)
            if last is None or last.id != renaming_id:
                raise RenameError(say("Only the last renaming can be undone."))
            steps = renamings.steps(self._db, renaming_id)
            if moved_files.of_frames(self._db, {step.frame for step in steps}):
                raise RenameError(say("Some of its frames are set aside. Bring them back first."))
            if self._background.is_free(renaming_id, ended=True):
                self._back.add(renaming_id)
                self._background.start(renaming_id)

    def _check_free(self, shoot_id: int) -> None:
        """Names of a shoot change one renaming after the other, and not within a delivery: its
        journal has the names that files had when it began."""
        for renaming in self._of(shoot_id):
            if renaming.state in ("planned", "running", "undoing"):
                # One that gave up waiting for the database goes on.
                self._background.start(renaming.id)
                raise RenameError(say("Files of this shoot are being renamed already."))
        open_states = ("planned", "running", "returning", "stopped")
        if any(
            delivery.state in open_states for delivery in deliveries.of_shoot(self._db, shoot_id)
        ):
            raise RenameError(
                say("A delivery is not through. Wait for it, or go on with it or cancel it first.")
            )

    def _of(self, shoot_id: int) -> list[renamings.Renaming]:
        return renamings.of_shoot(self._db, shoot_id)

    def stop(self, renaming_id: int) -> None:
        """Stop; all names become again what they were."""
        self._background.stop(renaming_id)

    def wait(self, renaming_id: int) -> None:
        """Wait until it has ended."""
        self._background.wait(renaming_id)

    def close(self) -> None:
        """Wait for what goes on; it is short, and half of it helps nobody."""
        self._background.close()

    def _run(self, renaming_id: int, stopping: Callable[[], bool]) -> None:
        back = renaming_id in self._back
        self._back.discard(renaming_id)

        def through() -> None:
            renaming = renamings.get(self._db, renaming_id)
            assert renaming is not None
            # The second time it goes on in the direction in which it went.
            there = {"running": False, "undoing": True}.get(renaming.state, back)
            tell = partial(self._events.tell, renaming.shoot_id, "renaming")
            _through(self._db, renaming_id, back=there, tick=lambda done: tell(), stopping=stopping)
            tell()
            self._events.tell(renaming.shoot_id, "order")

        try:
            # Names on the disk and in the database agree at its end only.
            failures.until_stored(through, stopping)
        except Exception as error:
            notice = failures.in_words(error, f"renaming {renaming_id}")
            keep = partial(renamings.keep_state, self._db, renaming_id, "stopped", notice)
            failures.until_stored(keep, stopping)
