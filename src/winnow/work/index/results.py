"""What came of a frame that was looked at: kept, or why it can’t be shown."""

from __future__ import annotations

import logging
from collections.abc import Iterable, Sequence

from winnow.core.events import FramePatch
from winnow.store import frame_figures
from winnow.store.db import Database
from winnow.store.frame_figures import Analysed
from winnow.store.frames import State
from winnow.work.events import Events
from winnow.work.workers.tasks import Failure, Job, ReadFrame

log = logging.getLogger(__name__)


def failure(job: Job, notice: str) -> Failure:
    """A frame that was given up."""
    return Failure(job.frame, notice, str(job.path))


def keep_read(db: Database, results: Sequence[ReadFrame | Failure], *, again: bool = False) -> None:
    """Store what was read of frames.

    ``again``: newer code read them; what can't be read now stays as it is.
    """
    read = [
        frame_figures.ReadFacts(
            r.frame,
            r.key,
            r.facts,
            r.changed_at,
            r.has_thumbnail,
            r.changed_zone_min,
            r.likeness,
        )
        for r in results
        if isinstance(r, ReadFrame)
    ]
    frame_figures.keep_facts(db, read, again=again)
    if not again:
        keep_failures(db, [r for r in results if isinstance(r, Failure)])


def keep_failures(db: Database, failures: list[Failure]) -> None:
    """Store why frames can't be shown, and say in the log which files they are."""
    for failure in failures:
        log.warning("%s: %s", failure.path, failure.notice)
    frame_figures.keep_failures(db, [(r.frame, r.notice) for r in failures])


def keep_seen(
    db: Database, events: Events, shoot_id: int, results: Iterable[Analysed | Failure]
) -> None:
    """Store results of full looks, and tell the windows."""
    seen = [r for r in results if isinstance(r, Analysed)]
    failures = [r for r in results if isinstance(r, Failure)]
    frame_figures.keep_analysed(db, seen)
    keep_failures(db, failures)
    patches: list[FramePatch] = [
        {"id": r.frame, "state": int(State.DONE), "picture": 2, "key": r.key,
         "width": r.width, "height": r.height, "notice": r.notice}
        for r in seen
    ]  # fmt: skip
    patches += [
        {"id": r.frame, "state": int(State.FAILED), "picture": 0, "notice": r.notice}
        for r in failures
    ]
    events.tell(shoot_id, "frames", frames=patches)
