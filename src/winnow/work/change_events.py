"""How a change of marks is told to the windows."""

from __future__ import annotations

import threading
from typing import Any, Final

from winnow.core.marks import Change
from winnow.store import marks, own_steps
from winnow.store.db import Database
from winnow.work.events import Events
from winnow.work.index import regroup

_TELLING: Final = threading.Lock()


def as_told(db: Database, shoot_id: int, change: Change | None, by: str = "") -> dict[str, Any]:
    """A change, each of its frames with its mark as it is now, and what undo and redo would do
    after it for the owner, or for the guest ``by``."""
    able = own_steps.history_of(db, shoot_id, by)
    changed = [step.frame for step in (change.steps if change else ())]
    return {
        "marks": [
            {"frame": frame, "decision": mark.decision, "stars": mark.stars, "label": mark.label}
            for frame, mark in marks.marks_of(db, shoot_id, changed).items()
        ],
        "texts": [step.frame for step in (change.texts if change else ())],
        "sentence": change.sentence if change else None,
        "undo": able.undo,
        "redo": able.redo,
    }


def tell(
    db: Database,
    events: Events,
    shoot_id: int,
    change: Change | None,
    window: str = "",
    by: str = "",
) -> dict[str, Any]:
    """Tell every window of a shoot of a change, and return it as told to who made it.

    ``window`` names the one that asked for it and has drawn it already; ``by`` the guest who made
    it.
    """
    # Read and told at once: where two change a mark at the same moment, whoever tells last tells
    # what is stored.
    with _TELLING:
        told = as_told(db, shoot_id, change)
        if change is not None:
            events.tell(shoot_id, "marks", **told, window=window, by=by)
    if change is not None and change.groups is not None:
        regroup.regroup(db, shoot_id)
        events.tell(shoot_id, "order")
    return as_told(db, shoot_id, change, by) if by else told
