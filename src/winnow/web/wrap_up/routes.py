"""Wrap-up: the cull in numbers."""

from __future__ import annotations

from fastapi import APIRouter

from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep
from winnow.web.wrap_up.models import FunnelOut
from winnow.work import tally

router = APIRouter(prefix="/api", tags=["wrap-up"], responses=RESPONSES)


@router.get("/shoots/{shoot}/funnel")
def get_funnel(shoot: ShootDep, runtime: RuntimeDep) -> FunnelOut:
    """The end of the cull in numbers: the funnel, groups without a pick, picks alike, the pace."""
    return FunnelOut.model_validate(tally.tally(runtime.db, shoot))
