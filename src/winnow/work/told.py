"""How a change of marks is told to the windows."""

from __future__ import annotations

from typing import Any

from winnow.core.marks import Change
from winnow.store import marks
from winnow.store.db import Database
from winnow.work import grouping
from winnow.work.events import Events


def as_told(db: Database, shoot_id: int, change: Change | None) -> dict[str, Any]:
    """A change, each of its frames with its mark, and what undo and redo would do after it."""
    history = marks.history(db, shoot_id)
    return {
        "marks": [
            {
                "frame": step.frame,
                "decision": step.after.decision,
                "stars": step.after.stars,
                "label": step.after.label,
            }
            for step in (change.steps if change else ())
        ],
        "texts": [step.frame for step in (change.texts if change else ())],
        "sentence": change.sentence if change else None,
        "undo": history.undo,
        "redo": history.redo,
    }


def tell(
    db: Database, events: Events, shoot_id: int, change: Change | None, window: str = ""
) -> dict[str, Any]:
    """Tell every window of a shoot of a change, and return it as told.

    ``window`` names the one that asked for it and has drawn it already.
    """
    told = as_told(db, shoot_id, change)
    if change is not None:
        events.tell(shoot_id, "marks", **told, window=window)
    if change is not None and change.groups is not None:
        grouping.regroup(db, shoot_id)
        events.tell(shoot_id, "order")
    return told
