"""What worker processes of this machine do with a whole shoot: hints and verdicts of its frames.

A shoot of 20,000 frames takes more than a second, for which the server would answer nobody.
"""

from __future__ import annotations

import contextlib
from dataclasses import dataclass
from pathlib import Path

from winnow.core.verdict import hints as core_hints
from winnow.store import hints
from winnow.store.db import Readable


@dataclass(frozen=True, slots=True)
class NoticeJob:
    """A shoot in a database, whose hints and verdicts are made anew."""

    database: Path
    shoot: int


def notice(job: NoticeJob) -> hints.Changes:
    """Make the hints and verdicts of a shoot; returns what differs from those that are stored."""
    with contextlib.closing(Readable(job.database)) as db:
        looked = hints.looked(db, job.shoot)
        thresholds = hints.thresholds(db, job.shoot)
        noticed = core_hints.notice(looked, thresholds)
        return hints.changes(db, job.shoot, noticed, core_hints.verdicts(looked, thresholds))
