"""Wrap-up: the cull in numbers."""

from __future__ import annotations

from fastapi import APIRouter

from winnow.web.depends import RESPONSES, ShootDep, StudioDep
from winnow.web.models import FunnelOut
from winnow.work import tally

router = APIRouter(prefix="/api", tags=["wrap-up"], responses=RESPONSES)


@router.get("/shoots/{shoot}/funnel")
def get_funnel(shoot: ShootDep, studio: StudioDep) -> FunnelOut:
    """The end of the cull in numbers: the funnel, groups without a pick, picks alike, the pace."""
    return FunnelOut.model_validate(tally.tally(studio.db, shoot))
