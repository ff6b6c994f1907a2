"""Deliveries from their plan to their end: for tests."""

import os
from pathlib import Path

from tests.conftest import until
from winnow.core.marks import Decision
from winnow.store import deliveries, frames
from winnow.work.deliver import plan as delivery_plan
from winnow.work.runtime import Runtime


def plan(
    runtime: Runtime, shoot: int, target: Path, wish: delivery_plan.Wish = delivery_plan.AS_USUAL
) -> delivery_plan.DeliveryPlan:
    ids = [r.id for r in frames.rows(runtime.db, shoot) if r.mark.decision is Decision.PICK]
    return delivery_plan.plan(runtime.db, shoot, str(target), ids, wish)


def run(runtime: Runtime, shoot: int, target: Path) -> deliveries.Delivery:
    delivery = runtime.deliveries.start(shoot, plan(runtime, shoot, target))
    return finished(runtime, delivery)


def finished(runtime: Runtime, delivery: int) -> deliveries.Delivery:
    def state() -> deliveries.Delivery:
        found = deliveries.get(runtime.db, delivery)
        assert found
        return found

    until(lambda: state().state not in ("planned", "running", "returning"))
    return state()


def names(folder: Path) -> list[str]:
    return sorted(os.listdir(folder))


def finished_state(runtime: Runtime, delivery: int) -> str:
    found = deliveries.get(runtime.db, delivery)
    assert found
    return found.state
