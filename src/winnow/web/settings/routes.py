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
from winnow.web.depends import RESPONSES, GuestDep, RuntimeDep, path_in
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
def get_settings(runtime: RuntimeDep, guest: GuestDep) -> Settings:
    """Every setting; to a guest without where backups are."""
    known = Settings.model_validate(settings.load(runtime.db))
    return known if guest is None else known.model_copy(update={"backup_place": ""})


@router.put("/settings")
def put_settings(wanted: Settings, runtime: RuntimeDep) -> Settings:
    """Change the settings."""
    if wanted.backup_place and wanted.backup_place != settings.load(runtime.db).backup_place:
        try:
            runtime.check_backup_place(path_in(wanted.backup_place))
        except BackupError as error:
            raise HTTPException(400, str(error)) from None
    settings.save(runtime.db, wanted.model_dump(mode="json"))
    return wanted


@router.get("/labels")
def get_labels(runtime: RuntimeDep) -> list[LabelModel]:
    """The label set, in the order of its keys."""
    return [LabelModel.model_validate(label) for label in label_store.labels(runtime.db)]


@router.get("/labels/choices")
def get_label_choices() -> LabelChoices:
    """The shapes and colours that labels can have."""
    return LabelChoices(shapes=list(labels.SHAPES), colours=labels.PALETTE)


@router.put("/labels")
def put_labels(
    wanted: Annotated[list[LabelModel], Body(max_length=9)], runtime: RuntimeDep
) -> list[LabelModel]:
    """Use another label set. Marks keep their letters."""
    label_store.save_labels(runtime.db, _checked(wanted))
    return get_labels(runtime)


@router.get("/label-sets")
def list_label_sets(runtime: RuntimeDep) -> list[LabelSet]:
    """The saved label sets."""
    saved = settings.saved_sets(runtime.db, "labels")
    return [LabelSet(name=name, labels=content) for name, content in saved.items()]


@router.put("/label-sets")
def save_label_set(wanted: LabelSet, runtime: RuntimeDep) -> list[LabelSet]:
    """Keep a label set under a name."""
    content = [asdict(label) for label in _checked(wanted.labels)]
    settings.save_set(runtime.db, "labels", wanted.name, content)
    return list_label_sets(runtime)


@router.delete("/label-sets")
def forget_label_set(name: SetNameQuery, runtime: RuntimeDep) -> list[LabelSet]:
    """Remove a saved label set."""
    settings.forget_set(runtime.db, "labels", name)
    return list_label_sets(runtime)


@router.post("/label-sets/to-file")
def label_set_to_file(wanted: LabelSet) -> LabelSetFile:
    """A label set as a file to give away."""
    return LabelSetFile(text=labels.to_file(wanted.name, _checked(wanted.labels)))


@router.post("/label-sets/from-file")
def label_set_from_file(file: LabelSetFile) -> LabelSet:
    """What a label set's file holds; nothing is kept yet."""
    try:
        name, label_set = labels.from_file(file.text)
    except labels.LabelSetError as error:
        raise HTTPException(400, str(error)) from None
    return LabelSet(name=name, labels=[LabelModel.model_validate(label) for label in label_set])


def _checked(wanted: list[LabelModel]) -> list[Label]:
    checked = [Label(**label.model_dump()) for label in wanted]
    try:
        labels.check(checked)
    except labels.LabelSetError as error:
        raise HTTPException(400, str(error)) from None
    return checked


@router.get("/key-sets")
def list_key_sets(runtime: RuntimeDep) -> list[KeySet]:
    """The saved key sets."""
    saved = settings.saved_sets(runtime.db, "keys")
    return [KeySet(name=name, keys=content) for name, content in saved.items()]


@router.put("/key-sets")
def save_key_set(wanted: KeySet, runtime: RuntimeDep) -> list[KeySet]:
    """Keep a key set under its name."""
    settings.save_set(runtime.db, "keys", wanted.name, wanted.keys)
    return list_key_sets(runtime)


@router.delete("/key-sets")
def forget_key_set(name: SetNameQuery, runtime: RuntimeDep) -> list[KeySet]:
    """Remove a saved key set."""
    settings.forget_set(runtime.db, "keys", name)
    return list_key_sets(runtime)


@router.get("/cache")
def get_cache(runtime: RuntimeDep) -> CacheOut:
    """How much room the pictures take that Winnow made to be quick."""
    return CacheOut(bytes=runtime.cache.size(), most=runtime.cache_limit())


@router.delete("/cache")
def empty_cache(runtime: RuntimeDep) -> CacheOut:
    """Remove these pictures; each is made again when somebody looks at it."""
    runtime.cache.trim(0)
    return get_cache(runtime)


@router.get("/notices")
def list_notices(runtime: RuntimeDep) -> list[str]:
    """What the person must know of this start, in words."""
    return runtime.notices


@router.delete("/notices")
def hide_notices(runtime: RuntimeDep) -> list[str]:
    """The person has read them."""
    runtime.start_notices.clear()
    return runtime.notices
