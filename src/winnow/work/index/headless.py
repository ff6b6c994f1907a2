"""Analysis without a page."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Final

from winnow import terminal
from winnow.core.counts import counted
from winnow.say import say
from winnow.store import shoots
from winnow.work.moves import moved_shoots
from winnow.work.runtime import Runtime

_TELL_S: Final = 2.0


def index(
    runtime: Runtime, folders: list[str], name: str, tell: Callable[[str], None] = terminal.tell
) -> int:
    """Analyse folders as a shoot, to the end; returns the exit status."""
    shoot = shoots.find_by_folders(runtime.db, folders)
    if shoot is None and (seen := moved_shoots.find(runtime.db, folders)):
        tell(say("{found} Open it in the page first, which asks what to do.", found=seen.sentence))
        return 1
    if shoot is None:
        shoot = shoots.make(runtime.db, name, folders)
    runtime.indexer.start(shoot)
    told = 0.0
    while (status := runtime.indexer.status(shoot)).running:
        if time.monotonic() - told > _TELL_S:
            told = time.monotonic()
            tally = shoots.tally(runtime.db, shoot)
            tell(
                say(
                    "{found:,} found, {done:,} analysed, faces in {faces:,} ({stage})",
                    found=tally.frames,
                    done=tally.done,
                    faces=tally.faces,
                    stage=status.stage,
                )
            )
        time.sleep(0.1)
    tally = shoots.tally(runtime.db, shoot)
    for notice in status.notices:
        tell(notice)
    words = say(
        "{frames}, {done:,} analysed", frames=counted(tally.frames, "frame"), done=tally.done
    )
    if tally.failed:
        words += say(", {failed:,} can’t be shown", failed=tally.failed)
    tell(words + ".")
    return 0 if tally.frames and tally.done and not status.cut_short else 1
