"""Wrap-up: the cull in numbers, and copying picks to a folder."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.store import deliveries
from winnow.store.deliveries import Delivery
from winnow.web.depends import RESPONSES, IdPath, ShootDep, StudioDep, as_text, to_filter
from winnow.web.models import (
    DeliveryIn,
    DeliveryItemOut,
    DeliveryOut,
    FunnelOut,
    PlanOut,
    Renamed,
)
from winnow.work import deliver, sheet, tallying
from winnow.work.deliver import DeliveryError, Plan
from winnow.work.studio import Studio

router = APIRouter(prefix="/api", tags=["wrap-up"], responses=RESPONSES)
_FIRST = 12


def _plan(studio: Studio, shoot: int, wanted: DeliveryIn) -> Plan:
    if "\0" in wanted.target:
        raise HTTPException(400, "A path can't hold a null character.")
    ids = sheet.matching(studio.db, shoot, to_filter(wanted.filter, studio))
    try:
        return deliver.plan(studio.db, shoot, wanted.target, ids, wanted.sidecars)
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    except OSError as error:
        raise HTTPException(400, f"The folder can't be used: {error.strerror}.") from None


@router.get("/shoots/{shoot}/funnel")
def get_funnel(shoot: ShootDep, studio: StudioDep) -> FunnelOut:
    """The end of the cull in numbers: the funnel, groups without a pick, picks alike, the pace."""
    return FunnelOut.model_validate(tallying.tally(studio.db, shoot))


@router.post("/shoots/{shoot}/deliveries/plan")
def plan_delivery(shoot: ShootDep, wanted: DeliveryIn, studio: StudioDep) -> PlanOut:
    """What a delivery would do; nothing is touched."""
    planned = _plan(studio, shoot, wanted)
    return PlanOut(
        target=planned.target,
        makes_folder=planned.makes_folder,
        frames=planned.frames,
        files=len(planned.items),
        size=planned.size,
        free=planned.free,
        renamed=[
            Renamed(name=as_text(old), copy_name=as_text(new)) for old, new in planned.renamed
        ],
        already_there=planned.already_there,
        missing=list(planned.missing),
        first=[as_text(item.name) for item in planned.items[:_FIRST]],
    )


@router.post("/shoots/{shoot}/deliveries", status_code=201)
def start_delivery(shoot: ShootDep, wanted: DeliveryIn, studio: StudioDep) -> DeliveryOut:
    """Start copying."""
    try:
        delivery = studio.deliveries.start(shoot, _plan(studio, shoot, wanted))
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    return _get(studio, delivery)


@router.get("/shoots/{shoot}/deliveries")
def list_deliveries(shoot: ShootDep, studio: StudioDep) -> list[DeliveryOut]:
    """A shoot's deliveries, the last one first."""
    return [DeliveryOut.model_validate(d) for d in deliveries.of_shoot(studio.db, shoot)]


def _get(studio: Studio, delivery: int) -> DeliveryOut:
    found: Delivery | None = deliveries.get(studio.db, delivery)
    if found is None:
        raise HTTPException(404, "There is no such delivery.")
    return DeliveryOut.model_validate(found)


@router.get("/deliveries/{delivery}/items")
def list_items(delivery: IdPath, studio: StudioDep) -> list[DeliveryItemOut]:
    """What went where."""
    _get(studio, delivery)
    return [
        DeliveryItemOut.model_validate(
            {
                "source": as_text(item.source),
                "name": as_text(item.name),
                "state": item.state,
                "hash": item.hash,
                "notice": item.notice,
            }
        )
        for item in deliveries.items(studio.db, delivery)
    ]


@router.post("/deliveries/{delivery}/resume")
def resume_delivery(delivery: IdPath, studio: StudioDep) -> DeliveryOut:
    """Go on with a stopped delivery, and try what failed again."""
    _get(studio, delivery)
    studio.deliveries.resume(delivery)
    return _get(studio, delivery)


@router.post("/deliveries/{delivery}/stop")
def stop_delivery(delivery: IdPath, studio: StudioDep) -> DeliveryOut:
    """Stop after the file that is being copied."""
    _get(studio, delivery)
    studio.deliveries.stop(delivery)
    return _get(studio, delivery)
