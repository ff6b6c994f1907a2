"""The person's settings and label set."""

from __future__ import annotations

from fastapi import APIRouter

from winnow.store import settings
from winnow.web.depends import RESPONSES, StudioDep
from winnow.web.models import CacheOut, LabelModel, Settings

router = APIRouter(prefix="/api", tags=["settings"], responses=RESPONSES)


@router.get("/settings")
def get_settings(studio: StudioDep) -> Settings:
    """Every setting."""
    known = settings.load(studio.db)
    return Settings.model_validate({k: v for k, v in known.items() if k in Settings.model_fields})


@router.put("/settings")
def put_settings(wanted: Settings, studio: StudioDep) -> Settings:
    """Change the settings."""
    settings.save(studio.db, wanted.model_dump(mode="json"))
    return wanted


@router.get("/labels")
def get_labels(studio: StudioDep) -> list[LabelModel]:
    """The label set, in the order of its keys."""
    return [LabelModel.model_validate(label) for label in settings.labels(studio.db)]


@router.get("/cache")
def get_cache(studio: StudioDep) -> CacheOut:
    """How much room the pictures take that Winnow made to be quick."""
    return CacheOut(bytes=studio.cache.size(), most=studio.cache_limit())


@router.delete("/cache")
def empty_cache(studio: StudioDep) -> CacheOut:
    """Remove these pictures; each is made again when somebody looks at it."""
    studio.cache.trim(0)
    return get_cache(studio)
