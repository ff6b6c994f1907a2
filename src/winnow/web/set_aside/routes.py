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
from winnow.web.depends import RESPONSES, ShootDep, StudioDep, as_text
from winnow.web.files.models import LeftOut
from winnow.web.models import Id, Model
from winnow.web.proofs.models import DeletionIn, DeletionLookIn, DeletionLookOut, DeletionOut
from winnow.work.moves.delete import DeleteError
from winnow.work.runtime import Studio

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
    folders: list[str]
    running: bool
    back: bool
    done: int
    total: int
    moved: int | None
    notice: str
    problems: list[LeftOut]


class AsideIn(Model):
    """Which frames; without any, all rejects, or all that are set aside."""

    frames: Annotated[list[Id], Field(max_length=200_000)] | None = None


def _rejects(studio: Studio, shoot: int) -> list[int]:
    there = set(frame_files.there(studio.db, shoot))
    wanted = Filter(decisions=(Decision.REJECT,))
    return [frame for frame in frames.filtered(studio.db, shoot, wanted) if frame in there]


@router.get("")
def get_aside(shoot: ShootDep, studio: StudioDep) -> AsideOut:
    """What would be set aside, what is, and how the last move stands."""
    files = frame_files.files_of(studio.db, _rejects(studio, shoot))
    sizes = [path.stat().st_size for frame in files for path in frame.whole if path.exists()]
    kept = moved_files.of_shoot(studio.db, shoot)
    status = studio.aside.status(shoot)
    result = status.result
    folders = {str(scan.holding_folder(frame.root)) for frame in files}
    folders |= {str(scan.holding_folder(f.root)) for f in frame_files.files_of(studio.db, kept)}
    return AsideOut(
        rejects=FilesCount(frames=len(files), files=len(sizes), size=sum(sizes)),
        held=FilesCount(
            frames=len(kept),
            files=sum(len(own) for own in kept.values()),
            size=sum(one.size for own in kept.values() for one in own),
        ),
        held_frames=list(kept),
        folders=[as_text(folder) for folder in sorted(folders)],
        running=status.running,
        back=status.back,
        done=status.done,
        total=status.total,
        moved=result.frames if result else None,
        notice=status.notice,
        problems=[LeftOut(frame=f, notice=why) for f, why in (result.problems if result else ())],
    )


@router.post("", status_code=202)
def set_aside(shoot: ShootDep, wanted: AsideIn, studio: StudioDep) -> AsideOut:
    """Move frames to the holding folder; without any named, all rejects."""
    ids = wanted.frames if wanted.frames is not None else _rejects(studio, shoot)
    return _start(studio, shoot, ids, back=False)


@router.post("/back", status_code=202)
def bring_back(shoot: ShootDep, wanted: AsideIn, studio: StudioDep) -> AsideOut:
    """Bring frames back to where they were; without any named, all that are set aside."""
    ids = (
        wanted.frames if wanted.frames is not None else list(moved_files.of_shoot(studio.db, shoot))
    )
    return _start(studio, shoot, ids, back=True)


@router.delete("")
def stop_moving(shoot: ShootDep, studio: StudioDep) -> AsideOut:
    """Stop a move; frames that are moved stay where they are."""
    studio.aside.stop(shoot)
    return get_aside(shoot, studio)


def _start(studio: Studio, shoot: int, ids: list[int], *, back: bool) -> AsideOut:
    if not set(ids) <= frames.of_shoot(studio.db, shoot, ids):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    studio.aside.start(shoot, ids, back=back)
    return get_aside(shoot, studio)


# --- deleting for good ------------------------------------------------------------------------


@router.get("/deletion")
def get_deletion(shoot: ShootDep, studio: StudioDep) -> DeletionOut:
    """How looking at what would be deleted, or deleting it, stands."""
    status = studio.deletions.status(shoot)
    look = status.look
    return DeletionOut(
        stage=status.stage,
        done=status.done,
        total=status.total,
        look=look
        and DeletionLookOut(
            frames=len(look.frames),
            files=look.files,
            size=look.size,
            only=[as_text(name) for name in look.only[:_NAMED]],
            only_files=len(look.only),
            only_size=look.only_size,
        ),
        deleted=status.deleted,
        notice=status.notice,
        problems=[LeftOut(frame=frame, notice=why) for frame, why in status.problems],
    )


@router.post("/deletion/look", status_code=202)
def look_at_deletion(shoot: ShootDep, wanted: DeletionLookIn, studio: StudioDep) -> DeletionOut:
    """Begin to count what deleting frames that are set aside would take away, and what exists nowhere else."""
    kept = moved_files.of_shoot(studio.db, shoot)
    ids = wanted.frames if wanted.frames is not None else list(kept)
    if not set(ids) <= kept.keys():
        raise HTTPException(400, say("Only frames that are set aside can be deleted."))
    try:
        studio.deletions.look(shoot, ids)
    except DeleteError as error:
        raise HTTPException(400, str(error)) from None
    return get_deletion(shoot, studio)


@router.post("/deletion", status_code=202)
def delete_for_good(shoot: ShootDep, wanted: DeletionIn, studio: StudioDep) -> DeletionOut:
    """Delete what was looked at, if the number of frames is typed right."""
    try:
        studio.deletions.start(shoot, wanted.number, trash=wanted.trash)
    except DeleteError as error:
        raise HTTPException(400, str(error)) from None
    return get_deletion(shoot, studio)


@router.delete("/deletion")
def leave_deletion(shoot: ShootDep, studio: StudioDep) -> DeletionOut:
    """Stop looking, or deleting; what is deleted is deleted."""
    studio.deletions.stop(shoot)
    studio.deletions.forget(shoot)
    return get_deletion(shoot, studio)
