"""Groups: the slider, changes by hand, and frames that are alike."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query

from winnow.core.counts import counted
from winnow.core.groups import edits
from winnow.core.groups.edits import Grouping, HandEdit
from winnow.say import say
from winnow.store import frames
from winnow.store import groups as store
from winnow.web.depends import RESPONSES, IdPath, RuntimeDep, ShootDep
from winnow.web.groups.models import (
    AlikeOut,
    BesideIn,
    BesideOut,
    GroupEditIn,
    GroupsOut,
    LoosenessIn,
    SuggestedOffset,
)
from winnow.web.marks.models import ChangeOut
from winnow.work import change_events
from winnow.work.index import regroup

router = APIRouter(prefix="/api/shoots/{shoot}", tags=["groups"], responses=RESPONSES)


def _out(looseness: float, made: Grouping) -> GroupsOut:
    return GroupsOut(
        looseness=looseness,
        number=max(made.numbers, default=-1) + 1,
        id=list(made.ids),
        group=list(made.numbers),
    )


@router.get("/groups")
def get_groups(shoot: ShootDep, runtime: RuntimeDep) -> GroupsOut:
    """The groups as they are, and where the slider stands."""
    looseness = store.looseness(runtime.db, shoot)
    return _out(looseness, regroup.preview(runtime.db, shoot, looseness))


@router.post("/groups/preview")
def preview_groups(shoot: ShootDep, wanted: LoosenessIn, runtime: RuntimeDep) -> GroupsOut:
    """The groups as they would be with the slider at another place; nothing is stored."""
    return _out(wanted.looseness, regroup.preview(runtime.db, shoot, wanted.looseness))


@router.put("/groups")
def set_looseness(shoot: ShootDep, wanted: LoosenessIn, runtime: RuntimeDep) -> GroupsOut:
    """Put the slider to another place. What was said by hand stays."""
    made = regroup.regroup(runtime.db, shoot, wanted.looseness)
    runtime.events.tell(shoot, "order")
    return _out(wanted.looseness, made)


@router.post("/groups/edit")
def edit_groups(shoot: ShootDep, wanted: GroupEditIn, runtime: RuntimeDep) -> ChangeOut:
    """Change groups by hand, as one step of the history."""
    listed = list(dict.fromkeys(wanted.frames))
    names = frames.names(runtime.db, listed)
    first = listed[0]
    what = names.get(first, "") if len(listed) == 1 else counted(len(listed), "frame")

    def change(now: Grouping) -> frozenset[HandEdit]:
        if not {*listed, wanted.to or first} <= set(now.ids):
            raise HTTPException(404, say("One of these frames is not in this shoot."))
        if wanted.do == "split":
            return edits.split(now, first)
        if wanted.do == "join":
            return edits.join_with_next(now, first)
        if wanted.do == "move" and wanted.to is None:
            raise HTTPException(400, say("Say to which frame’s group."))
        return edits.move(now, listed, wanted.to if wanted.do == "move" else None)

    sentence = {
        "split": say("split the group at {what}", what=what),
        "join": say("joined the group of {what} with the next", what=what),
        "move": say("moved {what} to another group", what=what),
        "alone": say("made a group of {what}", what=what),
    }[wanted.do]
    made = regroup.edit(runtime.db, shoot, sentence, change)
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, made, wanted.window)
    )


@router.get("/alike/{frame}")
def list_alike(
    shoot: ShootDep,
    frame: IdPath,
    runtime: RuntimeDep,
    most: Annotated[int, Query(ge=1, le=2000)] = 100,
) -> AlikeOut:
    """The frames of the shoot that are most like one of them."""
    try:
        return AlikeOut(ids=regroup.alike(runtime.db, shoot, frame, most))
    except ValueError:
        raise HTTPException(404, say("This frame is not in this shoot.")) from None


@router.get("/clocks/suggested")
def list_suggested_offsets(shoot: ShootDep, runtime: RuntimeDep) -> list[SuggestedOffset]:
    """What may be added to cameras' clocks, by frames of two cameras that are alike."""
    return [
        SuggestedOffset.of(offset, camera=camera, serial=serial)
        for (camera, serial), offset in regroup.suggested_offsets(runtime.db, shoot).items()
    ]


@router.post("/beside")
def beside(shoot: ShootDep, wanted: BesideIn, runtime: RuntimeDep) -> list[BesideOut]:
    """Where each of some frames shows the same part of the subject, and how they compare there."""
    if not {wanted.frame, *wanted.frames} <= frames.of_shoot(
        runtime.db, shoot, [wanted.frame, *wanted.frames]
    ):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    if wanted.prepare:
        runtime.close_ups.prepare(wanted.frames)
    point = None if wanted.x is None or wanted.y is None else (wanted.x, wanted.y)
    ids = list(dict.fromkeys(wanted.frames))
    places = runtime.subject_lock.beside(wanted.frame, point, ids, fine=wanted.fine)
    return [BesideOut.model_validate(place) for place in places]
