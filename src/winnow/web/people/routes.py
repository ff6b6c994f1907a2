"""Who is in which frame: switched on a shoot at a time, and forgotten by one request.

Nothing here is for guests: what they may ask is listed, and this is not.
"""

from __future__ import annotations

from typing import Annotated, Final

from fastapi import APIRouter, HTTPException, Query, Response

from winnow.photos import face_numbers, jpegs
from winnow.photos import faces as face_finder
from winnow.say import say
from winnow.store import frames
from winnow.store import people as store
from winnow.store.people import Saying
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.hints.models import FacePlace
from winnow.web.people.models import FaceIn, JoinIn, PeopleOut
from winnow.work import people, who_counts
from winnow.work.index.faces_and_hints import FACE_VERSION
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api/shoots/{shoot}/people", tags=["people"], responses=RESPONSES)

_FACE_PX: Final = 160


@router.get("")
def get_people(shoot: ShootDep, runtime: RuntimeDep) -> PeopleOut:
    """Everybody in the shoot, the one seen most first."""
    can = face_finder.available() and face_numbers.available()
    if not store.is_on(runtime.db, shoot):
        return PeopleOut(on=False, can=can, waits=False, left=0)
    left = len(store.waiting(runtime.db, shoot, FACE_VERSION))
    return PeopleOut.of(
        people.people_of(runtime.db, shoot),
        on=True,
        can=can,
        left=left,
        waits=left > 0
        or store.is_stale(runtime.db, shoot)
        or runtime.indexer.status(shoot).running,
        said=bool(store.said(runtime.db, shoot)),
    )


@router.get("/face", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
def get_face(shoot: ShootDep, runtime: RuntimeDep, wanted: Annotated[FaceIn, Query()]) -> Response:
    """A small picture of a face, with some hair and chin."""
    row = frames.get(runtime.db, wanted.frame)
    if row is None or not frames.of_shoot(runtime.db, shoot, [wanted.frame]):
        raise HTTPException(404, say("This frame is not in this shoot."))
    data = runtime.cache.read(row.key, "preview") if row.key else None
    if data is None:
        raise HTTPException(404, row.notice or say("The picture isn’t there yet."))
    box = (wanted.left, wanted.top, wanted.right, wanted.bottom)
    picture = jpegs.face_of_jpeg(data, box, _FACE_PX)
    # What the address names may change with the frame's content; the key in it says which that is.
    lasts = {"cache-control": "private, max-age=3600"} if wanted.key == row.key else {}
    return Response(picture, media_type="image/jpeg", headers=lasts)


@router.put("")
def tell_apart(shoot: ShootDep, runtime: RuntimeDep) -> PeopleOut:
    """Begin to tell people apart in this shoot, behind everything else."""
    store.switch_on(runtime.db, shoot)
    return _told_anew(runtime, shoot)


@router.delete("")
def forget_people(shoot: ShootDep, runtime: RuntimeDep) -> PeopleOut:
    """Stop it, and forget everybody, with every number that was made for it."""
    store.forget(runtime.db, shoot)
    who_counts.forget(runtime.db, shoot)
    return _told_anew(runtime, shoot)


@router.post("/join")
def join_people(shoot: ShootDep, wanted: JoinIn, runtime: RuntimeDep) -> PeopleOut:
    """Say that two numbers are one person."""
    if not people.join(runtime.db, shoot, wanted.one, wanted.other):
        raise HTTPException(404, say("There are no such two people in this shoot."))
    return _told_anew(runtime, shoot)


@router.post("/out")
def take_face_out(shoot: ShootDep, wanted: FacePlace, runtime: RuntimeDep) -> PeopleOut:
    """Say that a face is not who it was taken for; it is nobody's then."""
    if not frames.of_shoot(runtime.db, shoot, [wanted.frame]):
        raise HTTPException(404, say("This frame is not in this shoot."))
    store.say(runtime.db, shoot, Saying("out", (wanted.frame, wanted.x, wanted.y)))
    return _told_anew(runtime, shoot)


@router.post("/undo")
def take_back(shoot: ShootDep, runtime: RuntimeDep) -> PeopleOut:
    """Take back what was said last of people."""
    store.take_back(runtime.db, shoot)
    return _told_anew(runtime, shoot)


def _told_anew(runtime: Runtime, shoot: int) -> PeopleOut:
    runtime.indexer.start(shoot)
    runtime.events.tell(shoot, "people")
    return get_people(shoot, runtime)
