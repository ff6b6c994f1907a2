"""The draft: what to keep is proposed group by group, and taken by a person."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.say import say
from winnow.store import hints, shoots
from winnow.web.depends import RESPONSES, ByDep, RuntimeDep, ShootDep
from winnow.web.draft.models import DraftOut, ProposalOut, TakeIn
from winnow.web.marks.models import ChangeOut
from winnow.work import change_events, draft
from winnow.work.draft import Taken

router = APIRouter(prefix="/api/shoots/{shoot}/draft", tags=["draft"], responses=RESPONSES)


@router.get("")
def get_draft(shoot: ShootDep, runtime: RuntimeDep) -> DraftOut:
    """What to keep, proposed; no mark is changed by asking."""
    known = shoots.get(runtime.db, shoot)
    target = known.keep_target if known else None
    made = draft.make(runtime.db, shoot, target)
    return DraftOut(
        proposals=[ProposalOut.model_validate(one) for one in made.proposals],
        picked=made.picked,
        kept=made.kept,
        target=target,
        waits=runtime.indexer.making_pictures() or hints.is_stale(runtime.db, shoot),
    )


@router.post("/take")
def take(shoot: ShootDep, wanted: TakeIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Take proposals as a person agreed with them, as one step of the history."""
    runtime.indexer.somebody_looks()
    taken = [Taken(one.keep, one.out) for one in wanted.groups]
    try:
        change = draft.take(runtime.db, shoot, taken, by)
    except KeyError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window, by)
    )
