"""The person's settings and label set."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

from fastapi import APIRouter, Body, HTTPException, Query

from winnow.core import labels
from winnow.core.labels import Label
from winnow.store import labels as label_store
from winnow.store import settings
from winnow.store.backups import BackupError
from winnow.web.depends import RESPONSES, GuestDep, StudioDep, path_in
from winnow.web.settings.models import (
    CacheOut,
    KeySet,
    LabelChoices,
    LabelModel,
    LabelSet,
    LabelSetFile,
    Settings,
)

SetNameQuery = Annotated[str, Query(min_length=1, max_length=60)]

router = APIRouter(prefix="/api", tags=["settings"], responses=RESPONSES)


@router.get("/settings")
def get_settings(studio: StudioDep, guest: GuestDep) -> Settings:
    """Every setting; to a guest without where backups are."""
    known = settings.load(studio.db)
    if guest is not None:
        known.pop("backup_place", None)
    return Settings.model_validate({k: v for k, v in known.items() if k in Settings.model_fields})


@router.put("/settings")
def put_settings(wanted: Settings, studio: StudioDep) -> Settings:
    """Change the settings."""
    if wanted.backup_place and wanted.backup_place != settings.load(studio.db).get("backup_place"):
        try:
            studio.check_backup_place(path_in(wanted.backup_place))
        except BackupError as error:
            raise HTTPException(400, str(error)) from None
    settings.save(studio.db, wanted.model_dump(mode="json"))
    return wanted


@router.get("/labels")
def get_labels(studio: StudioDep) -> list[LabelModel]:
    """The label set, in the order of its keys."""
    return [LabelModel.model_validate(label) for label in label_store.labels(studio.db)]


@router.get("/labels/choices")
def get_label_choices() -> LabelChoices:
    """The shapes and colours that labels can have."""
    return LabelChoices(shapes=list(labels.SHAPES), colours=labels.PALETTE)


@router.put("/labels")
def put_labels(
    wanted: Annotated[list[LabelModel], Body(max_length=9)], studio: StudioDep
) -> list[LabelModel]:
    """Use another label set. Marks keep their letters."""
    label_store.save_labels(studio.db, _checked(wanted))
    return get_labels(studio)


@router.get("/label-sets")
def list_label_sets(studio: StudioDep) -> list[LabelSet]:
    """The saved label sets."""
    saved = settings.saved_sets(studio.db, "labels")
    return [LabelSet(name=name, labels=content) for name, content in saved.items()]


@router.put("/label-sets")
def save_label_set(wanted: LabelSet, studio: StudioDep) -> list[LabelSet]:
    """Keep a label set under a name."""
    content = [asdict(label) for label in _checked(wanted.labels)]
    settings.save_set(studio.db, "labels", wanted.name, content)
    return list_label_sets(studio)


@router.delete("/label-sets")
def forget_label_set(name: SetNameQuery, studio: StudioDep) -> list[LabelSet]:
    """Remove a saved label set."""
    settings.forget_set(studio.db, "labels", name)
    return list_label_sets(studio)


@router.post("/label-sets/to-file")
def label_set_to_file(wanted: LabelSet) -> LabelSetFile:
    """A label set as a file to give away."""
    return LabelSetFile(text=labels.to_file(wanted.name, _checked(wanted.labels)))


@router.post("/label-sets/from-file")
def label_set_from_file(file: LabelSetFile) -> LabelSet:
    """What a label set's file holds; nothing is kept yet."""
    try:
        name, found = labels.from_file(file.text)
    except labels.LabelSetError as error:
        raise HTTPException(400, str(error)) from None
    return LabelSet(name=name, labels=[LabelModel.model_validate(one) for one in found])


def _checked(wanted: list[LabelModel]) -> list[Label]:
    found = [Label(**one.model_dump()) for one in wanted]
    try:
        labels.check(found)
    except labels.LabelSetError as error:
        raise HTTPException(400, str(error)) from None
    return found


@router.get("/key-sets")
def list_key_sets(studio: StudioDep) -> list[KeySet]:
    """The saved key sets."""
    saved = settings.saved_sets(studio.db, "keys")
    return [KeySet(name=name, keys=content) for name, content in saved.items()]


@router.put("/key-sets")
def save_key_set(wanted: KeySet, studio: StudioDep) -> list[KeySet]:
    """Keep a key set under its name."""
    settings.save_set(studio.db, "keys", wanted.name, wanted.keys)
    return list_key_sets(studio)


@router.delete("/key-sets")
def forget_key_set(name: SetNameQuery, studio: StudioDep) -> list[KeySet]:
    """Remove a saved key set."""
    settings.forget_set(studio.db, "keys", name)
    return list_key_sets(studio)


@router.get("/cache")
def get_cache(studio: StudioDep) -> CacheOut:
    """How much room the pictures take that Winnow made to be quick."""
    return CacheOut(bytes=studio.cache.size(), most=studio.cache_limit())


@router.delete("/cache")
def empty_cache(studio: StudioDep) -> CacheOut:
    """Remove these pictures; each is made again when somebody looks at it."""
    studio.cache.trim(0)
    return get_cache(studio)


@router.get("/notices")
def list_notices(studio: StudioDep) -> list[str]:
    """What the person must know of this start, in words."""
    return studio.notices


@router.delete("/notices")
def hide_notices(studio: StudioDep) -> list[str]:
    """The person has read them."""
    studio.start_notices.clear()
    return studio.notices
