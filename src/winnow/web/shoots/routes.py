"""Shoots: making, opening, indexing and forgetting them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Request, Response
from fastapi.responses import JSONResponse

from winnow.core.folders import nested
from winnow.photos import folders
from winnow.say import say
from winnow.store import frame_order, frames, moved_files, shoots
from winnow.store.shoots import Shoot
from winnow.web.depends import RESPONSES, GuestDep, RuntimeDep, ShootDep
from winnow.web.folders.routes import folder as readable
from winnow.web.guests.sessions import Guest
from winnow.web.shoots.models import (
    AskedOut,
    ClockIn,
    ClockOut,
    MovedShoot,
    PlaceIn,
    ShootChange,
    ShootIn,
    ShootOut,
)
from winnow.work.files.read import ONE_AT_A_TIME
from winnow.work.index import regroup
from winnow.work.moves import moved_shoots
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["shoots"], responses=RESPONSES)


def _out(runtime: Runtime, shoot: Shoot, guest: Guest | None = None) -> ShootOut:
    out = ShootOut.model_validate(
        {
            **{name: getattr(shoot, name) for name in Shoot.__slots__},
            "status": runtime.indexer.status(shoot.id),
            "cover": frames.cover(runtime.db, shoot.id),
        }
    )
    if guest is not None:
        # Where files are, and what is wrong with which, is the owner's.
        out.folders.clear()
        out.status.notices.clear()
    return out


@router.get("/shoots")
def list_shoots(runtime: RuntimeDep, guest: GuestDep) -> list[ShootOut]:
    """Every shoot, the last opened one first; to a guest the one that is shared."""
    listed = shoots.all_shoots(runtime.db)
    if guest is not None:
        # guard: shoots that are not shared
        listed = [shown for shown in listed if shown.id == guest.shoot_id]
    return [_out(runtime, shoot, guest) for shoot in listed]


@router.post(
    "/shoots", status_code=201, response_model=ShootOut, responses={409: {"model": AskedOut}}
)
def make_shoot(wanted: ShootIn, runtime: RuntimeDep) -> ShootOut | JSONResponse:
    """Make a shoot from folders and begin indexing; the same folders again open the same shoot.

    Where they seem to be those of a shoot that moved, or hold far more than a shoot, that is asked
    (409), unless it is to be a new one anyway, or the whole of it.
    """
    paths = list(dict.fromkeys(map(readable, wanted.folders)))
    if within := nested([path.parts for path in paths]):
        raise HTTPException(
            400,
            say(
                "“{inner}” lies within “{outer}”, which is searched with all below it. Leave "
                "it out.",
                inner=paths[within[0]],
                outer=paths[within[1]],
            ),
        )
    opened = list(map(str, paths))
    shoot_id = shoots.find_by_folders(runtime.db, opened)
    if shoot_id is None:
        wide = None if wanted.whole else next(filter(folders.is_wide, paths), None)
        if wide:
            words = folders.wide_words(wide)
            return JSONResponse(AskedOut(detail=words, wide=wide).model_dump(), 409)
        seen = None if wanted.as_new else moved_shoots.find(runtime.db, opened)
        if seen:
            asked = AskedOut(detail=seen.sentence, moved=MovedShoot.model_validate(seen))
            return JSONResponse(asked.model_dump(), 409)
        name = (wanted.name or "").strip() or paths[0].name or opened[0]
        shoot_id = shoots.make(runtime.db, name, opened)
    else:
        shoots.touch(runtime.db, shoot_id)
    runtime.indexer.start(shoot_id)
    shoot = shoots.get(runtime.db, shoot_id)
    assert shoot is not None
    return _out(runtime, shoot)


@router.get("/shoots/{shoot}")
def get_shoot(shoot: ShootDep, runtime: RuntimeDep, guest: GuestDep = None) -> ShootOut:
    """One shoot."""
    stored = shoots.get(runtime.db, shoot)
    if stored is None:
        raise HTTPException(404, say("There is no such shoot."))
    return _out(runtime, stored, guest)


@router.post("/shoots/{shoot}/open")
def open_shoot(
    shoot: ShootDep,
    runtime: RuntimeDep,
    again: Annotated[bool, Query(description="this window shows it already")] = False,
) -> ShootOut:
    """Note that a shoot is opened, and look for what changed on disk since: what others changed in
    files is taken over, or only offered where the shoot was open all along."""
    offer = again or shoot in runtime.events.open_shoots()
    shoots.touch(runtime.db, shoot)
    runtime.indexer.start(shoot, offer=offer)
    runtime.file_writer.soon(shoot)
    runtime.close_ups.warm_soon()
    return get_shoot(shoot, runtime)


@router.patch("/shoots/{shoot}")
def change_shoot(shoot: ShootDep, change: ShootChange, runtime: RuntimeDep) -> ShootOut:
    """Rename a shoot, set how many frames are to be kept of it, how the first pass is done, or
    whether it is archived."""
    if change.name is not None:
        if not change.name.strip():
            raise HTTPException(400, say("A shoot needs a name."))
        shoots.rename(runtime.db, shoot, change.name.strip())
    if change.keep_target is not None:
        shoots.aim(runtime.db, shoot, change.keep_target or None)
    if change.way is not None:
        shoots.choose_way(runtime.db, shoot, change.way)
    if change.archived is not None:
        shoots.archive(runtime.db, shoot, change.archived)
    return get_shoot(shoot, runtime)


@router.post("/shoots/{shoot}/folders/{folder}/place")
def place_folder(shoot: ShootDep, folder: int, wanted: PlaceIn, runtime: RuntimeDep) -> ShootOut:
    """Say where a source folder of a shoot is now: its frames are looked for there, with all
    marks."""
    place = readable(wanted.place)
    runtime.indexer.stop(shoot)
    try:
        with ONE_AT_A_TIME:
            moved_shoots.point(runtime.db, shoot, folder, place)
    except moved_shoots.MovedError as error:
        raise HTTPException(400, str(error)) from None
    finally:
        runtime.indexer.start(shoot)
    return get_shoot(shoot, runtime)


@router.delete("/shoots/{shoot}", status_code=204)
def forget_shoot(shoot: ShootDep, runtime: RuntimeDep, request: Request) -> Response:
    """Forget a shoot and its marks; it is shared no more. No file is touched."""
    if moved_files.of_shoot(runtime.db, shoot):
        raise HTTPException(400, say("Frames of this shoot are set aside. Bring them back first."))
    runtime.indexer.stop(shoot)
    # Its number may become that of another shoot, which its guests must not see.
    request.app.state.shares.forget(shoot)  # guard: shoots that were forgotten
    shoots.forget(runtime.db, shoot)
    return Response(status_code=204)


@router.post("/shoots/{shoot}/index")
def start_indexing(shoot: ShootDep, runtime: RuntimeDep) -> ShootOut:
    """Look for changes on disk, go on with indexing, and try failed frames again."""
    runtime.indexer.start(shoot, again=True)
    return get_shoot(shoot, runtime)


@router.delete("/shoots/{shoot}/index")
def stop_indexing(shoot: ShootDep, runtime: RuntimeDep) -> ShootOut:
    """Stop indexing; what is done stays."""
    runtime.indexer.stop(shoot)
    return get_shoot(shoot, runtime)


@router.get("/shoots/{shoot}/clocks")
def list_clocks(shoot: ShootDep, runtime: RuntimeDep) -> list[ClockOut]:
    """The cameras of a shoot with their clocks."""
    return [ClockOut.model_validate(clock) for clock in shoots.clocks(runtime.db, shoot)]


@router.put("/shoots/{shoot}/clocks")
def set_clock(shoot: ShootDep, wanted: ClockIn, runtime: RuntimeDep) -> list[ClockOut]:
    """Set a camera's offset and put the frames in their new order."""
    known = {(clock.camera, clock.serial) for clock in shoots.clocks(runtime.db, shoot)}
    if (wanted.camera, wanted.serial) not in known:
        raise HTTPException(404, say("This shoot has no frames of such a camera."))
    shoots.set_clock(runtime.db, shoot, wanted.camera, wanted.serial, wanted.offset_s)
    frame_order.set_shot_times(runtime.db, shoot)
    frame_order.put_in_order(runtime.db, shoot)
    # Even in the same order: the pauses, and so the groups, are others.
    regroup.regroup(runtime.db, shoot)
    runtime.events.tell(shoot, "order")
    return list_clocks(shoot, runtime)
