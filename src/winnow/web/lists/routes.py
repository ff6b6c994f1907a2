"""Lists: frames with marks, texts, facts and hints as CSV or JSON, out and in."""

from __future__ import annotations

import base64
import binascii

from fastapi import APIRouter, HTTPException

from winnow.core.files.lists import ListError
from winnow.say import say
from winnow.store import frames, guests
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.files.routes import said_out
from winnow.web.lists.models import CameOut, ListedFrame, ListIn, ListOutIn, ListText, RowLeft
from winnow.web.marks.models import ChangeOut
from winnow.work import change_events
from winnow.work.files import lists

router = APIRouter(prefix="/api/shoots/{shoot}/lists", tags=["lists"], responses=RESPONSES)
_MOST = 500


@router.post("")
def make_list(shoot: ShootDep, wanted: ListOutIn, runtime: RuntimeDep) -> ListText:
    """A list of frames, in the order given."""
    if not set(wanted.frames) <= frames.of_shoot(runtime.db, shoot, wanted.frames):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    if refused := guests.refusal(runtime.db, shoot, wanted.frames):
        raise HTTPException(400, refused)
    return ListText(text=lists.write(runtime.db, shoot, wanted.frames, wanted.form, wanted.parts))


@router.post("/read")
def read_list(shoot: ShootDep, wanted: ListIn, runtime: RuntimeDep) -> CameOut:
    """What a list that came back would do; nothing is changed."""
    try:
        came = lists.plan(runtime.db, shoot, _bytes(wanted))
    except ListError as error:
        raise HTTPException(400, str(error)) from None
    return CameOut(
        rows=came.rows,
        same=came.plan.same,
        changes=len(came.plan.after),
        frames=[
            ListedFrame(frame=frame, here=said_out(came.here[frame]), after=said_out(after))
            for frame, after in list(came.plan.after.items())[:_MOST]
        ],
        problems=[RowLeft(row=row, why=why) for row, why in came.plan.problems[:_MOST]],
        unknown=list(came.unknown),
    )


@router.post("/apply")
def apply_list(shoot: ShootDep, wanted: ListIn, runtime: RuntimeDep) -> ChangeOut:
    """Apply a list that came back, as one step of the history."""
    try:
        change = lists.apply(runtime.db, shoot, _bytes(wanted), wanted.name)
    except ListError as error:
        raise HTTPException(400, str(error)) from None
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window)
    )


def _bytes(wanted: ListIn) -> bytes:
    try:
        return base64.b64decode(wanted.content, validate=True)
    except (binascii.Error, ValueError):
        raise HTTPException(400, say("The list’s content is not base64.")) from None
