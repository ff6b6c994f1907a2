"""Filters: written ones, what a click makes of them, their choices with counts, and saved ones."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict

from fastapi import APIRouter

from winnow.core.facts import TABLE
from winnow.core.filters import condition_words, parser
from winnow.core.filters import parts as filter_parts
from winnow.core.filters.conditions import FACTS, FLAGS, Condition
from winnow.store import labels as label_store
from winnow.store import settings
from winnow.web.depends import RESPONSES, RuntimeDep, ShootDep, to_filter
from winnow.web.filters.models import (
    ChangePart,
    ChoiceOut,
    ClickedFact,
    EditWritten,
    FactChoiceOut,
    FilterFactsOut,
    JoinParts,
    PartOut,
    SavedFilter,
    SetRange,
    ToggleValue,
    WrittenIn,
    WrittenOut,
)
from winnow.web.models import FilterModel
from winnow.web.settings.routes import SetNameQuery
from winnow.work import filtering

router = APIRouter(prefix="/api", tags=["filters"], responses=RESPONSES)


@router.get("/filters")
def list_filters(runtime: RuntimeDep) -> list[SavedFilter]:
    """The saved filters, which every shoot can use."""
    return [
        SavedFilter(name=name, filter=FilterModel.model_validate(saved))
        for name, saved in settings.saved_filters(runtime.db).items()
    ]


@router.get("/filters/facts")
def list_facts() -> FilterFactsOut:
    """What filters can ask for."""
    return FilterFactsOut(
        offered=[FactChoiceOut.of(fact, fact=fact.name) for fact in TABLE if fact.offered],
        facts=list(FACTS),
        flags=list(FLAGS),
    )


@router.post("/filters/written")
def check_written(wanted: WrittenIn, runtime: RuntimeDep) -> WrittenOut:
    """Read a written filter, while it is typed."""
    names = label_store.label_names(runtime.db)
    try:
        condition = parser.parse(wanted.text, names)
    except parser.WrittenError as error:
        return _refused(wanted.text, error)
    return _read(wanted.text, condition, names)


@router.post("/filters/written/edit")
def edit_written(wanted: EditWritten, runtime: RuntimeDep) -> WrittenOut:
    """Change a written filter by a click; one that can't be read is not changed."""
    names = label_store.label_names(runtime.db)
    try:
        condition = parser.parse(wanted.text, names)
        text = filter_parts.text_of(_edited(condition, wanted.edit))
        return _read(text, parser.parse(text, names), names)
    except parser.WrittenError as error:
        return _refused(wanted.text, error)


def _edited(
    condition: Condition | None, edit: ToggleValue | SetRange | ChangePart | JoinParts
) -> Condition | None:
    match edit:
        case ToggleValue():
            return filter_parts.toggled(condition, edit.fact, edit.value)
        case SetRange():
            return filter_parts.ranged(condition, edit.fact, edit.low, edit.high)
        case JoinParts():
            return filter_parts.joined_by(condition, edit.how)
    if edit.part >= len(filter_parts.parts_of(condition)[1]):
        return condition
    change = filter_parts.turned if edit.do == "turn" else filter_parts.without
    return change(condition, edit.part)


def _read(text: str, condition: Condition | None, names: Mapping[str, str]) -> WrittenOut:
    joined, parts = filter_parts.parts_of(condition)
    return WrittenOut(
        text=text,
        words=condition_words.in_words(condition, names) if condition else "",
        joined=joined,
        parts=[
            PartOut.of(part, words=condition_words.in_words(part.condition, names))
            for part in parts
        ],
    )


def _refused(text: str, error: parser.WrittenError) -> WrittenOut:
    return WrittenOut(text=text, problem=str(error), at=error.at, until=error.until)


@router.put("/filters")
def save_filter(wanted: SavedFilter, runtime: RuntimeDep) -> list[SavedFilter]:
    """Keep a filter under a name."""
    settings.save_filter(runtime.db, wanted.name, to_filter(wanted.filter, runtime))
    return list_filters(runtime)


@router.delete("/filters")
def forget_filter(name: SetNameQuery, runtime: RuntimeDep) -> list[SavedFilter]:
    """Remove a saved filter."""
    settings.forget_filter(runtime.db, name)
    return list_filters(runtime)


@router.post("/shoots/{shoot}/choices/{fact}")
def list_choices(
    shoot: ShootDep, fact: ClickedFact, wanted: FilterModel, runtime: RuntimeDep
) -> list[ChoiceOut]:
    """The values of a fact, and how many frames the filter would leave with each."""
    choices = filtering.choices(runtime.db, shoot, to_filter(wanted, runtime), fact)
    return [ChoiceOut(**asdict(choice)) for choice in choices]
