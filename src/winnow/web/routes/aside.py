"""Setting rejects aside, and bringing frames back."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException
from pydantic import Field

from winnow.core.filters import Filter
from winnow.core.marks import Decision
from winnow.store import frames, held, on_disk
from winnow.web.depends import RESPONSES, ShootDep, StudioDep, as_text
from winnow.web.file_models import LeftOut
from winnow.web.models import Id, Model
from winnow.work import aside
from winnow.work.studio import Studio

router = APIRouter(prefix="/api/shoots/{shoot}/aside", tags=["aside"], responses=RESPONSES)


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
    problems: list[LeftOut]


class AsideIn(Model):
    """Which frames; without any, all rejects, or all that are set aside."""

    frames: Annotated[list[Id], Field(max_length=200_000)] | None = None


def _rejects(studio: Studio, shoot: int) -> list[int]:
    there = set(on_disk.there(studio.db, shoot))
    wanted = Filter(decisions=(Decision.REJECT,))
    return [frame for frame in frames.filtered(studio.db, shoot, wanted) if frame in there]


@router.get("")
def get_aside(shoot: ShootDep, studio: StudioDep) -> AsideOut:
    """What would be set aside, what is, and how the last move stands."""
    files = on_disk.files_of(studio.db, _rejects(studio, shoot))
    sizes = [
        path.stat().st_size
        for frame in files
        for path in (*frame.all, *frame.sidecars)
        if path.exists()
    ]
    kept = held.of_shoot(studio.db, shoot)
    status = studio.aside.status(shoot)
    result = status.result
    folders = {str(aside.holding_folder(frame.root)) for frame in files}
    folders |= {str(aside.holding_folder(f.root)) for f in on_disk.files_of(studio.db, kept)}
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
    ids = wanted.frames if wanted.frames is not None else list(held.of_shoot(studio.db, shoot))
    return _start(studio, shoot, ids, back=True)


@router.delete("")
def stop_moving(shoot: ShootDep, studio: StudioDep) -> AsideOut:
    """Stop a move; frames that are moved stay where they are."""
    studio.aside.stop(shoot)
    return get_aside(shoot, studio)


def _start(studio: Studio, shoot: int, ids: list[int], *, back: bool) -> AsideOut:
    if not set(ids) <= frames.of_shoot(studio.db, shoot, ids):
        raise HTTPException(404, "One of these frames is not in this shoot.")
    studio.aside.start(shoot, ids, back=back)
    return get_aside(shoot, studio)
