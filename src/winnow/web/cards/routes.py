"""Bringing pictures in from a memory card."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, HTTPException, Query, Response

from winnow.core.files import templates
from winnow.say import say
from winnow.store import card_imports, settings
from winnow.store.card_imports import Bringing
from winnow.web.cards.models import (
    BringingOut,
    BringItemOut,
    BringPlanOut,
    CardOut,
    CardsOut,
    LookIn,
    OnCardOut,
    WishIn,
)
from winnow.web.depends import RESPONSES, IdPath, RuntimeDep, path_in
from winnow.work.deliver.card_plan import BringInError, Wish
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["bring in"], responses=RESPONSES)
_FIRST = 6


@router.get("/cards")
def list_cards(runtime: RuntimeDep) -> CardsOut:
    """The memory cards that are connected."""
    chosen = settings.load(runtime.db).bring_in
    return CardsOut(
        cards=[CardOut.of(card, name=card.root.name) for card in runtime.bring_ins.cards()],
        target=chosen.target or str(Path.home() / "Pictures"),
        second=chosen.second,
        template=chosen.template or templates.DEFAULT,
        fields=templates.FIELDS,
    )


@router.post("/cards/look")
def look_at_card(wanted: LookIn, runtime: RuntimeDep) -> list[OnCardOut]:
    """What is on a card, in the order in which it was taken; nothing is copied."""
    try:
        found = runtime.bring_ins.look.frames(path_in(wanted.source), path_in(wanted.target))
    except BringInError as error:
        raise HTTPException(400, str(error)) from None
    return [OnCardOut.model_validate(frame) for frame in found]


@router.get("/cards/picture", response_class=Response)
def card_picture(
    runtime: RuntimeDep,
    source: Annotated[str, Query(max_length=4096)],
    path: Annotated[str, Query(max_length=4096)],
) -> Response:
    """A small picture of a file on a card, as JPEG."""
    try:
        small = runtime.bring_ins.look.picture(path_in(source), path_in(path))
    except BringInError as error:
        raise HTTPException(400, str(error)) from None
    if small is None:
        raise HTTPException(404, say("This file has no small picture."))
    return Response(small, media_type="image/jpeg", headers={"Cache-Control": "max-age=3600"})


@router.post("/bringings/plan")
def plan_bringing(wish: WishIn, runtime: RuntimeDep) -> BringPlanOut:
    """What bringing a card in would do; nothing is touched."""
    try:
        plan = runtime.bring_ins.plan(_wish(wish))
    except BringInError as error:
        raise HTTPException(400, str(error)) from None
    return BringPlanOut.of(
        plan, files=len(plan.items), first=[item.name for item in plan.items[:_FIRST]]
    )


@router.post("/bringings", status_code=201)
def start_bringing(wish: WishIn, runtime: RuntimeDep) -> BringingOut:
    """Begin to copy. The shoot is there at once, and what has arrived can be culled."""
    try:
        bringing = runtime.bring_ins.start(_wish(wish))
    except BringInError as error:
        raise HTTPException(400, str(error)) from None
    chosen = wish.model_dump(include={"target", "second", "template"})
    settings.save(runtime.db, {"bring_in": chosen})
    return _get(runtime, bringing)


@router.get("/bringings")
def list_bringings(runtime: RuntimeDep) -> list[BringingOut]:
    """The last bringings-in, the newest first."""
    return [_out(runtime, card_import) for card_import in card_imports.latest(runtime.db)]


@router.get("/bringings/{bringing}/items")
def list_brought(bringing: IdPath, runtime: RuntimeDep) -> list[BringItemOut]:
    """What became of each file."""
    _get(runtime, bringing)
    return [BringItemOut.model_validate(item) for item in card_imports.items(runtime.db, bringing)]


@router.post("/bringings/{bringing}/{step}")
def step_bringing(
    bringing: IdPath, step: Literal["resume", "stop"], runtime: RuntimeDep
) -> BringingOut:
    """Go on with a stopped one, and try what failed again; or stop after the file that is being
    copied."""
    _get(runtime, bringing)
    {"resume": runtime.bring_ins.resume, "stop": runtime.bring_ins.stop}[step](bringing)
    return _get(runtime, bringing)


def _wish(wish: WishIn) -> Wish:
    for path in (wish.source, wish.target, wish.second, wish.shoot):
        path_in(path)
    return Wish(**{**wish.model_dump(), "leave": frozenset(wish.leave)})


def _get(runtime: Runtime, bringing: int) -> BringingOut:
    stored = card_imports.get(runtime.db, bringing)
    if stored is None:
        raise HTTPException(404, say("There is no such bringing-in."))
    return _out(runtime, stored)


def _out(runtime: Runtime, bringing: Bringing) -> BringingOut:
    safe, report = runtime.bring_ins.report(bringing)
    return BringingOut.of(bringing, safe=safe, report=report)
