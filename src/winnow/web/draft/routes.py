"""The draft: what to keep is proposed group by group, and taken by a person."""

from __future__ import annotations

from fastapi import APIRouter

from winnow.store import hints, shoots
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.draft.models import DraftOut, SettledIn, ToNumberOut
from winnow.work import draft

router = APIRouter(prefix="/api/shoots/{shoot}/draft", tags=["draft"], responses=RESPONSES)


@router.get("")
def get_draft(shoot: ShootDep, runtime: RuntimeDep) -> DraftOut:
    """What to keep, proposed; no mark is changed by asking."""
    known = shoots.get(runtime.db, shoot)
    target = known.keep_target if known else None
    made = draft.make(runtime.db, shoot, target)
    return DraftOut.of(
        made,
        proposals=made.draft.proposals,
        target=target,
        compared=made.agreement.groups,
        other=made.agreement.other,
        waits=runtime.indexer.making_pictures() or hints.is_stale(runtime.db, shoot),
    )


@router.post("/number")
def ask_way_to_number(shoot: ShootDep, wanted: SettledIn, runtime: RuntimeDep) -> ToNumberOut:
    """Which picks may go, or what may be added, until as many are kept as are wanted; no mark is
    changed by asking."""
    known = shoots.get(runtime.db, shoot)
    target = known.keep_target if known else None
    if target is None:
        return ToNumberOut(picked=0, target=None, questions=[])
    way = draft.to_number(runtime.db, shoot, target, frozenset(wanted.settled))
    return ToNumberOut.of(way, target=target)
