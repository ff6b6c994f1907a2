"""Marks: setting them, undo and redo, and the events that keep windows in step."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator
from functools import partial
from typing import Any

from fastapi import APIRouter, HTTPException
from fastapi.responses import StreamingResponse

from winnow.core.marks import Change, Edit, plan_edit
from winnow.core.pace import pace
from winnow.say import say
from winnow.store import frames, history, labels, marks, own_steps
from winnow.web.depends import RESPONSES, ByDep, RuntimeDep, ShootDep
from winnow.web.marks.models import (
    ChangeOut,
    EditIn,
    EventsOut,
    GoToIn,
    GroupsIn,
    HistoryOut,
    PaceOut,
    PastChangeOut,
    WindowIn,
)
from winnow.work import change_events
from winnow.work.group_decisions import NotInShootError, Taken, decide
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api/shoots/{shoot}", tags=["marks"], responses=RESPONSES)
_QUIET_S = 15.0


class EventStream(StreamingResponse):
    """Server-sent events, as HTML has them."""

    media_type = "text/event-stream"


def _tell(
    runtime: Runtime, shoot: int, change: Change | None, window: str, by: str = ""
) -> ChangeOut:
    """Answer a change and tell the other windows."""
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, window, by)
    )


@router.post("/marks")
def set_marks(shoot: ShootDep, wanted: EditIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Set marks on frames, as one step of the history. Durable when it answers."""
    runtime.indexer.somebody_looks()
    names = labels.label_names(runtime.db)
    if wanted.label and wanted.label not in names:
        raise HTTPException(400, say("There is no label “{label}”.", label=wanted.label))
    try:
        edit = Edit(wanted.decision, wanted.stars, wanted.label)
    except ValueError as error:
        raise HTTPException(400, f"{error}.") from None

    def plan() -> Change | None:
        present = marks.marks_of(runtime.db, shoot, wanted.frames)
        if len(present) < len(set(wanted.frames)):
            raise HTTPException(404, say("One of these frames is not in this shoot."))
        return plan_edit(edit, present, partial(frames.name_of, runtime.db), names)

    change = marks.apply(runtime.db, shoot, plan, by)
    if change is None and not by:
        marks.note_same(runtime.db, shoot, wanted.frames)
    return _tell(runtime, shoot, change, wanted.window, by)


@router.post("/marks/groups")
def decide_groups(shoot: ShootDep, wanted: GroupsIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Pick and reject frames of groups, each frame with its own decision, as one step of the
    history."""
    runtime.indexer.somebody_looks()
    groups = [Taken(group.keep, group.out, group.open) for group in wanted.groups]
    try:
        change = decide(runtime.db, shoot, groups, proposed=wanted.proposed, by=by)
    except NotInShootError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return _tell(runtime, shoot, change, wanted.window, by)


@router.post("/undo")
def undo(shoot: ShootDep, asked: WindowIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Take one's own last change back; no sentence when there is none."""
    return _tell(runtime, shoot, own_steps.undo(runtime.db, shoot, by), asked.window, by)


@router.post("/redo")
def redo(shoot: ShootDep, asked: WindowIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Make again what one took back last."""
    return _tell(runtime, shoot, own_steps.redo(runtime.db, shoot, by), asked.window, by)


@router.get("/history")
def get_history(shoot: ShootDep, runtime: RuntimeDep, by: ByDep) -> HistoryOut:
    """What undo and redo would do."""
    return HistoryOut.model_validate(own_steps.history_of(runtime.db, shoot, by))


@router.get("/history/all")
def list_history(shoot: ShootDep, runtime: RuntimeDep) -> list[PastChangeOut]:
    """The last 500 steps, the newest first; each can be gone to, those that were undone or left as
    well."""
    return [
        PastChangeOut.model_validate(change) for change in history.past_changes(runtime.db, shoot)
    ]


@router.post("/history")
def go_to(shoot: ShootDep, wanted: GoToIn, runtime: RuntimeDep) -> ChangeOut:
    """Undo or redo until a change is the last one that is made; it may be on a branch that was
    left."""
    try:
        change = history.go_to(runtime.db, shoot, wanted.change)
    except KeyError:
        raise HTTPException(404, say("This step is no longer in the history.")) from None
    return _tell(runtime, shoot, change, wanted.window)


@router.get("/pace")
def get_pace(shoot: ShootDep, runtime: RuntimeDep) -> PaceOut:
    """How quickly frames are decided."""
    return PaceOut.model_validate(pace(history.decided_at(runtime.db, shoot)))


def _without_history(data: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in data.items() if name not in ("undo", "redo")}


@router.get(
    "/events",
    response_class=EventStream,
    responses={200: {"model": EventsOut, "description": "server-sent events"}},
)
async def events(shoot: ShootDep, runtime: RuntimeDep, by: ByDep) -> EventStream:
    """What happens in a shoot, as it happens: marks, frames, order, progress, delivery."""

    async def stream() -> AsyncIterator[str]:
        with runtime.events.listening(shoot) as listener:
            yield "event: hello\ndata: {}\n\n"
            async for event in listener.events(_QUIET_S):
                if event is None:
                    yield ": still here\n\n"
                else:
                    # What the owner's undo would do is no guest's.
                    data = event.data if not by else _without_history(event.data)
                    yield f"event: {event.name}\ndata: {json.dumps(data)}\n\n"

    return EventStream(stream())
