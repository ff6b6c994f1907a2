"""Captions and rights: what is written about frames, templates, and the words that are used."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException

from winnow.core.files.texts import FIELDS, FILLED, FillError, TextEdit, filled
from winnow.say import say
from winnow.store import settings, texts
from winnow.web.depends import RESPONSES, ByDep, RuntimeDep, ShootDep
from winnow.web.marks.models import ChangeOut
from winnow.web.settings.routes import SetNameQuery
from winnow.web.texts.models import (
    FieldName,
    FieldOut,
    FilledFieldOut,
    TemplateModel,
    TextEditIn,
    TextsOfIn,
    TextsOut,
    UsedOut,
)
from winnow.work import change_events
from winnow.work.files import captions

router = APIRouter(prefix="/api", tags=["texts"], responses=RESPONSES)
_MOST_USED = 2000


@router.get("/texts/fields")
def list_fields() -> list[FieldOut]:
    """The fields of texts, in the order of the screen."""
    return [FieldOut.of(field, name=name) for name, field in FIELDS.items()]


@router.get("/texts/filled")
def list_filled() -> list[FilledFieldOut]:
    """The fields in braces that texts can have."""
    return [FilledFieldOut(name=name, words=words) for name, words in FILLED.items()]


@router.get("/texts/used")
def list_used(field: FieldName, runtime: RuntimeDep) -> list[UsedOut]:
    """What is used in a field, in all shoots, the most used first."""
    values = list(texts.used(runtime.db, field).items())[:_MOST_USED]
    return [UsedOut(value=value, frames=number) for value, number in values]


@router.post("/shoots/{shoot}/texts")
def get_texts(shoot: ShootDep, wanted: TextsOfIn, runtime: RuntimeDep) -> TextsOut:
    """What is written about frames, as far as they have it in common."""
    try:
        shared = captions.common(runtime.db, shoot, wanted.frames)
    except KeyError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return TextsOut.model_validate(shared)


@router.post("/shoots/{shoot}/texts/edit")
def edit_texts(shoot: ShootDep, wanted: TextEditIn, runtime: RuntimeDep, by: ByDep) -> ChangeOut:
    """Change what is written about frames, as one step of the history. Durable when it answers."""
    edit = _edit(wanted.put, wanted.add, wanted.remove)
    try:
        change = captions.edit(runtime.db, shoot, wanted.frames, edit, fill=wanted.filled, by=by)
    except FillError as error:
        raise HTTPException(400, str(error)) from None
    except KeyError:
        raise HTTPException(404, say("One of these frames is not in this shoot.")) from None
    return ChangeOut.model_validate(
        change_events.tell(runtime.db, runtime.events, shoot, change, wanted.window, by)
    )


def _edit(put: dict[FieldName, str | list[str]], add: list[str], remove: list[str]) -> TextEdit:
    values: dict[str, str | tuple[str, ...]] = {}
    for name, value in put.items():
        if isinstance(value, list) != FIELDS[name].listed:
            kind = say("a list") if FIELDS[name].listed else say("one text")
            raise HTTPException(400, say("{field} is {kind}.", field=FIELDS[name].words, kind=kind))
        values[name] = tuple(value) if isinstance(value, list) else value
    return TextEdit(values, tuple(add), tuple(remove))


@router.get("/text-templates")
def list_templates(runtime: RuntimeDep) -> list[TemplateModel]:
    """The saved templates, in the order of names."""
    saved = settings.saved_sets(runtime.db, "texts")
    return [TemplateModel(name=name, **content) for name, content in saved.items()]


@router.put("/text-templates")
def save_template(wanted: TemplateModel, runtime: RuntimeDep) -> list[TemplateModel]:
    """Keep a template under its name."""
    _edit(wanted.put, wanted.add, [])
    try:
        for value in [*wanted.put.values(), wanted.add]:
            for text in [value] if isinstance(value, str) else value:
                filled(text, {})
    except FillError as error:
        raise HTTPException(400, str(error)) from None
    content = wanted.model_dump(mode="json", exclude={"name"})
    settings.save_set(runtime.db, "texts", wanted.name, content)
    return list_templates(runtime)


@router.delete("/text-templates")
def forget_template(name: SetNameQuery, runtime: RuntimeDep) -> list[TemplateModel]:
    """Remove a saved template."""
    settings.forget_set(runtime.db, "texts", name)
    return list_templates(runtime)
