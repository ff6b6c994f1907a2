"""Delivering frames to a folder, and recipes for that."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter, HTTPException

from winnow.core.deliver import naming
from winnow.core.deliver.ways import WAYS
from winnow.say import say
from winnow.store import deliveries, settings, shoots
from winnow.store.deliveries import Delivery
from winnow.web.deliveries.models import (
    DeliveryIn,
    DeliveryItemOut,
    DeliveryOut,
    PlanOut,
    RecipeModel,
    Renamed,
)
from winnow.web.depends import RESPONSES, IdPath, RuntimeDep, ShootDep, frames_in, path_in
from winnow.web.settings.routes import SetNameQuery
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError, DeliveryPlan, Wish
from winnow.work.runtime import Runtime

router = APIRouter(prefix="/api", tags=["wrap-up"], responses=RESPONSES)


def _plan(runtime: Runtime, shoot: int, wanted: DeliveryIn) -> DeliveryPlan:
    target = path_in(wanted.target)
    ids = frames_in(runtime, shoot, wanted)
    wish = Wish(
        wanted.sidecars,
        wanted.template,
        wanted.which,
        wanted.how,
        wanted.manifest,
        wanted.companions,
        wanted.seq_from,
    )
    try:
        return delivery_plan.plan(runtime.db, shoot, target, ids, wish)
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    except OSError as error:
        raise HTTPException(
            400, say("The folder can’t be used: {why}.", why=error.strerror)
        ) from None


@router.post("/shoots/{shoot}/deliveries/plan")
def plan_delivery(shoot: ShootDep, wanted: DeliveryIn, runtime: RuntimeDep) -> PlanOut:
    """What a delivery would do; nothing is touched."""
    planned = _plan(runtime, shoot, wanted)
    return PlanOut.of(
        planned,
        files=len(planned.items),
        renamed=[Renamed(name=old, copy_name=new) for old, new in planned.renamed],
        names=[
            Renamed(name=item.source.name, copy_name=item.name)
            for item in planned.items
            if item.kind in WAYS
        ],
    )


@router.post("/shoots/{shoot}/deliveries", status_code=201)
def start_delivery(shoot: ShootDep, wanted: DeliveryIn, runtime: RuntimeDep) -> DeliveryOut:
    """Start a delivery."""
    try:
        planned = _plan(runtime, shoot, wanted)
        delivery = runtime.deliveries.start(shoot, planned)
    except DeliveryError as error:
        raise HTTPException(400, str(error)) from None
    if naming.counts(wanted.template):
        shoots.count_on(runtime.db, shoot, wanted.seq_from + planned.frames)
    return _get(runtime, delivery)


@router.get("/shoots/{shoot}/deliveries")
def list_deliveries(shoot: ShootDep, runtime: RuntimeDep) -> list[DeliveryOut]:
    """A shoot's deliveries, the last one first."""
    return [_out(runtime, delivery) for delivery in deliveries.of_shoot(runtime.db, shoot)]


def _get(runtime: Runtime, delivery: int) -> DeliveryOut:
    stored: Delivery | None = deliveries.get(runtime.db, delivery)
    if stored is None:
        raise HTTPException(404, say("There is no such delivery."))
    return _out(runtime, stored)


def _out(runtime: Runtime, delivery: Delivery) -> DeliveryOut:
    shown = DeliveryOut.model_validate(delivery)
    pace = runtime.deliveries.pace(delivery.id)
    if pace is None or delivery.state != "running":
        return shown
    done = shown.size_done + pace.of_file
    speed = pace.speed()
    left = (shown.size - done) / speed if speed else None
    return shown.model_copy(update={"size_done": done, "speed": speed, "left_s": left})


@router.get("/deliveries/{delivery}/items")
def list_items(delivery: IdPath, runtime: RuntimeDep) -> list[DeliveryItemOut]:
    """What went where."""
    _get(runtime, delivery)
    return [DeliveryItemOut.model_validate(item) for item in deliveries.items(runtime.db, delivery)]


@router.post("/deliveries/{delivery}/{step}")
def step_delivery(
    delivery: IdPath, step: Literal["resume", "stop", "cancel", "take-back"], runtime: RuntimeDep
) -> DeliveryOut:
    """Change how a delivery goes on.

    ``resume``: go on with a stopped one, and try what failed again. ``stop``: pause after the file
    that is being copied. ``cancel``: give up what is not delivered yet; what was delivered stays.
    ``take-back``: remove the copies that were made, if they are unchanged, and move back what was
    moved.
    """
    _get(runtime, delivery)
    steps = {
        "resume": runtime.deliveries.resume,
        "stop": runtime.deliveries.stop,
        "cancel": runtime.deliveries.cancel,
        "take-back": runtime.deliveries.take_back,
    }
    steps[step](delivery)
    return _get(runtime, delivery)


@router.get("/deliveries/fields")
def list_name_fields() -> dict[str, str]:
    """The fields in braces that names of delivered files can have."""
    return naming.FIELDS


@router.get("/recipes")
def list_recipes(runtime: RuntimeDep) -> list[RecipeModel]:
    """The saved recipes of deliveries, in the order of names."""
    saved = settings.saved_sets(runtime.db, "recipes")
    return [RecipeModel.model_validate({"name": name, **recipe}) for name, recipe in saved.items()]


@router.put("/recipes")
def save_recipe(wanted: RecipeModel, runtime: RuntimeDep) -> list[RecipeModel]:
    """Keep a recipe under its name."""
    content = wanted.model_dump(mode="json", exclude={"name"})
    settings.save_set(runtime.db, "recipes", wanted.name, content)
    return list_recipes(runtime)


@router.delete("/recipes")
def forget_recipe(name: SetNameQuery, runtime: RuntimeDep) -> list[RecipeModel]:
    """Remove a recipe."""
    settings.forget_set(runtime.db, "recipes", name)
    return list_recipes(runtime)
