"""What routes need: the running runtime, and a shoot that exists."""

from __future__ import annotations

from http import HTTPStatus
from typing import Annotated, Any, cast

from fastapi import Depends, HTTPException, Request
from fastapi import Path as PathParameter

from winnow.core.filters import parser
from winnow.core.filters.filter import Filter
from winnow.say import say
from winnow.store import frames, labels, shoots
from winnow.web.deliveries.models import FramesIn
from winnow.web.guests.sessions import GUEST, Guest
from winnow.web.models import FilterModel, Problem
from winnow.work import filtering
from winnow.work.runtime import Runtime

# One is named by its model, the others refer to that: each model of each route is prepared at each
# start, and these were most of them.
RESPONSES: dict[int | str, dict[str, Any]] = {
    400: {"model": Problem},
    **{
        status: {
            "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
            "description": HTTPStatus(status).phrase,
        }
        for status in (401, 403, 404, 411, 413, 421, 503)
    },
}


def runtime(request: Request) -> Runtime:
    """The running runtime."""
    return cast(Runtime, request.app.state.runtime)


RuntimeDep = Annotated[Runtime, Depends(runtime)]
IdPath = Annotated[int, PathParameter(ge=1, le=2**53)]


def shoot_id(shoot: IdPath, runtime: RuntimeDep) -> int:
    """The id in the path, if there is such a shoot."""
    if not shoots.exists(runtime.db, shoot):
        raise HTTPException(404, say("There is no such shoot."))
    return shoot


def guest(request: Request) -> Guest | None:
    """The guest who asks; None for the owner."""
    return cast("Guest | None", request.scope.get(GUEST))


GuestDep = Annotated[Guest | None, Depends(guest)]


def by(guest: GuestDep) -> str:
    """The name under which steps are made: the guest's, "" for the owner."""
    return guest.name if guest else ""


ByDep = Annotated[str, Depends(by)]


ShootDep = Annotated[int, Depends(shoot_id)]


def to_filter(model: FilterModel, runtime: Runtime) -> Filter:
    """The core's filter from the API's; what is written wrongly is said with its place."""
    try:
        where = parser.parse(model.written, labels.label_names(runtime.db))
    except parser.WrittenError as error:
        raise HTTPException(
            400, say("{error} (character {at})", error=error, at=error.at + 1)
        ) from None
    return Filter(
        tuple(model.decisions),
        model.stars_rule,
        model.stars,
        tuple(model.labels),
        model.written.strip() if where is not None else "",
        where,
    )


def frames_in(runtime: Runtime, shoot: int, wanted: FramesIn) -> list[int]:
    """The frames that a request is about; those that are named must be of this shoot."""
    if wanted.frames is None:
        return filtering.matching(runtime.db, shoot, to_filter(wanted.filter, runtime))
    if not set(wanted.frames) <= frames.of_shoot(runtime.db, shoot, wanted.frames):
        raise HTTPException(404, say("One of these frames is not in this shoot."))
    return wanted.frames


def path_in(typed: str) -> str:
    """A path from a request."""
    if "\0" in typed:
        raise HTTPException(400, say("A path can’t hold a null character."))
    return typed
