"""Renaming files where they are."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.core.deliver import naming
from winnow.say import say
from winnow.store import renamings, shoots
from winnow.web.deliveries.models import Renamed
from winnow.web.depends import RESPONSES, IdPath, RuntimeDep, ShootDep, frames_in
from winnow.web.renamings.models import LeftNamed, RenamingIn, RenamingOut, RenamingPlanOut
from winnow.work.moves import rename
from winnow.work.moves.rename import RenameError
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["renamings"], responses=RESPONSES)


def _plan(runtime: Runtime, shoot: int, wanted: RenamingIn) -> rename.RenamingPlan:
    try:
        ids = frames_in(runtime, shoot, wanted)
        return rename.plan(runtime.db, shoot, ids, wanted.template, wanted.seq_from)
    except RenameError as error:
        raise HTTPException(400, str(error)) from None
    except OSError as error:
        raise HTTPException(
            400, say("The folder can’t be read: {why}.", why=error.strerror)
        ) from None


@router.post("/shoots/{shoot}/renamings/plan")
def plan_renaming(shoot: ShootDep, wanted: RenamingIn, runtime: RuntimeDep) -> RenamingPlanOut:
    """What a renaming would do; nothing is touched."""
    planned = _plan(runtime, shoot, wanted)
    return RenamingPlanOut(
        frames=planned.frames,
        files=len(planned.names),
        names=_shown(planned.names),
        numbered=_shown(planned.numbered),
        left=[LeftNamed(name=name, why=why) for name, why in planned.left],
    )


def _shown(names: tuple[tuple[str, str], ...]) -> list[Renamed]:
    return [Renamed(name=old, copy_name=new) for old, new in names]


@router.post("/shoots/{shoot}/renamings", status_code=201)
def start_renaming(shoot: ShootDep, wanted: RenamingIn, runtime: RuntimeDep) -> RenamingOut:
    """Rename: all files or none."""
    planned = _plan(runtime, shoot, wanted)
    try:
        renaming_id = runtime.renamings.start(shoot, wanted.template, planned)
    except RenameError as error:
        raise HTTPException(400, str(error)) from None
    if naming.counts(wanted.template):
        shoots.count_on(runtime.db, shoot, wanted.seq_from + planned.frames)
    return _get(runtime, renaming_id)


@router.get("/shoots/{shoot}/renamings")
def list_renamings(shoot: ShootDep, runtime: RuntimeDep) -> list[RenamingOut]:
    """A shoot's renamings, the last one first."""
    return [
        RenamingOut.model_validate(renaming) for renaming in renamings.of_shoot(runtime.db, shoot)
    ]


def _get(runtime: Runtime, renaming: int) -> RenamingOut:
    stored = renamings.get(runtime.db, renaming)
    if stored is None:
        raise HTTPException(404, say("There is no such renaming."))
    return RenamingOut.model_validate(stored)


@router.post("/renamings/{renaming}/undo")
def undo_renaming(renaming: IdPath, runtime: RuntimeDep) -> RenamingOut:
    """Give the files their old names again."""
    _get(runtime, renaming)
    try:
        runtime.renamings.undo(renaming)
    except RenameError as error:
        raise HTTPException(400, str(error)) from None
    return _get(runtime, renaming)


@router.post("/renamings/{renaming}/stop")
def stop_renaming(renaming: IdPath, runtime: RuntimeDep) -> RenamingOut:
    """Stop; every name becomes again what it was."""
    _get(runtime, renaming)
    runtime.renamings.stop(renaming)
    return _get(runtime, renaming)
