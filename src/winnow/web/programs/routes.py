"""Handing frames to another program, by a command line of the person's own."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.core.deliver import command_lines
from winnow.say import say
from winnow.store import settings
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep, frames_in
from winnow.web.programs.models import HandOverIn, ProgramModel, RunOut
from winnow.web.settings.routes import SetNameQuery
from winnow.work.deliver.programs import HandOverError

router = APIRouter(prefix="/api", tags=["programs"], responses=RESPONSES)


@router.get("/programs")
def list_programs(runtime: RuntimeDep) -> list[ProgramModel]:
    """The programs that files can be handed to, in the order of names."""
    saved = settings.saved_sets(runtime.db, "programs")
    return [
        ProgramModel.model_validate({"name": name, **program}) for name, program in saved.items()
    ]


@router.put("/programs")
def save_program(wanted: ProgramModel, runtime: RuntimeDep) -> list[ProgramModel]:
    """Keep a program's command line under its name."""
    if "\0" in wanted.command:
        raise HTTPException(400, say("A command can’t hold a null character."))
    try:
        command_lines.words_of(wanted.command)
    except command_lines.CommandError as error:
        raise HTTPException(400, str(error)) from None
    content = wanted.model_dump(mode="json", exclude={"name"})
    settings.save_set(runtime.db, "programs", wanted.name, content)
    return list_programs(runtime)


@router.delete("/programs")
def forget_program(name: SetNameQuery, runtime: RuntimeDep) -> list[ProgramModel]:
    """Remove a program."""
    settings.forget_set(runtime.db, "programs", name)
    return list_programs(runtime)


@router.post("/shoots/{shoot}/hand-over", status_code=201)
def hand_over(shoot: ShootDep, wanted: HandOverIn, runtime: RuntimeDep) -> list[RunOut]:
    """Start a program with the files of frames."""
    known = {program.name: program for program in list_programs(runtime)}
    program = known.get(wanted.program)
    if program is None:
        raise HTTPException(404, say("There is no such program."))
    ids = frames_in(runtime, shoot, wanted)
    try:
        runtime.hand_overs.start(shoot, program.name, program.command, ids, program.which)
    except HandOverError as error:
        raise HTTPException(400, str(error)) from None
    return list_runs(shoot, runtime)


@router.get("/shoots/{shoot}/hand-over")
def list_runs(shoot: ShootDep, runtime: RuntimeDep) -> list[RunOut]:
    """The programs that were started for a shoot since Winnow was, the last one first."""
    return [RunOut.model_validate(run) for run in runtime.hand_overs.runs(shoot)]
