"""Sharing a shoot with guests on the local network, and what becomes of what they did."""

from __future__ import annotations

from typing import cast

from fastapi import APIRouter, HTTPException, Request, Response

from winnow.say import say
from winnow.store import guests, shoots
from winnow.web.depends import RESPONSES, GuestDep, RuntimeDep, ShootDep
from winnow.web.guests.addresses import as_code
from winnow.web.guests.models import GuestOut, SharingIn, SharingOut, TakeIn, WaitingOut
from winnow.web.guests.sessions import SHORTEST
from winnow.web.guests.shares import Shares
from winnow.web.marks.models import ChangeOut
from winnow.work import change_events

router = APIRouter(prefix="/api", tags=["sharing"], responses=RESPONSES)


def _shares(request: Request) -> Shares:
    return cast(Shares, request.app.state.shares)


@router.get("/sharing")
def get_sharing(request: Request, guest: GuestDep) -> SharingOut:
    """Whether a shoot is shared on the network; to a guest, who they are and what they may do."""
    shared = _shares(request).now
    if shared is None or guest is not None:
        return SharingOut(
            on=shared is not None,
            guest=guest.name if guest else "",
            may=sorted(guest.may) if guest else [],
            shoot=shared.sharing.shoot_id if shared else None,
            urls=[],
            code="",
            fingerprint=shared.fingerprint if shared else "",
            guests=[],
            shortest=SHORTEST,
        )
    return SharingOut(
        on=True,
        guest="",
        may=sorted(shared.sharing.may),
        shoot=shared.sharing.shoot_id,
        urls=list(shared.urls),
        code=as_code(shared.urls[0]) if shared.urls else "",
        fingerprint=shared.fingerprint,
        guests=[GuestOut.model_validate(guest) for guest in shared.sharing.guests()],
        shortest=SHORTEST,
    )


@router.put("/sharing")
def share(wanted: SharingIn, request: Request, runtime: RuntimeDep, guest: GuestDep) -> SharingOut:
    """Share a shoot on the local network, and no other any more.

    Guests who were signed in sign in anew.
    """
    if not shoots.exists(runtime.db, wanted.shoot):
        raise HTTPException(404, say("There is no such shoot."))
    try:
        _shares(request).switch_on(wanted.shoot, wanted.password, wanted.may)
    except ValueError as error:
        raise HTTPException(400, str(error)) from None
    return get_sharing(request, guest)


@router.delete("/sharing")
def stop_sharing(request: Request, guest: GuestDep) -> SharingOut:
    """Share nothing any more; every guest's session ends."""
    _shares(request).switch_off()
    return get_sharing(request, guest)


@router.delete("/sharing/guests/{guest_id}", status_code=204)
def end_session(guest_id: int, request: Request) -> Response:
    """End a guest's session: nothing more is answered to it."""
    if shared := _shares(request).now:
        shared.sharing.end(guest_id)
    return Response(status_code=204)


@router.get("/shoots/{shoot}/guests")
def list_waiting(shoot: ShootDep, runtime: RuntimeDep) -> list[WaitingOut]:
    """What guests did in a shoot that was neither taken over nor taken back.

    Nothing of it is written to files.
    """
    return [WaitingOut.model_validate(step) for step in guests.waiting(runtime.db, shoot)]


@router.post("/shoots/{shoot}/guests/take")
def take_over(shoot: ShootDep, wanted: TakeIn, runtime: RuntimeDep) -> list[WaitingOut]:
    """Take over what guests did: from now on it counts as the owner's, and is written to files like
    that."""
    guests.take_over(runtime.db, shoot, wanted.by)
    runtime.events.tell(shoot, "guests")
    runtime.file_writer.soon(shoot)
    return list_waiting(shoot, runtime)


@router.post("/shoots/{shoot}/guests/take-back")
def take_back(shoot: ShootDep, wanted: TakeIn, runtime: RuntimeDep) -> ChangeOut:
    """Take back what guests did and nobody took over, as one step of the history."""
    change = guests.take_back(runtime.db, shoot, wanted.by)
    runtime.events.tell(shoot, "guests")
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window)
    )
