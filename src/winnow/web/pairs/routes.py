"""Frames that are parts of one picture: linking them, and taking them apart."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.say import say
from winnow.store import settings
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.marks.models import ChangeOut
from winnow.web.pairs.models import ApartIn, LinkIn
from winnow.work import change_events, pairs

router = APIRouter(prefix="/api/shoots/{shoot}/pairs", tags=["pairs"], responses=RESPONSES)


@router.post("")
def link(shoot: ShootDep, wanted: LinkIn, runtime: RuntimeDep) -> ChangeOut:
    """Link frames as parts of one picture, pick them, and give them the keyword of the settings, as
    one step of the history."""
    frames = list(dict.fromkeys(wanted.frames))
    if len(frames) < 2:
        raise HTTPException(400, say("Choose two frames or more."))
    keyword = settings.load(runtime.db).parts_keyword
    try:
        change = pairs.link(runtime.db, shoot, frames, keyword)
    except KeyError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window)
    )


@router.post("/apart")
def take_apart(shoot: ShootDep, wanted: ApartIn, runtime: RuntimeDep) -> ChangeOut:
    """Take a picture apart: its frames stay as they are marked, and lose the keyword."""
    keyword = settings.load(runtime.db).parts_keyword
    change = pairs.unlink(runtime.db, shoot, wanted.frame, keyword)
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window)
    )
