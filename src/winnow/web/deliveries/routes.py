"""Delivering frames to a folder, and recipes for that."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.core.deliver import naming
from winnow.say import say
from winnow.store import deliveries, settings
from winnow.store.deliveries import Delivery
from winnow.web.deliveries.models import (
    DeliveryIn,
    DeliveryItemOut,
    DeliveryOut,
    PlanOut,
    RecipeModel,
    Renamed,
)
from winnow.web.depends import RESPONSES, IdPath, ShootDep, StudioDep, as_text, frames_in, path_in
from winnow.web.settings.routes import SetNameQuery
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError, Plan, Wish
from winnow.work.runtime import Studio

router = APIRouter(prefix="/api", tags=["wrap-up"], responses=RESPONSES)
_FIRST = 12


def _plan(studio: Studio, shoot: int, wanted: DeliveryIn) -> Plan:
    target = path_in(wanted.target)
    ids = frames_in(studio, shoot, wanted)
    wish = Wish(
        wanted.sidecars,
        wanted.template,
        wanted.which,
        wanted.how,
        wanted.manifest,
        wanted.companions,
    )
    try:
        return delivery_plan.plan(studio.db, shoot, target, ids, wish)
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    except OSError as error:
        raise HTTPException(
            400, say("The folder can't be used: {why}.", why=error.strerror)
        ) from None


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
        changed=list(planned.changed),
        elsewhere=list(planned.elsewhere),
        unchecked=list(planned.unchecked),
        companions=planned.companions,
        first=[
            Renamed(name=as_text(item.source.name), copy_name=as_text(item.name))
            for item in planned.items[:_FIRST]
            if item.kind in ("copy", "move", "link")
        ],
    )


@router.post("/shoots/{shoot}/deliveries", status_code=201)
def start_delivery(shoot: ShootDep, wanted: DeliveryIn, studio: StudioDep) -> DeliveryOut:
    """Start a delivery."""
    try:
        delivery = studio.deliveries.start(shoot, _plan(studio, shoot, wanted))
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    return _get(studio, delivery)


@router.get("/shoots/{shoot}/deliveries")
def list_deliveries(shoot: ShootDep, studio: StudioDep) -> list[DeliveryOut]:
    """A shoot's deliveries, the last one first."""
    return [_out(studio, delivery) for delivery in deliveries.of_shoot(studio.db, shoot)]


def _get(studio: Studio, delivery: int) -> DeliveryOut:
    found: Delivery | None = deliveries.get(studio.db, delivery)
    if found is None:
        raise HTTPException(404, say("There is no such delivery."))
    return _out(studio, found)


def _out(studio: Studio, delivery: Delivery) -> DeliveryOut:
    shown = DeliveryOut.model_validate(delivery)
    pace = studio.deliveries.pace(delivery.id)
    if pace is None or delivery.state != "running":
        return shown
    done = shown.size_done + pace.of_file
    speed = pace.speed()
    left = (shown.size - done) / speed if speed else None
    return shown.model_copy(update={"size_done": done, "speed": speed, "left_s": left})


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
    """Pause after the file that is being copied."""
    _get(studio, delivery)
    studio.deliveries.stop(delivery)
    return _get(studio, delivery)


@router.post("/deliveries/{delivery}/cancel")
def cancel_delivery(delivery: IdPath, studio: StudioDep) -> DeliveryOut:
    """Give up what is not delivered yet; what was delivered stays."""
    _get(studio, delivery)
    studio.deliveries.cancel(delivery)
    return _get(studio, delivery)


@router.post("/deliveries/{delivery}/take-back")
def take_back_delivery(delivery: IdPath, studio: StudioDep) -> DeliveryOut:
    """Remove the copies that were made, if they are unchanged, and move back what was moved."""
    _get(studio, delivery)
    studio.deliveries.take_back(delivery)
    return _get(studio, delivery)


@router.get("/deliveries/fields")
def list_name_fields() -> dict[str, str]:
    """The fields in braces that names of delivered files can have."""
    return naming.FIELDS


@router.get("/recipes")
def list_recipes(studio: StudioDep) -> list[RecipeModel]:
    """The saved recipes of deliveries, in the order of names."""
    saved = settings.saved_sets(studio.db, "recipes")
    return [RecipeModel.model_validate({"name": name, **own}) for name, own in saved.items()]


@router.put("/recipes")
def save_recipe(wanted: RecipeModel, studio: StudioDep) -> list[RecipeModel]:
    """Keep a recipe under its name."""
    content = wanted.model_dump(mode="json", exclude={"name"})
    settings.save_set(studio.db, "recipes", wanted.name, content)
    return list_recipes(studio)


@router.delete("/recipes")
def forget_recipe(name: SetNameQuery, studio: StudioDep) -> list[RecipeModel]:
    """Remove a recipe."""
    settings.forget_set(studio.db, "recipes", name)
    return list_recipes(studio)
