"""Setting rejects aside, and bringing frames back."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import Field

from winnow.core.filters.filter import Filter
from winnow.core.marks import Decision
from winnow.photos import scan
from winnow.say import say
from winnow.store import frame_files, frames, moved_files
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.files.models import Problems
from winnow.web.models import FileName, Id, Model
from winnow.web.set_aside.models import DeletionIn, DeletionLookIn, DeletionLookOut, DeletionOut
from winnow.work import filtering
from winnow.work.moves.delete import DeleteError
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api/shoots/{shoot}/aside", tags=["aside"], responses=RESPONSES)
_NAMED = 200  # files that are named one by one


class FilesCount(Model):
    """Numbers of frames and files, and bytes."""

    frames: int
    files: int
    size: int


class AsideOut(Model):
    """What would be set aside, what is, and how the last move stands."""

    rejects: FilesCount
    held: FilesCount
    held_frames: list[int]
    folders: list[FileName]
    running: bool
    back: bool
    done: int
    total: int
    moved: int | None
    notice: str
    problems: Problems


class AsideIn(Model):
    """Which frames; without any, all rejects, or all that are set aside."""

    frames: Annotated[list[Id], Field(max_length=200_000)] | None = None


def _rejects(runtime: Runtime, shoot: int) -> list[int]:
    there = set(frame_files.there(runtime.db, shoot))
    wanted = Filter(decisions=(Decision.REJECT,))
    return [frame for frame in filtering.matching(runtime.db, shoot, wanted) if frame in there]


@router.get("")
def get_aside(shoot: ShootDep, runtime: RuntimeDep) -> AsideOut:
    """What would be set aside, what is, and how the last move stands."""
    files = frame_files.files_of(runtime.db, _rejects(runtime, shoot))
    sizes = [path.stat().st_size for frame in files for path in frame.whole if path.exists()]
    kept = moved_files.of_shoot(runtime.db, shoot)
    status = runtime.aside.status(shoot)
    result = status.result
    folders = {str(scan.holding_folder(frame.root)) for frame in files}
    folders |= {str(scan.holding_folder(f.root)) for f in frame_files.files_of(runtime.db, kept)}
    return AsideOut.of(
        status,
        rejects=FilesCount(frames=len(files), files=len(sizes), size=sum(sizes)),
        held=FilesCount(
            frames=len(kept),
            files=sum(len(held) for held in kept.values()),
            size=sum(file.size for held in kept.values() for file in held),
        ),
        held_frames=list(kept),
        folders=sorted(folders),
        moved=result.frames if result else None,
        problems=result.problems if result else (),
    )


@router.post("", status_code=202)
def set_aside(shoot: ShootDep, wanted: AsideIn, runtime: RuntimeDep) -> AsideOut:
    """Move frames to the holding folder; without any named, all rejects."""
    ids = wanted.frames if wanted.frames is not None else _rejects(runtime, shoot)
    return _start(runtime, shoot, ids, back=False)


@router.post("/back", status_code=202)
def bring_back(shoot: ShootDep, wanted: AsideIn, runtime: RuntimeDep) -> AsideOut:
    """Bring frames back to where they were; without any named, all that are set aside."""
    ids = (
        wanted.frames
        if wanted.frames is not None
        else list(moved_files.of_shoot(runtime.db, shoot))
    )
    return _start(runtime, shoot, ids, back=True)


@router.delete("")
def stop_moving(shoot: ShootDep, runtime: RuntimeDep) -> AsideOut:
    """Stop a move; frames that are moved stay where they are."""
    runtime.aside.stop(shoot)
    return get_aside(shoot, runtime)


def _start(runtime: Runtime, shoot: int, ids: list[int], *, back: bool) -> AsideOut:
    if not set(ids) <= frames.of_shoot(runtime.db, shoot, ids):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    runtime.aside.start(shoot, ids, back=back)
    return get_aside(shoot, runtime)


# --- deleting for good ------------------------------------------------------------------------


@router.get("/deletion")
def get_deletion(shoot: ShootDep, runtime: RuntimeDep) -> DeletionOut:
    """How looking at what would be deleted, or deleting it, stands."""
    status = runtime.deletions.status(shoot)
    look = status.look
    return DeletionOut.of(
        status,
        look=look
        and DeletionLookOut.of(
            look, frames=len(look.frames), only=look.only[:_NAMED], only_files=len(look.only)
        ),
    )


@router.post("/deletion/look", status_code=202)
def look_at_deletion(shoot: ShootDep, wanted: DeletionLookIn, runtime: RuntimeDep) -> DeletionOut:
    """Begin to count what deleting frames that are set aside would take away, and what exists
    nowhere else."""
    kept = moved_files.of_shoot(runtime.db, shoot)
    ids = wanted.frames if wanted.frames is not None else list(kept)
    if not set(ids) <= kept.keys():
        raise HTTPException(400, say("Only frames that are set aside can be deleted."))
    try:
        runtime.deletions.look(shoot, ids)
    except DeleteError as error:
        raise HTTPException(400, str(error)) from None
    return get_deletion(shoot, runtime)


@router.post("/deletion", status_code=202)
def delete_for_good(shoot: ShootDep, wanted: DeletionIn, runtime: RuntimeDep) -> DeletionOut:
    """Delete what was looked at, if the number of frames is typed right."""
    try:
        runtime.deletions.start(shoot, wanted.number, trash=wanted.trash)
    except DeleteError as error:
        raise HTTPException(400, str(error)) from None
    return get_deletion(shoot, runtime)


@router.delete("/deletion")
def leave_deletion(shoot: ShootDep, runtime: RuntimeDep) -> DeletionOut:
    """Stop looking, or deleting; what is deleted is deleted."""
    runtime.deletions.stop(shoot)
    runtime.deletions.forget(shoot)
    return get_deletion(shoot, runtime)
